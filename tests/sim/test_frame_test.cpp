// SPDX-License-Identifier: GPL-3.0-or-later
// The frame as a neighbour: what it refuses, how it leads a run, what stops it.
#include "sim/test_frame.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

RunProgram pull(double speed)
{
    RunProgram p;
    p.stages.push_back({.words = "Quiet start", .control = Control::Hold, .untilTime = 1});
    p.stages.push_back({.words = "Pull", .control = Control::Speed, .value = speed});
    return p;
}

const StopLimits wide{.force = 45000, .travel = 80, .forceDrop = 0.4, .time = 4000};

/// A bar in its grips, zeroed, eased, instrumented, behind a closed guard.
struct Bench {
    TestFrame frame;
    std::vector<FrameEvent> events;
    std::vector<std::vector<double>> rows;
    bool keep = true;

    explicit Bench(const char* specimen = "rigger-tube", FrameSpec spec = {}) : frame(spec)
    {
        EXPECT_TRUE(frame.mount({.specimen = specimen, .seed = 3}));
        EXPECT_TRUE(frame.zero());
        if (frame.bar() && frame.channels().size() && specimen == std::string("canister")) {
            EXPECT_TRUE(frame.centre());
        } else {
            EXPECT_TRUE(frame.closeTop());
            EXPECT_TRUE(frame.closeBottom());
            go(0.1);
            EXPECT_TRUE(frame.ease(5));
            EXPECT_TRUE(until([&] { return !frame.status().easing; }, 60));
        }
        EXPECT_TRUE(frame.putExtensometerOn());
        EXPECT_TRUE(frame.setGuard(true));
        rows.clear();
    }
    void go(double seconds)
    {
        (void)until([] { return false; }, seconds);
    }
    template <class F> bool until(F done, double most)
    {
        for (auto n = static_cast<long>(most * frame.spec().rate); n > 0 && !done(); --n) {
            const auto& row = frame.step();
            if (keep)
                rows.push_back(row);
            for (FrameEvent& e : frame.takeEvents())
                events.push_back(std::move(e));
        }
        return done();
    }
    bool ends(double most = 4000)
    {
        return until([&] { return frame.status().state == DriveState::Ended; }, most);
    }
    [[nodiscard]] bool had(std::string_view code) const
    {
        return std::ranges::any_of(events, [&](const FrameEvent& e) { return e.code == code; });
    }
    [[nodiscard]] size_t column(std::string_view name) const
    {
        return static_cast<size_t>(std::ranges::find(frame.channels(), name) - frame.channels().begin());
    }
};

TEST(TestFrame, ClosingTheSecondGripPutsLoadOnAndEasingTakesItOff)
{
    TestFrame frame;
    ASSERT_TRUE(frame.mount({.specimen = "rigger-tube", .seed = 3}));
    ASSERT_TRUE(frame.zero());
    ASSERT_TRUE(frame.closeTop());
    frame.step();
    EXPECT_LT(std::abs(frame.force()), 30);
    ASSERT_TRUE(frame.closeBottom());
    frame.step();
    EXPECT_GT(frame.force(), 1000);
    EXPECT_FALSE(frame.ease(5).operator bool() && frame.start(pull(0.02), wide)) << "the guard is open";
    for (int i = 0; i < 3000 && frame.status().easing; ++i)
        frame.step();
    EXPECT_FALSE(frame.status().easing);
    EXPECT_LT(std::abs(frame.force()), 25);
}

TEST(TestFrame, EasingAtOnceAfterTheGripLooksAtTheCellFirst)
{
    TestFrame frame;
    ASSERT_TRUE(frame.mount({.specimen = "rigger-tube", .seed = 3}));
    frame.step();
    ASSERT_TRUE(frame.zero());
    ASSERT_TRUE(frame.closeTop());
    ASSERT_TRUE(frame.closeBottom());
    ASSERT_TRUE(frame.ease(8)); // not one reading in between
    for (int i = 0; i < 3000 && frame.status().easing; ++i)
        frame.step();
    EXPECT_FALSE(frame.status().easing);
    frame.step();
    EXPECT_LT(std::abs(frame.force()), 30);
}

TEST(TestFrame, RunsToTheBreakAndALittleBeyond)
{
    Bench b;
    ASSERT_TRUE(b.frame.start(pull(0.05), wide));
    ASSERT_TRUE(b.ends());
    EXPECT_EQ(b.frame.status().ended, "broken");
    EXPECT_TRUE(b.had("break"));
    const double broke = std::ranges::find(b.events, "break", &FrameEvent::code)->time;
    EXPECT_NEAR(b.frame.time() - broke, 0.8, 0.05);
    EXPECT_NEAR(b.frame.speed(), 0, 1e-12);
    double peak = 0;
    for (const auto& row : b.rows)
        peak = std::max(peak, row[1]);
    EXPECT_NEAR(peak / (310 * 78.5), 1, 0.1);
}

