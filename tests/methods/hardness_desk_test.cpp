// SPDX-License-Identifier: GPL-3.0-or-later
// What the page of indents asks: places, the size of indents, scales that will do; and simulated pieces against their
// truth.
#include "methods/hardness/adviser.h"
#include "methods/hardness/desk.h"
#include "methods/hardness/hardness.h"
#include "methods/hardness/ladder.h"
#include "sim/indented_piece.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor::hardness_desk_test {
namespace {

SpecimenInput inputWith(std::map<std::string, std::string> options)
{
    SpecimenInput in;
    in.label = "A";
    in.options = std::move(options);
    return in;
}

const std::map<std::string, std::string> hv1{{"scale", "HV"}, {"force", "9.807 N"}, {"filar_factor", "0.25 um"}};

void keep(SpecimenInput& in, const std::map<std::string, std::string>& texts)
{
    const Method& method = *findMethod("hardness", in.options);
    for (const auto& [name, text] : texts) {
        const PadChannel& column = *method.intake.find(name);
        in.readings[name].push_back(*parseQuantity(text, column.kind, findUnit(column.unit, column.kind)));
    }
}

TEST(HardnessDesk, ATraverseKeepsTheDistanceInHoweverManyRows)
{
    for (const double step : {0.02, 0.05, 0.1, 0.15, 0.3})
        for (const double apart : {0.1, 0.17, 0.29}) {
            const auto places = planTraverse(0.15, step, 40, apart);
            ASSERT_EQ(places.size(), 40u);
            double least = 1e9;
            for (size_t i = 0; i < places.size(); ++i) {
                EXPECT_NEAR(*places[i].depth, 0.15 + step * static_cast<double>(i), 1e-12);
                for (size_t k = 0; k < i; ++k)
                    least = std::min(least, std::hypot(places[i].x - places[k].x, places[i].y - places[k].y));
            }
            EXPECT_GE(least, apart * (1 - 1e-9)) << step << " " << apart;
        }
    EXPECT_TRUE(planTraverse(0.1, 0, 5, 0.1).empty());
    EXPECT_TRUE(planTraverse(0, 0.1, 5, 0.1).empty());
}

TEST(HardnessDesk, TheSizeOfAnIndentByItsNumberIsThatOfItsReading)
{
    for (double number = 60; number < 900; number *= 1.3) {
        SpecimenInput in = inputWith(hv1);
        const auto setting = settingOf(in);
        ASSERT_TRUE(setting);
        IndentReading sized;
        estimateSize(*setting, number, sized);
        EXPECT_NEAR(0.1891 * 9.807 / (sized.across * sized.across), number, 1e-9 * number);
    }
    const auto brinell = settingOf(inputWith({{"scale", "HBW"}, {"force", "29420 N"}, {"ball", "10 mm"}}));
    for (double number = 100; number < 640; number *= 1.2) {
        IndentReading sized;
        estimateSize(*brinell, number, sized);
        const double cap = 10 - std::sqrt(100 - sized.across * sized.across);
        EXPECT_NEAR(0.102 * 2 * 29420 / (std::numbers::pi * 10 * cap), number, 1e-9 * number);
        EXPECT_NEAR(sized.depth, cap / 2, 1e-12);
    }
    // A cone: pressed by F and by F0 at one mean pressure, the depths are as the roots of the forces.
    const double h = 0.112;
    const double across = rockwellAcross(*findHardnessScale("HRC"), h);
    const double whole = across / 2 / std::tan(std::numbers::pi / 3);
    EXPECT_NEAR((whole - h) / whole, std::sqrt(98.07 / 1471), 1e-12);
    // A ball of 1/16 in, 85 HRBW: some 0.77 mm across.
    EXPECT_NEAR(rockwellAcross(*findHardnessScale("HRB"), 0.090), 0.772, 0.002);
}

TEST(HardnessDesk, WhatTheTesterShowsIsReadBackAsItsNumber)
{
    const std::map<std::string, std::map<std::string, std::string>> settings{
        {"HRC", {{"scale", "HRC"}}},
        {"HBW", {{"scale", "HBW"}, {"force", "7355 N"}, {"ball", "5 mm"}}},
        {"HV", hv1},
        {"HK", {{"scale", "HK"}, {"force", "9.807 N"}, {"filar_factor", "0.1 um"}}}};
    for (const auto& [name, options] : settings) {
        const auto setting = settingOf(inputWith(options));
        ASSERT_TRUE(setting) << name;
        const double number = name == "HRC" ? 44.3 : name == "HBW" ? 217 : 612;
        for (const EntryWay& way : entryWays(setting->scale->by)) {
            SpecimenInput in = inputWith(options);
            keep(in, readingsOf(*setting, way, number, 0.004));
            const auto read = evaluateHardness(in);
            ASSERT_TRUE(read) << name << " " << way.words << ": " << read.problem().text();
            ASSERT_TRUE(read->find("H")->value) << name << " " << way.words;
            EXPECT_NEAR(*read->find("H")->value, number, 0.008 * number) << name << " " << way.words;
        }
    }
}

TEST(HardnessDesk, FromOneDiagonalAFirstNumber)
{
    SpecimenInput in = inputWith(hv1);
    const EntryWay way = entryWays(HardnessScale::By::Vickers)[0];
    EXPECT_FALSE(tryIndent(in, way, {{"diagonal_1", ""}}, {}).indent);
    const TriedIndent first = tryIndent(in, way, {{"diagonal_1", "54.6"}}, {});
    ASSERT_TRUE(first.indent);
    EXPECT_FALSE(first.whole);
    EXPECT_NEAR(*first.indent->value(), 0.1891 * 9.807 / (0.0546 * 0.0546), 1e-9);
    const TriedIndent wrong = tryIndent(in, way, {{"diagonal_1", "54.6"}, {"diagonal_2", "x"}}, {});
    EXPECT_TRUE(wrong.problem);
    EXPECT_EQ(wrong.field, "diagonal_2");
    const TriedIndent both = tryIndent(in, way, {{"diagonal_1", "54.6"}, {"diagonal_2", "53.9"}}, Spot{0, 0.1, 0.1});
    ASSERT_TRUE(both.indent && both.whole);
    EXPECT_EQ(both.indent->reading.remarks.front().code, "too-close") << "0.1 mm from the surface";
}

TEST(HardnessDesk, HowManyMoreReadings)
{
    std::vector<PieceIndent> made(5);
    const double values[] = {610, 622, 618, 630, 605};
    for (size_t i = 0; i < 5; ++i)
        made[i].reading.read = Term::leaf("HV", values[i], *findUnit("HV", Kind::Hardness));
    const RunningMean now = runningMean(made);
    EXPECT_EQ(now.count, 5u);
    EXPECT_NEAR(now.mean, 617, 1e-9);
    // t(0.975; 4) = 2.776 of tables.
    EXPECT_NEAR(now.half, 2.776 * now.sd / std::sqrt(5.0), 0.01);
    EXPECT_EQ(readingsFor(now, now.half), 0u);
    const size_t more = *readingsFor(now, 6);
    // t(0.975; n−1)·s/√n for the count and one fewer, by tables: n = 13, t = 2.179; n = 12, t = 2.201.
    EXPECT_EQ(more + 5, 13u) << now.sd;
    EXPECT_FALSE(readingsFor(now, 1e-6));
}

TEST(ScaleAdviser, RanksWhatWillDoAndSaysWhyTheOthersFallAway)
{
    const auto find = [](const std::vector<Proposal>& all, const char* name) {
        const auto it = std::ranges::find(all, name, &Proposal::name);
        EXPECT_NE(it, all.end()) << name;
        return it == all.end() ? Proposal{} : *it;
    };
    SpecimenInput in = inputWith({{"scale", "HV"}, {"force", "9.807 N"}, {"expected", "700 HV"}});
    in.material = "16MnCr5";
    in.dimensions["layer_depth"] = {*parseQuantity("0.3 mm", Kind::Length)};
    in.notes["finish"] = "polished";
    const auto all = adviseScale(in);
    ASSERT_FALSE(all.empty());
    EXPECT_TRUE(all.front().fits);
    EXPECT_NE(find(all, "HRC").why.find("through the layer"), std::string::npos)
        << "a cone at 60 HRC goes 0.08 mm deep";
    EXPECT_TRUE(find(all, "HV 10").fits) << "0.16 mm across wants 0.24 mm";
    EXPECT_NE(find(all, "HV 30").why.find("through the layer"), std::string::npos);
    EXPECT_NE(find(all, "HBW 10/3000").why.find("650"), std::string::npos);
    for (size_t i = 1; i < all.size(); ++i)
        EXPECT_LE(all[i].fits, all[i - 1].fits) << "what falls away stands behind";

    in.options["asked"] = "HV 1";
    EXPECT_EQ(adviseScale(in).front().name, "HV 1");
    in.notes["finish"] = "ground";
    EXPECT_NE(find(adviseScale(in), "HV 0.5").why.find("polished"), std::string::npos);
    in.notes["finish"] = "as made";
    EXPECT_FALSE(find(adviseScale(in), "HV 10").fits);

    SpecimenInput soft = inputWith({{"expected", "150 HV"}});
    EXPECT_NE(find(adviseScale(soft), "HRBW").why, "x");
    EXPECT_TRUE(find(adviseScale(soft), "HRBW").fits);
    SpecimenInput iron = inputWith({{"expected", "200 HBW"}});
    iron.material = "grey iron";
    EXPECT_TRUE(find(adviseScale(iron), "HBW 10/3000").fits);
    EXPECT_NE(find(adviseScale(iron), "HBW 10/1000").why.find("wants 30"), std::string::npos);
    iron.options["marks"] = "not seen";
    EXPECT_NE(find(adviseScale(iron), "HBW 10/3000").why.find("mark"), std::string::npos);
    const auto unknown = adviseScale(inputWith({}));
    ASSERT_EQ(unknown.size(), 1u);
    EXPECT_EQ(unknown.front().name, "HRA");
}

/// The tester presses by the piece's law of hardness over depth; where it falls through the limit is solved by hand.
TEST(HardnessSimulated, CaseDepthsAgainstTheTruth)
{
    const IndentedKind& kind = *indentedKind("16MnCr5", "HV");
    const auto setting = settingOf(inputWith(hv1));
    const EntryWay way = entryWays(HardnessScale::By::Vickers)[0];
    int within = 0;
    int covered = 0;
    constexpr int count = 300;
    for (std::uint64_t seed = 1; seed <= count; ++seed) {
        const IndentedPiece piece = drawPiece(kind, seed);
        SpecimenInput in = inputWith(hv1);
        const auto places = planTraverse(0.15, 0.1, 14, 0.2);
        for (size_t i = 0; i < places.size(); ++i) {
            keep(in, readingsOf(*setting, way, indentedNumber(piece, i, places[i].depth), 0.01));
            keep(in, {{"from_surface", fmt::format("{:.3f} mm", *places[i].depth)}});
        }
        const double truth =
            piece.caseDepth + piece.caseWidth * std::log((piece.surface - piece.core) / (550 - piece.core) - 1);
        const auto read = evaluateHardness(in);
        ASSERT_TRUE(read) << read.problem().text();
        const Result& chd = *read->find("CHD");
        ASSERT_TRUE(chd.value) << seed;
        within += std::abs(*chd.value - truth) < 0.03;
        covered += std::abs(*chd.value - truth) <= chd.budget.expanded;
        EXPECT_FALSE(read->remarked("traverse-point")) << seed << ": a sound profile has no odd point";
        EXPECT_FALSE(read->remarked("indent-uneven"));
    }
    EXPECT_GE(within, count * 97 / 100);
    EXPECT_GE(covered, count * 90 / 100) << "inside its stated uncertainty";
}

TEST(HardnessDesk, TheNextFreePlaceKeepsItsDistanceToAllThatIsThere)
{
    SpecimenInput in = inputWith({{"scale", "HRC"}, {"seating", "0"}, {"expected", "45 HRC"}});
    in.dimensions["diameter"] = {*parseQuantity("20 mm", Kind::Length)};
    auto desk = deskOf(in);
    ASSERT_TRUE(desk);
    desk->used = {{0, 0, desk->across}, {1.6, 0, desk->across}};
    size_t placed = 0;
    while (const auto place = nextFree(*desk)) {
        EXPECT_EQ(refusedAt(*desk, *place), "");
        for (const IndentPlace& old : desk->used)
            EXPECT_GE(std::hypot(place->x - old.x, place->y - old.y), 3 * desk->across * (1 - 1e-9));
        EXPECT_LE(std::hypot(place->x, place->y), 10 - 2.5 * desk->across + 1e-9);
        desk->places.push_back(*place);
        ASSERT_LT(++placed, 500u);
    }
    EXPECT_GT(placed, 60u) << "a face of 20 mm holds a good many";
    desk->across = 0;
    EXPECT_FALSE(nextFree(*desk)) << "their size is not known";
}

TEST(HardnessDesk, EdgesAreThoseOfThePieceAsItIsSeen)
{
    const auto sizeOf = [](const std::string& shape, std::map<std::string, std::string> lengths) {
        SpecimenInput in = inputWith({{"scale", "HRC"}});
        in.shape = shape;
        for (const auto& [key, text] : lengths)
            in.dimensions[key] = {*parseQuantity(text, Kind::Length)};
        return pieceSizeOf(in);
    };
    // A tooth 9 mm high, 12 mm wide at its root and 4 mm at its tip: straight flanks, the root is no edge.
    const PieceSize tooth = sizeOf("gear tooth", {{"length", "9 mm"}, {"width", "12 mm"}, {"tip_width", "4 mm"}});
    ASSERT_EQ(tooth.seen, PieceSize::Seen::Tooth);
    const double lean = std::hypot(9.0, 4.0) / 9;
    EXPECT_NEAR(*fromEdge(tooth, -4.5, 0), 6 / lean, 1e-12);
    EXPECT_NEAR(*fromEdge(tooth, 4.5, 0), 0, 1e-12) << "the tip";
    EXPECT_NEAR(*fromEdge(tooth, 0, 3), 1 / lean, 1e-12) << "half way it is 8 mm wide";
    EXPECT_LT(*fromEdge(tooth, 0, -4.2), 0);
    EXPECT_LT(*fromEdge(tooth, 3, 3), 0) << "inside its box, and yet outside the tooth";
    // Every point of the line inside lies that far from the nearest edge.
    for (const auto& [x, y] : insideOutline(tooth, 0.7))
        if (x > -4.4) {
            EXPECT_NEAR(*fromEdge(tooth, x, y), 0.7, 1e-9) << x << " " << y;
        }
    // A wire on its side, and the same seen on its end.
    const PieceSize side = sizeOf("wire", {{"length", "30 mm"}, {"diameter", "4 mm"}});
    ASSERT_EQ(side.seen, PieceSize::Seen::Side);
    EXPECT_NEAR(*fromEdge(side, 14, 0), 1, 1e-12);
    EXPECT_NEAR(*fromEdge(side, 0, 1.5), 0.5, 1e-12);
    EXPECT_EQ(outlineOf(side).size(), 4u);
    const PieceSize end = sizeOf("wire", {{"diameter", "4 mm"}});
    EXPECT_EQ(end.seen, PieceSize::Seen::Face);
    EXPECT_NEAR(*fromEdge(end, 1.2, 1.6), 0, 1e-12);
    EXPECT_TRUE(outlineOf(end).empty());
    // Of a curved side only the crown lies level: free places are along it.
    SpecimenInput in = inputWith({{"scale", "HRC"}, {"seating", "0"}, {"expected", "45 HRC"}});
    in.shape = "bar";
    in.dimensions = {{"diameter", {*parseQuantity("20 mm", Kind::Length)}},
                     {"length", {*parseQuantity("60 mm", Kind::Length)}}};
    auto desk = deskOf(in);
    for (int i = 0; i < 5; ++i) {
        const auto place = nextFree(*desk);
        ASSERT_TRUE(place);
        EXPECT_EQ(place->y, 0);
        desk->places.push_back(*place);
    }
}

TEST(HardnessDesk, WhatIsFittedIsIndenterAndForce)
{
    const auto fitted = [](std::map<std::string, std::string> options) {
        return fittedOn(*settingOf(inputWith(std::move(options))));
    };
    EXPECT_EQ(fitted({{"scale", "HRC"}}), "cone, 1471 N");
    EXPECT_EQ(fitted({{"scale", "HRD"}}), "cone, 980.7 N");
    EXPECT_NE(fitted({{"scale", "HRB"}}), fitted({{"scale", "HRE"}})) << "another ball";
    EXPECT_EQ(fitted(hv1), "pyramid, 9.807 N");
}

TEST(ScaleLadder, NumbersStandWhereTheTablesPutThem)
{
    const auto rungs = scaleLadder();
    ASSERT_GE(rungs.size(), 5u);
    for (const LadderRung& rung : rungs)
        for (size_t i = 1; i < rung.numbers.size(); ++i) {
            EXPECT_GT(rung.numbers[i].first, rung.numbers[i - 1].first) << rung.scale;
            EXPECT_GT(rung.numbers[i].second, rung.numbers[i - 1].second) << rung.scale;
        }
    EXPECT_EQ(*onLadder(300, *findHardnessScale("HV")), 300);
    EXPECT_NEAR(*onLadder(45, *findHardnessScale("HRC")), 446, 0.5);
    EXPECT_FALSE(onLadder(75, *findHardnessScale("HRC")));
    EXPECT_FALSE(onLadder(50, *findHardnessScale("HR30N"))) << "in no table";
}

} // namespace
} // namespace fortitor::hardness_desk_test
