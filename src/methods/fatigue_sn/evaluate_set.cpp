// SPDX-License-Identifier: GPL-3.0-or-later
// The set: its line or its staircase, what class that is, what to run next.
#include "methods/fatigue_sn/detail_class.h"
#include "methods/fatigue_sn/next_run.h"
#include "methods/fatigue_sn/set_checks.h"
#include "methods/fatigue_sn/set_view.h"

#include "judge/tolerance.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

const std::vector<std::string> ofTheStairs{"S_mean", "S_sd"};

void put(Figures& f, const std::string& symbol, double value, double doubt, const std::string& words,
         const std::string& rule)
{
    const Unit& unit = *f.outcome.find(symbol)->unit;
    f.set(symbol,
          Term::leaf(symbol, value, unit, doubt, {"scatter of the pieces", SourceKind::Pieces}, words)
              .named(symbol, unit, words, rule));
}

/// "log N = 12.736 − 3.328·log Δσ − 1.860·0.0713·√(1 + 0.412), one-sided t at 95 %".
std::string boundRule(const SnLine& line, const SnBound& bound, double range)
{
    const double x = std::log10(range), h = line.leverageAt(x);
    const std::string start = fmt::format("log N = {:.4f} − {:.4f}·log Δσ − ", line.logA, line.slope);
    return bound.by == SnBound::By::Prediction ? start
            + fmt::format("{:.4f}·{:.4f}·√(1 + {:.4f}), one-sided t at {:.3g} %, {:.0f} degrees",
                          studentQuantile(line.freedom(), bound.confidence), line.scatter, h, 100 * bound.confidence,
                          line.freedom())
                                               : start
            + fmt::format("{:.4f}·{:.4f}, one-sided tolerance: {:.3g} % survive with {:.3g} % confidence",
                          bound.factor(line, x), line.scatter, 100 * bound.survival, 100 * bound.confidence);
}

void readLine(Figures& f, const SnLine& line, const SnSettings& s)
{
    const std::string how =
        line.open > 0 ? "maximum likelihood, lower bounds counted as such" : "least squares of log N on log Δσ";
    // Few degrees of freedom: as wide as Student's t asks, so that twice of it holds 95 %.
    const double wide = studentQuantile(line.freedom(), 0.975) / 2;
    put(f, "m", line.slope, wide * line.slopeDoubt, "slope", s.rule.slope ? "fixed" : how);
    put(f, "log_a", line.logA, wide * line.logADoubt, "log N at Δσ = 1 MPa", how);
    put(f, "s_logN", line.scatter, line.scatter / std::sqrt(2 * line.freedom()), "scatter of log N",
        line.open > 0 ? fmt::format("σ {:.4f} of the likelihood · √({}/{:.0f})", line.likelihoodScatter, line.broken,
                                    line.freedom())
                      : fmt::format("√(SSR/{:.0f})", line.freedom()));
    if (!(line.slope > 0))
        return;
    const std::string at = cyclesText(s.reference);
    put(f, "S_ref", line.rangeAt(s.reference), wide * line.rangeDoubt(s.reference), "mean line at " + at,
        "log Δσ = (log a − log N)/m");
    if (const auto range = s.bound.rangeAt(line, s.reference))
        put(f, "S_char", *range, 0, boundWords(s.bound) + " at " + at, boundRule(line, s.bound, *range));
    else
        f.remark("bound-far", Severity::Caution, {"S_char"},
                 "The bound never comes up to " + at + ": slope and scatter are told too poorly.",
                 "Run more pieces, on levels further apart, or fix the slope.");
}

