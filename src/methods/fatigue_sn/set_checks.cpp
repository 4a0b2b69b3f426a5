// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/fatigue_sn/set_checks.h"

#include "judge/normal_tail.h"
#include "judge/tolerance.h"

#include <boost/math/distributions/fisher_f.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace fortitor {
namespace {

double chanceBeyond(double t, double freedom)
{
    const boost::math::students_t law(freedom);
    return 2 * boost::math::cdf(boost::math::complement(law, std::abs(t)));
}

/// log N over the line.
double residual(const SnRun& run, const SnLine& line)
{
    return std::log10(run.piece.cycles) - line.logLifeAt(run.piece.range);
}

/// Scatter within levels against that of the levels about the line (ASTM E739); of the broken.
void checkStraight(Figures& f, const std::vector<SnRun>& runs, const SnLine& line)
{
    std::map<long, std::vector<double>> levels; // by a thousandth of a decade
    for (const SnRun& run : runs)
        if (!run.piece.open)
            levels[std::lround(1000 * std::log10(run.piece.range))].push_back(residual(run, line));
    const auto count = static_cast<double>(levels.size());
    if (line.open > 0)
        return; // means of a level are too low where some of it still stand
    if (count < 3) {
        f.remark("few-levels", Severity::Note, ofTheLine,
                 "Broken pieces on two levels only: whether the line is straight can't be seen.",
                 "A third level between them tells.");
        return;
    }
    double within = 0, about = 0, n = 0;
    for (const auto& [level, values] : levels) {
        double mean = 0;
        for (const double v : values)
            mean += v / static_cast<double>(values.size());
        for (const double v : values)
            within += (v - mean) * (v - mean);
        about += static_cast<double>(values.size()) * mean * mean;
        n += static_cast<double>(values.size());
    }
    const double between = count - line.parameters, inside = n - count;
    if (!(between >= 1) || !(inside >= 1) || !(within > 0))
        return;
    const double F = about / between / (within / inside);
    const double p = boost::math::cdf(boost::math::complement(boost::math::fisher_f(between, inside), F));
    if (p < 0.01)
        f.remark("not-straight", Severity::Caution, ofTheLine,
                 fmt::format("The levels do not lie on a straight line (F {:.2f}, by chance in {:.2g} of 100).", F,
                             100 * p),
                 "Look for a knee, or for two kinds of break; fit the part that is straight.");
}

/// A run-out that stands far above the line of the broken: it can't be told from what pulls the line up.
void checkWhole(Figures& f, const std::vector<SnRun>& runs, const SnSettings& settings)
{
    SnRule broken = settings.rule;
    broken.runOuts = false;
    const auto line = fitSn(piecesOf(runs), broken);
    if (!line || !(line->slope > 0) || !(line->scatter > 0))
        return;
    constexpr double wide = 3;
    for (const SnRun& run : runs) {
        const double off = residual(run, *line), h = line->leverageAt(std::log10(run.piece.range));
        if (run.piece.open && off > wide * line->scatter * std::sqrt(1 + h))
            f.remark("run-out-far", Severity::Caution, ofTheLine,
                     fmt::format("{} stood {} cycles, {:.2g} times as many as the mean line of the broken gives.",
                                 run.input->label, cyclesText(run.piece.cycles), std::pow(10, off)),
                     "Below a knee a straight line does not hold: fit the part above it.");
    }
}

/// A broken piece too far off for its scatter: externally studentised, one in a hundred sets. Where lower bounds are
/// among them, the broken ones scatter wider about their line than the law has it.
void checkFar(Figures& f, const std::vector<SnRun>& runs, const SnLine& line)
{
    const double seldom = line.open > 0 ? 0.003 : 0.01;
    for (const SnRun& run : runs) {
        if (!(line.scatter > 0))
            return;
        const double off = residual(run, line), h = line.leverageAt(std::log10(run.piece.range));
        if (run.piece.open || !(h < 1 - 1e-9) || line.freedom() < 2)
            continue;
        const double inner = off / (line.scatter * std::sqrt(1 - h));
        const double left = line.freedom() - inner * inner; // nothing: it makes the scatter all by itself
        const double outer = left > 0 ? inner * std::sqrt((line.freedom() - 1) / left) : 1e6;
        if (chanceBeyond(outer, line.freedom() - 1) * static_cast<double>(line.broken) < seldom)
            f.remark("far-from-line", Severity::Caution, ofTheLine,
                     fmt::format("{} broke {} the line, at {:.2g} times its life.", run.input->label,
                                 off < 0 ? "below" : "above", std::pow(10, off)),
                     "Look at its break and its clamping. It stays in unless a person leaves it out with a reason.");
    }
}

void checkReach(Figures& f, const std::vector<SnRun>& runs, const SnLine& line, const SnSettings& settings)
{
    double shortest = runs.front().piece.cycles, longest = shortest;
    std::set<long> ratios;
    for (const SnRun& run : runs) {
        shortest = std::min(shortest, run.piece.cycles);
        longest = std::max(longest, run.piece.cycles);
        if (const auto ratio = notedRatio(*run.input); ratio && *ratio)
            ratios.insert(std::lround(**ratio / 0.02));
    }
    if (settings.reference > longest || settings.reference < shortest)
        f.remark("beyond-runs", Severity::Caution, {"S_ref", "S_char"},
                 fmt::format("{} cycles lie {} all runs ({} to {}): the line is carried on.",
                             cyclesText(settings.reference), settings.reference > longest ? "beyond" : "before",
                             cyclesText(shortest), cyclesText(longest)),
                 "Run pieces there, or read off where they were run.", "reference_cycles");
    constexpr size_t enough = 6;
    if (line.broken < enough)
        f.remark("few-broken", Severity::Caution, ofTheLine,
                 fmt::format("{} broken pieces; at least {} are usual for a first look, 12 for design.", line.broken,
                             enough),
                 "Run more pieces.");
    if (line.open > line.broken)
        f.remark("most-whole", Severity::Caution, ofTheLine,
                 fmt::format("{} of {} pieces did not break: the figures rest on their bounds more than on breaks.",
                             line.open, line.open + line.broken),
                 "Run pieces on higher levels.");
    if (ratios.size() > 1 && settings.meanStress == MeanStress::None)
        f.remark("ratios-mixed", Severity::Caution, ofTheLine,
                 "The pieces were run at several R, and no mean-stress correction is chosen.",
                 "Choose one on Plan, or tell the pieces apart by R.", "mean_stress");
}

} // namespace

