// SPDX-License-Identifier: GPL-3.0-or-later
// Pieces spread over temperatures before they are struck.
#include "jobs/spread.h"

#include <gtest/gtest.h>

namespace fortitor::spread_test {
namespace {

/// Three pieces; the first is struck at −59.6 °C.
JobDocument document()
{
    auto json = parseJson(R"({"fortitor_job": 1, "job": {"number": "J-1", "title": "t"}, "method": "impact",
        "options": {"pendulum": "300 J"},
        "specimens": [{"label": "K1", "dimensions": {"shape": "bar"}, "readings": {"energy": ["7 J"]},
                       "notes": {"temperature": "-59.6 °C", "planned_temperature": "-60 °C"}},
                      {"label": "K2", "dimensions": {"shape": "bar"}},
                      {"label": "K3", "dimensions": {"shape": "bar"}}]})",
                          "test");
    auto made = JobDocument::fromJson(*json);
    EXPECT_TRUE(made) << (made ? "" : made.problem().text());
    return std::move(*made);
}

const SpreadSpec& spec()
{
    return *findMethod("impact")->spread;
}

TEST(Spread, ReadsWhatPeopleType)
{
    const auto groups = readSpread(spec(), "-40 °C × 3; -60: 2;20 x 1 ; 0");
    ASSERT_TRUE(groups) << groups.problem().text();
    ASSERT_EQ(groups->size(), 4u);
    EXPECT_EQ(spreadText(spec(), *groups), "-60: 2; -40: 3; 0: 1; 20: 1");
    EXPECT_EQ(readSpread(spec(), spreadText(spec(), *groups))->size(), 4u);
    EXPECT_EQ(readSpread(spec(), "20: 2; 20: 1")->front().pieces, 3u);
    EXPECT_TRUE(readSpread(spec(), "")->empty());
    EXPECT_NEAR(readSpread(spec(), "-40 °F: 1")->front().value, -40, 1e-9);
    for (const char* wrong : {"cold: 3", "-40: 0", "-40: 2.5", "-40: 101", "-40: -1", "-40 J: 1", "-40:", "nan: 1"})
        EXPECT_FALSE(readSpread(spec(), wrong)) << wrong;
    EXPECT_FALSE(readSpread(spec(), "1:100;2:100;3:100;4:100;5:100;6:1"));
}

TEST(Spread, PlansThePiecesThatAreLeftAndAddsWhatIsWanting)
{
    JobDocument doc = document();
    ASSERT_EQ(spreadOf(doc.job()).size(), 1u);
    EXPECT_EQ(spreadOf(doc.job()).front().done, 1u); // counted at what was planned of it
    EXPECT_NEAR(spreadOf(doc.job()).front().value, -60, 1e-9);
    EXPECT_EQ(unplanned(doc.job()), 2u);
    auto command = edits::spread(doc, *readSpread(spec(), "-60: 2; 20: 3"));
    ASSERT_TRUE(command) << command.problem().text();
    ASSERT_TRUE(doc.apply(*command));
    const Json& all = doc.json()["specimens"];
    ASSERT_EQ(all.size(), 5u);
    EXPECT_EQ(all[1]["notes"]["planned_temperature"], "-60 °C");
    EXPECT_EQ(all[2]["notes"]["planned_temperature"], "20 °C");
    EXPECT_EQ(all[3]["label"], "K4");
    EXPECT_EQ(all[4]["label"], "K5");
    EXPECT_EQ(all[4]["notes"]["planned_temperature"], "20 °C");
    EXPECT_FALSE(all[4]["dimensions"].contains("width")); // nothing measured goes along
    EXPECT_EQ(spreadText(spec(), spreadOf(doc.job())), "-60: 2; 20: 3");
    EXPECT_EQ(unplanned(doc.job()), 0u);
    // Fewer: what is left over has no plan, and stays.
    ASSERT_TRUE(doc.apply(*edits::spread(doc, *readSpread(spec(), "-60: 1; 20: 1"))));
    EXPECT_EQ(doc.json()["specimens"].size(), 5u);
    EXPECT_EQ(unplanned(doc.job()), 3u);
    EXPECT_FALSE(edits::spread(doc, {})->changes.empty());
    const auto few = edits::spread(doc, {{.value = -60, .pieces = 0}});
    ASSERT_FALSE(few);
    EXPECT_NE(few.problem().wanted.find("1 or more"), std::string::npos);
}

TEST(Spread, PhotographsAndDailyChecksAreReadAndMistakesNamed)
{
    Json json = document().json();
    json["specimens"][0]["pictures"] = Json::array({Json{{"picture_sha256", "ab12"}, {"file", "half.jpg"}}});
    json["daily"] = Json::array({Json{{"at", "2026-11-29T07:50"}, {"value", "0.6 J"}, {"who", "operator A"}},
                                 Json{{"at", "2026-11-28T07:50"}, {"value", "0.8 J"}}});
    auto job = readJob(json);
    ASSERT_TRUE(job) << job.problem().text();
    ASSERT_EQ(job->specimens[0].pictures.size(), 1u);
    EXPECT_EQ(job->specimens[0].pictures[0].reading, 0u);
    ASSERT_EQ(job->daily.size(), 2u);
    EXPECT_NEAR(job->daily.front().value, 0.8, 1e-12); // in the order of time
    EXPECT_TRUE(job->notes.empty());
    for (const char* wrong : {R"([{"at": "2026-11-29", "value": "0.6 mm"}])", R"({"at": "x"})", R"([3])"}) {
        json["daily"] = Json::parse(wrong);
        const auto bad = readJob(json);
        ASSERT_FALSE(bad) << wrong;
        EXPECT_NE(bad.problem().place.find("daily"), std::string::npos);
    }
    json["daily"] = nullptr;
    json["specimens"][0]["pictures"] = Json::array({Json{{"file", "half.jpg"}}}); // neither a reading nor a hash
    EXPECT_FALSE(readJob(json));
}

} // namespace
} // namespace fortitor::spread_test