/// Against the class that is asked for, and the one that would be read off.
void readClass(Figures& f, const SnLine& line, const SnSettings& s)
{
    if (!(line.slope > 0))
        return;
    ToldGroup told{.heading = "detail class"};
    const auto range = classBound.rangeAt(line, classCycles);
    const auto reached = range ? classOf(*range) : std::nullopt;
    told.rows.push_back({.label = range ? fmt::format("{:.3g} MPa", *range) : std::string("–"),
                         .words = reached ? fmt::format("class {:.3g}", *reached)
                             : range      ? std::string("below class 36")
                                          : std::string("can't be told"),
                         .more = "75 % confidence, 95 % survive, 2·10⁶ cycles"});
    const Result* bound = f.outcome.find("S_char");
    if (s.detailClass) {
        const bool met = range && *range >= *s.detailClass;
        told.rows.push_back({.label = fmt::format("class {:.3g}", *s.detailClass),
                             .words = !range ? std::string("open")
                                 : met       ? std::string("met")
                                             : std::string("not met"),
                             .state = !range ? ToldRow::State::Open
                                 : met       ? ToldRow::State::Good
                                             : ToldRow::State::Bad});
        const bool alike = s.bound.by == SnBound::By::Tolerance && std::abs(s.bound.confidence - 0.75) < 1e-9
            && std::abs(s.bound.survival - 0.95) < 1e-9 && std::abs(s.reference - classCycles) < 1;
        if (bound->value && !alike)
            f.remark("bound-not-class", Severity::Note, {"S_char"},
                     fmt::format("S_char of {:.3g} MPa is another bound than classes are drawn by; by that it is {}.",
                                 *bound->value, range ? fmt::format("{:.3g} MPa", *range) : std::string("not told")),
                     "Hold a class against the tolerance bound: 75 % confidence, 95 % survive, at 2·10⁶ cycles.",
                     "bound");
        if (range && !met)
            f.remark("class-not-met", Severity::Caution, {"S_char"},
                     fmt::format("Class {:.3g} is not met: {:.3g} MPa, 75 % confidence, 95 % survive.", *s.detailClass,
                                 *range),
                     "");
    }
    f.outcome.told.push_back(std::move(told));
}

void tellGroups(Figures& f, const std::vector<SnGroup>& groups, const SnSettings& s)
{
    if (groups.size() < 2)
        return;
    const auto test = testGroups(groups, s.rule);
    ToldGroup told{.heading = "kinds of piece"};
    for (const SnGroup& group : groups) {
        const auto bound =
            group.line && group.line->slope > 0 ? s.bound.rangeAt(*group.line, s.reference) : std::nullopt;
        told.rows.push_back(
            {.label = group.name,
             .words = group.line && group.line->slope > 0
                 ? fmt::format("m {:.2f}, mean {:.3g} MPa{}", group.line->slope, group.line->rangeAt(s.reference),
                               bound ? fmt::format(", bound {:.3g} MPa", *bound) : std::string())
                 : "no line: " + (group.why.empty() ? std::string("life does not fall with the range") : group.why),
             .state = group.line ? ToldRow::State::Plain : ToldRow::State::Open,
             .more = fmt::format("{} piece{}", group.pieces.size(), group.pieces.size() == 1 ? "" : "s")});
    }
    if (test)
        told.note = fmt::format("F {:.2f} of {} and {:.0f}: lines that far apart come by chance in {:.2g} of 100 sets.",
                                test->F, test->between, test->within, 100 * test->p);
    f.outcome.told.push_back(std::move(told));
    if (test && test->differ())
        f.remark("kinds-differ", Severity::Caution, ofTheLine,
                 fmt::format("The kinds of piece differ (by chance in {:.2g} of 100); the figures are those of all "
                             "together.",
                             100 * test->p),
                 "Judge each kind by itself: one line over both tells of neither.", "group_by");
}

