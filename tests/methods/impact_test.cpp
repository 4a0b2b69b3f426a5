// SPDX-License-Identifier: GPL-3.0-or-later
// The pendulum: published figures, closed forms, transition curves with known truth, bad input.
#include "methods/impact/free_swing.h"
#include "methods/impact/impact.h"
#include "methods/impact/pendulum_choice.h"

#include "judge/requirement.h"
#include "sim/struck_piece.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace fortitor::impact_test {
namespace {

SpecimenInput blow(const std::string& name, const std::string& text, Kind kind,
                   std::map<std::string, std::string> options = {{"pendulum", "300 J"}})
{
    SpecimenInput in;
    in.label = "K1";
    in.options = std::move(options);
    in.notes["temperature"] = "20 degC";
    in.readings[name] = {*parseQuantity(text, kind)};
    return in;
}

void size(SpecimenInput& in, const std::string& key, const std::string& text, Kind kind = Kind::Length)
{
    in.dimensions[key] = {*parseQuantity(text, kind)};
}

std::vector<Blow> publishedBlows()
{
    constexpr double T[] = {-80, -80, -60, -60, -45, -45, -30, -30, -15, -15, 0, 20};
    constexpr double K[] = {7.2, 5.1, 11.8, 16.0, 31.5, 24.9, 62.0, 55.3, 92.4, 99.8, 112.7, 121.5};
    std::vector<Blow> blows;
    for (size_t i = 0; i < std::size(T); ++i)
        blows.push_back({T[i], K[i]});
    return blows;
}

TEST(Impact, EnergyOverTheSectionInBothUnits)
{
    SpecimenInput in = blow("energy", "41.0 J", Kind::Energy);
    size(in, "area", "0.48 cm2", Kind::Area);
    auto out = evaluateImpact(in);
    ASSERT_TRUE(out) << out.problem().text();
    EXPECT_NEAR(*out->find("kc")->value, 85.4, 0.05);
    EXPECT_NEAR(*out->find("kc")->value / findUnit("kgf·m/cm²", Kind::AreaEnergy)->factor, 8.71, 0.005);
    EXPECT_NEAR(*out->find("K")->value / findUnit("kgf·m", Kind::Energy)->factor, 4.18, 0.005);
    EXPECT_FALSE(out->find("ac")->value || out->find("a_izod")->value);
    ASSERT_EQ(out->readings.size(), 1u);
    EXPECT_EQ(out->readings.front().notation, "KV2 = 41.0 J");
    in.options["area_form"] = "area";
    EXPECT_EQ(evaluateImpact(in)->readings.front().notation, "KCV = 85.4 J/cm²");
    in.options["pendulum"] = "150 J"; // not the usual one: it shows
    in.notes["temperature"] = "-40 degC";
    EXPECT_EQ(evaluateImpact(in)->readings.front().notation, "KCV −40 150/2/10 = 85.4 J/cm²");
}

TEST(Impact, EnergyFromTheAngles)
{
    SpecimenInput in =
        blow("rise_angle", "98.3 deg", Kind::Angle,
             {{"pendulum", "300 J"}, {"mass", "20 kg"}, {"arm", "0.75 m"}, {"release_angle", "160 deg"}});
    auto out = evaluateImpact(in);
    ASSERT_TRUE(out) << out.problem().text();
    EXPECT_NEAR(*out->find("K")->value, 117.0, 0.05);
    EXPECT_FALSE(out->remarked("pendulum-figures")) << "285.3 J of a pendulum of 300 J";
    in.options["mass"] = "44.1 kg"; // pounds
    EXPECT_TRUE(evaluateImpact(in)->remarked("pendulum-figures"));
    in.options["mass"] = "20 kg";
    in.readings["rise_angle"] = {*parseQuantity("161 deg", Kind::Angle)};
    const auto beyond = evaluateImpact(in);
    EXPECT_FALSE(beyond->find("K")->value);
    EXPECT_TRUE(beyond->remarked("energy-absurd"));
}

TEST(Impact, PlasticsTakeTheLossOffByAngle)
{
    SpecimenInput in =
        blow("energy", "0.290 J", Kind::Energy,
             {{"geometry", "izod-plastic"}, {"pendulum", "2.75 J"}, {"loss", "0.016 J"}, {"release_angle", "150 deg"}});
    size(in, "width", "3.22 mm");
    size(in, "ligament", "10.14 mm");
    auto out = evaluateImpact(in);
    ASSERT_TRUE(out) << out.problem().text();
    EXPECT_NEAR(*out->find("K")->value, 0.2750, 0.00005);
    in.options["loss"] = "0 J";
    in.readings["energy"] = {*parseQuantity("0.274 J", Kind::Energy)};
    out = evaluateImpact(in);
    EXPECT_NEAR(*out->find("a_izod")->value, 85.1, 0.05);
    EXPECT_NEAR(out->find("ac")->unit->fromBase(*out->find("ac")->value), 8.39, 0.005);
    EXPECT_FALSE(out->find("kc")->value);
    // The same pendulum told by mass and arm needs no angle: it follows.
    in.options = {{"geometry", "izod-plastic"},
                  {"pendulum", "2.75 J"},
                  {"loss", "0.016 J"},
                  {"mass", "0.5 kg"},
                  {"arm", "300.54 mm"}};
    in.readings["energy"] = {*parseQuantity("0.290 J", Kind::Energy)};
    EXPECT_NEAR(*evaluateImpact(in)->find("K")->value, 0.2750, 0.0002);
    // Without any it can't be shared, and no number is given.
    in.options = {{"geometry", "izod-plastic"}, {"pendulum", "2.75 J"}, {"loss", "0.016 J"}};
    EXPECT_FALSE(evaluateImpact(in)->find("K")->value);
    EXPECT_TRUE(evaluateImpact(in)->remarked("swing-unknown"));
}

TEST(Impact, WhatIsAmissIsSaid)
{
    const auto remarks = [](SpecimenInput in, const char* code) {
        const auto out = evaluateImpact(in);
        EXPECT_TRUE(out) << out.problem().text();
        return out && out->remarked(code);
    };
    SpecimenInput in = blow("energy", "250 J", Kind::Energy);
    EXPECT_TRUE(remarks(in, "capacity")) << "over 80 %";
    in = blow("energy", "12 J", Kind::Energy, {{"pendulum", "300 J"}, {"resolution", "0.5 J"}});
    EXPECT_TRUE(remarks(in, "capacity")) << "24 divisions";
    in.readings["energy"] = {*parseQuantity("12.5 J", Kind::Energy)};
    EXPECT_FALSE(remarks(in, "capacity"));
    in.options["loss"] = "1.6 J";
    EXPECT_TRUE(remarks(in, "pendulum-loss"));
    in.options["loss"] = "1.4 J";
    EXPECT_FALSE(remarks(in, "pendulum-loss"));
    in.notes["temperature"] = "";
    EXPECT_TRUE(remarks(in, "temperature-missing"));
    in.notes = {{"temperature", "-20 degC"}, {"bath_to_blow", "5.2 s"}, {"bath", "liquid"}, {"bath_time", "4 min"}};
    EXPECT_TRUE(remarks(in, "late-blow") && remarks(in, "bath-short"));
    in.notes = {{"temperature", "-20 degC"}, {"break", "none"}};
    EXPECT_TRUE(remarks(in, "not-broken"));
    EXPECT_EQ(evaluateImpact(in)->find("K")->bound, Result::Bound::AtLeast);
    size(in, "ligament", "7.5 mm");
    EXPECT_TRUE(remarks(in, "notch-off"));
    in = blow("energy", "320 J", Kind::Energy);
    EXPECT_TRUE(remarks(in, "energy-absurd"));
    EXPECT_FALSE(evaluateImpact(in)->find("K")->value);
    // What makes no sense at all is refused.
    in = blow("energy", "41 J", Kind::Energy);
    in.notes["temperature"] = "-20";
    EXPECT_FALSE(evaluateImpact(in)) << "no unit";
    in.notes["temperature"] = "-300 degC";
    EXPECT_FALSE(evaluateImpact(in));
    in.notes["temperature"] = "20 degC";
    size(in, "width", "0 mm");
    size(in, "ligament", "8 mm");
    EXPECT_FALSE(evaluateImpact(in));
    in = blow("energy", "41 J", Kind::Energy, {});
    EXPECT_FALSE(evaluateImpact(in)) << "no pendulum";
    in = blow("energy", "41 J", Kind::Energy, {{"pendulum", "300 J"}, {"geometry", "charpy-x"}});
    EXPECT_FALSE(evaluateImpact(in));
    in = blow("energy", "41 J", Kind::Energy);
    in.readings["energy"].push_back(in.readings["energy"].front());
    EXPECT_FALSE(evaluateImpact(in)) << "one blow a piece";
    in = blow("energy", "41 J", Kind::Energy, {{"pendulum", "300 J"}, {"level", "27 K"}});
    EXPECT_FALSE(evaluateImpact(in));
}

TEST(Impact, ASoundPieceIsLeftInPeace)
{
    for (std::uint64_t seed = 1; seed <= 40; ++seed) {
        const StruckPiece piece = strike(*struckKind("S355"), -20, seed);
        SpecimenInput in = blow("energy", std::to_string(piece.energy) + " J", Kind::Energy,
                                {{"pendulum", "300 J"}, {"loss", "0.6 J"}, {"release_angle", "160 deg"}});
        in.notes = {{"temperature", "-20 degC"},
                    {"break", "complete"},
                    {"look", piece.look},
                    {"bath", "liquid"},
                    {"bath_time", "8 min"}};
        size(in, "width", "10.03 mm");
        size(in, "ligament", "7.98 mm");
        const auto out = evaluateImpact(in);
        ASSERT_TRUE(out);
        for (const Remark& r : out->remarks)
            EXPECT_EQ(r.severity, Severity::Note) << r.code << ": " << r.text;
    }
}

TEST(ImpactTransition, PublishedCurve)
{
    const auto blows = publishedBlows();
    const auto fit = fitTransition(blows);
    ASSERT_TRUE(fit) << fit.problem().text();
    EXPECT_NEAR(fit->lower, 5.85, 0.005);
    EXPECT_NEAR(fit->upper, 123.22, 0.005);
    EXPECT_NEAR(fit->middle, -28.15, 0.006);
    EXPECT_NEAR(fit->width, 22.99, 0.005);
    EXPECT_NEAR(*fit->temperatureAt(27), -45.56, 0.005);
    EXPECT_NEAR(*fit->temperatureAt(41), -37.91, 0.006);
    EXPECT_FALSE(fit->temperatureAt(5)) << "below the lower shelf";
    EXPECT_FALSE(fit->temperatureAt(130));
    // In another order, and in other units, it is the same curve.
    std::vector<Blow> turned(blows.rbegin(), blows.rend());
    for (Blow& b : turned)
        b.energy *= 2;
    EXPECT_NEAR(fitTransition(turned)->middle, fit->middle, 1e-3);
    EXPECT_NEAR(fitTransition(turned)->upper, 2 * fit->upper, 1e-3);
    // A point of the curve has no steeper neighbour in the squares: each number is at its best.
    for (const double off : {-0.05, 0.05}) {
        Transition other = *fit;
        other.middle += off;
        double squares = 0;
        for (const Blow& b : blows)
            squares += std::pow(b.energy - other.at(b.temperature), 2);
        EXPECT_GT(squares, fit->squares);
    }
}

struct Trial {
    int fitted = 0, near = 0, covered = 0, intervals = 0;
};

/// Sets of 18 of another curve than the fit's own numbers know: each drawn anew.
Trial trialOf(int sets, bool uneven, const std::vector<double>& places)
{
    Trial trial;
    for (int seed = 1; seed <= sets; ++seed) {
        std::mt19937 random(static_cast<unsigned>(seed) * 31 + (uneven ? 7 : 0));
        std::normal_distribution<double> normal(0, 1);
        std::uniform_real_distribution<double> even(0, 1);
        const double lower = 4 + 6 * even(random), upper = 90 + 50 * even(random);
        const double middle = -30 + 20 * even(random), width = 15 + 12 * even(random);
        std::vector<Blow> blows;
        for (size_t i = 0; i < 18; ++i) {
            const double t = places[i % places.size()];
            const double share = 1 / (1 + std::exp(-2 * (t - middle) / width));
            const double scatter = uneven ? 2 + 40 * share * (1 - share) : 4;
            blows.push_back({t, std::max(0.5, lower + (upper - lower) * share + scatter * normal(random))});
        }
        const double share = (27 - lower) / (upper - lower);
        const double truth = middle + 0.5 * width * std::log(share / (1 - share));
        const auto fit = fitTransition(blows);
        const auto place = fit ? fit->temperatureAt(27) : std::nullopt;
        if (!place)
            continue;
        ++trial.fitted;
        trial.near += std::abs(*place - truth) < 3;
        if (const auto interval = intervalOfTemperature(*fit, blows, 27)) {
            ++trial.intervals;
            trial.covered += interval->first <= truth && truth <= interval->second;
        }
    }
    return trial;
}

TEST(ImpactTransition, TheTemperatureLiesNearTheTruthAndInItsInterval)
{
    const std::vector<double> places{-80, -60, -45, -30, -15, 0, 20};
    const Trial even = trialOf(500, false, places);
    EXPECT_GE(even.fitted, 490);
    EXPECT_GE(even.near, even.fitted * 95 / 100);
    EXPECT_GE(even.covered, even.intervals * 92 / 100);
    EXPECT_LE(even.covered, even.intervals * 98 / 100);
    const Trial uneven = trialOf(500, true, places);
    EXPECT_GE(uneven.covered, uneven.intervals * 92 / 100);
    EXPECT_LE(uneven.covered, uneven.intervals * 98 / 100);
}

TEST(ImpactTransition, WhatCanNotBeToldIsRefused)
{
    std::vector<Blow> blows = publishedBlows();
    EXPECT_FALSE(fitTransition(std::vector<Blow>(blows.begin(), blows.begin() + 4)));
    EXPECT_FALSE(fitTransition(std::vector<Blow>(blows.begin(), blows.begin() + 8))) << "no upper shelf";
    EXPECT_FALSE(fitTransition(std::vector<Blow>(blows.begin() + 4, blows.end()))) << "no lower shelf";
    std::vector<Blow> level;
    for (int t = -80; t <= 20; t += 20)
        level.push_back({static_cast<double>(t), 50});
    EXPECT_FALSE(fitTransition(level));
    std::vector<Blow> falling;
    for (int t = -80; t <= 20; t += 20)
        falling.push_back({static_cast<double>(t), 50.0 - t});
    EXPECT_FALSE(fitTransition(falling));
}

TEST(ImpactTransition, FurtherPiecesTellMostNearTheLevel)
{
    const auto blows = publishedBlows();
    const auto fit = fitTransition(blows);
    const double now = halfWidthWith(*fit, blows, 27, -45, 0);
    EXPECT_LT(halfWidthWith(*fit, blows, 27, -45, 2), halfWidthWith(*fit, blows, 27, -45, 1));
    EXPECT_LT(halfWidthWith(*fit, blows, 27, -45, 1), now);
    EXPECT_LT(halfWidthWith(*fit, blows, 27, -45, 2), halfWidthWith(*fit, blows, 27, 20, 2))
        << "the upper shelf tells little";
}

struct Set {
    std::vector<SpecimenInput> inputs;
    std::vector<Outcome> outcomes;
    SetInput input{};

