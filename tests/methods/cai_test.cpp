// SPDX-License-Identifier: GPL-3.0-or-later
// Struck plates under compression: the worked figures, a thousand plates with known truth, gauges that fail.
#include "methods/cai/cai.h"

#include "methods/cai/gauges.h"
#include "records.h"
#include "sim/random.h"

#include <gtest/gtest.h>

#include <cmath>
#include <limits>

namespace fortitor::cai_test {
namespace {

/// What a plate is: stress = modulus·ε·(1 − bend·ε).
struct Made {
    double width = 100.2, thickness = 4.17, modulus = 52000, bend = 3, strength = 165;
    double bending = 0.03, growth = 0; ///< of the bending towards the end: buckling
    double twist = 0, side = 0.02, noise = 1;
    int rows = 1500;
    bool negative = false, crossed = false;
    std::uint64_t seed = 1;

    [[nodiscard]] double strainAt(double stress) const
    {
        return (1 - std::sqrt(1 - 4 * bend * stress / modulus)) / (2 * bend);
    }
    [[nodiscard]] double stressAt(double e) const { return modulus * e * (1 - bend * e); }
    [[nodiscard]] double chord() const { return (stressAt(3e-3) - stressAt(1e-3)) / 2e-3; }
};

std::shared_ptr<Record> recordOf(const Made& m)
{
    Random random(m.seed);
    auto r = std::make_shared<Record>();
    r->channels.reserve(6);
    const double sign = m.negative ? -1 : 1;
    std::vector<Column*> columns;
    for (const char* name : {"force", "displacement", "strain", "strain_2", "strain_3", "strain_4"})
        columns.push_back(&r->add(name).values);
    const auto put = [&](double F, double d, std::array<double, 4> e) {
        columns[0]->append(sign * (F + 12 * m.noise * random.normal()));
        columns[1]->append(sign * d);
        for (size_t g = 0; g < 4; ++g)
            columns[2 + g]->append(sign * (e[g] + 1.5e-6 * m.noise * random.normal()));
    };
    for (int i = 0; i < 60; ++i)
        put(0, 0.001 * i, {});
    const double last = m.strainAt(m.strength);
    for (int i = 1; i <= m.rows; ++i) {
        const double e = last * i / m.rows, part = m.stressAt(e) / m.strength;
        const double b = m.bending + m.growth * std::pow(part, 6);
        std::array<double, 4> s{e * (1 + b) * (1 + m.side) + m.twist * e, e * (1 - b) * (1 + m.side) - m.twist * e,
                                e * (1 + b) * (1 - m.side) - m.twist * e, e * (1 - b) * (1 - m.side) + m.twist * e};
        if (m.crossed)
            std::swap(s[0], s[1]);
        put(m.stressAt(e) * m.width * m.thickness, 0.06 + 170 * e, s);
    }
    for (int i = 0; i < 20; ++i)
        put(0.3 * m.strength * m.width * m.thickness, 0.06 + 170 * last + 0.002 * i, {});
    return r;
}

SpecimenInput input(const Made& m, std::shared_ptr<Record> record)
{
    SpecimenInput in;
    in.label = "P1";
    in.shape = "plate";
    in.dimensions["width"] = {*parseQuantity(formatFixed(m.width, 4) + " mm", Kind::Length)};
    in.dimensions["thickness"] = {*parseQuantity(formatFixed(m.thickness, 5) + " mm", Kind::Length)};
    in.notes["failure"] = "through";
    in.record = std::move(record);
    return in;
}

Outcome read(const SpecimenInput& in)
{
    auto out = evaluateCai(in);
    EXPECT_TRUE(out) << (out ? "" : out.problem().text());
    return out ? std::move(*out) : Outcome{};
}

const Remark* remark(const Outcome& out, const char* code)
{
    const auto it = std::ranges::find(out.remarks, code, &Remark::code);
    return it == out.remarks.end() ? nullptr : &*it;
}

TEST(Cai, WorkedFigures)
{
    Made m;
    m.width = 100;
    m.thickness = 4.2;
    m.strength = 68400 / 420.0;
    m.noise = 0;
    SpecimenInput in = input(m, recordOf(m));
    in.options["undamaged"] = "310 MPa";
    const Outcome out = read(in);
    EXPECT_NEAR(*out.find("F_CAI")->value, 162.857, 0.01);
    EXPECT_NEAR(*out.find("left_over")->value, 162.857 / 310, 1e-4);
    const PlateStrains s = plateStrains({3200e-6, 2900e-6, 3200e-6, 2900e-6});
    EXPECT_NEAR(s.bending, 0.0492, 5e-5);
    EXPECT_NEAR(s.mean, 3050e-6, 1e-12);
}

TEST(Cai, AThousandPlates)
{
    const std::uint64_t all = test::recordsOf(1000, 60);
    for (std::uint64_t seed = 1; seed <= all; ++seed) {
        Random random(seed * 31);
        Made m;
        m.seed = seed;
        m.modulus = random.between(42000, 60000);
        m.bend = random.between(0.5, 6);
        m.strength = random.between(185, 260);
        m.rows = static_cast<int>(random.between(300, 3000));
        m.twist = 0.012 * random.normal();
        m.side = random.between(-0.04, 0.04);
        m.negative = random.even() < 0.5;
        const double lot = random.even();
        m.bending =
            lot < 0.5 ? random.between(-0.078, 0.078) : (random.even() < 0.5 ? -1 : 1) * random.between(0.122, 0.3);
        if (lot > 0.8) { // buckling
            m.bending = random.between(-0.05, 0.05);
            m.growth = (m.bending < 0 ? -1 : 1) * random.between(0.12, 0.8);
        }
        const Outcome out = read(input(m, recordOf(m)));
        const bool flagged = out.remarked("bending") || out.remarked("buckling");
        EXPECT_EQ(flagged, lot >= 0.5) << "seed " << seed << " bending " << m.bending << " growth " << m.growth;
        if (lot > 0.8) {
            EXPECT_TRUE(out.remarked("buckling")) << "seed " << seed << " growth " << m.growth;
        }
        EXPECT_NEAR(*out.find("F_CAI")->value / m.strength, 1, 0.003) << seed;
        ASSERT_TRUE(out.find("E_CAI")->value) << seed;
        EXPECT_NEAR(*out.find("E_CAI")->value / m.chord(), 1, 0.01) << seed;
    }
}

TEST(Cai, GaugesThatFailAreNamed)
{
    const Made m;
    const auto spoilt = [&](size_t channel, auto change) {
        auto r = recordOf(m);
        Column& column = r->channels[channel].values;
        std::vector<double> values = column.gather();
        change(values);
        column = Column();
        column.append(values);
        return read(input(m, r));
    };
    const auto middle = [](std::vector<double>& v) { return v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2); };
    const Outcome gone = spoilt(4, [&](auto& v) { std::fill(middle(v), v.end(), std::nan("")); });
    ASSERT_TRUE(remark(gone, "gauge-lost"));
    EXPECT_NE(remark(gone, "gauge-lost")->text.find("front right"), std::string::npos);
    EXPECT_NEAR(*gone.find("E_CAI")->value / m.chord(), 1, 0.025);
    const Outcome still = spoilt(3, [&](auto& v) { std::fill(middle(v), v.end(), *middle(v)); });
    EXPECT_TRUE(remark(still, "gauge-lost"));
    const Outcome leapt = spoilt(5, [&](auto& v) { std::for_each(middle(v), v.end(), [](double& e) { e += 2e-3; }); });
    EXPECT_TRUE(remark(leapt, "gauge-lost"));
    const Outcome turned = spoilt(3, [](auto& v) { std::ranges::for_each(v, [](double& e) { e = -e; }); });
    ASSERT_TRUE(remark(turned, "gauge-sign"));
    EXPECT_FALSE(turned.remarked("buckling"));
    EXPECT_NEAR(*turned.find("E_CAI")->value / m.chord(), 1, 0.025);
}

TEST(Cai, ACrossedPairIsAskedAbout)
{
    Made m;
    m.bending = 0.07;
    m.crossed = true;
    const Outcome out = read(input(m, recordOf(m)));
    ASSERT_TRUE(remark(out, "gauges-crossed"));
    EXPECT_NE(remark(out, "gauges-crossed")->text.find("crossed"), std::string::npos);
    m.crossed = false;
    EXPECT_FALSE(remark(read(input(m, recordOf(m))), "gauges-crossed"));
}

TEST(Cai, WhereItFailed)
{
    const Made m;
    SpecimenInput in = input(m, recordOf(m));
    ASSERT_TRUE(remark(read(in), "validity"));
    EXPECT_NE(remark(read(in), "validity")->text.find("Valid: it failed through the damage"), std::string::npos);
    in.notes["failure"] = "beside";
    EXPECT_TRUE(read(in).remarked("failure-not-through-damage"));
    in.notes.erase("failure");
    EXPECT_TRUE(read(in).remarked("failure-not-noted"));
    in.options["undamaged"] = "-3 MPa";
    EXPECT_FALSE(evaluateCai(in));
}

TEST(Cai, TheBalanceSaysWhichCornerToEase)
{
    const Balance even = balanceOf({500e-6, 490e-6, 495e-6, 505e-6});
    EXPECT_TRUE(even.even);
    const Balance off = balanceOf({700e-6, 480e-6, 500e-6, 420e-6});
    EXPECT_FALSE(off.even);
    EXPECT_EQ(*off.most, Corner::FrontLeft);
    EXPECT_NE(off.words.find("front left"), std::string::npos);
    EXPECT_FALSE(balanceOf({2e-6, 3e-6, 1e-6, 2e-6}).most);
}

TEST(Cai, StrengthOverTheEnergyOfTheBlow)
{
    const Made m;
    std::vector<SpecimenInput> inputs(3, input(m, recordOf(m)));
    const Outcome out = read(inputs[0]);
    inputs[0].notes[caiKeys::blow] = "28 J";
    inputs[1].notes[caiKeys::blow] = "12000 mJ";
    const auto set = evaluateCaiSet({{&inputs[0], &inputs[1], &inputs[2]}, {&out, &out, &out}, {}});
    ASSERT_TRUE(set);
    ASSERT_EQ(set->views.size(), 1u);
    const auto* scatter = set->view<ScatterView>();
    ASSERT_EQ(scatter->points.size(), 2u); // of the third no blow is known
    EXPECT_EQ(scatter->points.front().x, 12);
}

} // namespace
} // namespace fortitor::cai_test