TEST(TestFrame, SameSeedSameRows)
{
    Bench a;
    Bench b;
    ASSERT_TRUE(a.frame.start(pull(0.2), wide));
    ASSERT_TRUE(b.frame.start(pull(0.2), wide));
    ASSERT_TRUE(a.ends());
    ASSERT_TRUE(b.ends());
    EXPECT_EQ(a.rows, b.rows);
}

TEST(TestFrame, TheDriveTakesTimeToComeUpToSpeed)
{
    FrameSpec spec;
    spec.rate = 1000;
    spec.acceleration = 2;
    Bench b("rigger-tube", spec);
    RunProgram p;
    p.stages.push_back({.words = "Go", .control = Control::Speed, .value = 0.5});
    ASSERT_TRUE(b.frame.start(p, wide));
    b.go(0.1);
    EXPECT_NEAR(b.frame.speed(), 0.2, 0.003);
    b.go(0.2);
    EXPECT_NEAR(b.frame.speed(), 0.5, 1e-9);
    ASSERT_TRUE(b.frame.hold());
    b.go(0.05);
    EXPECT_NEAR(b.frame.speed(), 0.4, 0.003);
}

TEST(TestFrame, NoFasterThanItCan)
{
    Bench b;
    RunProgram p;
    p.stages.push_back({.words = "Go", .control = Control::Speed, .value = 500});
    ASSERT_TRUE(b.frame.start(p, wide));
    double most = 0;
    b.until(
        [&] {
            most = std::max(most, b.frame.speed());
            return b.frame.status().state == DriveState::Ended;
        },
        30);
    EXPECT_LE(most, b.frame.spec().maxSpeed);
}

class Rates : public testing::TestWithParam<Control> { };

TEST_P(Rates, IsKeptWhileTheBarIsElastic)
{
    FrameSpec spec;
    spec.rate = 200;
    Bench b("tempered-bar", spec);
    const bool force = GetParam() == Control::ForceRate;
    const double rate = force ? 500 : 0.00025;
    RunProgram p;
    p.stages.push_back({.words = "Up", .control = GetParam(), .value = rate, .untilForce = 38000});
    p.stages.push_back({.words = "Hold", .control = Control::Hold, .untilTime = 1});
    ASSERT_TRUE(b.frame.start(p, wide));
    b.go(5);
    const auto from = b.rows.size();
    b.go(6);
    const auto to = b.rows.size() - 1;
    const size_t c = b.column(force ? "force" : "extension");
    const double per = force ? 1 : 40;
    const double seen = (b.rows[to][c] - b.rows[from][c]) / per / (b.rows[to][0] - b.rows[from][0]);
    EXPECT_NEAR(seen / rate, 1, 0.02);
    ASSERT_TRUE(b.ends());
    EXPECT_EQ(b.frame.status().ended, "end");
}

INSTANTIATE_TEST_SUITE_P(Led, Rates, testing::Values(Control::ForceRate, Control::StrainRate));

TEST(TestFrame, GoesToAPlaceAndStopsThere)
{
    Bench b;
    RunProgram p;
    p.stages.push_back({.words = "There", .control = Control::Position, .value = 0.04});
    ASSERT_TRUE(b.frame.start(p, wide));
    ASSERT_TRUE(b.ends(60));
    EXPECT_NEAR(b.frame.position() - b.frame.startPosition(), 0.04, 1.1e-3);
    b.go(1);
    EXPECT_NEAR(b.frame.position() - b.frame.startPosition(), 0.04, 0.02);
    ASSERT_TRUE(b.frame.returnToStart(0.1));
    ASSERT_TRUE(b.ends(60));
    EXPECT_EQ(b.frame.status().ended, "returned");
    EXPECT_NEAR(b.frame.position(), b.frame.startPosition(), 2e-3);
}

