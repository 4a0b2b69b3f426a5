// SPDX-License-Identifier: GPL-3.0-or-later
// A piece run under blocks of variable amplitude: its life in cycles over its greatest range, its measured damage sum.
#include "methods/fatigue_sn/fatigue_sn.h"

#include "history/block_file.h"
#include "methods/common/figures.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

std::optional<double> blocksOf(const SpecimenInput& input)
{
    const auto it = input.readings.find(fatigueKeys::blocks);
    return it != input.readings.end() && !it->second.empty() && it->second.front()
        ? std::optional(it->second.front()->base)
        : std::nullopt;
}

/// The S–N line that the damage is summed by: the detail class, its slope and what lies below the knee.
std::optional<DamageCurve> curveOf(const SpecimenInput& input, const SnSettings& settings)
{
    if (!settings.detailClass)
        return std::nullopt;
    DamageCurve curve;
    curve.detail = *settings.detailClass;
    curve.slope = settings.rule.slope.value_or(3);
    curve.below = 2 * curve.slope - 1;
    const std::string below = optionOr(input, fatigueKeys::below, "bent");
    curve.rule = below == "straight" ? DamageCurve::Below::Straight
        : below == "cut"             ? DamageCurve::Below::Cut
                                     : DamageCurve::Below::Bent;
    return curve;
}

void setSum(Figures& f, const SnSettings& settings, const LoadBlock& block, double blocks, double factor)
{
    const auto curve = curveOf(f.input, settings);
    if (!curve) {
        f.notApplicable({fatigueKeys::damageSum}, "No detail class is stated: there is no line to sum damage by.");
        return;
    }
    const Unit& one = baseUnit(Kind::Number);
    const double sum = blocks * blockDamage(block, *curve, factor);
    f.set(fatigueKeys::damageSum,
          Term::leaf("D", sum, one, 0, {"blocks", SourceKind::Other}, "sum of n over N at the end of the run")
              .named("Dmeas", one, "measured damage sum",
                     fmt::format("class {:.4g} MPa, slopes {:.3g} and {:.3g}", curve->detail, curve->slope,
                                 curve->below)));
    if (sum < 0.5 && noteOf(f.input, fatigueKeys::outcome) == fatigueKeys::broken)
        f.remark("damage-sum-low", Severity::Caution, {fatigueKeys::damageSum},
                 fmt::format("It broke at a damage sum of {:.2g}: a sum of 1 would not have been safe.", sum),
                 "Judge such spectra by a critical sum of 0.5 or less, or by their own Gassner line.", "");
}

} // namespace

Expected<bool> readVariable(Figures& f, const SnSettings& settings)
{
    const std::vector<std::string> all{"S", "N", fatigueKeys::damageSum};
    const std::string path = optionOr(f.input, fatigueKeys::block, "");
    if (path.empty()) {
        f.remark("no-block", Severity::Reject, all, "The file of the block is not stated.",
                 "State it on Plan: a block program, or turning points.", fatigueKeys::block);
        return false;
    }
    const auto block = readBlock(path);
    if (!block)
        return block.problem();
    const auto blocks = blocksOf(f.input);
    if (!blocks || !(*blocks > 0)) {
        f.remark("no-blocks", Severity::Reject, all,
                 blocks ? fmt::format("{:g} blocks are none.", *blocks) : std::string("No blocks are keyed."),
                 "Key how many it stood, parts as decimals.", fatigueKeys::blocks);
        return false;
    }
    const auto range = keyedRange(f.input);
    if (!range)
        return range.problem();
    if (*range && !(**range > 0)) {
        f.remark("no-range", Severity::Reject, all, fmt::format("A stress range of {:g} MPa is none.", **range),
                 "Key the greatest range of the block as it was run.", fatigueKeys::range);
        return false;
    }
    const double greatest = *range ? **range : block->greatest, factor = greatest / block->greatest;
    const Unit& one = baseUnit(Kind::Number);
    f.set("S",
          Term::leaf("Δσmax", greatest, MPa(), 0, {*range ? "as run" : "of the block", SourceKind::Other},
                     "greatest range of the block")
              .named("Δσmax", MPa(), "greatest range of the block"));
    const std::string outcome = noteOf(f.input, fatigueKeys::outcome);
    const bool open = outcome == fatigueKeys::runOut || outcome == fatigueKeys::elsewhere;
    f.set("N",
          Term::leaf("N", *blocks * block->count, one, 0, {"blocks", SourceKind::Other}, "cycles")
              .named("N", one, fmt::format("{:.6g} blocks of {:.6g} cycles", *blocks, block->count), {}, 9));
    if (open)
        std::ranges::find(f.outcome.results, "N", &Result::symbol)->bound = Result::Bound::AtLeast;
    setSum(f, settings, *block, *blocks, factor);
    if (open)
        if (const auto sum = std::ranges::find(f.outcome.results, fatigueKeys::damageSum, &Result::symbol); sum->value)
            sum->bound = Result::Bound::AtLeast;
    return true;
}

} // namespace fortitor