void checkLine(Figures& f, const std::vector<SnRun>& runs, const SnLine& line, const SnSettings& settings)
{
    if (!(line.slope > 0)) {
        f.remark("slope-wrong", Severity::Reject, {"S_ref", "S_char"},
                 fmt::format("The fitted slope is {:.3g}: life would not grow as the range falls.", line.slope),
                 "Look at the ranges and cycles; more levels, wider apart, tell the slope.");
        return;
    }
    checkStraight(f, runs, line);
    checkFar(f, runs, line);
    checkWhole(f, runs, settings);
    checkReach(f, runs, line, settings);
}

void tellChoices(Figures& f, const std::vector<SnRun>& runs, const SnLine& line, const SnSettings& settings)
{
    const auto pieces = piecesOf(runs);
    const auto open = std::ranges::count(pieces, true, &SnPiece::open);
    if (open > 0) {
        SnRule other = settings.rule;
        other.runOuts = !other.runOuts;
        const auto without = fitSn(pieces, other);
        const std::string would = without
            ? fmt::format(" {} would give m {:.2f} and {:.3g} MPa at {}.",
                          settings.rule.runOuts ? "Leaving them out" : "Likelihood", without->slope,
                          without->rangeAt(settings.reference), cyclesText(settings.reference))
            : std::string();
        f.remark("run-outs", Severity::Note, ofTheLine,
                 fmt::format("{} did not break where it should{}.{}",
                             open == 1 ? "1 piece" : fmt::format("{} pieces", open),
                             settings.rule.runOuts ? ": lower bounds, counted by maximum likelihood"
                                                   : " and is left out of the fit",
                             would),
                 "", "run_outs");
    }
    SnRule other = settings.rule;
    constexpr double usual = 3; // of welds
    other.slope = settings.rule.slope ? std::nullopt : std::optional(usual);
    const auto with = fitSn(pieces, other);
    if (!with || !(with->slope > 0))
        return;
    const SnLine& free = settings.rule.slope ? *with : line;
    const double fixed = settings.rule.slope.value_or(usual);
    const auto bound = settings.bound.rangeAt(*with, settings.reference);
    const bool off = free.freedom() >= 1 && free.slopeDoubt > 0
        && chanceBeyond((free.slope - fixed) / free.slopeDoubt, free.freedom()) < 0.05;
    const std::string would = bound ? fmt::format(", the bound {:.3g} MPa", *bound) : std::string();
    if (!settings.rule.slope)
        f.remark("slope-free", Severity::Note, {"m", "S_char"},
                 fmt::format("The slope is free: {:.2f}. Fixed at 3 the mean would be {:.3g} MPa{}.", line.slope,
                             with->rangeAt(settings.reference), would),
                 "", "slope");
    else
        f.remark(off ? "slope-off-fixed" : "slope-fixed", off ? Severity::Caution : Severity::Note, ofTheLine,
                 fmt::format("The slope is fixed at {:.3g}. Free it would be {:.2f} ± {:.2f}, the mean {:.3g} MPa{}.",
                             fixed, free.slope, 2 * free.slopeDoubt, with->rangeAt(settings.reference), would),
                 off ? "The pieces do not bear that slope out: free it, or say why it is fixed." : "", "slope");
}

} // namespace fortitor