    void add(double temperature, double energy, const std::string& look = {}, const std::string& broken = {})
    {
        SpecimenInput in = blow("energy", std::to_string(energy) + " J", Kind::Energy);
        in.label = "K" + std::to_string(inputs.size() + 1);
        in.notes = {{"temperature", std::to_string(temperature) + " degC"}, {"look", look}, {"break", broken}};
        inputs.push_back(in);
    }
    Outcome worked()
    {
        for (const SpecimenInput& in : inputs)
            outcomes.push_back(*evaluateImpact(in));
        for (size_t i = 0; i < inputs.size(); ++i) {
            input.inputs.push_back(&inputs[i]);
            input.outcomes.push_back(&outcomes[i]);
        }
        return *evaluateImpactSet(input);
    }
};

TEST(ImpactSet, TheCurveItsLevelsAndWhatToStrikeNext)
{
    Set set;
    for (const Blow& b : publishedBlows())
        set.add(b.temperature, b.energy, b.temperature < -50 ? "flat" : b.temperature > -10 ? "fibrous" : "mixed");
    set.add(-20, 130, "fibrous", "none"); // not broken: left out
    SpecimenInput waiting = set.inputs.front();
    waiting.label = "K99";
    waiting.readings.clear();
    set.inputs.push_back(waiting);
    set.inputs.front().options["level"] = "27 J; 41 J; 300 J";
    const Outcome out = set.worked();
    EXPECT_NEAR(*out.find("T_27J")->value, -45.56, 0.005);
    EXPECT_NEAR(*out.find("T_41J")->value, -37.91, 0.006);
    EXPECT_FALSE(out.find("T_300J")->value);
    EXPECT_TRUE(out.remarked("level-outside"));
    ASSERT_TRUE(out.find("T_27J")->interval);
    EXPECT_LT(out.find("T_27J")->interval->first, -45.56);
    ASSERT_TRUE(out.next);
    EXPECT_EQ(out.next->labels, std::vector<std::string>{"K99"});
    EXPECT_EQ(out.next->note, "temperature");
    const auto* view = out.view<ScatterView>();
    ASSERT_TRUE(view);
    EXPECT_EQ(view->points.size(), 13u);
    ASSERT_EQ(view->regions.size(), 4u); // brittle, ductile, two intervals
    EXPECT_EQ(view->regions[0].words, "brittle");
    EXPECT_NEAR(view->regions[0].to, -60, 1e-9);
    EXPECT_NEAR(view->regions[1].from, 0, 1e-9);
}

TEST(ImpactSet, OneTemperatureHasNoCurveAndALowPieceIsTold)
{
    Set set;
    for (const double energy : {30.0, 31.0, 17.0})
        set.add(-20, energy);
    Requirement mean{.symbol = "K", .meanMin = 27};
    set.input.requirements = {mean};
    const Outcome out = set.worked();
    EXPECT_FALSE(out.find("T_27J")->value);
    EXPECT_TRUE(out.remarked("not-applicable"));
    EXPECT_TRUE(out.remarked("single-below"));
}

TEST(Impact, TheShearShareFromTheBrightPatch)
{
    EXPECT_NEAR(*shearShare(10, 8, 5, 4), 0.75, 1e-12);
    EXPECT_NEAR(*shearShare(10, 8, 0, 0), 1, 1e-12);
    EXPECT_FALSE(shearShare(10, 8, 11, 4));
    EXPECT_FALSE(shearShare(0, 8, 1, 1));
}

TEST(Impact, LotsAreLaidOverEachOtherAndTheirDifferenceHasAnInterval)
{
    const TemperatureDifference plain = differenceOf(-40, {-43, -36}, -30, {-34, -27});
    EXPECT_NEAR(plain.value, 10, 1e-12);
    EXPECT_NEAR(plain.low, 10 - std::hypot(4, 4), 1e-12);
    EXPECT_NEAR(plain.high, 10 + std::hypot(3, 3), 1e-12);
    EXPECT_TRUE(plain.told());
    EXPECT_FALSE(differenceOf(-40, {-50, -30}, -35, {-45, -25}).told());
    // Two lots 20 K apart, drawn from curves of a known place.
    std::mt19937_64 random(7);
    std::normal_distribution<double> scatter(0, 3);
    std::vector<SpecimenInput> inputs;
    for (const double shift : {0.0, 20.0})
        for (const double T :
             {-90., -90., -70., -70., -50., -50., -40., -30., -20., -10., 0., 0., 20., 20., 40., 40.}) {
            const double K = 60 + 55 * std::tanh((T + 30 - shift) / 22) + scatter(random);
            inputs.push_back(blow("energy", formatFixed(std::max(K, 1.0), 1) + " J", Kind::Energy));
            inputs.back().notes["temperature"] = formatFixed(T, 0) + " degC";
            inputs.back().notes["batch"] = shift == 0 ? "melt 1" : "melt 2";
            size(inputs.back(), "width", "10 mm");
            size(inputs.back(), "ligament", "8 mm");
        }
    std::vector<Outcome> outcomes;
    SetInput set;
    for (const SpecimenInput& in : inputs)
        outcomes.push_back(*evaluateImpact(in));
    for (size_t i = 0; i < inputs.size(); ++i) {
        set.inputs.push_back(&inputs[i]);
        set.outcomes.push_back(&outcomes[i]);
    }
    const auto out = evaluateImpactSet(set);
    ASSERT_TRUE(out);
    EXPECT_TRUE(out->remarked("several-lots"));
    const auto differ = std::ranges::find(out->remarks, "lots-differ", &Remark::code);
    ASSERT_NE(differ, out->remarks.end());
    EXPECT_NE(differ->text.find("melt 2"), std::string::npos) << differ->text;
    EXPECT_EQ(out->view<ScatterView>()->lines.size(), 3u);
}

TEST(Impact, ThePendulumIsProposedByWhatThePiecesTake)
{
    SpecimenInput in;
    in.options = {{"geometry", "charpy-v"}};
    auto all = proposePendulum(in);
    ASSERT_EQ(all.size(), 1u); // nothing expected: nothing proposed, and said
    EXPECT_FALSE(all.front().fits);
    in.options["expected"] = "5 J; 110 J";
    all = proposePendulum(in);
    EXPECT_EQ(all.front().name, "300 J, usual"); // the usual one first
    EXPECT_TRUE(all.front().fits);
    const auto of = [&](const char* name) { return *std::ranges::find(all, name, &Proposal::name); };
    EXPECT_FALSE(of("50 J").fits);
    EXPECT_FALSE(of("50 J").why.empty());
    EXPECT_TRUE(of("150 J").fits); // 73 %
    in.options["expected"] = "130 J";
    all = proposePendulum(in);
    EXPECT_FALSE(of("150 J").fits); // 87 %
    in.options["expected"] = "a lot";
    EXPECT_FALSE(proposePendulum(in).front().fits);
    // Plastics: 10 to 80 % of it.
    in.options = {{"geometry", "izod-plastic"}, {"expected", "0.3 J"}};
    all = proposePendulum(in);
    EXPECT_TRUE(of("1 J").fits);
    EXPECT_TRUE(of("2.75 J, usual").fits); // 10.9 %
    EXPECT_FALSE(of("5.5 J").fits);
    // What is commonly quoted of the plastic serves where nothing is stated.
    in.options.erase("expected");
    in.material = "PA66";
    size(in, "width", "3.2 mm");
    EXPECT_GT(proposePendulum(in).size(), 1u);
}

TEST(Impact, FreeSwingsAreHeldAgainstTheLimitAndEachOther)
{
    SpecimenInput in;
    in.options = {{"geometry", "charpy-v"}, {"pendulum", "300 J"}};
    EXPECT_FALSE(judgeSwings({}, in, "2026-11-30").today);
    std::vector<DailyValue> days;
    for (int day = 10; day < 22; ++day)
        days.push_back({"2026-11-" + std::to_string(day) + "T07:50", 0.6 + 0.02 * (day % 3)});
    DailyJudged judged = judgeSwings(days, in, "2026-11-21");
    EXPECT_TRUE(judged.today && judged.within);
    EXPECT_TRUE(judged.words.empty()) << judged.words.front();
    EXPECT_NEAR(*judged.limit, 1.5, 1e-12);
    EXPECT_FALSE(judgeSwings(days, in, "2026-11-22").today);
    days.back().value = 1.2; // within the limit, but not as it was
    judged = judgeSwings(days, in, "2026-11-21");
    EXPECT_TRUE(judged.within);
    ASSERT_FALSE(judged.words.empty());
    EXPECT_NE(judged.words.front().find("stands apart"), std::string::npos);
    days.back().value = 1.6;
    EXPECT_FALSE(judgeSwings(days, in, "2026-11-21").within);
    in.options["geometry"] = "charpy-plastic"; // taken off: no limit
    EXPECT_FALSE(judgeSwings(days, in, "2026-11-21").limit);
}

} // namespace
} // namespace fortitor::impact_test
