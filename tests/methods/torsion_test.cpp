// SPDX-License-Identifier: GPL-3.0-or-later
// Torsion from keyed steps: the worked figures, closed forms, a thousand bars, each slip named.
#include "methods/torsion/gauge_loss.h"
#include "methods/torsion/nadai.h"
#include "methods/torsion/torsion.h"

#include "sim/catalogue.h"
#include "support.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace fortitor::torsion_test {
namespace {

constexpr double nan = std::numeric_limits<double>::quiet_NaN();
constexpr double degree = std::numbers::pi / 180;

struct Sheet {
    std::vector<double> torque; ///< N·m
    std::vector<double> strain; ///< µε
    std::vector<double> twist; ///< °
};

SpecimenInput inputOf(const Sheet& sheet, std::map<std::string, std::string> options = {},
                      std::map<std::string, std::string> sizes = {{"diameter", "19 mm"}, {"gauge_length", "200 mm"}},
                      const std::string& shape = "round")
{
    SpecimenInput in;
    in.label = "T1";
    in.shape = shape;
    in.options = std::move(options);
    for (const auto& [key, text] : sizes)
        in.dimensions[key] = {*parseQuantity(text, Kind::Length)};
    in.record = test::keyedRecord(
        {{"torque", sheet.torque, 1000}, {"strain", sheet.strain, 1e-6}, {"twist", sheet.twist, degree}});
    return in;
}

Outcome read(const SpecimenInput& in)
{
    return test::evaluated("torsion", in);
}

double value(const Outcome& o, const char* symbol)
{
    return o.find(symbol)->value.value_or(nan);
}

/// A bar of G 80 GPa that yields at its surface at 200 MPa and hardens nowhere; twist without chucks.
Sheet ideal(double d, double L, double give = 0)
{
    const double G = 80000, tau = 200;
    const double J = std::numbers::pi * std::pow(d, 4) / 32;
    const double Ty = tau * 2 * J / d;
    const double yields = Ty * L / (G * J);
    Sheet s;
    for (int i = 0; i <= 60; ++i) {
        const double theta = yields * (i <= 10 ? i * 0.1 : 1 + (i - 10) * 0.2);
        const double T = theta <= yields ? Ty * theta / yields : 4.0 / 3 * Ty * (1 - std::pow(yields / theta, 3) / 4);
        s.torque.push_back(T / 1000);
        s.strain.push_back(0.5 * theta * d / 2 / L * 1e6);
        s.twist.push_back((theta + give * T) / degree);
    }
    return s;
}

TEST(Torsion, TheWorkedFigures)
{
    const Outcome o = read(inputOf({{60, 120, 180, 240}, {275, 551, 826, 1102}, {}}, {}, {{"diameter", "19 mm"}}));
    EXPECT_NEAR(value(o, "G"), 80826, 1);
    EXPECT_TRUE(o.remarked("few-readings") || o.remarked("offset-not-reached"));
    const Outcome top =
        read(inputOf({{60, 120, 180, 240, 640}, {275, 551, 826, 1102, 30000}, {}}, {}, {{"diameter", "19 mm"}}));
    EXPECT_NEAR(value(top, "tau_max"), 475.2, 0.05);
    EXPECT_NEAR(value(top, "tau_u"), 356.4, 0.05);
    EXPECT_NEAR(value(top, "T_max"), 640e3, 1e-9);
    EXPECT_FALSE(top.find("tau_N")->value) << "no twist, no slope";
    EXPECT_TRUE(top.remarked("no-twist"));
}

TEST(Torsion, AnIdealBarGivesBackWhatItIsMadeOf)
{
    const Outcome o = read(inputOf(ideal(19, 200)));
    EXPECT_NEAR(value(o, "G"), 80000, 1);
    EXPECT_NEAR(value(o, "G_twist"), 80000, 1);
    // Twelve times the greatest torque over πd³ is nearly its yield; Nádai's slope is small there.
    EXPECT_NEAR(value(o, "tau_u"), 200, 0.2);
    EXPECT_NEAR(value(o, "tau_N"), 200, 0.2);
    EXPECT_NEAR(value(o, "tau_max"), 4.0 / 3 * 200, 0.3);
    // The offset yield in closed form: τ·(1 − …) meets G(γ − 0.002).
    double gamma = 0.0025;
    for (int i = 0; i < 100; ++i) {
        const double tau = 4.0 / 3 * 200 * (1 - std::pow(0.0025 / gamma, 3) / 4);
        gamma = 0.002 + tau / 80000;
    }
    EXPECT_NEAR(value(o, "tau_p"), 80000 * (gamma - 0.002), 1);
    EXPECT_GT(value(o, "tau_p"), value(read(inputOf(ideal(19, 200), {{"shear_offset", "0.04 %"}})), "tau_p"));
    EXPECT_NEAR(value(o, "turns"), ideal(19, 200).twist.back() * degree, 1e-9);
    EXPECT_NEAR(value(o, "gamma_b"), 9.5 * ideal(19, 200).twist.back() * degree / 200, 1e-9);
}

TEST(Torsion, TheChucksGiveLowersTheTwistOnly)
{
    const Outcome o = read(inputOf(ideal(19, 200, 4e-7)));
    EXPECT_NEAR(value(o, "G"), 80000, 1);
    EXPECT_LT(value(o, "G_twist"), 0.75 * 80000);
    const auto remark = std::ranges::find(o.remarks, "grip-twist", &Remark::code);
    ASSERT_NE(remark, o.remarks.end());
    EXPECT_EQ(remark->severity, Severity::Note) << "G stands on the gauge";
    Sheet noGauge = ideal(19, 200, 4e-7);
    noGauge.strain.clear();
    const Outcome twist = read(inputOf(noGauge));
    EXPECT_EQ(std::ranges::find(twist.remarks, "grip-twist", &Remark::code)->severity, Severity::Caution);
    EXPECT_EQ(value(twist, "G"), value(twist, "G_twist"));
    EXPECT_FALSE(read(inputOf(noGauge, {{"twist_from", "by a twist gauge"}})).remarked("grip-twist"));
    // The offset is counted from the twist's own line: the yield hardly moves.
    EXPECT_NEAR(value(twist, "tau_p") / value(o, "tau_p"), 1, 0.01);
    // What the chucks give is taken off once the gauge is gone.
    Sheet lost = ideal(19, 200, 4e-7);
    for (size_t i = 12; i < lost.strain.size(); ++i)
        lost.strain[i] = lost.strain[11] + static_cast<double>(i % 2);
    const Outcome after = read(inputOf(lost));
    EXPECT_TRUE(after.remarked("gauge-lost"));
    EXPECT_NEAR(value(after, "G"), 80000, 1);
    EXPECT_NEAR(value(after, "tau_p") / value(o, "tau_p"), 1, 0.002);
    EXPECT_GT(after.curve()->crossheadFrom, 0u);
}

TEST(Torsion, TubesHaveTheirOwnForm)
{
    // A thin tube: every form of the stress comes near T/(2πr²t).
    Sheet s;
    for (int i = 0; i <= 20; ++i) {
        s.torque.push_back(10.0 * std::min(i, 12));
        s.twist.push_back(0.5 * i);
    }
    const auto tube =
        inputOf(s, {}, {{"outer_diameter", "40 mm"}, {"wall", "0.5 mm"}, {"gauge_length", "200 mm"}}, "tube");
    const Outcome o = read(tube);
    const double thin = 120e3 / (2 * std::numbers::pi * 19.75 * 19.75 * 0.5);
    EXPECT_NEAR(value(o, "tau_max") / thin, 1, 0.03);
    EXPECT_NEAR(value(o, "tau_u") / thin, 1, 0.01);
    EXPECT_FALSE(o.find("tau_N")->value);
    const double D4 = std::pow(40, 4) - std::pow(39, 4);
    EXPECT_NEAR(value(o, "G_twist"), 10e3 * 200 / (std::numbers::pi / 32 * D4 * 0.5 * degree), 1);
    // Inner diameter in place of the wall is the same tube.
    const auto inner =
        inputOf(s, {}, {{"outer_diameter", "40 mm"}, {"inner_diameter", "39 mm"}, {"gauge_length", "200 mm"}}, "tube");
    EXPECT_NEAR(value(read(inner), "tau_max"), value(o, "tau_max"), 1e-9);
    EXPECT_FALSE(evaluateTorsion(inputOf(s, {}, {{"outer_diameter", "40 mm"}, {"wall", "25 mm"}}, "tube")));
}

TEST(Torsion, APairOfGaugesAndASignForgotten)
{
    Sheet s = ideal(19, 200);
    SpecimenInput in = inputOf(s, {{"gauge_at", "pair at ±45°"}});
    auto record = std::make_shared<Record>();
    record->channels.reserve(4);
    for (const char* name : {"torque", "strain", "twist"})
        for (size_t i = 0; i < s.torque.size(); ++i)
            (record->find(name) ? *const_cast<Channel*>(record->find(name)) : record->add(name))
                .values.append(in.record->find(name)->values[i]);
    Channel& other = record->add("strain_2");
    for (const double e : s.strain)
        other.values.append(-e * 1e-6 * 1.02);
    in.record = record;
    EXPECT_NEAR(value(read(in), "G"), 80000 / 1.01, 2);
    // A torque that turns the other way, a gauge that reads shortening.
    for (double& v : s.torque)
        v = -v;
    for (double& v : s.strain)
        v = -v;
    EXPECT_NEAR(value(read(inputOf(s)), "G"), 80000, 1);
}

TEST(Torsion, GaugeLossIsFoundAndASlipIsNone)
{
    std::vector<double> twist, gauge, torque;
    for (int i = 0; i < 20; ++i) {
        twist.push_back(1e-3 * i);
        gauge.push_back(1e-3 * i);
        torque.push_back(i);
    }
    EXPECT_FALSE(gaugeLost(gauge, twist, torque));
    auto gone = gauge;
    for (size_t i = 12; i < 20; ++i)
        gone[i] = nan;
    EXPECT_EQ(gaugeLost(gone, twist, torque), 12u);
    auto frozen = gauge;
    for (size_t i = 9; i < 20; ++i)
        frozen[i] = frozen[8];
    EXPECT_EQ(gaugeLost(frozen, twist, torque), 9u);
    auto wild = gauge;
    for (size_t i = 15; i < 20; ++i)
        wild[i] = 0.3 * static_cast<double>(i);
    EXPECT_EQ(gaugeLost(wild, twist, torque), 15u);
    auto slip = gauge;
    slip[7] = 0.04; // one digit misread, good ones behind it
    EXPECT_FALSE(gaugeLost(slip, twist, torque));
    auto missed = gauge;
    missed[19] = nan;
    EXPECT_FALSE(gaugeLost(missed, twist, torque)) << "the last one was only missed";
    EXPECT_FALSE(gaugeLost(std::vector<double>(20, nan), twist, torque));
    // Without a twist: a gauge that stands while the torque climbs.
    EXPECT_EQ(gaugeLost(frozen, std::vector<double>(20, nan), torque), 9u);
}

TEST(Torsion, NadaiOnAPowerLaw)
{
    // τ = kγⁿ: T = 2πkR³(R/L·θ)ⁿ/(3+n), so (4/(πd³))(θT' + 3T) = τ at the surface exactly.
    const double n = 0.2, k = 500, R = 5;
    std::vector<double> theta, torque;
    for (int i = 1; i <= 40; ++i) {
        theta.push_back(0.1 * i);
        torque.push_back(2 * std::numbers::pi * k * R * R * R * std::pow(0.02 * theta.back(), n) / (3 + n));
    }
    const NadaiSlope s = nadaiSlope(theta, torque, 39);
    const double d = 2 * R;
    const double tau = 4 / (std::numbers::pi * d * d * d) * (theta[39] * s.slope + 3 * torque[39]);
    EXPECT_NEAR(tau / (k * std::pow(0.02 * 4.0, n)), 1, 1e-9);
    EXPECT_EQ(nadaiSlope(theta, torque, 20).slope, 0) << "a top with lower readings behind it";
    EXPECT_EQ(nadaiSlope({theta.data(), 1}, {torque.data(), 1}, 0).slope, 0);
}

TEST(Torsion, TheBreakIsReadFromItsLook)
{
    SpecimenInput in = inputOf(ideal(19, 200));
    in.notes["fracture"] = "flat across";
    EXPECT_TRUE(read(in).remarked("fracture-ductile"));
    in.notes["fracture"] = "helix at 45°";
    EXPECT_TRUE(read(in).remarked("fracture-brittle"));
    in.notes["fracture"] = "at the chuck";
    EXPECT_TRUE(read(in).remarked("break-at-grip"));
    // A look that does not fit the strain is doubted.
    SpecimenInput brittle = inputOf({{60, 120, 180, 240, 300}, {275, 551, 826, 1102, 1377}, {0.7, 1.3, 2.0, 2.6, 3.3}});
    brittle.notes["fracture"] = "flat across";
    EXPECT_TRUE(read(brittle).remarked("fracture-odd"));
}

TEST(Torsion, SlipsOfThePenAreNamedAndNotComputedOver)
{
    // degree taken for radian
    Sheet s = ideal(19, 200);
    for (double& a : s.twist)
        a /= degree;
    const Outcome degrees = read(inputOf(s));
    EXPECT_TRUE(degrees.remarked("degree-for-radian"));
    EXPECT_FALSE(degrees.find("G_twist")->value);
    EXPECT_FALSE(degrees.find("turns")->value);
    EXPECT_NEAR(value(degrees, "G"), 80000, 1) << "the gauge is not touched by it";
    Sheet twistOnly = s;
    twistOnly.strain.clear();
    const Outcome unknown = read(inputOf(twistOnly));
    EXPECT_TRUE(unknown.remarked("degree-for-radian"));
    EXPECT_FALSE(unknown.find("G")->value);
    SpecimenInput known = inputOf(twistOnly);
    known.published["E"] = 208000;
    EXPECT_TRUE(read(known).remarked("degree-for-radian"));
    // columns exchanged
    Sheet swapped;
    swapped.torque = ideal(19, 200).twist;
    swapped.twist = ideal(19, 200).torque;
    swapped.torque.resize(8);
    swapped.twist.resize(8);
    known = inputOf(swapped);
    known.published["G"] = 80000;
    const Outcome exchanged = read(known);
    EXPECT_TRUE(exchanged.remarked("columns-swapped"));
    EXPECT_FALSE(exchanged.find("G")->value);
    // microstrain taken for strain
    Sheet micro = ideal(19, 200);
    for (double& e : micro.strain)
        e *= 1e6;
    const Outcome big = read(inputOf(micro));
    EXPECT_TRUE(big.remarked("unit-slip"));
    EXPECT_FALSE(big.find("G")->value);
    EXPECT_FALSE(big.find("tau_max")->value);
    // one reading only
    const Outcome one = read(inputOf({{60}, {275}, {0.5}}));
    EXPECT_TRUE(one.remarked("too-few-readings"));
    EXPECT_FALSE(one.find("G")->value);
    // a torque that falls, a step keyed twice
    Sheet falls = ideal(19, 200);
    falls.torque[6] /= 10;
    EXPECT_TRUE(read(inputOf(falls)).remarked("load-decreasing"));
    Sheet twice = ideal(19, 200);
    twice.twist[5] = twice.twist[4];
    EXPECT_TRUE(read(inputOf(twice)).remarked("step-repeated"));
    // sizes
    EXPECT_TRUE(read(inputOf(ideal(19, 200), {}, {})).remarked("missing-dimension"));
    EXPECT_FALSE(evaluateTorsion(inputOf(ideal(19, 200), {}, {{"diameter", "0 mm"}})));
    EXPECT_FALSE(evaluateTorsion(inputOf(ideal(19, 200), {{"shear_offset", "20 %"}})));
    EXPECT_FALSE(evaluateTorsion(inputOf({{}, {275}, {}})));
    // a brittle bar never comes to the offset
    EXPECT_TRUE(
        read(inputOf({{60, 120, 180, 240, 300}, {275, 551, 826, 1102, 1377}, {}})).remarked("offset-not-reached"));
}

TEST(Torsion, ProfilesOfTheStressAcrossTheSection)
{
    const Outcome o = read(inputOf(ideal(19, 200)));
    const auto& elastic = o.find("tau_max")->profile;
    const auto& plastic = o.find("tau_u")->profile;
    const auto& nadai = o.find("tau_N")->profile;
    ASSERT_TRUE(elastic && plastic && nadai);
    EXPECT_EQ(elastic->stress.front(), 0);
    EXPECT_EQ(plastic->stress.front(), plastic->stress.back());
    // The same torque under each: ∫τ·2πr² dr.
    const auto torque = [](const StressProfile& p) {
        double sum = 0;
        for (int i = 0; i < 20000; ++i) {
            const double r = (i + 0.5) / 20000;
            const auto at = static_cast<size_t>(std::ranges::lower_bound(p.radius, r) - p.radius.begin());
            const double share = (r - p.radius[at - 1]) / (p.radius[at] - p.radius[at - 1]);
            sum +=
                (p.stress[at - 1] + share * (p.stress[at] - p.stress[at - 1])) * 2 * std::numbers::pi * r * r / 20000;
        }
        return sum * std::pow(9.5, 3) / 1000;
    };
    const double T = value(o, "T_max") / 1000;
    EXPECT_NEAR(torque(*elastic), T, 0.001 * T);
    EXPECT_NEAR(torque(*plastic), T, 0.001 * T);
    EXPECT_NEAR(torque(*nadai), T, 0.01 * T);
}

TEST(Torsion, AThousandSimulatedBarsAndTubes)
{
    int within = 0, yields = 0, silent = 0, lost = 0;
    for (std::uint64_t seed = 1; seed <= 1000; ++seed) {
        const CatalogueEntry& entry = *findCatalogueEntry(seed % 2 ? "sill-pin" : "hollow-shaft");
        SimulatedRun run = simulateRun(entry, seed);
        SpecimenInput in;
        in.label = entry.name;
        in.shape = entry.shape;
        for (const auto& [key, texts] : run.specimen.dimensions)
            for (const std::string& text : texts)
                in.dimensions[key].push_back(*parseQuantity(text, Kind::Length));
        in.record = std::make_shared<const Record>(std::move(run.record));
        const Outcome o = read(in);
        const auto told = [&](const char* symbol) {
            return std::ranges::any_of(o.remarks, [&](const Remark& r) {
                return r.severity != Severity::Note && (std::ranges::find(r.symbols, symbol) != r.symbols.end());
            });
        };
        const bool near = std::abs(value(o, "G") / run.specimen.trueValue("G") - 1) <= 0.01;
        const bool yieldNear = std::abs(value(o, "tau_p") / run.specimen.trueValue("tau_p") - 1) <= 0.03;
        within += near;
        yields += yieldNear;
        lost += o.remarked("gauge-lost");
        if (!near)
            std::printf("seed %d: G off by %.2f %%, R2 %.6f, %zu points, expanded %.2f %%\n", static_cast<int>(seed),
                        100 * (value(o, "G") / run.specimen.trueValue("G") - 1), o.curve()->r2,
                        o.curve()->straightPoints, 100 * o.find("G")->budget.expanded / value(o, "G"));
        silent += (!near && !told("G")) + (!yieldNear && !told("tau_p"));
        for (const Remark& r : o.remarks)
            ASSERT_FALSE(r.severity != Severity::Note && r.symbols.empty()
                         && r.code.find("dimension") == std::string::npos)
                << r.code << ": what tells everything tells nothing";
    }
    std::printf("G within 1 %%: %d, tau_p within 3 %%: %d, gauge lost: %d, silent: %d of 1000\n", within, yields, lost,
                silent);
    EXPECT_GE(within, 950);
    EXPECT_GE(yields, 950);
    EXPECT_GE(lost, 900);
    EXPECT_EQ(silent, 0);
}

TEST(Torsion, NeverACrashOnWhatIsNoTest)
{
    size_t answered = 0;
    for (const size_t rows : {0u, 1u, 2u, 3u, 9u, 300u, 900u})
        for (const double filler : {0.0, 7.0, nan, -3.0}) {
            const std::vector<double> same(rows, filler);
            SpecimenInput in = inputOf({same, same, same});
            if (rows == 0)
                in.record = std::make_shared<Record>();
            const auto o = evaluateTorsion(in);
            if (!o) {
                EXPECT_FALSE(o.problem().found.empty()) << rows << " " << filler;
                continue;
            }
            ++answered;
            for (const Result& r : o->results)
                EXPECT_TRUE(!r.value || std::isfinite(*r.value)) << r.symbol << " " << rows << " " << filler;
        }
    EXPECT_GT(answered, 0u) << "all refused: nothing was tried";
}

} // namespace
} // namespace fortitor::torsion_test
