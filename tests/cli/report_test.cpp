// SPDX-License-Identifier: GPL-3.0-or-later
// The report from the command line: no display, no logbook.
#include "cli_run.h"

#include <cmath>

namespace fortitor {
namespace {

class CliReport : public test::Cli {
protected:
    /// The words of the report, as a reader finds them.
    std::string words(const std::string& pdf)
    {
        const std::string command =
            "pdftotext -layout '" + (folder / pdf).string() + "' '" + (folder / "words.txt").string() + "' 2>/dev/null";
        EXPECT_EQ(std::system(command.c_str()), 0) << pdf;
        return text("words.txt");
    }
};

TEST_F(CliReport, AJobBecomesAPdfWithItsFigures)
{
    simulate();
    ::unsetenv("DISPLAY");
    ASSERT_EQ(run("report job.json --pdf r.pdf --laboratory 'Skerrow Bench, upper floor'"), 0) << text("err.txt");
    ASSERT_EQ(text("r.pdf").substr(0, 5), "%PDF-");
    const std::string told = words("r.pdf");
    EXPECT_NE(told.find("Skerrow Bench, upper floor"), std::string::npos);
    EXPECT_NE(told.find("MPa"), std::string::npos);
    // The same figure as the results say, as it is rounded there.
    ASSERT_EQ(run("analyse job.json --out r.json"), 0);
    const double Rm = json("r.json")["specimens"][0]["results"]["Rm"]["value"];
    EXPECT_NE(told.find(std::to_string(std::lround(Rm))), std::string::npos) << Rm << told;
    const auto plain = fs::file_size(folder / "r.pdf");
    ASSERT_EQ(run("report job.json --pdf whole.pdf --derivations"), 0);
    EXPECT_GT(fs::file_size(folder / "whole.pdf"), plain);
}

TEST_F(CliReport, WhatIsWrongIsNamedAndAnOlderReportStays)
{
    put("r.pdf", "older");
    EXPECT_EQ(run("report job.json --pdf r.pdf"), 3);
    EXPECT_NE(text("err.txt").find("job.json"), std::string::npos);
    put("job.json", R"({"fortitor_job": 1, "method": "tension-metal", "specimens": []})");
    EXPECT_EQ(run("report job.json --pdf r.pdf"), 3);
    EXPECT_EQ(text("r.pdf"), "older");
    simulate();
    EXPECT_EQ(run("report job.json --pdf nowhere/r.pdf"), 1);
    EXPECT_NE(text("err.txt").find("nowhere"), std::string::npos) << text("err.txt");
    EXPECT_EQ(run("report job.json"), 2);
}

} // namespace
} // namespace fortitor
