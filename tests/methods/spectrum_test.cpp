// SPDX-License-Identifier: GPL-3.0-or-later
// A load history as a test method: its figures by hand, its options, what is missing or wrong is named.
#include "jobs/analysis.h"
#include "methods/spectrum/spectrum.h"

#include <gtest/gtest.h>

#include <unistd.h>

#include <cmath>
#include <filesystem>
#include <fstream>
#include <numbers>

namespace fortitor::spectrum_test {
namespace {

namespace fs = std::filesystem;

class SpectrumMethod : public testing::Test {
protected:
    void SetUp() override
    {
        folder = fs::temp_directory_path() / ("fortitor-spectrum-" + std::to_string(::getpid()));
        fs::create_directories(folder);
        // 100 µε at 0.5 Hz for two hours, and a slow warmth.
        std::vector<float> values;
        for (int i = 0; i < 2 * 3600 * 50; ++i)
            values.push_back(static_cast<float>(100 * std::sin(2 * std::numbers::pi * 0.5 * i / 50.0)));
        write("even.f32", values);
        job = *parseJson(
            R"({"fortitor_job": 1, "method": "spectrum", "options": {"class": "71 MPa", "modulus": "200 GPa"},
            "specimens": [{"label": "W1", "history": {"files": ["even.f32"], "rate": "50 Hz"}}]})",
            "job");
    }
    void TearDown() override { fs::remove_all(folder); }
    void write(const char* name, const std::vector<float>& values)
    {
        std::ofstream(folder / name, std::ios::binary)
            .write(reinterpret_cast<const char*>(values.data()),
                   static_cast<std::streamsize>(values.size() * sizeof(float)));
    }
    SpecimenOutcome first()
    {
        const auto read = readJob(job);
        EXPECT_TRUE(read) << read.problem().text();
        return read ? analyseJob(*read, folder.string(), false).specimens.at(0) : SpecimenOutcome{};
    }
    double valueOf(const SpecimenOutcome& out, const char* symbol)
    {
        const Result* r = out.outcome ? out.outcome->find(symbol) : nullptr;
        EXPECT_TRUE(r && r->value) << symbol << (out.problem ? out.problem->text() : "");
        return r && r->value ? *r->value : NAN;
    }
    fs::path folder;
    Json job;
};

TEST_F(SpectrumMethod, AnEvenWaveByHand)
{
    job["options"]["detrend"] = "none";
    job["options"]["low_pass"] = "none";
    const SpecimenOutcome out = first();
    // 200 µε of range times 200 GPa is 40 MPa; 3600 cycles, the first and last a quarter each.
    EXPECT_NEAR(valueOf(out, "range_max"), 40, 0.01);
    EXPECT_NEAR(valueOf(out, "cycles"), 3600, 1);
    const double knee = 71 * std::cbrt(2.0 / 5), each = std::pow(40 / knee, 5) / 5e6;
    EXPECT_NEAR(valueOf(out, "damage") / (3600 * each), 1, 1e-3);
    EXPECT_NEAR(valueOf(out, "life"), 7200 / (3600 * each), 2e3 / each * 1e-3);
    EXPECT_NEAR(valueOf(out, "equivalent_range"), 40, 0.02);
    EXPECT_EQ(valueOf(out, "damage_cut_share"), 0);
    EXPECT_GE(out.outcome->views.size(), 5u);
    for (const View& view : out.outcome->views)
        EXPECT_TRUE(viewTroubles(view).empty()) << viewName(view) << ": " << viewTroubles(view).front();
    // Half of the power is left at the corner that is asked for.
    job["options"]["low_pass"] = "0.5 Hz";
    EXPECT_NEAR(valueOf(first(), "equivalent_range"), 40 / std::sqrt(2), 0.03);
}

TEST_F(SpectrumMethod, StrainsHaveRangesAndNoDamage)
{
    job["options"].erase("modulus");
    const SpecimenOutcome out = first();
    EXPECT_FALSE(out.outcome->find("damage")->value);
    EXPECT_FALSE(out.outcome->find("life")->value);
    EXPECT_EQ(out.outcome->find("range_max")->unit->symbol, "ue");
    EXPECT_NEAR(*out.outcome->find("range_max")->shown(), 200, 0.5);
    EXPECT_TRUE(out.outcome->remarked("not-applicable"));
}

