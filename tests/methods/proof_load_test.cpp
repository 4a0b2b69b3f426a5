// SPDX-License-Identifier: GPL-3.0-or-later
// Proof load: parts whose springs, slack, set and yield are known in closed form, and records as they go wrong.
#include "methods/proof_load/proof_load.h"

#include "methods/proof_load/arrest.h"
#include "methods/proof_load/cycles.h"
#include "methods/proof_load/rules.h"
#include "methods/common/figures.h"
#include "methods/common/load_said.h"
#include "sim/random.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

namespace fortitor::proof_load_test {
namespace {

constexpr double P = 15691; // N: twice 0.8 t
constexpr double k = 15900; // N/mm

/// Readings of a part, one after the other; x is the part alone, a train that gives way is added.
struct Part {
    double slack = 0.15, set1 = 0.02, set2 = 0.01, creep = 0.004, train = 1e-5, noise = 5, wayNoise = 0.0005;
    double yield = 31000, soft = 2.4; ///< N; mm more for each further 10 kN, squared
    double rate = 20; ///< a second
    std::vector<double> F{}, x{};
    double base = 0;

    void stay(double force, double seconds, double creeps = 0)
    {
        const auto n = static_cast<int>(seconds * rate);
        for (int i = 1; i <= n; ++i) {
            F.push_back(force);
            x.push_back(base + force / k + creeps * i / n);
        }
        base += creeps;
    }
    /// `sets`: added over the way up, late.
    void ramp(double from, double to, double seconds, double sets = 0)
    {
        const auto n = static_cast<int>(seconds * rate);
        for (int i = 1; i <= n; ++i) {
            const double force = from + (to - from) * i / n;
            F.push_back(force);
            const double beyond = std::max(0.0, force - yield) / 10000;
            x.push_back(base + force / k + sets * std::pow(static_cast<double>(i) / n, 4) + soft * beyond * beyond);
        }
        base += sets;
    }
    void cycle(double sets, double top = P)
    {
        ramp(0, top, 12, sets);
        stay(top, 20, creep);
        ramp(top, 0, 8);
        stay(0, 3);
    }
    void start()
    {
        stay(0, 2);
        const int n = 20;
        for (int i = 1; i <= n; ++i) {
            F.push_back(0);
            x.push_back(slack * i / n);
        }
        base = slack;
    }
    [[nodiscard]] std::shared_ptr<const Record> record(double sign = 1) const
    {
        Random random(3);
        auto r = std::make_shared<Record>();
        r->channels.reserve(3);
        Column& t = r->add("time").values;
        Column& force = r->add("force").values;
        Column& way = r->add("displacement").values;
        for (size_t i = 0; i < F.size(); ++i) {
            t.append(static_cast<double>(i) / rate);
            force.append(F[i] + noise * random.normal());
            way.append(sign * (7 + x[i] + train * F[i] + wayNoise * random.normal()));
        }
        return r;
    }
};

SpecimenInput input(const Part& part, double sign = 1)
{
    SpecimenInput in;
    in.label = "E1";
    in.options = {{"working_load", "0.8 t"}, {"proof_factor", "2"}, {"compliance", "0.01 mm/kN"}};
    in.record = part.record(sign);
    return in;
}

Outcome read(const SpecimenInput& in)
{
    auto out = evaluateProofLoad(in);
    EXPECT_TRUE(out) << (out ? "" : out.problem().text());
    return out ? std::move(*out) : Outcome{};
}

Part pulled(bool breaks)
{
    Part part;
    part.start();
    part.cycle(part.set1);
    part.cycle(part.set2);
    part.ramp(0, 45000, 30);
    if (breaks)
        for (int i = 0; i < 20; ++i) {
            part.F.push_back(0);
            part.x.push_back(part.x.back());
        }
    return part;
}

TEST(ProofLoad, AMassStandsForItsWeight)
{
    EXPECT_NEAR(*loadIn("2 t", ""), 19613.3, 0.05);
    EXPECT_NEAR(*loadIn("800 kg", ""), 7845.3, 0.05);
    EXPECT_NEAR(*loadIn("7.85 kN", ""), 7850, 1e-9);
    for (const char* wrong : {"", "2 m", "-3 kN", "0 t", "2"})
        EXPECT_FALSE(loadIn(wrong, "options.working_load")) << wrong;
}

TEST(ProofLoad, StiffnessSetSlackCreepAndKnee)
{
    for (const double sign : {1.0, -1.0}) {
        SpecimenInput in = input(pulled(true), sign);
        in.notes = {{"function_1", "free"}, {"function_2", "free"}, {"function_end", "tool"}, {"end", "broken"}};
        const Outcome out = read(in);
        const auto value = [&](const char* symbol) { return out.find(symbol)->value.value_or(NAN); };
        EXPECT_NEAR(value("k"), k, 0.01 * k);
        EXPECT_NEAR(value("set_1"), 0.02 + 0.004, 0.003); // what creeps stays
        EXPECT_NEAR(value("set_2"), 0.01 + 0.004, 0.003);
        EXPECT_NEAR(value("slack"), 0.15, 0.004);
        EXPECT_NEAR(value("creep_1"), 0.004, 0.0015);
        EXPECT_NEAR(value("creep_2"), 0.004, 0.0015);
        // The slope is half of k where the yielding gives way as much as the spring: 2·soft·ΔF/10⁸ = 1/k.
        EXPECT_NEAR(value("F_knee"), 31000 + 1e8 / (2 * 2.4 * k), 0.03 * 31000);
        EXPECT_NEAR(value("F_max"), 45000, 45);
        EXPECT_NEAR(value("F_break"), 45000, 45);
        EXPECT_NEAR(value("factor"), 45000 / 7845.3, 0.01);
        EXPECT_TRUE(out.find("F_max")->bound == Result::Bound::Exact);
        ASSERT_TRUE(out.find("F_function")->interval);
        EXPECT_NEAR(out.find("F_function")->interval->first, P, 0.005 * P);
        EXPECT_NEAR(out.find("F_function")->interval->second, 45000, 100);
        EXPECT_TRUE(out.remarked("slack-told") && out.remarked("function-lost"));
        EXPECT_FALSE(out.remarked("cycles-count") || out.remarked("crosshead-displacement"));
        EXPECT_EQ(out.remarked("sign-turned"), sign < 0);
    }
}

TEST(ProofLoad, WhatWasStoppedIsAtLeast)
{
    SpecimenInput in = input(pulled(false));
    in.options["fixture_limit"] = "45 kN";
    in.notes["end"] = "stopped";
    Outcome out = read(in);
    EXPECT_TRUE(out.find("F_max")->bound == Result::Bound::AtLeast);
    EXPECT_TRUE(out.find("factor")->bound == Result::Bound::AtLeast);
    EXPECT_TRUE(out.remarked("stopped-at-limit"));
    EXPECT_FALSE(out.find("F_break")->value);
    EXPECT_TRUE(out.remarked("function-unchecked"));
    in.notes["end"] = "broken";
    EXPECT_TRUE(read(in).remarked("end-disagrees"));
    in.notes["end"] = "none";
    out = read(in);
    EXPECT_FALSE(out.find("F_max")->value || out.find("factor")->value);
    in.options["knee"] = "offset";
    in.options["knee_offset"] = "0.2 mm";
    // 2.4·(ΔF/10⁴)² = 0.2 mm
    EXPECT_NEAR(*read(in).find("F_knee")->value, 31000 + 1e4 * std::sqrt(0.2 / 2.4), 350);
}

TEST(ProofLoad, RecordsThatGoWrongAreNamed)
{
    Part low;
    low.start();
    low.cycle(0.02, 0.95 * P);
    const Outcome one = read(input(low));
    EXPECT_TRUE(one.remarked("proof-load-low"));
    EXPECT_TRUE(one.remarked("cycles-count"));
    EXPECT_TRUE(one.remarked("slack-open")); // a single cycle can't tell
    EXPECT_FALSE(one.find("set_2")->value);
    EXPECT_FALSE(one.find("F_max")->value);
    Part over;
    over.start();
    over.cycle(0.02, 1.4 * P);
    over.cycle(0.01);
    EXPECT_TRUE(read(input(over)).remarked("overloaded"));
    SpecimenInput plain = input(pulled(true));
    plain.options.erase("compliance");
    EXPECT_TRUE(read(plain).remarked("crosshead-displacement"));
    plain.options.erase("working_load");
    EXPECT_TRUE(read(plain).remarked("proof-load-unknown"));
    EXPECT_TRUE(read(plain).remarked("working-load-unknown"));
    auto silent = std::make_shared<Record>();
    silent->channels.reserve(2);
    Column& F = silent->add("force").values;
    Column& x = silent->add("displacement").values;
    Random random(5);
    for (int i = 0; i < 400; ++i) {
        F.append(3 * random.normal());
        x.append(0.001 * i);
    }
    plain.record = silent;
    EXPECT_TRUE(read(plain).remarked("no-load"));
    for (const auto& [key, value] : {std::pair("working_load", "heavy"),
                                     {"proof_factor", "0"},
                                     {"cycles", "1.5"},
                                     {"fixture_limit", "10 kN"},
                                     {"knee", "bend"}}) {
        SpecimenInput bad = input(pulled(true));
        bad.options[key] = value;
        EXPECT_FALSE(evaluateProofLoad(bad)) << key;
    }
}

TEST(ProofLoad, UnitsTakenForEachOtherAreNamed)
{
    // Keyed as kgf, written as N: all loads 9.8 times too small.
    for (const double times : {1 / 9.80665, 9.80665, 1 / 4.4482216}) {
        Part part = pulled(true);
        for (double& F : part.F)
            F *= times;
        part.noise *= times;
        EXPECT_TRUE(read(input(part)).remarked("force-unit")) << times;
    }
    EXPECT_FALSE(read(input(pulled(true))).remarked("force-unit"));
    // "Ton" is three things; "t" is one.
    for (const char* ton : {"2 ton", "2 tons", "2 tonne", "2 short ton"}) {
        const auto load = loadIn(ton, "options.working_load");
        ASSERT_FALSE(load) << ton;
        EXPECT_NE(load.problem().advice.find("9.807 kN"), std::string::npos) << ton;
    }
    EXPECT_EQ(loadSaid(19613.3, 7845.32), "19.6 kN · 2.00 t · 2.50 ×");
    EXPECT_EQ(loadSaid(1961.33, 0), "1.96 kN · 200 kg");
    SpecimenInput none = input(pulled(true));
    none.options["working_load"] = "0 t";
    EXPECT_FALSE(evaluateProofLoad(none));
    none.options["working_load"] = "0.8 t";
    none.options["proof_factor"] = "0.5";
    EXPECT_FALSE(evaluateProofLoad(none)); // below what it is used with
}

TEST(ProofLoad, HoldsWaysAndFixturesThatCantBe)
{
    SpecimenInput in = input(pulled(true));
    in.options["hold"] = "20 s";
    EXPECT_FALSE(read(in).remarked("hold-missing") || read(in).remarked("hold-short"));
    in.options["hold"] = "60 s";
    EXPECT_TRUE(read(in).remarked("hold-short"));
    Part turned;
    turned.start();
    for (int c = 0; c < 2; ++c) {
        turned.ramp(0, P, 12);
        turned.ramp(P, 0, 8);
        turned.stay(0, 3);
    }
    in.record = turned.record();
    EXPECT_TRUE(read(in).remarked("hold-missing"));
    SpecimenInput over = input(pulled(false));
    over.options["fixture_limit"] = "40 kN"; // 45 were on it
    EXPECT_TRUE(read(over).remarked("above-fixture"));
    over.options["fixture_limit"] = "45 kN";
    EXPECT_FALSE(read(over).remarked("above-fixture"));
    // The transducer slips back half a millimetre while the last load is put on.
    Part slips = pulled(true);
    size_t from = 0;
    for (size_t i = 0; i < slips.F.size(); ++i)
        if (slips.F[i] > 20000) {
            from = i;
            break;
        }
    for (size_t i = from; i < slips.x.size(); ++i)
        slips.x[i] -= 0.5;
    EXPECT_TRUE(read(input(slips)).remarked("way-back"));
    EXPECT_FALSE(read(input(pulled(true))).remarked("way-back"));
    // Not taken off between the cycles.
    Part loaded;
    loaded.start();
    loaded.ramp(0, P, 12);
    loaded.stay(P, 20);
    loaded.ramp(P, 0.04 * P, 8);
    loaded.stay(0.04 * P, 3);
    loaded.ramp(0.04 * P, P, 12);
    loaded.stay(P, 20);
    loaded.ramp(P, 0, 8);
    loaded.stay(0, 3);
    EXPECT_TRUE(read(input(loaded)).remarked("not-unloaded"));
}

TEST(ProofLoad, TheKneeIsPutByHand)
{
    SpecimenInput in = input(pulled(true));
    const Outcome plain = read(in);
    const CurveView& view = *plain.curve();
    ASSERT_EQ(view.parts.size(), 2u);
    ASSERT_GE(view.levels.size(), 2u);
    ASSERT_EQ(view.areas.size(), 1u); // the loop of the last cycle
    EXPECT_EQ(view.areas[0].symbol, "W_h");
    EXPECT_NEAR(view.levels[0].y, 7845.3, 0.1);
    EXPECT_NEAR(view.lineFrom, 0.15 + 0.02 + 0.01 + 2 * 0.004, 0.01);
    const CurveMark* knee = view.find("F_knee");
    ASSERT_TRUE(knee && knee->option == "knee_at");
    in.options["knee_at"] = "1.9 mm";
    const Outcome moved = read(in);
    EXPECT_NEAR(*moved.find("d_knee")->value, 1.9, 0.02);
    EXPECT_TRUE(moved.remarked("knee-by-hand"));
    EXPECT_NEAR(*moved.find("F_knee")->value, k * (1.9 - view.lineFrom), 100); // still below its yield
    in.options["knee"] = "offset";
    in.options.erase("knee_at");
    ASSERT_TRUE(read(in).curve()->offset);
    EXPECT_NEAR(*read(in).curve()->offset, 0.2, 1e-12);
}

TEST(ProofLoad, WhatIsTold)
{
    SpecimenInput in = input(pulled(false));
    in.notes = {{"function_1", "free"}, {"function_2", "tool"}, {"end", "stopped"}, {"part_mass", "0.31 kg"}};
    Outcome out = read(in);
    ASSERT_EQ(out.told.size(), 1u);
    ASSERT_EQ(out.told[0].rows.size(), 3u);
    EXPECT_EQ(out.told[0].rows[0].state, ToldRow::State::Good);
    EXPECT_EQ(out.told[0].rows[1].state, ToldRow::State::Bad);
    EXPECT_EQ(out.told[0].rows[2].state, ToldRow::State::Open);
    SpecimenInput rested = in;
    rested.notes["function_1_distance"] = "35.32 mm";
    rested.dimensions["eye"] = {*parseQuantity("35.30 mm", Kind::Length)};
    rested.notes["rest"] = "30 min";
    rested.notes["set_after_rest"] = "0.02 mm";
    const Outcome again = read(rested);
    ASSERT_EQ(again.told[0].rows.size(), 4u);
    EXPECT_EQ(again.told[0].rows[0].more, "distance 35.32 mm, +0.02");
    EXPECT_EQ(again.told[0].rows[3].label, "after a rest of 30 min");
    EXPECT_EQ(again.told[0].rows[3].words, "set 0.02 mm; 0.02 mm came back");
    SpecimenInput marked = in;
    marked.label = "E2";
    marked.notes["marking"] = "0.8 t";
    EXPECT_EQ(markedOrNot(in), "unmarked");
    const Outcome other = read(marked);
    const auto set = evaluateProofSet({.inputs = {&in, &marked}, .outcomes = {&out, &other}});
    ASSERT_TRUE(set);
    ASSERT_EQ(set->told.size(), 2u);
    ASSERT_EQ(set->told[0].rows.size(), 2u); // of two kinds
    EXPECT_NE(set->told[0].rows[0].words.find("at least 45.0 kN"), std::string::npos) << set->told[0].rows[0].words;
    EXPECT_NE(set->told[0].rows[0].words.find("145 kN for each kg"), std::string::npos);
    EXPECT_NE(set->told[1].rows[0].words.find("moved free up to"), std::string::npos) << set->told[1].rows[0].words;
    EXPECT_NE(set->told[0].note.find("not decided here"), std::string::npos);
}

TEST(ProofLoad, TheRunAsTheFrameIsToldIt)
{
    SpecimenInput in;
    in.options = {{"working_load", "0.8 t"}, {"proof_factor", "2"}, {"fixture_limit", "45 kN"}, {"hold", "10 s"}};
    const auto rates = partSpeeds({}, in, {});
    ASSERT_TRUE(rates);
    auto program = proofProgram({in, {}, *rates});
    ASSERT_TRUE(program);
    EXPECT_FALSE(programProblem(*program));
    EXPECT_EQ(std::ranges::count(program->stages, "check", &RunStage::act), 2);
    EXPECT_NEAR(program->stages.back().untilForce, 45000, 1e-6);
    EXPECT_EQ(program->stages.back().control, Control::Speed); // by displacement: a yielding part does not run away
    EXPECT_TRUE(program->returns);
    in.options["pull"] = "none";
    program = proofProgram({in, {}, *rates});
    EXPECT_EQ(program->stages.back().act, "check");
    in.options.erase("pull");
    const auto profile = proofProfile({in, {}, *rates});
    ASSERT_TRUE(profile);
    EXPECT_NEAR(*std::ranges::max_element(profile->load), 45000, 1e-6);
    EXPECT_EQ(profile->checks.size(), 2u);
    EXPECT_NE(profile->levels[1].words.find("2.00 ×"), std::string::npos) << profile->levels[1].words;
    EXPECT_TRUE(profile->levels.back().stop);
    in.options.erase("working_load");
    EXPECT_FALSE(proofProgram({in, {}, *rates}));
    EXPECT_FALSE(proofProfile({in, {}, *rates}));
}

TEST(ProofLoad, WearIsToldAgainstNew)
{
    SpecimenInput in;
    const auto mm = [](double v) {
        return std::vector<Quantity>{*parseQuantity(std::to_string(v) + " mm", Kind::Length)};
    };
    in.dimensions = {
        {"pin", mm(15.2)}, {"pin_new", mm(16)}, {"bow", mm(12.4)}, {"bow_new", mm(14)}, {"bow_after", mm(12.1)}};
    const auto before = partSizes(in, false);
    EXPECT_EQ(before->how, "pin 5.0 %, bow 11.4 %");
    EXPECT_NE(before->words.find("10 %"), std::string::npos);
    EXPECT_EQ(partSizes(in, true)->how, "bow -0.30 mm");
}

TEST(ProofLoad, DrawnPartsAreCountedRight)
{
    Random random(17);
    int counted = 0, stiff = 0, sets = 0;
    constexpr int parts = 200;
    for (int i = 0; i < parts; ++i) {
        Part part;
        part.slack = random.between(0, 0.4);
        part.set1 = random.between(0, 0.1);
        part.set2 = random.between(0, 0.03);
        part.creep = random.between(0, 0.01);
        part.noise = random.between(1, 30);
        part.rate = i % 2 == 0 ? 20 : 50;
        part.start();
        const int cycles = 2 + i % 2;
        for (int c = 0; c < cycles; ++c)
            part.cycle(c == 0 ? part.set1 : part.set2);
        part.ramp(0, random.between(2, 3.5) * P, 25);
        SpecimenInput in = input(part);
        in.options["cycles"] = std::to_string(cycles);
        const Outcome out = read(in);
        counted += !out.remarked("cycles-count");
        stiff += std::abs(out.find("k")->value.value_or(0) / k - 1) < 0.01;
        sets += std::abs(out.find("set_1")->value.value_or(9) - part.set1 - part.creep) < 0.02
            && std::abs(out.find("set_2")->value.value_or(9) - part.set2 - part.creep) < 0.02;
    }
    EXPECT_EQ(counted, parts);
    EXPECT_EQ(stiff, parts);
    EXPECT_EQ(sets, parts);
}

TEST(ProofLoad, RulesAreMetFailedOrLeftOpen)
{
    SpecimenInput in = input(pulled(false)); // stopped at 45 kN, 5.7 times its working load
    in.notes = {{"end", "stopped"}, {"function_1", "free"}, {"function_2", "tool"}};
    const Outcome out = read(in);
    AcceptanceRule rule{.name = "harbour crane code", .source = "posted at the crane", .breakFactorMin = 5};
    EXPECT_FALSE(ruleProblem(rule));
    EXPECT_EQ(judgeRule(rule, out, in).says, RuleVerdict::Says::Met);
    EXPECT_NE(judgeRule(rule, out, in).text.find("at least 45"), std::string::npos);
    rule.breakFactorMin = 6; // more than was reached: open, not failed
    EXPECT_EQ(judgeRule(rule, out, in).says, RuleVerdict::Says::Open);
    SpecimenInput broken = input(pulled(true));
    broken.notes = {{"end", "broken"}};
    EXPECT_EQ(judgeRule(rule, read(broken), broken).says, RuleVerdict::Says::Failed);
    rule = {.name = "slipway rule", .source = "club board", .proofFactor = 2, .setMax = 0.2, .cycles = 2};
    EXPECT_EQ(judgeRule(rule, out, in).says, RuleVerdict::Says::Met);
    rule.setMax = 0.01;
    EXPECT_EQ(judgeRule(rule, out, in).says, RuleVerdict::Says::Failed);
    rule.setMax.reset();
    rule.function = "free"; // it needed a tool after the second
    EXPECT_EQ(judgeRule(rule, out, in).says, RuleVerdict::Says::Failed);
    rule.function = "tool";
    EXPECT_EQ(judgeRule(rule, out, in).says, RuleVerdict::Says::Met);
    in.notes.erase("function_1");
    in.notes.erase("function_2");
    EXPECT_EQ(judgeRule(rule, out, in).says, RuleVerdict::Says::Open);
    // Two rules for one part: 5 × 0.8 t or 3 × 2 t.
    const AcceptanceRule one{.name = "one", .source = "s", .breakFactorMin = 5};
    AcceptanceRule other{
        .name = "other", .source = "s", .against = AcceptanceRule::Against::GrossMass, .breakFactorMin = 3};
    EXPECT_TRUE(ruleProblem(other)); // no mass
    other.grossMass = 2000;
    EXPECT_FALSE(ruleProblem(other));
    EXPECT_NEAR(*leastBreak(other, std::nullopt), 3 * 19613.3, 0.5);
    EXPECT_EQ(stricter(one, other, 7845.3), "other");
    EXPECT_EQ(stricter(one, other, std::nullopt), "");
    EXPECT_NE(strictestRule(std::vector{one, other}, in).find("other"), std::string::npos);
    EXPECT_EQ(strictestRule(std::vector{one}, in), "");
    EXPECT_TRUE(ruleProblem({.name = "x", .source = "s", .breakFactorMin = 0.8})); // a factor below one
    EXPECT_TRUE(ruleProblem({.name = "x", .source = "s", .proofFactor = 0.5}));
    EXPECT_TRUE(ruleProblem({.name = "x"})); // no source
    EXPECT_TRUE(ruleProblem({.name = "x", .source = "s"})); // asks for nothing
}

TEST(ProofLoad, ForceOfAnArrest)
{
    ArrestCase boat{.mass = 850, .speed = 1.2, .distance = 0.02};
    EXPECT_NEAR(arrestForce(boat)->mean, 30600, 1);
    EXPECT_NEAR(arrestForce(boat)->peak, 61200, 1);
    boat.vertical = true;
    EXPECT_NEAR(arrestForce(boat)->mean, 38900, 50);
    EXPECT_NEAR(arrestForce(boat)->peak, 77900, 50);
    boat.slack = 0.1;
    EXPECT_NEAR(arrestForce(boat)->speed, std::sqrt(1.44 + 2 * 9.80665 * 0.1), 1e-12);
    boat.vertical = false;
    EXPECT_NEAR(arrestForce(boat)->speed, 1.2, 1e-12); // nothing drives it on the level
    boat.drive = 0.5;
    EXPECT_NEAR(arrestForce(boat)->speed, std::sqrt(1.44 + 0.1), 1e-12);
    // By the stiffness of the rope: what was energy of motion is in the spring.
    ArrestCase rope{.mass = 850, .speed = 1.2, .stiffness = 3e6};
    EXPECT_NEAR(arrestForce(rope)->peak, 1.2 * std::sqrt(850 * 3e6), 1e-6);
    EXPECT_NEAR(arrestForce(rope)->mean, arrestForce(rope)->peak / 2, 1e-6);
    rope.vertical = true;
    const ArrestForce stop = *arrestForce(rope);
    EXPECT_NEAR(0.5 * 3e6 * stop.distance * stop.distance, 0.5 * 850 * 1.44 + 850 * 9.80665 * stop.distance, 1e-6);
    EXPECT_FALSE(arrestForce({.mass = 0, .speed = 1, .distance = 1}));
    EXPECT_FALSE(arrestForce({.mass = 1, .speed = 1}));
    EXPECT_FALSE(arrestForce({.mass = 1, .speed = 0, .distance = 1}));
    EXPECT_FALSE(arrestForce({.mass = 1, .speed = 1, .distance = -1}));
}

} // namespace
} // namespace fortitor::proof_load_test
