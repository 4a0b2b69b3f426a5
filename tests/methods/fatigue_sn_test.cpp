// SPDX-License-Identifier: GPL-3.0-or-later
// S–N lines and staircases: published and hand-worked figures, another program's optimiser, coverage by simulation.
#include "methods/fatigue_sn/detail_class.h"
#include "methods/fatigue_sn/fatigue_sn.h"
#include "methods/fatigue_sn/groups.h"
#include "methods/fatigue_sn/mean_stress.h"
#include "methods/fatigue_sn/next_run.h"
#include "methods/fatigue_sn/run_desk.h"
#include "methods/fatigue_sn/staircase.h"
#include "judge/censored_line.h"
#include "judge/normal_tail.h"
#include "jobs/analysis.h"
#include "jobs/job.h"
#include "sim/random.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

namespace fortitor::fatigue_sn_test {
namespace {

std::vector<SnPiece> ten()
{
    const double ranges[] = {240, 240, 200, 200, 170, 170, 140, 140, 120, 120};
    const double cycles[] = {61e3, 84e3, 118e3, 97e3, 175e3, 242e3, 410e3, 355e3, 730e3, 1e6};
    std::vector<SnPiece> pieces;
    for (size_t i = 0; i < 10; ++i)
        pieces.push_back({ranges[i], cycles[i], i == 9});
    return pieces;
}

/// As a job file has them: range MPa, cycles, end.
struct Row {
    const char *range, *cycles, *outcome;
};

JobOutcome judged(const std::vector<Row>& rows, const Json& options = Json::object(),
                  const std::vector<Json>& notes = {}, const Json& material = {{"name", "S355"}})
{
    Json j{{"fortitor_job", 1},
           {"job", {{"number", "J-1"}, {"title", "t"}}},
           {"method", "fatigue-sn"},
           {"material", material},
           {"options", options}};
    j["specimens"] = Json::array();
    for (size_t i = 0; i < rows.size(); ++i) {
        Json one{{"label", "L" + std::to_string(i + 1)}};
        if (*rows[i].range)
            one["readings"]["range"] = Json::array({rows[i].range});
        if (*rows[i].cycles)
            one["readings"]["cycles"] = Json::array({rows[i].cycles});
        if (*rows[i].outcome)
            one["notes"]["outcome"] = rows[i].outcome;
        if (i < notes.size())
            for (const auto& [key, value] : notes[i].items())
                one["notes"][key] = value;
        j["specimens"].push_back(one);
    }
    auto job = readJob(j);
    EXPECT_TRUE(job) << (job ? "" : job.problem().text());
    return analyseJob(*job, ".", false);
}

std::vector<Row> tenRows()
{
    return {{"240 MPa", "61000", "broken"},  {"240 MPa", "84000", "broken"},  {"200 MPa", "118000", "broken"},
            {"200 MPa", "97000", "broken"},  {"170 MPa", "175000", "broken"}, {"170 MPa", "242000", "broken"},
            {"140 MPa", "410000", "broken"}, {"140 MPa", "355000", "broken"}, {"120 MPa", "730000", "broken"},
            {"120 MPa", "1e6", "run-out"}};
}

double value(const JobOutcome& o, const char* symbol)
{
    const Result* r = o.set ? o.set->find(symbol) : nullptr;
    return r && r->value ? *r->value : std::nan("");
}

bool said(const JobOutcome& o, const std::string& code)
{
    const auto in = [&](const std::vector<Remark>& all) {
        return std::ranges::find(all, code, &Remark::code) != all.end();
    };
    return (o.set && in(o.set->remarks)) || in(o.remarks)
        || std::ranges::any_of(o.specimens,
                               [&](const SpecimenOutcome& s) { return s.outcome && in(s.outcome->remarks); });
}

// Figures worked by hand and by another program (the set with and without its run-out).
TEST(FatigueSn, TheWorkedSet)
{
    const auto all = fitSn(ten(), {});
    ASSERT_TRUE(all);
    EXPECT_NEAR(all->slope, 3.6137, 5e-5);
    EXPECT_NEAR(all->logA, 13.3951, 5e-5);
    EXPECT_NEAR(all->likelihoodScatter, 0.0845, 5e-5);
    EXPECT_NEAR(all->scatter, 0.0845 * std::sqrt(9.0 / 7), 1e-4);
    EXPECT_NEAR(all->rangeAt(2e6), 91.86, 0.005);
    const auto left = fitSn(ten(), {.runOuts = false});
    ASSERT_TRUE(left);
    EXPECT_NEAR(left->slope, 3.3278, 5e-5);
    EXPECT_NEAR(left->logA, 12.7361, 5e-5);
    EXPECT_NEAR(left->scatter, 0.0713, 5e-5);
    EXPECT_NEAR(left->slopeDoubt, 0.237394, 1e-6);
    EXPECT_NEAR(left->rangeAt(2e6), 85.85, 0.005);
    EXPECT_NEAR(*SnBound{}.rangeAt(*left, 2e6), 73.66, 0.005);
    EXPECT_NEAR(*classBound.rangeAt(*left, 2e6), 75.034854, 1e-5);
    EXPECT_NEAR(*(SnBound{SnBound::By::Tolerance, 0.9, 0.9}.rangeAt(*left, 2e6)), 72.437581, 1e-5);
    // The same through the job.
    const JobOutcome o = judged(tenRows());
    EXPECT_NEAR(value(o, "m"), 3.6137, 5e-5);
    EXPECT_NEAR(value(o, "S_ref"), 91.86, 0.005);
    EXPECT_TRUE(said(o, "run-outs"));
    const JobOutcome out = judged(tenRows(), {{"run_outs", "leave-out"}});
    EXPECT_NEAR(value(out, "S_char"), 73.66, 0.005);
    EXPECT_TRUE(std::isnan(value(out, "S_mean")));
    EXPECT_TRUE(said(out, "not-applicable"));
}

// By an independent optimiser (scipy, Nelder–Mead to 1e-14).
TEST(FatigueSn, LikelihoodAgainstAnotherProgram)
{
    const double ranges[] = {300, 300, 260, 260, 220, 220, 190, 190, 160, 160, 140, 140, 120, 120, 100, 100};
    const double cycles[] = {41e3,  66e3,  70e3,   99e3,  131e3, 240e3, 190e3, 422e3,
                             510e3, 381e3, 1.31e6, 640e3, 1.9e6, 5e6,   5e6,   5e6};
    std::vector<SnPiece> pieces;
    for (size_t i = 0; i < 16; ++i)
        pieces.push_back({ranges[i], cycles[i], i >= 13});
    const auto free = fitSn(pieces, {});
    ASSERT_TRUE(free);
    EXPECT_NEAR(free->slope, 4.475430164, 1e-7);
    EXPECT_NEAR(free->logA, 15.705021442, 2e-7);
    EXPECT_NEAR(free->likelihoodScatter, 0.184280282, 1e-8);
    EXPECT_NEAR(free->logLikelihood, 1.0998802361, 1e-9);
    const auto fixed = fitSn(pieces, {.slope = 3.0});
    ASSERT_TRUE(fixed);
    EXPECT_NEAR(fixed->logA, 12.396705473, 1e-8);
    EXPECT_NEAR(fixed->likelihoodScatter, 0.297811342, 1e-8);
    EXPECT_EQ(fixed->slopeDoubt, 0);
    EXPECT_NEAR(fixed->scatter, 0.297811342 * std::sqrt(13.0 / 12), 1e-8);
}

// Without bounds the likelihood is least squares, and twice the stress is only a shift.
TEST(FatigueSn, PropertiesOfTheFit)
{
    auto pieces = ten();
    pieces.back().open = false;
    const auto line = fitSn(pieces, {});
    std::vector<SnPiece> doubled = pieces, longer = pieces;
    for (SnPiece& p : doubled)
        p.range *= 2;
    for (SnPiece& p : longer)
        p.cycles *= 10;
    EXPECT_NEAR(fitSn(doubled, {})->slope, line->slope, 1e-12);
    EXPECT_NEAR(fitSn(doubled, {})->rangeAt(2e6), 2 * line->rangeAt(2e6), 1e-9);
    EXPECT_NEAR(*SnBound{}.rangeAt(*fitSn(doubled, {}), 2e6), 2 * *SnBound{}.rangeAt(*line, 2e6), 1e-6);
    EXPECT_NEAR(fitSn(longer, {})->logA, line->logA + 1, 1e-11);
    EXPECT_NEAR(fitSn(longer, {})->scatter, line->scatter, 1e-12);
    auto open = ten();
    const auto with = fitSn(open, {});
    open.back().cycles = 1e6 * 1.5; // a bound that lies higher lifts the line there
    EXPECT_GT(fitSn(open, {})->logLifeAt(120), with->logLifeAt(120));
    open.back().cycles = 1e3; // one far below says nothing
    EXPECT_NEAR(fitSn(open, {})->slope, fitSn(ten(), {.runOuts = false})->slope, 1e-6);
    EXPECT_NEAR(with->rangeAt(std::pow(10, with->logLifeAt(150))), 150, 1e-9);
}

TEST(FatigueSn, TheTailOfTheNormalFarOut)
{
    EXPECT_NEAR(logAbove(0), std::log(0.5), 1e-15);
    EXPECT_NEAR(hazard(0), std::sqrt(2 / M_PI), 1e-15);
    // Mills ratio at 5, 10 and 40 to the digits of a table.
    EXPECT_NEAR(hazard(4.999999999), hazard(5.000000001), 1e-8);
    EXPECT_NEAR(hazard(10), 10.0980932339626, 1e-11);
    EXPECT_NEAR(logAbove(10), -53.23128515051247, 1e-11);
    EXPECT_NEAR(logAbove(40), -804.608442013754, 1e-9);
    EXPECT_NEAR(logAbove(-8), -6.22096057427178e-16, 1e-28);
}

TEST(FatigueSn, WhatTellsNoLine)
{
    EXPECT_FALSE(fitSn({}, {}));
    std::vector<SnPiece> open{{200, 1e6, true}, {150, 1e6, true}};
    EXPECT_NE(fitSn(open, {}).problem().found.find("no piece that broke"), std::string::npos);
    std::vector<SnPiece> level{{200, 1e5}, {200, 2e5}, {200, 1.5e5}, {100, 1e7, true}};
    EXPECT_NE(fitSn(level, {}).problem().found.find("one level"), std::string::npos);
    EXPECT_TRUE(fitSn(level, {.slope = 3.0}));
    std::vector<SnPiece> two{{200, 1e5}, {150, 2e5}};
    EXPECT_FALSE(fitSn(two, {}));
    std::vector<SnPiece> nothing{{200, 0}, {150, 2e5}, {120, 4e5}};
    EXPECT_FALSE(fitSn(nothing, {}));
    // On a line without scatter: the bound is the line.
    std::vector<SnPiece> exact;
    for (const double range : {100.0, 150.0, 200.0, 250.0})
        exact.push_back({range, 2e6 * std::pow(100 / range, 3)});
    const auto line = fitSn(exact, {});
    ASSERT_TRUE(line);
    EXPECT_NEAR(line->slope, 3, 1e-9);
    EXPECT_NEAR(*SnBound{}.rangeAt(*line, 2e6), 100, 1e-3);
    // Slope and scatter told so poorly that the bound never comes up.
    std::vector<SnPiece> poor{{200, 1e5}, {199, 4e5}, {201, 2e5}, {198, 1.5e5}};
    const auto steep = fitSn(poor, {});
    ASSERT_TRUE(steep);
    EXPECT_FALSE(SnBound{}.rangeAt(*steep, 2e6));
}

// One-sided 95 %: of 2 000 simulated sets so many next pieces stand at the bound.
TEST(FatigueSn, BoundsHoldWhatTheyPromise)
{
    constexpr double m = 3.2, logA = 12.8, s = 0.18, reference = 2e6;
    for (const double runOut : {1e9, 4.5e6, 1.6e6}) {
        Random random(7);
        int next = 0, class_ = 0, sets = 0, open = 0, pieces_ = 0;
        double slope = 0, scatter = 0;
        for (int set = 0; set < 2000; ++set) {
            std::vector<SnPiece> pieces;
            for (int i = 0; i < 14; ++i) {
                const double range = 90 * std::pow(240.0 / 90, (i % 7) / 6.0);
                const double life = std::pow(10, logA - m * std::log10(range) + s * random.normal());
                pieces.push_back({range, std::min(life, runOut), life > runOut});
                open += life > runOut;
            }
            const auto line = fitSn(pieces, {});
            if (!line || !(line->slope > 0))
                continue;
            const auto bound = SnBound{}.rangeAt(*line, reference), tolerance = classBound.rangeAt(*line, reference);
            if (!bound || !tolerance)
                continue;
            ++sets;
            pieces_ += 14;
            slope += line->slope;
            scatter += line->scatter;
            next += logA - m * std::log10(*bound) + s * random.normal() > std::log10(reference);
            class_ += logA - m * std::log10(*tolerance) - 1.6449 * s >= std::log10(reference);
        }
        ASSERT_GT(sets, 1950);
        const double share = static_cast<double>(next) / sets, part = static_cast<double>(open) / pieces_;
        EXPECT_GE(share, 0.93) << runOut;
        if (part <= 0.1) {
            EXPECT_LE(share, 0.97) << runOut;
            EXPECT_NEAR(static_cast<double>(class_) / sets, 0.75, 0.04);
        } else {
            EXPECT_GT(part, 0.2); // the case is what it says
            EXPECT_GE(static_cast<double>(class_) / sets, 0.73);
        }
        EXPECT_NEAR(slope / sets, m, 0.06);
        EXPECT_NEAR(scatter / sets, s, 0.03 * s);
    }
}

TEST(FatigueSn, MeanStressRules)
{
    EXPECT_NEAR(meanStressOf(180, 0.1), 110, 1e-12);
    EXPECT_NEAR(*rangeWithoutMean(MeanStress::Goodman, 180, 0.1, 500), 180 / (1 - 0.22), 1e-9);
    EXPECT_NEAR(*rangeWithoutMean(MeanStress::Gerber, 180, 0.1, 500), 180 / (1 - 0.22 * 0.22), 1e-9);
    EXPECT_NEAR(*rangeWithoutMean(MeanStress::SmithWatsonTopper, 180, 0.1, 0), 2 * std::sqrt(200.0 * 90), 1e-9);
    for (const MeanStress rule : {MeanStress::Goodman, MeanStress::Gerber, MeanStress::SmithWatsonTopper})
        EXPECT_NEAR(*rangeWithoutMean(rule, 180, -1, 500), 180, 1e-9);
    EXPECT_FALSE(rangeWithoutMean(MeanStress::Goodman, 180, 1, 500));
    EXPECT_FALSE(rangeWithoutMean(MeanStress::Goodman, 180, 0.1, 0));
    EXPECT_FALSE(rangeWithoutMean(MeanStress::Gerber, 180, 0.8, 500));
    std::vector<Json> notes(10, Json{{"ratio", "0.1"}});
    const Json steel{{"name", "S355"}, {"published", {{"Rm", "510 MPa"}}}};
    const JobOutcome o = judged(tenRows(), {{"mean_stress", "goodman"}}, notes, steel);
    const auto corrected = *rangeWithoutMean(MeanStress::Goodman, 240, 0.1, 510);
    EXPECT_NEAR(*o.specimens[0].outcome->find("S")->value, corrected, 1e-9);
    EXPECT_TRUE(said(judged(tenRows(), {{"mean_stress", "gerber"}}, notes, {{"name", "own alloy"}}), "mean-stress"));
    notes[3] = Json::object();
    EXPECT_TRUE(said(judged(tenRows(), {{"mean_stress", "swt"}}, notes, steel), "no-ratio"));
}

/// 180F 150 180 210F …, as the published example of hand work has it.
std::vector<StairRun> stairs()
{
    const double levels[] = {180, 150, 180, 210, 180, 150, 180, 210, 240, 210, 180, 210, 180, 150, 180};
    const char broke[] = "100110001101100";
    std::vector<StairRun> runs;
    for (size_t i = 0; i < std::size(levels); ++i)
        runs.push_back({levels[i], broke[i] == '1'});
    return runs;
}

TEST(FatigueSn, DixonAndMoodByHand)
{
    const auto read = readStairs(stairs(), 30);
    ASSERT_TRUE(read);
    EXPECT_EQ(read->N, 7);
    EXPECT_EQ(read->A, 5);
    EXPECT_EQ(read->B, 7);
    EXPECT_TRUE(read->byBroken);
    EXPECT_NEAR(read->mean, 186.43, 0.005);
    EXPECT_NEAR(read->ratio, 0.490, 5e-4);
    EXPECT_NEAR(*read->sd, 25.21, 0.005);
    EXPECT_TRUE(read->astray.empty());
    std::vector<StairRun> turned; // mirrored about 180: the run-outs are the fewer
    for (const StairRun& run : stairs())
        turned.push_back({360 - run.range, !run.broke});
    EXPECT_NEAR(readStairs(turned, 30)->mean, 360 - 186.43, 0.005);
    EXPECT_FALSE(readStairs(turned, 30)->byBroken);
    // Off the step, out of order, one kind only.
    auto off = stairs();
    off[4].range = 195;
    EXPECT_FALSE(readStairs(off, 30));
    auto astray = stairs();
    std::swap(astray[1], astray[3]);
    EXPECT_FALSE(readStairs(astray, 30)->astray.empty());
    EXPECT_FALSE(readStairs(std::vector<StairRun>{{180, true}, {150, true}}, 30));
    // Up and down between two levels: the scatter can't be told.
    std::vector<StairRun> narrow;
    for (int i = 0; i < 10; ++i)
        narrow.push_back({i % 2 ? 150.0 : 180.0, i % 2 == 0});
    const auto flat = readStairs(narrow, 30);
    ASSERT_TRUE(flat);
    EXPECT_FALSE(flat->sd);
    EXPECT_NEAR(flat->mean, 165, 1e-9); // on a tie the broken count
    EXPECT_EQ(stairStepOf(stairs()), 30);
}

TEST(FatigueSn, AStaircaseInAJob)
{
    std::vector<Row> rows;
    static std::vector<std::string> texts;
    texts.clear();
    for (const StairRun& run : stairs())
        texts.push_back(std::to_string(static_cast<int>(run.range)) + " MPa");
    for (size_t i = 0; i < texts.size(); ++i)
        rows.push_back(
            {texts[i].c_str(), stairs()[i].broke ? "812000" : "1e7", stairs()[i].broke ? "broken" : "run-out"});
    const JobOutcome o = judged(rows, {{"kind", "staircase"}, {"step", "30 MPa"}});
    EXPECT_NEAR(value(o, "S_mean"), 186.43, 0.005);
    EXPECT_NEAR(value(o, "S_sd"), 25.21, 0.005);
    EXPECT_TRUE(std::isnan(value(o, "m")));
    EXPECT_FALSE(said(o, "step-assumed"));
    const JobOutcome without = judged(rows, {{"kind", "staircase"}});
    EXPECT_NEAR(value(without, "S_mean"), 186.43, 0.005);
    EXPECT_TRUE(said(without, "step-assumed"));
    rows[4].outcome = "elsewhere";
    EXPECT_TRUE(said(judged(rows, {{"kind", "staircase"}, {"step", "30 MPa"}}), "stairs-elsewhere"));
}

// Two kinds on the same levels: F by sums of squares (another program), and none where they are alike.
TEST(FatigueSn, KindsOfPiece)
{
    const double ranges[] = {240, 200, 170, 140, 240, 170};
    const double a[] = {61e3, 118e3, 175e3, 410e3, 84e3, 242e3}, b[] = {120e3, 150e3, 310e3, 640e3, 99e3, 420e3};
    std::vector<SnGroup> groups(2);
    for (size_t i = 0; i < 6; ++i) {
        groups[0].pieces.push_back({ranges[i], a[i]});
        groups[1].pieces.push_back({ranges[i], b[i]});
    }
    for (SnGroup& g : groups)
        g.line = *fitSn(g.pieces, {});
    const auto test = testGroups(groups, {});
    ASSERT_TRUE(test);
    EXPECT_NEAR(test->F, 9.249380730, 1e-7);
    EXPECT_NEAR(test->p, 0.008307257, 1e-8);
    EXPECT_EQ(test->between, 2);
    EXPECT_EQ(test->within, 8);
    groups[1] = groups[0];
    EXPECT_NEAR(testGroups(groups, {})->F, 0, 1e-9);
    // False alarms: of sets of one kind, split by chance, about one in twenty.
    Random random(3);
    int alarms = 0, censored = 0;
    for (int set = 0; set < 1000; ++set) {
        std::vector<SnGroup> split(2), bounds(2);
        for (int i = 0; i < 20; ++i) {
            const double range = 100 + 20 * (i % 5),
                         life = std::pow(10, 12 - 3 * std::log10(range) + 0.2 * random.normal());
            split[i / 5 % 2].pieces.push_back({range, life});
            bounds[i / 5 % 2].pieces.push_back({range, std::min(life, 7e5), life > 7e5});
        }
        for (auto* list : {&split, &bounds})
            for (SnGroup& g : *list)
                if (const auto line = fitSn(g.pieces, {}))
                    g.line = *line;
        alarms += testGroups(split, {}) && testGroups(split, {})->differ();
        censored += testGroups(bounds, {}) && testGroups(bounds, {})->differ();
    }
    EXPECT_NEAR(alarms, 50, 22);
    EXPECT_NEAR(censored, 60, 35);
    // In a job.
    std::vector<Json> notes;
    for (size_t i = 0; i < 10; ++i)
        notes.push_back({{"group", i % 2 ? "ground" : "as welded"}});
    const JobOutcome o = judged(tenRows(), {}, notes);
    ASSERT_TRUE(o.set);
    EXPECT_TRUE(std::ranges::any_of(o.set->told, [](const ToldGroup& g) { return g.heading == "kinds of piece"; }));
}

// What the advice promises is what a piece there would bring.
TEST(FatigueSn, TheNextLevel)
{
    const auto pieces = ten();
    const auto line = fitSn(pieces, {.runOuts = false});
    std::vector<double> levels, gains;
    const auto best = bestNextRun(*line, SnBound{}, 2e6, pieces, &levels, &gains);
    ASSERT_TRUE(best);
    EXPECT_NEAR(best->now, 73.66, 0.005);
    auto more = pieces;
    more.pop_back();
    more.push_back({best->range, std::pow(10, line->logLifeAt(best->range))});
    SnLine with = *fitSn(more, {});
    EXPECT_NEAR(with.slope, line->slope, 1e-9); // it lies on the line
    with.scatter = line->scatter; // the advice takes the scatter to stay
    EXPECT_NEAR(*SnBound{}.rangeAt(with, 2e6), best->then, 1e-6);
    EXPECT_EQ(levels.size(), gains.size());
    EXPECT_GT(best->then, best->now);
    EXPECT_LE(best->life, 1e6); // not beyond the longest run
}

TEST(FatigueSn, ClassesAreSteps)
{
    EXPECT_EQ(*classOf(71), 71);
    EXPECT_EQ(*classOf(79.9), 71);
    EXPECT_EQ(*classOf(500), 160);
    EXPECT_FALSE(classOf(35.9));
    const JobOutcome met = judged(tenRows(), {{"class", "71 MPa"}, {"bound", "tolerance"}, {"confidence", "75 %"}});
    EXPECT_FALSE(said(met, "bound-not-class"));
    EXPECT_FALSE(said(met, "class-not-met"));
    EXPECT_TRUE(said(judged(tenRows(), {{"class", "71 MPa"}}), "bound-not-class"));
    EXPECT_TRUE(said(judged(tenRows(), {{"class", "90 MPa"}}), "class-not-met"));
}

TEST(FatigueSn, TiredTechnicians)
{
    auto rows = tenRows();
    const JobOutcome sound = judged(rows);
    for (const char* code : {"far-from-line", "not-straight", "run-out-far", "outcome-not-noted", "slope-wrong",
                             "few-broken", "most-whole"})
        EXPECT_FALSE(said(sound, code)) << code;
    EXPECT_TRUE(said(sound, "beyond-runs")); // 2e6 lies beyond the longest run
    rows[8].cycles = "73000"; // a digit lost
    EXPECT_TRUE(said(judged(rows), "far-from-line"));
    rows = tenRows();
    rows[0].outcome = "";
    EXPECT_TRUE(said(judged(rows), "outcome-not-noted"));
    rows[0].outcome = "runout";
    const JobOutcome unknown = judged(rows);
    EXPECT_TRUE(said(unknown, "outcome-unknown"));
    EXPECT_FALSE(unknown.specimens[0].outcome->find("N")->value);
    rows = tenRows();
    rows[2].cycles = "0";
    const JobOutcome none = judged(rows);
    EXPECT_TRUE(said(none, "no-cycles"));
    EXPECT_FALSE(std::isnan(value(none, "m")));
    rows = tenRows();
    rows[2].range = "";
    EXPECT_TRUE(said(judged(rows), "no-range"));
    for (Row& row : rows)
        row.outcome = "run-out";
    rows[2].range = "200 MPa";
    const JobOutcome whole = judged(rows);
    EXPECT_TRUE(said(whole, "all-run-outs"));
    EXPECT_TRUE(std::isnan(value(whole, "S_ref")));
    rows = tenRows();
    for (Row& row : rows)
        row.range = "200 MPa";
    EXPECT_TRUE(said(judged(rows), "no-line"));
    EXPECT_FALSE(std::isnan(value(judged(rows, {{"slope", "fixed 3"}}), "S_ref")));
    rows = tenRows();
    std::swap(rows[0].range, rows[8].range);
    std::swap(rows[1].range, rows[7].range);
    std::swap(rows[2].range, rows[6].range);
    std::swap(rows[3].range, rows[5].range);
    std::swap(rows[4].range, rows[9].range);
    EXPECT_TRUE(said(judged(rows), "slope-wrong"));
    rows = tenRows();
    rows[9] = {"120 MPa", "3e7", "run-out"};
    EXPECT_TRUE(said(judged(rows), "run-out-far"));
    EXPECT_TRUE(said(judged(tenRows(), {{"slope", "fixed 6"}}), "slope-off-fixed"));
    std::vector<Json> notes(10, Json{{"ratio", "0.1"}});
    notes[0]["ratio"] = "0.5";
    EXPECT_TRUE(said(judged(tenRows(), {}, notes), "ratios-mixed"));
    // Above the strength: an amplitude, a force, a wrong unit.
    notes = std::vector<Json>(10, Json{{"ratio", "0.1"}});
    EXPECT_TRUE(said(judged(tenRows(), {}, notes, {{"name", "S"}, {"published", {{"Rm", "250 MPa"}}}}),
                     "range-above-strength"));
}

TEST(FatigueSn, OptionsAndReadingsThatCantBe)
{
    const auto refused = [](const Json& options) {
        const JobOutcome o = judged(tenRows(), options);
        return std::ranges::all_of(o.specimens, [](const SpecimenOutcome& s) { return s.problem.has_value(); });
    };
    EXPECT_TRUE(refused({{"slope", "fixed"}}));
    EXPECT_TRUE(refused({{"slope", "fixed -3"}}));
    EXPECT_TRUE(refused({{"confidence", "5 %"}}));
    EXPECT_TRUE(refused({{"confidence", "100 %"}}));
    EXPECT_TRUE(refused({{"survival", "much"}}));
    EXPECT_TRUE(refused({{"reference_cycles", "0"}}));
    EXPECT_TRUE(refused({{"class", "-71 MPa"}}));
    EXPECT_TRUE(refused({{"kind", "other"}}));
    SpecimenInput input;
    input.label = "L1";
    input.readings["amplitude"] = {*parseQuantity("120 MPa", Kind::Stress)};
    EXPECT_EQ(**keyedRange(input), 240);
    input.readings["range"] = {*parseQuantity("120 MPa", Kind::Stress)};
    EXPECT_FALSE(keyedRange(input));
    input.notes["ratio"] = "a tenth";
    EXPECT_FALSE(notedRatio(input));
    EXPECT_EQ(*cyclesTyped("412 000"), 412000);
    EXPECT_EQ(*cyclesTyped("4.12e5"), 412000);
    EXPECT_EQ(*cyclesTyped("1\u202f200\u202f000"), 1200000);
    EXPECT_FALSE(cyclesTyped("0"));
    EXPECT_FALSE(cyclesTyped("-5"));
    EXPECT_FALSE(cyclesTyped("many"));
    EXPECT_EQ(cyclesText(412000), "412\u202f000");
    EXPECT_EQ(cyclesText(2e6), "2·10⁶");
    EXPECT_EQ(cyclesText(1e7), "10⁷");
}

TEST(FatigueSn, WhatARunTakes)
{
    SpecimenInput input;
    input.label = "L1";
    input.shape = "rectangular";
    input.dimensions["width"] = {*parseQuantity("40 mm", Kind::Length)};
    input.dimensions["thickness"] = {*parseQuantity("8 mm", Kind::Length)};
    input.notes = {{"planned_range", "180 MPa"}, {"ratio", "0.1"}, {"frequency", "8 Hz"}};
    input.options["class"] = "71 MPa";
    const auto plan = runPlanOf(input, {});
    ASSERT_TRUE(plan);
    EXPECT_NEAR(*plan->greatest, 200.0 * 320, 1e-6);
    EXPECT_NEAR(*plan->least, 20.0 * 320, 1e-6);
    EXPECT_NEAR(plan->expected, 2e6 * std::pow(71.0 / 180, 3) * std::pow(10, 0.329), 1);
    EXPECT_NEAR(plan->seconds(), plan->expected / 8, 1e-6);
    const auto order = runOrder(input);
    ASSERT_TRUE(order);
    EXPECT_EQ(order->stops.runOut, 1e7);
    for (const char* missing : {"planned_range", "ratio", "frequency"}) {
        SpecimenInput without = input;
        without.notes.erase(missing);
        EXPECT_FALSE(runOrder(without)) << missing;
    }
    SpecimenInput bare = input;
    bare.dimensions.clear();
    EXPECT_FALSE(runOrder(bare));
    input.options["trip_drop"] = "0 %";
    EXPECT_FALSE(runOrder(input));
    const std::vector<SpreadGroup> groups{{100, 2}, {180, 2}};
    input.options.erase("trip_drop");
    const double days = 2 * (2e6 * std::pow(0.71, 3) + 2e6 * std::pow(71.0 / 180, 3)) * std::pow(10, 0.329) / 8 / 86400;
    EXPECT_NE(runsInWords(input, groups).find(spanText(days * 86400)), std::string::npos) << runsInWords(input, groups);
}

} // namespace
} // namespace fortitor::fatigue_sn_test