void tellTime(Figures& f, const SetInput& set, const std::vector<SnRun>& runs, const std::optional<SnLine>& line,
              const SnSettings& s)
{
    double longest = 0;
    for (const SnRun& run : runs)
        longest = std::max(longest, run.piece.cycles);
    const bool known = line && line->slope > 0 && s.meanStress == MeanStress::None;
    const FrameTime time = frameTimeOf(set, known ? line : std::nullopt, longest);
    if (!(time.done > 0) && time.runs == 0)
        return;
    ToldGroup told{.heading = "frame time"};
    if (time.done > 0)
        told.rows.push_back({.label = "run", .words = spanText(time.done)});
    if (time.runs > 0)
        told.rows.push_back(
            {.label = fmt::format("{} left", time.runs),
             .words = time.left > 0 ? spanText(time.left) : std::string("not known"),
             .more = time.unknown > 0 ? fmt::format("{} without level or frequency", time.unknown) : std::string()});
    f.outcome.told.push_back(std::move(told));
}

void adviseNext(Figures& f, const SetInput& set, const std::vector<SnRun>& runs, const SnLine& line,
                const SnSettings& s)
{
    if (!(line.slope > 0) || s.meanStress != MeanStress::None)
        return;
    const auto best = bestNextRun(line, s.bound, s.reference, piecesOf(runs));
    if (!best)
        return;
    constexpr double round = 5; // MPa
    const double level = std::max(round, round * std::round(best->range / round));
    std::string left;
    for (size_t i = 0; i < set.inputs.size() && left.empty(); ++i)
        if (const Result* N = set.outcomes[i] ? set.outcomes[i]->find("N") : nullptr; !N || !N->value)
            left = set.inputs[i]->label;
    NextStep next;
    next.words = fmt::format("One more at {:.0f} MPa would lift the bound most: from {:.3g} to {:.3g} MPa. About {} "
                             "cycles.",
                             level, best->now, best->then, cyclesText(best->life));
    if (!left.empty()) {
        next.act = fmt::format("Plan {} at {:.0f} MPa", left, level);
        next.labels = {left};
        next.note = fatigueKeys::planned;
        next.value = fmt::format("{:.0f} MPa", level);
    }
    f.outcome.next = std::move(next);
}

void judgeLine(Figures& f, const SetInput& set, const std::vector<SnRun>& runs, const SnSettings& s)
{
    f.notApplicable(ofTheStairs, "The pieces are not run as a staircase.");
    const auto fit = fitSn(piecesOf(runs), s.rule);
    const std::optional<SnLine> line = fit ? std::optional(*fit) : std::nullopt;
    const auto groups = groupsOf(runs, *set.inputs.front(), s.rule);
    ScatterView view = snView(runs, line, s, groups);
    if (!line) {
        const bool whole = std::ranges::all_of(runs, [](const SnRun& run) { return run.piece.open; });
        f.remark(whole ? "all-run-outs" : "no-line", Severity::Caution, ofTheLine,
                 "No line can be told: " + fit.problem().found + "; " + fit.problem().wanted + " wanted.",
                 fit.problem().advice, "slope");
    } else {
        readLine(f, *line, s);
        checkLine(f, runs, *line, s);
        tellChoices(f, runs, *line, s);
        readClass(f, *line, s);
        tellGroups(f, groups, s);
        adviseNext(f, set, runs, *line, s);
    }
    tellTime(f, set, runs, line, s);
    if (!runs.empty())
        f.outcome.views.emplace_back(std::move(view));
}

