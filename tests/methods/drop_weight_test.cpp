// SPDX-License-Identifier: GPL-3.0-or-later
// The drop tower: closed forms, the worked figures, blows of a resonant cell with known truth, bad input.
#include "methods/drop_weight/drop_weight.h"

#include "methods/drop_weight/contact.h"
#include "records.h"
#include "sim/dropped_plate.h"
#include "sim/random.h"

#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <numbers>

namespace fortitor::drop_weight_test {
namespace {

using Force = std::function<double(double)>;

std::shared_ptr<const Record> record(double rate, double length, const Force& force)
{
    auto r = std::make_shared<Record>();
    r->channels.reserve(2);
    Column& t = r->add("time").values;
    Column& F = r->add("force").values;
    for (long i = 0; static_cast<double>(i) < rate * length; ++i) {
        t.append(static_cast<double>(i) / rate);
        F.append(force(static_cast<double>(i) / rate));
    }
    return r;
}

/// 16.8 kN for 3 ms, a millisecond into the record.
double halfSine(double t)
{
    const double since = t - 1e-3;
    return since > 0 && since < 3e-3 ? 16800 * std::sin(std::numbers::pi * since / 3e-3) : 0;
}

SpecimenInput plate(std::map<std::string, std::string> options = {{"mass", "5.5 kg"}, {"speed", "3.2 m/s"}})
{
    SpecimenInput in;
    in.label = "P1";
    in.shape = "plate";
    in.options = std::move(options);
    in.dimensions["thickness"] = {*parseQuantity("4.2 mm", Kind::Length)};
    return in;
}

Outcome read(const SpecimenInput& in)
{
    auto out = evaluateDropWeight(in);
    EXPECT_TRUE(out) << (out ? "" : out.problem().text());
    return out ? std::move(*out) : Outcome{};
}

TEST(DropWeight, EnergyBothWays)
{
    SpecimenInput in = plate({{"mass", "5.5 kg"}});
    const auto plan = dropPlan(in);
    ASSERT_TRUE(plan);
    EXPECT_NEAR(*plan->wanted, 28.14, 1e-9);
    EXPECT_NEAR(*plan->heightWanted, 522, 0.5);
    EXPECT_NEAR(*plan->speed, 3.199, 5e-4);
    EXPECT_NEAR(*read(in).find("E_nominal")->value, 28.14, 1e-9);
    in.options["tower_height"] = "400 mm";
    EXPECT_TRUE(read(in).remarked("tower-range"));
    EXPECT_NEAR(*dropPlan(in)->massNeeded, 28.14 / (9.80665 * 0.4), 1e-9);
    in.options["height"] = "400 mm";
    EXPECT_FALSE(read(in).remarked("tower-range"));
    const Outcome out = read(in);
    EXPECT_NEAR(*out.find("E_nominal")->value, 5.5 * 9.80665 * 0.4, 1e-9);
    EXPECT_TRUE(out.remarked("energy-off")); // 21.6 J for 28.1 J
}

TEST(DropWeight, AHalfSineIsIntegratedToItsClosedForm)
{
    SpecimenInput in = plate();
    in.record = record(100000, 8e-3, halfSine);
    const Outcome out = read(in);
    EXPECT_NEAR(*out.find("E_i")->value, 28.160, 1e-9);
    EXPECT_NEAR(*out.find("F_max")->value, 16800, 5);
    EXPECT_NEAR(*out.find("d_at_max")->value, 3.2211, 0.003);
    EXPECT_NEAR(*out.find("E_at_max")->value, 28.090, 0.003);
    EXPECT_NEAR(*out.find("E_a")->value, 9.556, 0.005);
    EXPECT_NEAR(*out.find("t_contact")->value, 3e-3, 3e-6);
    EXPECT_FALSE(out.find("F_1")->value);
    EXPECT_TRUE(out.remarked("not-applicable"));
}

TEST(DropWeight, SpeedByTheFlag)
{
    // w/Δt + g·(ti − (t1+t2)/2), by hand: 10 mm in 3.12 ms, the middle 11.44 ms before the contact at 1 ms.
    SpecimenInput in =
        plate({{"mass", "5.5 kg"}, {"flag_width", "10 mm"}, {"flag_times", "-12 ms; -8.88 ms"}, {"speed", "9 m/s"}});
    in.record = record(100000, 8e-3, halfSine);
    EXPECT_NEAR(*read(in).find("v_i")->value / 1000, 0.01 / 3.12e-3 + 9.80665 * 11.44e-3, 2e-5);
    in.options["flag_times"] = "-8.88 ms; -12 ms";
    EXPECT_FALSE(evaluateDropWeight(in));
    in.options.erase("flag_width");
    in.options["flag_times"] = "-12 ms; -8.88 ms";
    EXPECT_TRUE(read(in).remarked("flag-missing"));
}

TEST(DropWeight, RecordsThatTellLess)
{
    SpecimenInput in = plate();
    in.record = record(100000, 2.8e-3, halfSine);
    Outcome out = read(in);
    EXPECT_TRUE(out.remarked("record-ends-early"));
    EXPECT_FALSE(out.find("E_a")->value || out.find("t_contact")->value);
    EXPECT_TRUE(out.find("F_max")->value);
    in.record = record(100000, 9e-3, [](double t) {
        return halfSine(t) + (t > 6e-3 && t < 8e-3 ? 4000 * std::sin(std::numbers::pi * (t - 6e-3) / 2e-3) : 0);
    });
    EXPECT_TRUE(read(in).remarked("second-strike"));
    in.record = record(100000, 8e-3, [](double t) { return std::min(halfSine(t), 15000.0); });
    EXPECT_TRUE(read(in).remarked("force-clipped"));
    in.record = record(100000, 8e-3, [](double t) { return 40 - halfSine(t); });
    out = read(in);
    EXPECT_TRUE(out.remarked("sign-turned"));
    EXPECT_NEAR(*out.find("E_a")->value, 9.556, 0.005);
    in.record = record(20000, 8e-3, halfSine);
    EXPECT_TRUE(read(in).remarked("sampling-coarse"));
    in.record = record(100000, 8e-3, [](double) { return 0; });
    EXPECT_TRUE(read(in).remarked("no-contact"));
    in.options.erase("mass");
    in.record = record(100000, 8e-3, halfSine);
    out = read(in);
    EXPECT_TRUE(out.remarked("speed-unknown"));
    EXPECT_NEAR(*out.find("F_max")->value, 16800, 5);
}

/// Up to `top` N in a sine, a loss of `lost` of it at 9.66 kN that takes 90 µs, ringing that begins with the contact.
double withLossAndRinging(double t, double lost, double size, double frequency)
{
    const double since = t - 1e-3;
    if (since <= 0 || since >= 3.4e-3)
        return 0;
    const double clean = 13000 * std::sin(std::numbers::pi * since / 3.4e-3);
    constexpr double at = 0.907e-3; // s: 9.66 kN
    const double kept = 1 - lost * std::clamp((since - at) / 90e-6, 0.0, 1.0);
    return clean * kept
        + size * std::exp(-0.04 * 2 * std::numbers::pi * frequency * since)
        * std::sin(2 * std::numbers::pi * frequency * since);
}

TEST(DropWeight, ALossAsLongAsATurnOfTheRingingIsSeen)
{
    SpecimenInput in = plate({{"mass", "5.5 kg"}, {"speed", "2.6 m/s"}});
    Random noise(4);
    in.record =
        record(200000, 7e-3, [&](double t) { return withLossAndRinging(t, 0.2, 120, 9000) + 30 * noise.normal(); });
    const Outcome out = read(in);
    ASSERT_TRUE(out.find("F_1") && out.find("F_1")->value);
    EXPECT_NEAR(*out.find("F_1")->value, 13000 * std::sin(std::numbers::pi * 0.907 / 3.4), 120);
}

TEST(DropWeight, RingingThatCanHideALossIsSaid)
{
    for (const double size : {100.0, 2200.0}) {
        SpecimenInput in = plate({{"mass", "5.5 kg"}, {"speed", "2.6 m/s"}});
        Random noise(4);
        in.record =
            record(100000, 7e-3, [&](double t) { return withLossAndRinging(t, 0, size, 4000) + 30 * noise.normal(); });
        const Outcome out = read(in);
        EXPECT_FALSE(out.find("F_1") && out.find("F_1")->value) << size;
        EXPECT_EQ(out.remarked("first-damage-hidden"), size > 1000) << size;
    }
}

TEST(DropWeight, PoundsTakenForKilograms)
{
    SpecimenInput in = plate({{"mass", "12.13 kg"}, {"height", "522 mm"}});
    in.record = record(100000, 8e-3, halfSine);
    const Outcome out = read(in);
    const auto off = std::ranges::find(out.remarks, "energy-off", &Remark::code);
    ASSERT_NE(off, out.remarks.end());
    EXPECT_NE(off->advice.find("pounds"), std::string::npos);
    EXPECT_TRUE(out.remarked("not-stopped")); // the force itself says so too
    in.options["mass"] = "2.49 kg";
    EXPECT_TRUE(read(in).remarked("rebound-faster"));
}

TEST(DropWeight, RefusesWhatMakesNoSense)
{
    for (const auto& [key, value] : {std::pair("mass", "0 kg"),
                                     {"mass", "5.5 mm"},
                                     {"flag_times", "12 ms"},
                                     {"energy_per_thickness", "6.7 J"},
                                     {"speed", "-3 m/s"},
                                     {"height", "0 mm"}}) {
        SpecimenInput in = plate({{"mass", "5.5 kg"}});
        in.options[key] = value;
        if (std::string(key) == "flag_times")
            in.record = record(100000, 8e-3, halfSine);
        EXPECT_FALSE(evaluateDropWeight(in)) << key << " " << value;
    }
    SpecimenInput in = plate();
    in.dimensions["thickness"] = {*parseQuantity("0 mm", Kind::Length)};
    EXPECT_FALSE(evaluateDropWeight(in));
}

TEST(DropWeight, DentAtOnceAndAfterTheRest)
{
    SpecimenInput in = plate();
    in.dimensions["dent_depth"] = {*parseQuantity("0.41 mm", Kind::Length)};
    in.dimensions["dent_depth_relaxed"] = {*parseQuantity("0.33 mm", Kind::Length)};
    EXPECT_NEAR(*read(in).find("dent")->value, 0.41, 1e-12);
    EXPECT_TRUE(read(in).remarked("dent-relaxed"));
    in.dimensions["dent_depth_relaxed"] = {*parseQuantity("0.47 mm", Kind::Length)};
    EXPECT_TRUE(read(in).remarked("dent-grew"));
    in.dimensions["damage_length"] = {*parseQuantity("44 mm", Kind::Length)};
    EXPECT_TRUE(read(in).remarked("damage-large"));
}

TEST(DropWeight, AnIndenterIsIntegratedOverItsTravel)
{
    // 2 kN/mm to 3 mm with a loss of a quarter at 2 mm, and back along a steeper line from there to a dent of 1 mm.
    auto r = std::make_shared<Record>();
    r->channels.reserve(2);
    Column& way = r->add("displacement").values;
    Column& force = r->add("force").values;
    const auto put = [&](double d, double F) {
        way.append(d + 0.4);
        force.append(F);
    };
    for (int i = 0; i < 100; ++i)
        put(-0.4 + 0.004 * i, 0);
    for (int i = 0; i <= 1000; ++i)
        put(0.002 * i, 4 * i);
    for (int i = 1; i <= 500; ++i)
        put(2 + 0.002 * i, 3000 + 4 * i);
    for (int i = 1; i <= 500; ++i)
        put(3 - 0.004 * i, 5000 - 10 * i);
    SpecimenInput in = plate({});
    in.record = r;
    const Outcome out = read(in);
    EXPECT_NEAR(*out.find("F_1")->value, 4000, 1);
    EXPECT_NEAR(*out.find("F_max")->value, 5000, 15);
    EXPECT_NEAR(*out.find("E_at_max")->value, 0.5 * 4 * 2 + 0.5 * (3 + 5) * 1, 0.02);
    EXPECT_NEAR(*out.find("E_a")->value, 8 - 0.5 * 5 * 2, 0.03);
    EXPECT_FALSE(out.find("v_i")->value || out.find("t_contact")->value || out.find("E_i")->value);
}

/// A cell that rings by itself, as many kinds of it as there are seeds: peak, absorbed energy and first damage load
/// against the truth of the force that went in.
TEST(DropWeight, BlowsOfARingingCellWithKnownTruth)
{
    const std::uint64_t all = test::recordsOf(500, 20);
    std::uint64_t peaks = 0, energies = 0, loads = 0, said = 0;
    for (std::uint64_t seed = 1; seed <= all; ++seed) {
        DroppedKind kind;
        kind.rate = 200000;
        Random random(seed);
        kind.ringing = random.between(5000, 14000);
        kind.damping = random.between(0.02, 0.06);
        kind.lost = random.between(0.15, 0.25);
        kind.noise = random.between(10, 60);
        const double height = random.between(350, 700);
        const DroppedPlate struck = dropOn(kind, height, seed);
        SpecimenInput in = plate({{"mass", "5.5 kg"}, {"speed", formatFixed(struck.speed, 6) + " m/s"}});
        in.record = std::make_shared<const Record>(struck.record);
        const Outcome out = read(in);
        const auto truth = [&](const char* symbol) { return struck.truth.at(symbol); };
        peaks += std::abs(*out.find("F_max")->value / truth("F_max") - 1) < 0.005;
        energies += std::abs(*out.find("E_a")->value - truth("E_a")) < 0.01 * truth("E_i");
        const auto& first = out.find("F_1")->value;
        loads += first && std::abs(*first / truth("F_1") - 1) < 0.02;
        said += first || out.remarked("first-damage-doubtful");
    }
    EXPECT_GE(peaks, all * 98 / 100);
    EXPECT_EQ(energies, all);
    EXPECT_GE(loads, all * 93 / 100);
    EXPECT_EQ(said, all);
}

} // namespace
} // namespace fortitor::drop_weight_test
