// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/analysis.h"
#include "jobs/comparison.h"

#include <gtest/gtest.h>

namespace fortitor {
namespace {

Outcome outcomeWith(const char* symbol, std::optional<double> value)
{
    Outcome o;
    o.results.push_back({symbol, findUnit("MPa"), value, {}, {}, {}});
    return o;
}

TEST(Comparison, GroupsDifferencesAndGaps)
{
    const Outcome a1 = outcomeWith("Rm", 300), a2 = outcomeWith("Rm", 302), b1 = outcomeWith("Rm", 310),
                  b2 = outcomeWith("Rm", 312), gap = outcomeWith("Rm", std::nullopt);
    const Comparison c =
        compareGroups({{"A", "A1", &a1}, {"A", "A2", &a2}, {"B", "B1", &b1}, {"B", "B2", &b2}, {"B", "B3", &gap}});
    ASSERT_EQ(c.groups.size(), 2u);
    ASSERT_EQ(c.figures.size(), 1u);
    EXPECT_EQ(c.figures[0].groups[1].n, 2u);
    ASSERT_TRUE(c.figures[0].against[1]);
    EXPECT_NEAR(c.figures[0].against[1]->difference, 10, 1e-12);
    EXPECT_FALSE(c.figures[0].against[0]);
    const std::string csv = comparisonCsv(c, {{"A", "A1", &a1}, {"B", "B3", &gap}});
    EXPECT_NE(csv.find("\"A1\",\"A\",300"), std::string::npos);
    EXPECT_NE(csv.find("\"B3\",\"B\",\n"), std::string::npos);
}

TEST(Comparison, AFigureOfOneGroupOnlyIsLeftOut)
{
    const Outcome a = outcomeWith("Rm", 300), b = outcomeWith("sigma_m", 50);
    EXPECT_TRUE(compareGroups({{"A", "A1", &a}, {"B", "B1", &b}}).figures.empty());
    EXPECT_EQ(compareGroups({{"A", "A1", &a}}).figures.size(), 1u);
}

TEST(ScatterSentence, NamesTheGreatestSource)
{
    SetFigure f;
    EXPECT_TRUE(scatterSentence(f).empty());
    f.sources = {{"operator", {2, 0.5, 0.6, 0, 1}}, {"batch", {2, 9, 0.001, 0.2, 0.8}}};
    EXPECT_EQ(scatterSentence(f),
              "Most of the scatter is between pieces, not between operators (0 %, no more than chance), nor between "
              "batches (20 %).");
    f.sources[1].second.between = 3.2;
    EXPECT_EQ(scatterSentence(f),
              "Most of the scatter (80 %) is between batches, not between operators (0 %, no more than chance).");
}

TEST(SetOfManySpecimens, LeavesTheSetByRuleAndSpeaksByName)
{
    const auto json =
        parseJson(R"({"fortitor_job":1,"job":{"number":"J-1","title":"t"},"method":"flatwise-tension","specimens":[
        {"label":"W1","dimensions":{"width":"50 mm","length":"50 mm","thickness":["14.02 mm","14.05 mm"]},
          "notes":{"failure_place":"block adhesive"},"readings":{"force":["0 N","1000 N","2000 N","3000 N","10 N"]}},
        {"label":"W2","dimensions":{"width":"50.1 mm","length":"50.2 mm","thickness":["14.02 mm","14.05 mm"]},
          "notes":{"failure_place":"core"},"readings":{"force":["0 N","1000 N","2000 N","3100 N","10 N"]}}]})",
                  "job");
    ASSERT_TRUE(json);
    const auto job = readJob(*json);
    ASSERT_TRUE(job) << job.problem().text();
    const JobOutcome out = analyseJob(*job, ".", false);
    EXPECT_FALSE(out.specimens[0].excludedBecause.empty());
    EXPECT_EQ(out.specimens[0].verdict, Verdict::Open);
    EXPECT_TRUE(out.specimens[1].excludedBecause.empty());
    const auto f = std::ranges::find(out.batch, "Fz_tu", &SetFigure::symbol);
    ASSERT_NE(f, out.batch.end());
    EXPECT_EQ(f->statistics.n, 1u);
    const Json results = resultsJson(*job, out);
    EXPECT_TRUE(results["specimens"][0].contains("excluded"));
    EXPECT_TRUE(results["specimens"][1]["results"].contains("E_z"));
}

TEST(JobsOfOtherMethods, ShapesStatesAndPublishedValuesAreUnderstood)
{
    const auto json = parseJson(R"({"fortitor_job":1,"job":{"number":"J-1","title":"t"},"method":"tension-plastic",
        "material":{"name":"own resin","direction":"across 90°","conditioning":"23 °C","published":{"E":"3 GPa",
          "Rm":"50 MPa"}},
        "instruments":{"extensometer":{"name":"X","travel":"5 mm"}},
        "specimens":[{"label":"P1","dimensions":{"width":"10 mm","thickness":"4 mm"}},{"label":"P2",
          "dimensions":{"diameter":"6 mm"},"notes":{"direction":"along 0°"}}]})",
                                "job");
    ASSERT_TRUE(json);
    const auto job = readJob(*json);
    ASSERT_TRUE(job) << job.problem().text();
    EXPECT_EQ(job->specimens[0].input.shape, "rectangular");
    EXPECT_EQ(job->specimens[1].input.shape, "round");
    EXPECT_EQ(job->specimens[0].input.notes.at("direction"), "across 90°");
    EXPECT_EQ(job->specimens[1].input.notes.at("direction"), "along 0°");
    EXPECT_EQ(job->specimens[0].input.published.at("E"), 3000);
    EXPECT_EQ(job->specimens[0].input.instruments.extensionTravel, 5);
    EXPECT_TRUE(job->notes.empty());
}

TEST(JobsOfOtherMethods, ASetLetsTheRuleBeOverruledByAPerson)
{
    const auto json =
        parseJson(R"({"fortitor_job":1,"job":{"number":"J-1","title":"t"},"method":"flatwise-tension","specimens":[
        {"label":"W1","dimensions":{"width":"50 mm","length":"50 mm","thickness":"14 mm"},
          "notes":{"failure_place":"block adhesive"},"settled":[{"code":"adhesive-failure","who":"operator A",
          "why":"wanted as a lower bound","when":"2026-11-25"}],
         "readings":{"force":["0 N","1000 N","2000 N","3000 N","10 N"]}}]})",
                  "job");
    ASSERT_TRUE(json);
    const auto job = readJob(*json);
    ASSERT_TRUE(job) << job.problem().text();
    EXPECT_TRUE(analyseJob(*job, ".", false).specimens[0].excludedBecause.empty());
}

} // namespace
} // namespace fortitor