void judgeStairs(Figures& f, const SetInput& set, const std::vector<SnRun>& all, const SnSettings& s)
{
    f.notApplicable(ofTheLine, "The pieces are run as a staircase, about one number of cycles.");
    std::vector<StairRun> runs;
    std::vector<std::string> labels;
    size_t elsewhere = 0;
    for (const SnRun& run : all) {
        elsewhere += run.elsewhere;
        if (run.elsewhere)
            continue;
        runs.push_back({run.piece.range, !run.piece.open});
        labels.push_back(run.input->label);
    }
    const double step = s.step > 0 ? s.step : stairStepOf(runs);
    const auto read = readStairs(runs, step);
    if (!read) {
        f.remark("no-stairs", Severity::Caution, ofTheStairs,
                 "The staircase can't be read: " + read.problem().found + "; " + read.problem().wanted + " wanted.",
                 read.problem().advice, "step");
    } else {
        const std::string event = read->byBroken ? "broken" : "run-outs";
        put(f, "S_mean", read->mean, 0, "mean of the staircase",
            fmt::format("Dixon–Mood, {}: {:g} + {:g}·({:g}/{:g} {} ½)", event, read->least, read->step, read->A,
                        read->N, read->byBroken ? "−" : "+"));
        if (read->sd)
            put(f, "S_sd", *read->sd, 0, "scatter of the staircase",
                fmt::format("1.62·{:g}·({:.4f} + 0.029), ratio of N {:g}, A {:g}, B {:g}", read->step, read->ratio,
                            read->N, read->A, read->B));
        else
            f.remark("stairs-ratio", Severity::Caution, {"S_sd"},
                     fmt::format("The scatter can't be told: the ratio (N·B − A²)/N² is {:.3f}, below 0.3.",
                                 read->ratio),
                     "A smaller step spreads the runs over more levels.", "step");
        if (!(s.step > 0))
            f.remark("step-assumed", Severity::Note, ofTheStairs,
                     fmt::format("The step is taken from the levels: {:g} MPa.", step), "Give it on Plan.", "step");
        for (const size_t i : read->astray)
            f.remark("stairs-astray", Severity::Caution, ofTheStairs,
                     fmt::format("{} at {:g} MPa does not stand one step {} {}, which {}.", labels[i], runs[i].range,
                                 runs[i - 1].broke ? "below" : "above", labels[i - 1],
                                 runs[i - 1].broke ? "broke" : "did not"),
                     "One step down after a break, one up after a run-out; or leave it out with a reason.");
    }
    if (elsewhere > 0)
        f.remark("stairs-elsewhere", Severity::Note, ofTheStairs,
                 fmt::format("{} broke elsewhere and {} not counted.", elsewhere, elsewhere == 1 ? "is" : "are"));
    tellTime(f, set, all, std::nullopt, s);
    if (!runs.empty())
        f.outcome.views.emplace_back(stairView(set, read ? std::optional(*read) : std::nullopt));
}

} // namespace

std::vector<SnRun> runsOf(const SetInput& set)
{
    std::vector<SnRun> runs;
    for (size_t i = 0; i < set.inputs.size(); ++i) {
        const Result* S = set.outcomes[i] ? set.outcomes[i]->find("S") : nullptr;
        const Result* N = set.outcomes[i] ? set.outcomes[i]->find("N") : nullptr;
        if (S && N && S->value && N->value)
            runs.push_back({{*S->value, *N->value, N->bound == Result::Bound::AtLeast},
                            set.inputs[i],
                            noteOf(*set.inputs[i], fatigueKeys::outcome) == fatigueKeys::elsewhere});
    }
    return runs;
}

std::vector<SnPiece> piecesOf(const std::vector<SnRun>& runs)
{
    std::vector<SnPiece> pieces;
    for (const SnRun& run : runs)
        pieces.push_back(run.piece);
    return pieces;
}

Expected<Outcome> evaluateFatigueSet(const SetInput& set)
{
    static const Method method = fatigueSn();
    const SpecimenInput none;
    Figures f{set.inputs.empty() ? none : *set.inputs.front()};
    f.begin(method, ResultSpec::Of::Set);
    const auto settings = snSettings(f.input);
    if (!settings)
        return settings.problem();
    const auto runs = runsOf(set);
    if (runs.empty()) {
        std::vector<std::string> all = ofTheLine;
        all.insert(all.end(), ofTheStairs.begin(), ofTheStairs.end());
        f.remark("nothing-run", Severity::Note, all, "No piece has a range and cycles yet.", "Run pieces first.");
        if (!set.inputs.empty())
            tellTime(f, set, runs, std::nullopt, *settings);
    } else if (settings->staircase) {
        judgeStairs(f, set, runs, *settings);
    } else {
        judgeLine(f, set, runs, *settings);
    }
    f.sayRest();
    return std::move(f.outcome);
}

} // namespace fortitor
