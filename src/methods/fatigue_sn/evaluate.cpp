// SPDX-License-Identifier: GPL-3.0-or-later
// One piece: its range, what is left of it without mean stress, and how long it stood.
#include "methods/fatigue_sn/fatigue_sn.h"

#include "methods/common/figures.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

const std::vector<std::string> ofThePiece{"S", "N"};

Term rangeTerm(double range)
{
    return Term::leaf("Δσ", range, MPa(), 0, {"as set on the machine", SourceKind::Other}, "stress range")
        .named("Δσ", MPa(), "stress range", "greatest less least stress");
}

/// The range that is read against the line.
Expected<Done> readRange(Figures& f, const SnSettings& settings)
{
    const auto range = keyedRange(f.input);
    if (!range)
        return range.problem();
    if (!*range || !(**range > 0)) {
        f.remark("no-range", Severity::Reject, ofThePiece,
                 !*range ? "No stress range is keyed." : fmt::format("A stress range of {:g} MPa is none.", **range),
                 "Key the range, or the amplitude.", "range");
        return Done{};
    }
    const auto ratio = notedRatio(f.input);
    if (!ratio)
        return ratio.problem();
    const auto strength = f.input.published.find("Rm");
    const double Rm = strength == f.input.published.end() ? 0 : strength->second;
    if (*ratio && **ratio < 1 && Rm > 0)
        if (const double greatest = **range / (1 - **ratio); greatest > Rm)
            f.remark("range-above-strength", Severity::Caution, ofThePiece,
                     fmt::format("The greatest stress would be {:.4g} MPa, above Rm of {:.4g} MPa.", greatest, Rm),
                     "Look at range, R and unit: is it an amplitude, a force?", "range");
    if (settings.meanStress == MeanStress::None) {
        f.set("S", rangeTerm(**range));
        return Done{};
    }
    if (!*ratio) {
        f.remark("no-ratio", Severity::Caution, ofThePiece,
                 "R is not noted: the mean stress can't be allowed for, and the piece does not count.",
                 "Note R of this piece, or choose no correction on Plan.", "ratio");
        return Done{};
    }
    const auto without = rangeWithoutMean(settings.meanStress, **range, **ratio, Rm);
    if (!without) {
        f.remark("mean-stress", Severity::Caution, ofThePiece,
                 "The mean stress can't be allowed for: " + without.problem().found + "; " + without.problem().wanted
                     + " is wanted.",
                 without.problem().advice, "ratio");
        return Done{};
    }
    if (meanStressOf(**range, **ratio) < 0)
        f.remark("mean-compressive", Severity::Caution, ofThePiece,
                 "The mean stress is compressive: mean-stress rules are drawn from tension.",
                 "Hold it against the figure without correction.", "mean_stress");
    const Term factor = Term::constant(*without / **range, "mean-stress factor");
    f.set("S",
          (rangeTerm(**range) * factor)
              .named("Δσ(R=−1)", MPa(), "range at R = −1", optionOr(f.input, "mean_stress", "")));
    return Done{};
}

/// How long it stood, and whether that is its life.
void readCycles(Figures& f)
{
    const auto list = f.input.readings.find(fatigueKeys::cycles);
    const bool keyed = list != f.input.readings.end() && !list->second.empty() && list->second.front();
    const double cycles = keyed ? list->second.front()->base : 0;
    if (!keyed || !(cycles >= 1)) {
        f.remark("no-cycles", Severity::Reject, {"N"},
                 keyed ? fmt::format("{:g} cycles are none.", cycles) : std::string("No cycles are keyed."),
                 "Key what the counter shows; a piece that was not run has no reading.", "cycles");
        return;
    }
    const std::string outcome = noteOf(f.input, fatigueKeys::outcome);
    const bool open = outcome == fatigueKeys::runOut || outcome == fatigueKeys::elsewhere;
    if (!outcome.empty() && !open && outcome != fatigueKeys::broken) {
        f.remark("outcome-unknown", Severity::Reject, {"N"}, "The end of the run is noted as \"" + outcome + "\".",
                 "Note broken, run-out or elsewhere: until then the piece does not count.", "outcome");
        return;
    }
    if (outcome.empty())
        f.remark("outcome-not-noted", Severity::Caution, {"N"},
                 "How the run ended is not noted: the piece is taken as broken where it should.",
                 "Note broken, run-out or elsewhere.", "outcome");
    if (outcome == fatigueKeys::elsewhere)
        f.remark("broke-elsewhere", Severity::Caution, {"N"},
                 "It broke elsewhere, at the clamp say: that does not speak for the detail.",
                 "It counts as a lower bound. Leave it out on Judge where the clamping hurt it.", "outcome");
    constexpr double few = 1e4;
    if (!open && cycles < few)
        f.remark("few-cycles", Severity::Note, {"N"},
                 fmt::format("It broke after {} cycles: below 10⁴ it is strain rather than stress that decides.",
                             cyclesText(cycles)));
    const Unit& one = baseUnit(Kind::Number);
    f.set("N",
          Term::leaf("N", cycles, one, 0, {"counter", SourceKind::Other}, "cycles")
              .named("N", one, open ? "cycles that it stood" : "cycles to its break", {}, 9));
    const auto N = std::ranges::find(f.outcome.results, "N", &Result::symbol);
    if (open)
        N->bound = Result::Bound::AtLeast;
}

} // namespace

Expected<Outcome> evaluateFatigue(const SpecimenInput& input)
{
    static const Method method = fatigueSn();
    if (auto ok = checkOptions(input, method); !ok)
        return ok.problem();
    const auto settings = snSettings(input);
    if (!settings)
        return settings.problem();
    for (const auto& [name, list] : input.readings)
        if (list.size() > 1)
            return Problem{input.label + ", readings." + name, fmt::format("{} readings", list.size()),
                           "one a specimen", "Each piece is a specimen of its own."};
    Figures f{input};
    f.begin(method);
    if (!settings->variable)
        std::erase_if(f.outcome.results, [](const Result& r) { return r.symbol == fatigueKeys::damageSum; });
    if (input.readings.empty()) {
        f.notApplicable(ofThePiece, "The piece is not run yet.");
        if (auto ok = readCrack(f); !ok)
            return ok.problem();
        return std::move(f.outcome);
    }
    if (settings->variable) {
        if (auto ok = readVariable(f, *settings); !ok)
            return ok.problem();
    } else {
        if (auto ok = readRange(f, *settings); !ok)
            return ok.problem();
        readCycles(f);
    }
    if (auto ok = readCrack(f); !ok)
        return ok.problem();
    tellFracture(f);
    f.sayRest();
    return std::move(f.outcome);
}

} // namespace fortitor