TEST_F(SpectrumMethod, WhatIsMissingOrWrongIsNamed)
{
    const auto problem = [&](const char* option, const char* value) {
        Json kept = job;
        job["options"][option] = value;
        const auto out = first();
        job = kept;
        return out.problem ? out.problem->text() : std::string();
    };
    EXPECT_NE(problem("low_pass", "40 Hz").find("Low-pass"), std::string::npos) << problem("low_pass", "40 Hz");
    EXPECT_NE(problem("cut", "0 MPa").find("Cut"), std::string::npos);
    EXPECT_NE(problem("cut", "900 MPa").find("Cut"), std::string::npos) << problem("cut", "900 MPa");
    EXPECT_NE(problem("slope", "steep").find("Slope"), std::string::npos);
    EXPECT_NE(problem("residue", "twice").find("twice"), std::string::npos);
    Json& history = job["specimens"][0]["history"];
    history["files"] = Json::array({"gone.f32"});
    EXPECT_NE(first().problem->text().find("gone.f32"), std::string::npos);
    history["files"] = Json::array({"../even.f32"});
    EXPECT_NE(first().problem->text().find("outside"), std::string::npos) << first().problem->text();
    history["files"] = Json::array({"even.f32"});
    history.erase("rate");
    EXPECT_NE(first().problem->text().find("rate"), std::string::npos);
    history["rate"] = "fast";
    EXPECT_NE(first().problem->text().find("fast"), std::string::npos);
    job["specimens"][0].erase("history");
    EXPECT_FALSE(first().outcome->find("damage")->value);
    for (const char* bad : {R"({"files": []})", R"({"files": [3]})", R"("even.f32")", R"({"rate": "50 Hz"})"}) {
        job["specimens"][0]["history"] = Json::parse(bad);
        EXPECT_FALSE(readJob(job)) << bad;
    }
}

TEST_F(SpectrumMethod, AFileThatChangedIsReadAnew)
{
    const double before = valueOf(first(), "range_max");
    write("even.f32", {0, 10, 0, 10, 0, 30, 0});
    fs::last_write_time(folder / "even.f32", fs::last_write_time(folder / "even.f32") + std::chrono::seconds(3));
    job["options"]["detrend"] = "none";
    job["options"]["low_pass"] = "none";
    job["options"]["spikes"] = "off";
    EXPECT_NEAR(valueOf(first(), "range_max"), 30e-6 * 200e3, 1e-6);
    EXPECT_NE(before, 6);
}

TEST_F(SpectrumMethod, HistoriesOfAJobAddUp)
{
    job["specimens"].push_back(job["specimens"][0]);
    job["specimens"][1]["label"] = "W2";
    const auto read = readJob(job);
    const JobOutcome out = analyseJob(*read, folder.string(), false);
    ASSERT_TRUE(out.set);
    EXPECT_NEAR(*out.set->find("damage_all")->value, 2 * *out.specimens[0].outcome->find("damage")->value, 1e-15);
    job["specimens"][1].erase("history");
    const JobOutcome half = analyseJob(*readJob(job), folder.string(), false);
    EXPECT_FALSE(half.set && half.set->find("damage_all")->value) << "one history has no damage";
}

TEST(ChainTrials, AreOtherThanWhatStands)
{
    for (const ChainBox& box : chainBoxes())
        for (const auto& options : {std::map<std::string, std::string>{},
                                    {{"low_pass", "none"}, {"detrend", "none"}, {"cut", "none"}, {"spikes", "off"}}})
            for (const ChainTrial& trial : chainTrials(box, options)) {
                auto with = options;
                with[trial.option] = trial.value;
                EXPECT_TRUE(spectrumSettings(with)) << trial.option << " " << trial.value;
                EXPECT_NE(with, options);
                EXPECT_FALSE(trial.words.empty());
            }
    EXPECT_EQ(chainTrials(chainBoxes()[3], {{"low_pass", "4 Hz"}})[0].value, "2 Hz");
}

} // namespace
} // namespace fortitor::spectrum_test