TEST(TestFrame, CyclesBetweenTwoPlacesSoManyTimes)
{
    FrameSpec spec;
    spec.rate = 500;
    Bench b("tempered-bar", spec);
    RunProgram p;
    p.stages.push_back(
        {.words = "To and fro", .control = Control::Cycles, .value = 1, .low = 0.01, .high = 0.08, .count = 5});
    ASSERT_TRUE(b.frame.start(p, {.force = 45000, .travel = 5, .time = 100}));
    std::vector<double> places;
    b.until(
        [&] {
            places.push_back(b.frame.position() - b.frame.startPosition());
            return b.frame.status().state == DriveState::Ended;
        },
        20);
    EXPECT_EQ(b.frame.status().ended, "end");
    int crossings = 0;
    for (size_t i = 1; i < places.size(); ++i)
        crossings += places[i - 1] < 0.045 && places[i] >= 0.045;
    EXPECT_EQ(crossings, 5);
    EXPECT_NEAR(*std::ranges::max_element(places), 0.08, 0.004);
}

TEST(TestFrame, PromptWaitsAndTheExtensometerComesOffWithTheAnswer)
{
    Bench b;
    RunProgram p = pull(0.05);
    p.stages[1].untilStrain = 0.02;
    p.stages[1].prompt = "Take the extensometer off now.";
    p.stages[1].act = "extensometer-off";
    p.stages.push_back({.words = "Faster", .control = Control::Speed, .value = 0.2});
    ASSERT_TRUE(b.frame.start(p, wide));
    ASSERT_TRUE(b.until([&] { return b.frame.status().state == DriveState::Waiting; }, 200));
    EXPECT_EQ(b.frame.status().prompt, "Take the extensometer off now.");
    b.go(30);
    EXPECT_EQ(b.frame.status().state, DriveState::Waiting) << "it waits as long as it takes";
    const double there = b.rows.back()[b.column("extension")];
    EXPECT_GT(there / 50, 0.02);
    EXPECT_TRUE(b.frame.status().extensometer);
    ASSERT_TRUE(b.frame.answer());
    EXPECT_FALSE(b.frame.status().extensometer);
    b.go(2);
    EXPECT_NEAR(b.rows.back()[b.column("extension")], there, 0.01) << "it reads its last value, off the bar";
    ASSERT_TRUE(b.ends());
    EXPECT_EQ(b.frame.status().ended, "broken");
    EXPECT_TRUE(b.had("extensometer-off"));
}

TEST(TestFrame, APressedPieceGoesBackByItself)
{
    Bench b("canister", {.cell = 2000, .rate = 100, .fixture = "platens"});
    RunProgram p;
    p.stages.push_back({.words = "Press", .control = Control::Speed, .value = 1, .untilTravel = 12});
    p.returns = true;
    p.returnSpeed = 4;
    ASSERT_TRUE(b.frame.start(p, {.force = 1900, .travel = 40, .time = 100}));
    ASSERT_TRUE(b.ends(100));
    EXPECT_EQ(b.frame.status().ended, "end");
    EXPECT_LT(b.frame.force(), 20);
    EXPECT_LT(b.frame.position() - b.frame.startPosition(), 12);
}

struct Stop {
    const char* name;
    StopLimits limits;
    const char* code;
    const char* words;
};

TEST(TestFrame, EachLimitStopsItInWords)
{
    const std::vector<Stop> stops{
        {"force", {.force = 8000, .travel = 80, .forceDrop = 0.4, .time = 4000}, "limit", "force limit"},
        {"travel", {.force = 45000, .travel = 0.3, .forceDrop = 0.4, .time = 4000}, "limit", "travel limit"},
        {"extension",
         {.force = 45000, .extension = 0.2, .travel = 80, .forceDrop = 0.4, .time = 4000},
         "limit",
         "extensometer"},
        {"time", {.force = 45000, .travel = 80, .forceDrop = 0.4, .time = 3}, "limit", "time limit"}};
    for (const Stop& stop : stops) {
        Bench b;
        ASSERT_TRUE(b.frame.start(pull(0.05), stop.limits)) << stop.name;
        ASSERT_TRUE(b.ends()) << stop.name;
        EXPECT_EQ(b.frame.status().ended, stop.code) << stop.name;
        EXPECT_NE(b.frame.status().endedWords.find(stop.words), std::string::npos)
            << stop.name << ": " << b.frame.status().endedWords;
    }
}

