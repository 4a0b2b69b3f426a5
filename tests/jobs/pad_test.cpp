// SPDX-License-Identifier: GPL-3.0-or-later
// The sheet of keyed readings as commands: steps, gaps, corrections, pasted tables; and the side copy.
#include "jobs/edits.h"
#include "jobs/pad.h"
#include "jobs/what_if.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace fortitor {
namespace {

JobDocument bending(Json readings = Json())
{
    Json json = edits::newJob("J-1", "battens", *findMethod("flexure"), 2);
    json["material"]["name"] = "spruce";
    for (Json& s : json["specimens"]) {
        s["dimensions"] = {{"shape", "rectangular"},
                           {"width", {"20 mm", "20 mm", "20.02 mm"}},
                           {"depth", "20 mm"},
                           {"span", "300 mm"}};
    }
    if (!readings.is_null())
        json["specimens"][0]["readings"] = readings;
    auto document = JobDocument::fromJson(json);
    EXPECT_TRUE(document) << (document ? "" : document.problem().text());
    return std::move(*document);
}

Json straight(int steps)
{
    Json r;
    for (int i = 0; i < steps; ++i) {
        r["force"].push_back(std::to_string(100 * i) + " N");
        r["deflection"].push_back(formatFixed(0.4 * i + (i > 6 ? 0.25 * (i - 6) * (i - 6) : 0), 2) + " mm");
    }
    return r;
}

void key(JobDocument& d, size_t channel, size_t row, std::optional<std::string> text, const std::string& why = {})
{
    const auto command =
        edits::padReading(d, 0, padTable(d, 0), channel, row, text, "operator A", "2026-11-25T10:00", why);
    ASSERT_TRUE(command) << command.problem().text();
    ASSERT_TRUE(d.apply(*command));
}

TEST(Pad, StepsGrowMissedOnesAreGapsAndUndoTakesThemBack)
{
    JobDocument d = bending();
    EXPECT_EQ(padTable(d, 0).rows, 0u);
    ASSERT_EQ(padTable(d, 0).channels.size(), 2u);
    key(d, 0, 0, "0 N");
    key(d, 1, 0, "0 mm");
    key(d, 0, 1, "100 N");
    key(d, 1, 1, std::nullopt);
    key(d, 0, 2, "200 N");
    const PadTable t = padTable(d, 0);
    EXPECT_EQ(t.rows, 3u);
    EXPECT_EQ(t.values("force"), (std::vector<double>{0, 100, 200}));
    EXPECT_TRUE(std::isnan(t.values("deflection")[1]));
    ASSERT_TRUE(d.job().specimens[0].readings);
    EXPECT_EQ(d.job().specimens[0].readings->rows(), 3u);
    d.undo();
    EXPECT_EQ(padTable(d, 0).rows, 2u);
    for (int i = 0; i < 4; ++i)
        d.undo();
    EXPECT_FALSE(d.json()["specimens"][0].contains("readings"));
    EXPECT_FALSE(edits::padReading(d, 0, padTable(d, 0), 0, 5, "1 N"));
}

TEST(Pad, ACorrectionKeepsTheOldReadingWithWhoAndWhy)
{
    JobDocument d = bending(straight(5));
    key(d, 1, 2, "0.81 mm", "misread");
    const Json& list = d.json()["specimens"][0]["corrections"];
    ASSERT_EQ(list.size(), 1u);
    EXPECT_EQ(list[0]["was"], "0.80 mm");
    EXPECT_EQ(list[0]["now"], "0.81 mm");
    EXPECT_EQ(list[0]["why"], "misread");
    EXPECT_EQ(list[0]["who"], "operator A");
    key(d, 1, 2, std::nullopt, "dial stuck");
    EXPECT_EQ(d.json()["specimens"][0]["corrections"].size(), 2u);
    EXPECT_TRUE(d.job().notes.empty()) << "the list belongs to the job file";
    d.undo();
    d.undo();
    EXPECT_FALSE(d.json()["specimens"][0].contains("corrections"));
    EXPECT_NEAR(padTable(d, 0).values("deflection")[2], 0.8, 1e-12);
}

TEST(Pad, ARecordOfTheFrameIsNotKeyedOver)
{
    JobDocument d = bending();
    ASSERT_TRUE(d.apply(edits::attachRecord(d, 0, "r1", "frame", {})));
    const auto refused = edits::padReading(d, 0, padTable(d, 0), 0, 0, "1 N");
    ASSERT_FALSE(refused);
    EXPECT_NE(refused.problem().text().find("record"), std::string::npos);
}

TEST(Pad, TablesArePastedInMostForms)
{
    const JobDocument d = bending();
    const SpecimenInput& in = d.job().specimens[0].input;
    const auto channels = padTable(d, 0).channels;
    const auto read = [&](const char* text) { return padTableFromText(text, channels, in, UnitSystem::SI); };
    for (const char* text :
         {"0\t0\n100\t0.40\n200\t0.80\n", "0;0\r\n100;0,40\r\n200;0,80\r\n", "0 0\n100 0.40\n200 0.80",
          "0,0\n100,0.40\n200,0.80\n", "Load, N\tDial, mm\n0\t0\n100\t0.40\n200\t0.80\n",
          "Dial (mm);Load (kN)\n0;0\n0.40;0.1\n0.80;0.2\n",
          "# a sheet\nDeflection\tForce\n0\t0\n0 rev + 40 div\t100 N\n80 div\t200\n"}) {
        const auto t = read(text);
        ASSERT_TRUE(t) << text << t.problem().text();
        ASSERT_EQ(t->rows, 3u) << text;
        EXPECT_NEAR(t->values("force")[2], 200, 1e-9) << text;
        EXPECT_NEAR(t->values("deflection")[1], 0.4, 1e-9) << text;
    }
    const auto gaps = read("0\t0\n100\t\n200\tx\n300\t–\n");
    ASSERT_TRUE(gaps);
    EXPECT_TRUE(std::isnan(gaps->values("deflection")[2]));
    for (const char* bad : {"", "\n\n", "0\t0\n100\tabc\n", "colour\ttaste\n1\t2\n", "1\t2\t3\n", "Load\tDial\n"})
        EXPECT_FALSE(read(bad)) << bad;
    const auto wrong = read("0\t0\n100\t0.4 kN\n");
    ASSERT_FALSE(wrong);
    EXPECT_NE(wrong.problem().text().find("line 2"), std::string::npos) << wrong.problem().text();
    std::mt19937 random(3);
    const std::string letters = "0123456789.,;\t \n-xmNrevdiv#\"";
    for (int i = 0; i < 5000; ++i) {
        std::string text;
        for (auto n = random() % 60; n > 0; --n)
            text += letters[random() % letters.size()];
        if (const auto t = read(text.c_str())) {
            EXPECT_GT(t->rows, 0u);
        }
    }
    JobDocument with = bending(straight(2));
    const auto command = edits::padSheet(with, 0, padTable(with, 0), *read("200 0.80\n300 1.20"), "the clipboard");
    ASSERT_TRUE(command);
    ASSERT_TRUE(with.apply(*command));
    EXPECT_EQ(padTable(with, 0).values("force"), (std::vector<double>{0, 100, 200, 300}));
}

TEST(Pad, AReadingOffTheLineIsAskedAboutInWords)
{
    const JobDocument d = bending(straight(5));
    PadTable t = padTable(d, 0);
    t.rows = 6;
    t.cells[0].push_back("500 N");
    t.cells[1].push_back(std::nullopt);
    const Method& m = *d.job().method;
    const ReadingScale scale = padScale(t.channels[1], d.job().specimens[0].input, UnitSystem::SI);
    const auto words = [&](double v, const char* text) { return doubtWords(t, m, "deflection", 5, v, text, scale); };
    EXPECT_EQ(words(2.01, "2.01"), "");
    EXPECT_NE(words(20.1, "20.1").find("ten"), std::string::npos);
    EXPECT_NE(words(2.4, "2.4").find("2.00 mm"), std::string::npos) << words(2.4, "2.4");
    EXPECT_NE(words(0.21, "0.21").find("ten"), std::string::npos);
    EXPECT_NE(words(1.02, "1.02"), "");
    EXPECT_EQ(doubtWords(t, m, "force", 5, 500, "500",
                         padScale(t.channels[0], d.job().specimens[0].input, UnitSystem::SI)),
              "");
    // 1.99 keyed as 9.19 … digits that changed places are named.
    EXPECT_NE(doubtWords(t, m, "deflection", 5, 9.19, "9.19", scale), "");
    PadTable tens = t;
    for (size_t i = 0; i < 5; ++i)
        tens.cells[1][i] = formatFixed(4.2 * static_cast<double>(i), 1) + " mm";
    EXPECT_NE(doubtWords(tens, m, "deflection", 5, 12.0, "12.0", scale).find("exchanged: 21.0"), std::string::npos);
}

TEST(Pad, ScalesFollowTheUnitsAndTheDial)
{
    JobDocument d = bending();
    const SpecimenInput& in = d.job().specimens[0].input;
    const auto channels = padTable(d, 0).channels;
    EXPECT_EQ(padScale(channels[0], in, UnitSystem::SI).unit->symbol, "N");
    EXPECT_EQ(padScale(channels[0], in, UnitSystem::InchPound).unit->symbol, "lbf");
    EXPECT_EQ(padScale(channels[1], in, UnitSystem::InchPound).unit->symbol, "in");
    EXPECT_NEAR(padScale(channels[1], in, UnitSystem::InchPound).division, 0.0254, 1e-12);
    SpecimenInput fine = in;
    fine.options["dial_division"] = "0.002 mm";
    EXPECT_NEAR(padScale(channels[1], fine, UnitSystem::SI).division, 0.002, 1e-12);
    // A gauge that another specimen of the job has is asked for everywhere.
    Json json = edits::newJob("J-2", "pins", *findMethod("torsion"), 2);
    EXPECT_EQ(padTable(*JobDocument::fromJson(json), 0).channels.size(), 2u);
    json["specimens"][1]["readings"] = {{"twist", {"0 deg"}}, {"torque", {"0 Nm"}}, {"strain", {"0 ue"}}};
    EXPECT_EQ(padTable(*JobDocument::fromJson(json), 0).channels.size(), 3u);
    EXPECT_EQ(padTable(*JobDocument::fromJson(json), 0, {"strain_2"}).channels.size(), 4u);
}

TEST(WhatIf, AnythingMayBeOtherwiseAndNothingChangesUntilItIsKept)
{
    JobDocument d = bending(straight(11));
    const Json before = d.json();
    const auto items = whatIfItems(d, 0);
    const auto item = [&](const std::string& label) {
        const auto it = std::ranges::find(items, label, &WhatIfItem::label);
        EXPECT_NE(it, items.end()) << label;
        return it == items.end() ? WhatIfItem{} : *it;
    };
    WhatIf copy(d, 0);
    const auto sigma = [&] { return *copy.outcome(nullptr)->outcome->find("sigma_pl")->value; };
    const double now = sigma();
    ASSERT_TRUE(copy.change(item("limit at reading"), "5"));
    EXPECT_NEAR(sigma(), 3.0 * 400 * 300 / (2 * 20.0066667 * 400), 1e-3);
    EXPECT_NE(sigma(), now);
    ASSERT_TRUE(copy.change(item("dial, reading 3"), "82 div"));
    EXPECT_EQ(copy.changes().back().now, "0.82 mm");
    ASSERT_TRUE(copy.change(item("depth h"), "19.5"));
    ASSERT_TRUE(copy.change(item("width b 3"), "0.79 in"));
    EXPECT_EQ(copy.changes().size(), 4u);
    EXPECT_EQ(d.json(), before);
    // Refused texts change nothing.
    EXPECT_FALSE(copy.change(item("dial, reading 4"), "soon"));
    EXPECT_FALSE(copy.change(item("span L"), "30 kN"));
    EXPECT_EQ(copy.changes().size(), 4u);
    // What stands is no change.
    ASSERT_TRUE(copy.change(item("limit at reading"), "auto"));
    EXPECT_EQ(copy.changes().size(), 3u);
    // Kept with a reason only; readings stay with what they were.
    EXPECT_FALSE(copy.keep("operator A", "now", ""));
    const auto command = copy.keep("operator A", "now", "the dial was read late");
    ASSERT_TRUE(command);
    EXPECT_EQ(command->why, "the dial was read late");
    ASSERT_TRUE(d.apply(*command));
    EXPECT_EQ(d.json()["specimens"][0]["corrections"][0]["was"], "0.80 mm");
    EXPECT_EQ(d.json()["specimens"][0]["dimensions"]["depth"], "19.5 mm");
    d.undo();
    EXPECT_EQ(d.json(), before);
    EXPECT_FALSE(WhatIf(d, 0).keep("a", "b", "c")) << "nothing changed";
}

TEST(WhatIf, GivesWhatTheTableOfLimitsGives)
{
    JobDocument d = bending(straight(11));
    const auto outcome =
        analyseSpecimen(d.job().specimens[0], d.job(), std::make_shared<const Record>(*d.job().specimens[0].readings));
    ASSERT_TRUE(outcome.outcome);
    ASSERT_GE(outcome.outcome->choices.size(), 8u);
    EXPECT_EQ(std::ranges::count_if(outcome.outcome->choices, &StepChoice::now), 1);
    for (const StepChoice& choice : outcome.outcome->choices) {
        WhatIf copy(d, 0);
        for (const WhatIfItem& item : whatIfItems(d, 0))
            if (item.key == choice.option) {
                ASSERT_TRUE(copy.change(item, choice.value));
            }
        const auto other = copy.outcome(nullptr);
        for (const auto& [symbol, value] : choice.figures)
            EXPECT_NEAR(*other->outcome->find(symbol)->value / value, 1, 1e-9) << choice.value << " " << symbol;
    }
}

TEST(Lot, IsJudgedAgainstItsMeanAndItsLowerBound)
{
    Json json = edits::newJob("J-1", "battens", *findMethod("flexure"), 6);
    for (size_t i = 0; i < 6; ++i) {
        Json& s = json["specimens"][i];
        s["dimensions"] = {{"shape", "rectangular"}, {"width", "20 mm"}, {"depth", "20 mm"}, {"span", "300 mm"}};
        s["readings"] = straight(11);
        s["readings"]["force"].back() = std::to_string(1050 + 20 * static_cast<int>(i)) + " N"; // 59.06 to 64.69 MPa
    }
    auto document = *JobDocument::fromJson(json);
    ASSERT_TRUE(document.apply(*edits::lotRequirement(document, "MOR", "60 MPa", "")));
    const auto lot = [&] { return analyseJob(document.job(), ".", false).lot; };
    ASSERT_EQ(lot().size(), 1u);
    EXPECT_NEAR(*lot()[0].value, 3.0 * 1100 * 300 / (2 * 20 * 400), 1e-9);
    EXPECT_EQ(lot()[0].verdict, Verdict::Pass);
    ASSERT_TRUE(document.apply(*edits::lotRequirement(document, "MOR", "60 MPa", "58")));
    // Six figures with s = 2.104 MPa: the bound is the mean less 3.006 s.
    ASSERT_EQ(lot().size(), 2u);
    EXPECT_NEAR(*lot()[1].value, 61.875 - 3.006 * 2.1047, 0.01);
    EXPECT_EQ(lot()[1].verdict, Verdict::Fail);
    const JobOutcome outcome = analyseJob(document.job(), ".", false);
    EXPECT_TRUE(std::ranges::any_of(outcome.remarks, [](const Remark& r) { return r.code == "lot-bound-low"; }));
    EXPECT_TRUE(outcome.specimens[0].checks.empty()) << "the lot's limits are none of a specimen";
    // One specimen says nothing of a bound; limits of the specimen stay when the lot's are taken out.
    ASSERT_TRUE(document.apply(*edits::requirement(document, "MOR", "55 MPa", "")));
    ASSERT_TRUE(document.apply(*edits::lotRequirement(document, "MOR", "", "")));
    EXPECT_TRUE(lot().empty());
    EXPECT_EQ(document.json()["requirements"][0]["min"], "55 MPa");
    ASSERT_TRUE(document.apply(*edits::requirement(document, "MOR", "", "")));
    EXPECT_TRUE(document.json()["requirements"].empty());
    EXPECT_FALSE(edits::lotRequirement(document, "MOR", "sixty", ""));
    // Taken out, nothing of it stays.
    ASSERT_TRUE(document.apply(*edits::requirement(document, "MOR", "55 MPa", "")));
    ASSERT_TRUE(document.apply(*edits::lotRequirement(document, "MOR", "60 MPa", "")));
    ASSERT_TRUE(document.apply(*edits::noRequirement(document, "MOR")));
    EXPECT_TRUE(document.json()["requirements"].empty());
    json["specimens"].erase(json["specimens"].begin() + 1, json["specimens"].end());
    json["requirements"] = {{{"symbol", "MOR"}, {"lower_bound_min", "50 MPa"}}};
    const auto one = *JobDocument::fromJson(json);
    const auto open = analyseJob(one.job(), ".", false).lot;
    ASSERT_EQ(open.size(), 1u);
    EXPECT_EQ(open[0].verdict, Verdict::Open);
    EXPECT_FALSE(open[0].why.empty());
}

} // namespace
} // namespace fortitor
