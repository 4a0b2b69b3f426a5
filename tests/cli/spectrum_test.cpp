// SPDX-License-Identifier: GPL-3.0-or-later
// Load histories and S–N lines on the command line.
#include "cli/cli_run.h"

#include <cmath>

namespace {

using fortitor::test::Cli;
using fortitor::test::Json;

class CliSpectrum : public Cli {
protected:
    void SetUp() override
    {
        Cli::SetUp();
        std::vector<float> x;
        unsigned state = 1;
        for (int i = 0; i < 120'000; ++i) {
            state = state * 1664525U + 1013904223U;
            const double noise = (static_cast<double>(state >> 8) / (1 << 24) - 0.5) * 10;
            x.push_back(static_cast<float>(90 * std::sin(3.1 * i / 50) * (0.6 + 0.4 * std::sin(i / 3000.0)) + noise));
        }
        write("h.f32", x);
        write("a.f32", {x.begin(), x.begin() + 50'000});
        write("b.f32", {x.begin() + 50'000, x.end()});
    }
    void write(const char* name, const std::vector<float>& x)
    {
        std::ofstream(folder / name, std::ios::binary)
            .write(reinterpret_cast<const char*>(x.data()), static_cast<std::streamsize>(x.size() * sizeof(float)));
    }
};

TEST_F(CliSpectrum, AHistoryToItsResults)
{
    ASSERT_EQ(run("spectrum h.f32 --rate '50 Hz' --modulus '210 GPa' --class '71 MPa' --out r.json"), 0)
        << text("err.txt");
    const Json r = json("r.json");
    EXPECT_EQ(r["fortitor_spectrum"], 1);
    EXPECT_EQ(r["samples"], 120'000);
    EXPECT_EQ(r["rate_hz"], 50);
    EXPECT_EQ(r["unit"], "MPa");
    EXPECT_EQ(r["histogram"].size(), 64u);
    EXPECT_EQ(r["exceedance"][0]["chance"], 1.0);
    EXPECT_EQ(r["exceedance_all"].size(), 64u);
    EXPECT_EQ(r["transitions"]["levels"].size(), 64u);
    EXPECT_EQ(r["transitions"]["peak_to_valley"].size(), 64u);
    EXPECT_NEAR(r["range_max"].get<double>(), 2 * 90e-6 * 210e3, 2);
    EXPECT_GT(r["damage"].get<double>(), 0);
    EXPECT_TRUE(r["remarks"].is_array());
    // Any number of threads, several files as one: the same bytes.
    const std::string one = text("r.json");
    for (const char* other : {"h.f32 --threads 1", "h.f32 --threads 7", "a.f32 b.f32"}) {
        ASSERT_EQ(run(std::string("spectrum ") + other
                      + " --rate '50 Hz' --modulus '210 GPa' --class '71 MPa' --out o.json"),
                  0);
        EXPECT_EQ(text("o.json"), one) << other;
    }
    // As text it is the same history.
    std::ofstream csv(folder / "h.csv");
    csv << "time (s),gauge (ue)\n";
    std::ifstream raw(folder / "h.f32", std::ios::binary);
    float value = 0;
    for (int i = 0; raw.read(reinterpret_cast<char*>(&value), sizeof value); ++i) {
        char line[64];
        std::snprintf(line, sizeof line, "%.2f,%.9g\n", i * 0.02, static_cast<double>(value));
        csv << line;
    }
    csv.close();
    ASSERT_EQ(run("spectrum h.csv --modulus '210 GPa' --class '71 MPa' --out t.json"), 0) << text("err.txt");
    EXPECT_EQ(json("t.json")["cycles"], r["cycles"]);
    EXPECT_NEAR(json("t.json")["damage"].get<double>() / r["damage"].get<double>(), 1, 1e-9);
}

TEST_F(CliSpectrum, ARandomHistoryWithTheSameTransitions)
{
    ASSERT_EQ(run("spectrum h.f32 --rate '50 Hz' --out r.json --synthesise s.csv --count 5000 --seed 3"), 0)
        << text("err.txt");
    const std::string first = text("s.csv");
    EXPECT_EQ(std::count(first.begin(), first.end(), '\n'), 5001);
    ASSERT_EQ(run("spectrum h.f32 --rate '50 Hz' --out r.json --synthesise s.csv --count 5000 --seed 3"), 0);
    EXPECT_EQ(text("s.csv"), first);
    EXPECT_EQ(run("spectrum h.f32 --rate '50 Hz' --out r.json --synthesise s.csv --count 1"), 3);
}

TEST_F(CliSpectrum, StretchesWorkedApartAreMerged)
{
    const std::string how = " --rate '50 Hz' --modulus '210 GPa' --class '71 MPa' --detrend none ";
    ASSERT_EQ(run("spectrum h.f32 --out whole.json" + how), 0);
    ASSERT_EQ(run("spectrum a.f32 --partial --after b.f32 --out a.json" + how), 0) << text("err.txt");
    ASSERT_EQ(run("spectrum b.f32 --partial --before a.f32 --out b.json" + how), 0) << text("err.txt");
    int code = run("spectrum merge a.json b.json --out both.json");
    if (code == 3) { // it says with which limit both see the same spikes
        const std::string said = text("err.txt");
        const size_t at = said.find("--spike-limit ");
        ASSERT_NE(at, std::string::npos) << said;
        const std::string limit = " " + said.substr(at, said.find_first_of("\n", at) - at);
        const std::string bare = limit.substr(0, limit.find_last_not_of(".\n ") + 1);
        ASSERT_EQ(run("spectrum a.f32 --partial --after b.f32 --out a.json" + how + bare), 0) << text("err.txt");
        ASSERT_EQ(run("spectrum b.f32 --partial --before a.f32 --out b.json" + how + bare), 0);
        code = run("spectrum merge a.json b.json --out both.json");
    }
    ASSERT_EQ(code, 0) << text("err.txt");
    const Json whole = json("whole.json"), both = json("both.json");
    for (const char* key : {"samples", "repaired", "turning_points", "cycles"})
        EXPECT_EQ(both[key], whole[key]) << key;
    EXPECT_NEAR(both["damage"].get<double>() / whole["damage"].get<double>(), 1, 1e-9);
    EXPECT_EQ(both["transitions"]["peak_to_valley"], whole["transitions"]["peak_to_valley"]);
    EXPECT_EQ(run("spectrum merge a.json a.json --out both.json"), 3); // its neighbours were others
    EXPECT_EQ(run("spectrum merge a.json whole.json --out both.json"), 3);
    EXPECT_EQ(run("spectrum b.f32 --before a.f32 --out b.json" + how), 3); // not without --partial
    EXPECT_EQ(run("spectrum --out b.json"), 2);
}

TEST_F(CliSpectrum, WhatIsWrongIsNamed)
{
    put("cut.f32", "abcdefg");
    for (const char* wrong :
         {"h.f32", "h.f32 --rate '0 Hz'", "h.f32 --rate '5 kN'", "cut.f32 --rate '50 Hz'", "nowhere.f32 --rate '50 Hz'",
          "h.f32 --rate '50 Hz' --cut '0 MPa'", "h.f32 --rate '50 Hz' --cut '9000 ue'",
          "h.f32 --rate '50 Hz' --low-pass '30 Hz'", "h.f32 --rate '50 Hz' --detrend '5 mm'",
          "h.f32 --rate '50 Hz' --spikes maybe", "h.f32 --rate '50 Hz' --residue some", "h.f32 --rate '50 Hz' --bins 0",
          "h.f32 --rate '50 Hz' --below somewhere", "h.f32 --rate '50 Hz' --unit kN", "h.f32 --rate '50 Hz' --slope 0",
          "h.f32 --rate '50 Hz' --format hdf5", "h.f32 --rate '50 Hz' --format tape"}) {
        EXPECT_EQ(run(std::string("spectrum --out r.json ") + wrong), 3) << wrong;
        EXPECT_GT(text("err.txt").size(), 20u) << wrong;
        EXPECT_FALSE(std::filesystem::exists(folder / "r.json")) << wrong;
    }
    write("level.f32", std::vector<float>(500, 4.0F));
    EXPECT_EQ(run("spectrum level.f32 --rate '50 Hz' --out r.json"), 4); // nothing moves
}

TEST_F(Cli, AnSnLineFromSimulatedPieces)
{
    ASSERT_EQ(run("simulate --specimen rigger-lug --seed 3 --out f.csv --job job.json"), 0) << text("err.txt");
    ASSERT_EQ(run("analyse job.json --out r.json"), 0) << text("err.txt");
    const Json set = json("r.json")["set"]["results"];
    EXPECT_NEAR(set["m"]["value"].get<double>(), json("job.json")["truth"]["m"]["value"].get<double>(), 0.6);
    EXPECT_EQ(set["S_char"]["unit"], "MPa");
    EXPECT_TRUE(set["S_mean"].is_null());
    Json job = json("job.json");
    job["options"]["slope"] = "fixed 3";
    put("job.json", job.dump());
    ASSERT_EQ(run("analyse job.json --out r.json"), 0);
    EXPECT_EQ(json("r.json")["set"]["results"]["m"]["value"], 3.0);
}

/// A job of a history, of blocks, and of a piece that was watched: as other programs hand them over.
TEST_F(CliSpectrum, JobsOfTheFatigueLaboratory)
{
    ASSERT_EQ(run("simulate --specimen rowing-history --hours 7 --seed 2 --out row.f32"), 0);
    put("block.csv", "cycles,range (MPa)\n1000,80\n10,160\n");
    std::ostringstream csv;
    csv << "cycles,strain (ue),potential (mV)\n";
    for (int i = 0; i < 2000; ++i) {
        const double grown = std::max(0, i - 1200) / 100.0, noise = (i * 7919 % 13 - 6) / 3.0;
        csv << 100 * i << "," << 800 + noise + 40 * grown << "," << 10 + grown * 0.5 + noise / 300 << "\n";
    }
    put("crack.csv", csv.str());
    put("w.json", R"({"fortitor_job": 1, "method": "spectrum",
        "options": {"class": "71 MPa", "modulus": "210 GPa"},
        "specimens": [{"label": "W1", "history": {"files": ["row.f32"], "rate": "200 Hz"}}]})");
    put("v.json", R"({"fortitor_job": 1, "method": "fatigue-sn",
        "options": {"kind": "variable", "block": "block.csv", "class": "71 MPa", "slope": "fixed 3"},
        "specimens": [{"label": "V1", "readings": {"blocks": ["800"]}, "notes": {"outcome": "broken"}}]})");
    put("c.json", R"({"fortitor_job": 1, "method": "fatigue-sn",
        "options": {"potential_calibration": "1: 1; 1.5: 11", "geometry_factor": "1: 1.1; 20: 1.1"},
        "specimens": [{"label": "L1", "readings": {"range": ["120 MPa"], "cycles": ["200000"]},
                       "notes": {"outcome": "broken", "ratio": "0.1"}, "record": {"file": "crack.csv"}}]})");
    const auto result = [&](const char* job, const char* symbol) {
        EXPECT_EQ(run(std::string("analyse ") + job + " --out o.json"), 0) << text("err.txt");
        const Json out = json("o.json");
        const Json& results = out["specimens"][0]["results"];
        return results.contains(symbol) && results[symbol]["value"].is_number() ? results[symbol]["value"].get<double>()
                                                                                : std::nan("");
    };
    EXPECT_GT(result("w.json", "damage"), 0);
    EXPECT_GT(result("w.json", "equivalent_range"), 10);
    // 80 and 160 MPa lie above the knee.
    const double each = 1000 * std::pow(80.0 / 71, 3) / 2e6 + 10 * std::pow(160.0 / 71, 3) / 2e6;
    EXPECT_NEAR(result("v.json", "damage_sum"), 800 * each, 5e-4);
    EXPECT_EQ(result("v.json", "S"), 160);
    EXPECT_NEAR(result("c.json", "N_start"), 120000, 3000);
    EXPECT_GT(result("c.json", "C"), 0);
    EXPECT_FALSE(std::isnan(result("c.json", "m_paris")));
    // From a field of displacements to such a record.
    std::ostringstream field;
    field << "cycles,x,y,u,v\n";
    for (int n = 0; n < 3; ++n)
        for (int x = 0; x < 3; ++x)
            for (int y = 0; y < 3; ++y)
                field << n << "," << x << "," << y << ",0," << 0.001 * y * (n + 1) << "\n";
    put("field.csv", field.str());
    ASSERT_EQ(run("field field.csv --toe 'y = 1 mm' --length '1 mm' --along '0.5, 1.5 mm' --out strain.csv"), 0)
        << text("err.txt");
    EXPECT_NE(text("strain.csv").find("strain"), std::string::npos);
    EXPECT_EQ(run("field field.csv --toe 'q = 1' --along '1'"), 3);
    EXPECT_EQ(run("field field.csv"), 2);
}

} // namespace