TEST(TestFrame, FaultsDoWhatTheySay)
{
    const auto run = [](std::string_view fault, double most = 4000) {
        auto b = std::make_unique<Bench>();
        EXPECT_TRUE(b->frame.fault(*parseFault(fault))) << fault;
        EXPECT_TRUE(b->frame.start(pull(0.05), wide)) << fault;
        EXPECT_TRUE(b->ends(most)) << fault;
        return b;
    };
    EXPECT_EQ(run("guard@5", 10)->frame.status().ended, "guard");
    const auto over = run("overload@5", 10);
    EXPECT_EQ(over->frame.status().ended, "overload");
    EXPECT_NE(over->frame.status().endedWords.find("checked"), std::string::npos);
    const auto out = run("specimen-out@12");
    EXPECT_EQ(out->frame.status().ended, "limit");
    EXPECT_NE(out->frame.status().endedWords.find("force drop"), std::string::npos);
    const auto stuck = run("stuck:extension@6");
    const size_t c = stuck->column("extension");
    EXPECT_EQ(stuck->rows.back()[c], stuck->rows[stuck->rows.size() / 2][c]);
    const auto slip = run("slip@8=-0.2");
    double drop = 0;
    for (size_t i = 1; i < slip->rows.size(); ++i)
        drop = std::min(drop, slip->rows[i][c] - slip->rows[i - 1][c]);
    EXPECT_NEAR(drop, -0.2, 0.02);
    const auto spike = run("spike:force@8=9000");
    double jump = 0;
    for (size_t i = 1; i < spike->rows.size(); ++i)
        jump = std::max(jump, spike->rows[i][1] - spike->rows[i - 1][1]);
    EXPECT_NEAR(jump, 9000, 200);
}

TEST(TestFrame, EmergencyStopLatches)
{
    Bench b;
    ASSERT_TRUE(b.frame.start(pull(0.05), wide));
    b.go(6);
    b.frame.emergencyStop();
    EXPECT_EQ(b.frame.status().ended, "emergency");
    EXPECT_EQ(b.frame.speed(), 0);
    EXPECT_FALSE(b.frame.start(pull(0.05), wide));
    EXPECT_FALSE(b.frame.returnToStart(1));
    ASSERT_TRUE(b.frame.releaseEmergency());
    EXPECT_TRUE(b.frame.returnToStart(1));
}

TEST(TestFrame, ByHandOnlyWhileTheHandSetIsUnlocked)
{
    TestFrame frame;
    ASSERT_TRUE(frame.mount({.specimen = "rigger-tube"}));
    EXPECT_FALSE(frame.jog(1));
    EXPECT_FALSE(frame.nudge(0.05));
    ASSERT_TRUE(frame.setHandSet(true));
    ASSERT_TRUE(frame.setGuard(true));
    ASSERT_TRUE(frame.jog(5));
    for (int i = 0; i < 50; ++i)
        frame.step();
    EXPECT_GT(frame.position(), 3);
    ASSERT_TRUE(frame.jog(0));
    for (int i = 0; i < 50; ++i)
        frame.step();
    const double there = frame.position();
    ASSERT_TRUE(frame.nudge(-0.05));
    for (int i = 0; i < 200; ++i)
        frame.step();
    EXPECT_NEAR(frame.position(), there - 0.05, 1e-9);
    ASSERT_TRUE(frame.setGuard(false));
    ASSERT_TRUE(frame.jog(5));
    for (int i = 0; i < 50; ++i)
        frame.step();
    EXPECT_LE(frame.speed(), 0.5) << "slowly with the guard open";
}

TEST(TestFrame, StrainIndicatorWantsBalanceAndGoesOffItsScale)
{
    FrameSpec spec;
    spec.gaugeRange = 0.004;
    TestFrame raw(spec);
    ASSERT_TRUE(raw.mount({.specimen = "shell-skin", .seed = 5}));
    raw.step();
    ASSERT_EQ(raw.channels().size(), 7u);
    EXPECT_GT(std::abs(raw.step()[3]) + std::abs(raw.step()[4]), 2e-5) << "a bridge is not balanced by itself";
    Bench b("shell-skin", spec);
    b.go(0.2);
    EXPECT_LT(std::abs(b.rows.back()[3]), 2e-5);
    ASSERT_TRUE(b.frame.start(pull(0.1), wide));
    ASSERT_TRUE(b.ends());
    EXPECT_TRUE(std::ranges::any_of(b.rows, [](const auto& row) { return std::isnan(row[3]); }));
    EXPECT_FALSE(std::ranges::any_of(b.rows, [](const auto& row) { return std::isnan(row[1]) || std::isnan(row[2]); }));
}

TEST(TestFrame, TwoExtensometersShowTheBendingOfALaminate)
{
    FrameSpec spec;
    TestFrame frame(spec);
    ASSERT_TRUE(frame.mount({.specimen = "rigger-tube", .seed = 4, .twoExtensometers = true}));
    EXPECT_EQ(frame.channels(),
              (std::vector<std::string>{"time", "force", "displacement", "extension", "extension_2"}));
}

