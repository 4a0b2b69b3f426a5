// SPDX-License-Identifier: GPL-3.0-or-later
// A check against a reference: errors by class, worked by hand.
#include "jobs/calibration.h"

#include "jobs/analysis.h"
#include "jobs/edits.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor {
namespace {

TEST(Calibration, ErrorsAndClassesByHand)
{
    // 10, 20, 50 kN in two series.
    const auto r = checkCalibration("force", "1",
                                    {{0, 4, 1},
                                     {10000, 10060, 1},
                                     {20000, 20090, 1},
                                     {50000, 50100, 1},
                                     {0, 6, 2},
                                     {10000, 10020, 2},
                                     {20000, 20010, 2},
                                     {50000, 50000, 2}});
    ASSERT_TRUE(r);
    ASSERT_EQ(r->steps.size(), 3u);
    EXPECT_NEAR(r->steps[0].relative, 0.004, 1e-12);
    EXPECT_NEAR(r->steps[0].repeatability, 0.004, 1e-12);
    EXPECT_NEAR(r->steps[2].error, 50, 1e-9);
    EXPECT_NEAR(r->zeroError, 0.0001, 1e-12);
    EXPECT_EQ(r->best, "0.5");
    EXPECT_TRUE(r->meets);
    EXPECT_NE(r->words.find("+0.40 %"), std::string::npos) << r->words;
}

TEST(Calibration, OneStepBeyondTheClassFailsIt)
{
    const auto r = checkCalibration("force", "1", {{10000, 10000}, {20000, 20240}, {50000, 50100}});
    ASSERT_TRUE(r);
    EXPECT_EQ(r->best, "2");
    EXPECT_FALSE(r->meets);
    EXPECT_EQ(r->steps[1].best, "2");
    const auto none = checkCalibration("force", "1", {{10000, 10000}, {20000, 21000}, {50000, 50100}});
    EXPECT_EQ(none->best, "");
    EXPECT_TRUE(none->words.starts_with("Meets no class"));
}

TEST(Calibration, AnExtensometerMayBeOffByThreeMicrometresOrOnePercent)
{
    // Class 1: 1 % or 3 µm, the greater.
    const auto r = checkCalibration("extensometer", "1", {{0.1, 0.1029}, {0.3, 0.303}, {1, 1.0099}});
    ASSERT_TRUE(r);
    EXPECT_TRUE(r->meets);
    EXPECT_FALSE(checkCalibration("extensometer", "1", {{0.1, 0.1031}, {0.3, 0.303}, {1, 1.0099}})->meets);
    EXPECT_FALSE(checkCalibration("extensometer", "1", {{0.1, 0.1}, {0.3, 0.3}, {1, 1.011}})->meets);
}

TEST(Calibration, WhatCantBeCheckedIsNamed)
{
    EXPECT_FALSE(checkCalibration("force", "1", {{10000, 10000}, {20000, 20000}}));
    EXPECT_FALSE(checkCalibration("force", "1", {{10000, std::nan("")}, {20000, 20000}, {3, 3}}));
    EXPECT_FALSE(checkCalibration("force", "1", {{-10000, -10000}, {20000, 20000}, {3, 3}}));
    EXPECT_FALSE(checkCalibration("thermometer", "1", {{1, 1}, {2, 2}, {3, 3}}));
    EXPECT_FALSE(checkCalibration("force", "1", {}));
    EXPECT_FALSE(checkCalibration("force", "1", {{0, 0}, {0, 0}, {0, 0}}));
}

TEST(Calibration, OverdueOrFailedIsTrouble)
{
    Json body{{"name", "cell K-50"}};
    EXPECT_FALSE(calibrationTrouble(body, "", "2026-05-01"));
    EXPECT_FALSE(calibrationTrouble(body, "2026-05-01", "2026-05-01"));
    EXPECT_EQ(calibrationTrouble(body, "2026-04-30", "2026-05-01")->code, "calibration-overdue");
    const auto bad = checkCalibration("force", "1", {{10000, 10000}, {20000, 21000}, {50000, 50100}});
    body["checks"].push_back(checkJson(*bad, "force", "1", {{10000, 10000}}, "2026-05-01", "operator A"));
    EXPECT_EQ(calibrationTrouble(body, "2027-04-30", "2026-05-01")->code, "calibration-failed");
    const auto good = checkCalibration("force", "1", {{10000, 10000}, {20000, 20000}, {50000, 50100}});
    body["checks"].push_back(checkJson(*good, "force", "1", {{10000, 10000}}, "2026-05-02", "operator A"));
    EXPECT_FALSE(calibrationTrouble(body, "2027-04-30", "2026-05-03")) << "the last one counts";
    EXPECT_EQ(body["checks"].size(), 2u);
}

TEST(Calibration, ResultsCarryWhatStoodAgainstTheInstrument)
{
    auto job = readJob(Json::parse(
        R"({"fortitor_job":1,"job":{"number":"J-1"},"method":"tension-metal","specimens":[{"label":"A1"}]})"));
    ASSERT_TRUE(job) << job.problem().text();
    const auto remarksWith = [&](const char* code) {
        auto record = std::make_shared<Record>();
        record->add("time");
        record->add("force");
        record->events.push_back({0, code, "cell K-50: its calibration ran out on 2026-01-02"});
        const auto out = analyseSpecimen(job->specimens[0], *job, record);
        std::vector<Remark> found;
        for (const Remark& r : out.outcome->remarks)
            if (r.text.find("K-50") != std::string::npos)
                found.push_back(r);
        return found;
    };
    ASSERT_EQ(remarksWith("calibration-overdue").size(), 1u);
    EXPECT_EQ(remarksWith("calibration-overdue")[0].severity, Severity::Caution);
    EXPECT_EQ(remarksWith("calibration-failed")[0].severity, Severity::Reject);
    EXPECT_EQ(remarksWith("gap")[0].code, "record-gap");
    EXPECT_TRUE(remarksWith("start").empty());
}

TEST(Limits, TheJobsOwnAreTakenButNeverAStrongerForce)
{
    auto document = JobDocument::fromJson(edits::newJob("J-2", "t", *findMethod("tension-metal"), 1));
    ASSERT_TRUE(document);
    EXPECT_FALSE(edits::limit(*document, "force", "60 kN", 40000)) << "above the weakest link";
    EXPECT_FALSE(edits::limit(*document, "travel", "-3 mm"));
    EXPECT_FALSE(edits::limit(*document, "time", "soon"));
    for (const auto& [key, text] :
         {std::pair{"force", "30 kN"}, {"travel", "12"}, {"force_drop", "25 %"}, {"time", "5 min"}}) {
        auto command = edits::limit(*document, key, text, std::string_view(key) == "force" ? 40000 : 0);
        ASSERT_TRUE(command) << key << command.problem().text();
        ASSERT_TRUE(document->apply(*command));
    }
    StopLimits limits{.force = 40000, .extension = 25, .travel = 20, .forceDrop = 0.4, .time = 900};
    edits::applyLimits(document->json(), Kind::Force, limits);
    EXPECT_EQ(limits.force, 30000);
    EXPECT_EQ(limits.travel, 12);
    EXPECT_EQ(limits.forceDrop, 0.25);
    EXPECT_EQ(limits.time, 300);
    EXPECT_EQ(limits.extension, 25);
    // A smaller link since then: its capacity holds, not the older figure.
    StopLimits weak{.force = 20000};
    edits::applyLimits(document->json(), Kind::Force, weak);
    EXPECT_EQ(weak.force, 20000);
    ASSERT_TRUE(document->apply(*edits::limit(*document, "force", "")));
    EXPECT_FALSE(document->json()["limits"].contains("force"));
    EXPECT_TRUE(document->job().notes.empty()) << "limits are a known part of a job";
}

} // namespace
} // namespace fortitor
