// SPDX-License-Identifier: GPL-3.0-or-later
// The set has an outcome like a specimen: by a method that is no curve and not one of the registry's.
#include "jobs/analysis.h"
#include "jobs/overview.h"
#include "methods/spring.h"

#include <gtest/gtest.h>

namespace fortitor {
namespace {

class SetOutcome : public testing::Test {
protected:
    void SetUp() override { furtherMethods() = {spring::method()}; }
    void TearDown() override { furtherMethods().clear(); }

    static Json job()
    {
        return Json::parse(R"({
            "fortitor_job": 1, "method": "spring", "job": {"number": "S-1"},
            "requirements": [{"symbol": "c_set", "min": "1.9 N/mm"}],
            "specimens": [
              {"label": "a", "readings": {"force": ["10 N", "20 N", "30 N"], "displacement": ["5 mm", "10 mm",
                "15 mm"]}},
              {"label": "b", "readings": {"force": ["10 N", "20 N", "30 N"], "displacement": ["5.1 mm", "10.3 mm",
                "15.2 mm"]}},
              {"label": "c", "excluded": "bent", "readings": {"force": ["10 N", "20 N", "30 N"],
                "displacement": ["9 mm", "18 mm", "27 mm"]}}]})");
    }
    static JobOutcome worked(const Json& json, Job& job)
    {
        auto read = readJob(json);
        EXPECT_TRUE(read) << (read ? "" : read.problem().text());
        job = std::move(*read);
        return analyseJob(job, ".", false);
    }
};

TEST_F(SetOutcome, IsInTheResultsWithItsWorking)
{
    Job job;
    const JobOutcome outcome = worked(SetOutcome::job(), job);
    const Json j = resultsJson(job, outcome);
    EXPECT_NEAR(j["specimens"][0]["results"]["c"]["value"].get<double>(), 2, 1e-12);
    EXPECT_FALSE(j["specimens"][0]["results"].contains("c_set"));
    const Json& set = j["set"]["results"]["c_set"];
    // Least squares by hand over the six points that count: means 10.1 and 20, slope = 605/306.28.
    const double x[] = {5, 10, 15, 5.1, 10.3, 15.2}, y[] = {10, 20, 30, 10, 20, 30};
    double mx = 0, my = 0, sxy = 0, sxx = 0;
    for (int i = 0; i < 6; ++i) {
        mx += x[i] / 6;
        my += y[i] / 6;
    }
    for (int i = 0; i < 6; ++i) {
        sxy += (x[i] - mx) * (y[i] - my);
        sxx += (x[i] - mx) * (x[i] - mx);
    }
    EXPECT_NEAR(set["value"].get<double>(), sxy / sxx, 1e-12);
    EXPECT_EQ(set["unit"], "N/mm");
    EXPECT_GT(set["uncertainty"].get<double>(), 0);
    EXPECT_FALSE(set["working"].get<std::string>().empty());
    EXPECT_EQ(j["set"]["verdict"], "pass");
    EXPECT_TRUE(j["set"]["remarks"].is_array());
}

TEST_F(SetOutcome, ARequirementOnTheSetIsNotOneOnASpecimen)
{
    Json json = job();
    json["requirements"][0]["min"] = "2.5 N/mm";
    Job job;
    const JobOutcome outcome = worked(json, job);
    EXPECT_EQ(outcome.setVerdict, Verdict::Fail);
    for (const SpecimenOutcome& s : outcome.specimens)
        EXPECT_TRUE(s.checks.empty());
}

TEST_F(SetOutcome, WhatCantBeGivenIsNullWithAReason)
{
    Json json = job();
    for (Json& s : json["specimens"])
        s["readings"] = {{"force", {"10 N"}}, {"displacement", {"5 mm"}}};
    Job job;
    const JobOutcome outcome = worked(json, job);
    const Json j = resultsJson(job, outcome);
    EXPECT_TRUE(j["set"]["results"]["c_set"].is_null());
    EXPECT_EQ(j["set"]["remarks"][0]["symbols"][0], "c_set");
    EXPECT_EQ(outcome.setVerdict, Verdict::Open);
}

TEST_F(SetOutcome, APieceWithoutACurveIsReadAllTheSame)
{
    Job job;
    const JobOutcome outcome = worked(SetOutcome::job(), job);
    EXPECT_EQ(stepsDone(job.specimens[0], outcome.specimens[0], true), 3);
    EXPECT_FALSE(outcome.specimens[0].outcome->curve());
}

TEST_F(SetOutcome, ABoundIsMarkedAndMeetsOnlyWhatItLiesAbove)
{
    static const auto atLeast = [](const SpecimenInput& in) -> Expected<Outcome> {
        auto outcome = spring::evaluate(in);
        outcome->results[0].bound = Result::Bound::AtLeast;
        return outcome;
    };
    furtherMethods()[0].evaluate = atLeast;
    for (const auto& [limit, text, verdict] : {std::tuple("min", "1.9 N/mm", Verdict::Pass),
                                               {"min", "2.5 N/mm", Verdict::Open},
                                               {"max", "1.5 N/mm", Verdict::Fail},
                                               {"max", "5 N/mm", Verdict::Open}}) {
        Json json = job();
        json["requirements"] = Json::array({{{"symbol", "c"}, {limit, text}}});
        Job job;
        const JobOutcome outcome = worked(json, job);
        EXPECT_EQ(outcome.specimens[0].verdict, verdict) << limit << " " << text;
        EXPECT_EQ(resultsJson(job, outcome)["specimens"][0]["results"]["c"]["bound"], "at-least");
    }
}

TEST_F(SetOutcome, AnIntervalTakesThePlaceOfTheUncertainty)
{
    static const auto between = [](const SpecimenInput& in) -> Expected<Outcome> {
        auto outcome = spring::evaluate(in);
        outcome->results[0].interval = {1.8, 2.6};
        return outcome;
    };
    furtherMethods()[0].evaluate = between;
    Job job;
    const JobOutcome outcome = worked(SetOutcome::job(), job);
    const Json r = resultsJson(job, outcome)["specimens"][0]["results"]["c"];
    EXPECT_EQ(r["interval"], Json::parse("[1.8, 2.6]"));
    EXPECT_EQ(r["level"], 0.95);
    EXPECT_FALSE(r.contains("uncertainty"));
}

TEST_F(SetOutcome, AJobOfAMethodThatIsNotThereIsNamed)
{
    furtherMethods().clear();
    const auto read = readJob(job());
    ASSERT_FALSE(read);
    EXPECT_NE(read.problem().text().find("spring"), std::string::npos);
}

TEST(Views, TroublesAreNamed)
{
    const double nan = std::nan("");
    EXPECT_EQ(viewTroubles(ScatterView{}).size(), 1u);
    EXPECT_TRUE(viewTroubles(ScatterView{.points = {{.x = 1, .y = 1}}}).empty()) << "one point is a picture";
    const auto log = viewTroubles(
        ScatterView{.xAxis = {"cycles", Kind::Number, Scale::Log}, .points = {{.x = 0, .y = 1}, {.x = 10, .y = nan}}});
    ASSERT_EQ(log.size(), 2u);
    EXPECT_NE(log[0].find("1 of 2 figures of cycles have no place on a logarithmic scale"), std::string::npos)
        << log[0];
    EXPECT_NE(log[1].find("not numbers"), std::string::npos);
    EXPECT_EQ(viewTroubles(MapView{.points = {{.x = 1, .y = 1, .value = nan}}}).size(), 1u);
    EXPECT_EQ(viewTroubles(MatrixView{.xEdges = {0, 1}, .yEdges = {0, 1, 2}, .cells = {1}}).size(), 1u);
    EXPECT_TRUE(viewTroubles(MatrixView{.xEdges = {0, 1}, .yEdges = {0, 1, 2}, .cells = {1, 2}}).empty());
    EXPECT_EQ(
        viewTroubles(ScatterView{.yAxis = {"share", Kind::Number, Scale::Probit}, .points = {{.x = 1, .y = 1}}}).size(),
        1u);
}

} // namespace
} // namespace fortitor