TEST(TestFrame, HydraulicGivesWayWhileItIsHeld)
{
    FrameSpec spec;
    spec.hydraulic = true;
    spec.creep = 5e-4;
    Bench b("tempered-bar", spec);
    ASSERT_TRUE(b.frame.start(pull(0.02), wide));
    b.go(9);
    ASSERT_TRUE(b.frame.hold());
    b.go(1);
    const double force = b.frame.force();
    b.go(20);
    EXPECT_LT(b.frame.force(), force - 100);
    Bench screw("tempered-bar");
    ASSERT_TRUE(screw.frame.start(pull(0.02), wide));
    screw.go(9);
    ASSERT_TRUE(screw.frame.hold());
    screw.go(1);
    const double stays = screw.frame.force();
    screw.go(20);
    EXPECT_NEAR(screw.frame.force(), stays, 30);
}

TEST(TestFrame, FixturesForBendingAndTorsion)
{
    TestFrame bend({.cell = 5000, .fixture = "bending"});
    ASSERT_TRUE(bend.mount({.specimen = "loom-batten", .seed = 2}));
    EXPECT_EQ(bend.channels(), (std::vector<std::string>{"time", "force", "deflection", "displacement"}));
    ASSERT_TRUE(bend.centre());
    ASSERT_TRUE(bend.setGuard(true));
    ASSERT_TRUE(bend.start(pull(0.2), {.force = 4000, .travel = 60, .forceDrop = 0.4, .time = 600}));
    for (int i = 0; i < 60000 && bend.status().state != DriveState::Ended; ++i)
        bend.step();
    EXPECT_EQ(bend.status().ended, "broken");
    TestFrame twist({.maxSpeed = 0.3,
                     .acceleration = 1,
                     .cell = 200000,
                     .travel = 200,
                     .extensometerTravel = 20,
                     .fixture = "torsion"});
    ASSERT_TRUE(twist.mount({.specimen = "sill-pin", .seed = 2}));
    EXPECT_EQ(twist.channels()[1], "torque");
    ASSERT_TRUE(twist.closeTop());
    ASSERT_TRUE(twist.closeBottom());
    ASSERT_TRUE(twist.setGuard(true));
    ASSERT_TRUE(twist.start(pull(0.1), {.force = 190000, .travel = 60, .forceDrop = 0.4, .time = 600}));
    for (int i = 0; i < 60000 && twist.status().state != DriveState::Ended; ++i)
        twist.step();
    EXPECT_EQ(twist.status().ended, "broken");
}

TEST(TestFrame, ReferenceWeightsAndCalibrator)
{
    TestFrame frame;
    ASSERT_TRUE(frame.mount({.specimen = "rigger-tube"}));
    ASSERT_TRUE(frame.zero());
    ASSERT_TRUE(frame.hangReference(20000));
    double mean = 0;
    for (int i = 0; i < 100; ++i)
        mean += frame.step()[1] / 100;
    EXPECT_NEAR(mean, 20000, 20);
    ASSERT_TRUE(frame.hangReference(0));
    ASSERT_TRUE(frame.closeTop());
    ASSERT_TRUE(frame.closeBottom());
    EXPECT_FALSE(frame.hangReference(20000)) << "weights on a gripped bar are no reference";
}

TEST(TestFrame, SetUpRefusesWhatIsNoFrame)
{
    TestFrame frame;
    EXPECT_FALSE(frame.setUp({.rate = 6000}));
    EXPECT_FALSE(frame.setUp({.cell = -1}));
    EXPECT_FALSE(frame.setUp({.fixture = "anvil"}));
    EXPECT_FALSE(frame.mount({.specimen = "moonstone"}));
    EXPECT_FALSE(frame.mount({.specimen = "rigger-tube", .section = std::nan("")}));
    EXPECT_FALSE(frame.start({}, wide));
    EXPECT_TRUE(frame.setUp({.rate = 5000}));
}

TEST(Faults, AreWrittenWithChannelTimeAndValue)
{
    const auto f = parseFault("stuck:extension@12.5=3");
    ASSERT_TRUE(f);
    EXPECT_EQ(f->kind, "stuck");
    EXPECT_EQ(f->channel, "extension");
    EXPECT_EQ(f->at, 12.5);
    EXPECT_EQ(f->value, 3);
    EXPECT_LT(parseFault("guard")->at, 0);
    for (const char* bad : {"", "earthquake", "stuck@", "stuck@-3", "slip=x", "spike@1=nan", "stuck@1,5"})
        EXPECT_FALSE(parseFault(bad)) << bad;
}

} // namespace
} // namespace fortitor
