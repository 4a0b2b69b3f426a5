// SPDX-License-Identifier: GPL-3.0-or-later
// Hardness from the job file to the results: every way of reading, what is set aside, traverse, blocks, old records.
#include "jobs/analysis.h"
#include "jobs/single_readings.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

namespace fortitor::hardness_job_test {
namespace {

/// A job of one piece, or more, from its options and specimens.
Json jobText(const std::string& options, const std::string& specimens, const std::string& material = "C45")
{
    return *parseJson(fmt::format(R"({{"fortitor_job": 1, "job": {{"number": "J-9"}}, "method": "hardness",
        "material": {{"name": "{}"}}, "options": {{{}}}, "specimens": [{}]}})",
                                  material, options, specimens),
                      "job");
}

Json analysed(const Json& body)
{
    const auto job = readJob(body);
    EXPECT_TRUE(job) << (job ? "" : job.problem().text());
    return job ? resultsJson(*job, analyseJob(*job, ".", false)) : Json{};
}

Json pieceOf(const std::string& options, const std::string& piece, const std::string& material = "C45")
{
    return analysed(jobText(options, piece, material))["specimens"][0];
}

double value(const Json& piece, const char* symbol)
{
    const Json& r = piece["results"][symbol];
    EXPECT_FALSE(r.is_null()) << symbol << piece.dump(1);
    return r.is_null() ? std::nan("") : r["value"].get<double>();
}

bool says(const Json& remarks, const std::string& code, const std::string& severity = {})
{
    return std::ranges::any_of(remarks, [&](const Json& r) {
        return r["code"] == code && (severity.empty() || r["severity"] == severity);
    });
}

std::string problemOf(const Json& body)
{
    const auto job = readJob(body);
    if (!job)
        return job.problem().text();
    const auto out = analyseJob(*job, ".", false);
    return out.specimens[0].problem ? out.specimens[0].problem->text() : std::string();
}

const char* const hv1 = R"("scale": "HV", "force": "9.807 N")";

TEST(HardnessJob, EveryWayOfReadingGivesItsWorkedFigure)
{
    const struct {
        const char* options;
        const char* readings;
        double wanted;
        double within;
        const char* notation;
    } cases[] = {
        {R"("scale": "HRC")", R"("depth": ["0.112 mm"])", 44.0, 1e-9, "44.0 HRC"},
        {R"("scale": "HRB")", R"("value": ["85 HRB"])", 85.0, 0, "85.0 HRBW"},
        {R"("scale": "HBW", "force": "29.42 kN", "ball": "10 mm")",
         R"("diameter_1": ["4.12 mm"], "diameter_2": ["4.12 mm"])", 215.0953, 1e-3, "215 HBW 10/3000"},
        {R"("scale": "HBW", "force": "1839 N", "ball": "2.5 mm", "dwell": "20 s")",
         R"("diameter_1": ["0.912 mm"], "diameter_2": ["0.918 mm"])", 275.4, 0.05, "275 HBW 2.5/187.5/20"},
        {R"("scale": "HV", "force": "10 kgf")", R"("diagonal_1": ["235.0 um"], "diagonal_2": ["0.2370 mm"])", 333.0,
         0.1, "333 HV 10"},
        {R"("scale": "HV", "force": "9.807 N", "filar_factor": "0.25 um")",
         R"("barrel_1": ["4"], "drum_1": ["31.5"], "barrel_2": ["4"], "drum_2": ["27"])", 564.58, 0.01, "565 HV 1"},
        {R"("scale": "HV", "force": "9.807 N", "filar_factor": "0.25 um", "filar_zero": "2")",
         R"("barrel_1": ["4"], "drum_1": ["33.5"], "barrel_2": ["4"], "drum_2": ["29"])", 564.58, 0.01, "565 HV 1"},
        {R"("scale": "HK", "force": "4.903 N")", R"("long_diagonal": ["0.0982 mm"])", 737.7, 0.1, "738 HK 0.5"},
        {R"("scale": "HK", "force": "1.961 N")", R"("half_1": ["31.9 um"], "half_2": ["33.1 um"])", 673.5, 0.5,
         "673 HK 0.2"},
    };
    for (const auto& c : cases) {
        const Json piece = pieceOf(c.options, fmt::format(R"({{"label": "A", "readings": {{{}}}}})", c.readings));
        EXPECT_NEAR(value(piece, "H"), c.wanted, c.within) << c.readings;
        EXPECT_EQ(piece["indents"][0]["notation"], c.notation);
        EXPECT_EQ(piece["indents"][0]["set_aside"], false);
        EXPECT_TRUE(piece["results"]["H"].contains("uncertainty"));
    }
}

TEST(HardnessJob, MeanScatterAndExtremesOfWhatCounts)
{
    const Json piece = pieceOf(R"("scale": "HRC")", R"({"label": "A", "notes": {"after_change": "yes"},
        "readings": {"value": ["51.0 HRC", "42.0 HRC", null, "44.0 HRC", "45.0 HRC", "46.5 HRC"]}})");
    EXPECT_NEAR(value(piece, "H"), (44.0 + 45.0 + 46.5) / 3, 1e-12);
    EXPECT_NEAR(value(piece, "H_sd"), 1.2583057392117916, 1e-12);
    EXPECT_EQ(value(piece, "H_min"), 44.0);
    EXPECT_EQ(value(piece, "H_max"), 46.5);
    EXPECT_EQ(piece["results"]["H"]["unit"], "HRC");
    ASSERT_EQ(piece["indents"].size(), 6u);
    EXPECT_EQ(piece["indents"][0]["set_aside"], true);
    EXPECT_EQ(piece["indents"][1]["set_aside"], true);
    EXPECT_EQ(piece["indents"][2]["value"], nullptr);
    EXPECT_EQ(piece["indents"][3]["set_aside"], false);
    EXPECT_TRUE(says(piece["indents"][0]["remarks"], "seating-reading", "note"));
    EXPECT_TRUE(says(piece["remarks"], "reading-missed"));
}

TEST(HardnessJob, SeatingReadingsBelongToRockwellUnlessAsked)
{
    const auto aside = [](const std::string& options, const char* unit) {
        const Json piece = pieceOf(options,
                                   fmt::format(R"({{"label": "A", "notes": {{"after_change": "yes"}},
            "readings": {{"value": ["300 {0}", "300 {0}", "300 {0}"]}}}})",
                                               unit));
        return std::ranges::count_if(piece["indents"], [](const Json& one) { return one["set_aside"] == true; });
    };
    EXPECT_EQ(aside(hv1, "HV"), 0);
    EXPECT_EQ(aside(std::string(hv1) + R"(, "seating": "1")", "HV"), 1);
    const auto rockwell = [](const std::string& more, const char* note) {
        const Json piece = pieceOf(R"("scale": "HRC")" + more,
                                   fmt::format(R"({{"label": "A", "notes": {{"after_change": "{}"}},
            "readings": {{"value": ["44 HRC", "44 HRC", "44 HRC"]}}}})",
                                               note));
        return std::ranges::count_if(piece["indents"], [](const Json& one) { return one["set_aside"] == true; });
    };
    EXPECT_EQ(rockwell("", "yes"), 2);
    EXPECT_EQ(rockwell(R"(, "seating": "1")", "yes"), 1);
    EXPECT_EQ(rockwell(R"(, "seating": "0")", "yes"), 0);
    EXPECT_EQ(rockwell("", "no"), 0);
}

TEST(HardnessJob, OneIndentOutOfTheBandRejectsThePiece)
{
    const Json soft = pieceOf(R"("scale": "HRC")", R"({"label": "A", "readings": {"value": ["44 HRC", "15 HRC"]}})");
    EXPECT_TRUE(soft["results"]["H"].is_null());
    EXPECT_EQ(soft["indents"][0]["value"], 44.0);
    EXPECT_EQ(soft["indents"][1]["value"], nullptr);
    EXPECT_TRUE(says(soft["remarks"], "scale-out-of-range", "reject"));
    EXPECT_NE(soft["remarks"].dump().find("Use HRBW"), std::string::npos);
    // One that is set aside anyway rejects nothing.
    const Json seated = pieceOf(R"("scale": "HRC")", R"({"label": "A", "notes": {"after_change": "yes"},
        "readings": {"value": ["15 HRC", "43 HRC", "44 HRC"]}})");
    EXPECT_EQ(value(seated, "H"), 44.0);
    const Json large = pieceOf(R"("scale": "HBW", "force": "29.42 kN", "ball": "10 mm")",
                               R"({"label": "A", "readings": {"value": ["80 HBW"]}})");
    EXPECT_TRUE(says(large["remarks"], "indent-size", "reject"));
    const Json hard = pieceOf(R"("scale": "HBW", "force": "29.42 kN", "ball": "10 mm")",
                              R"({"label": "A", "readings": {"value": ["655 HBW"]}})");
    EXPECT_TRUE(says(hard["remarks"], "hbw-over-650", "reject"));
    EXPECT_TRUE(hard["results"]["H"].is_null());
}

TEST(HardnessJob, DistancesByTheRule)
{
    // 565 HV 1: diagonal 57.3 µm; three of it are 0.172 mm, two and a half 0.143 mm.
    const auto codes = [](const std::string& options, const char* places, const char* material = "C45") {
        return pieceOf(options,
                       fmt::format(R"({{"label": "A", "readings": {{"value": ["565 HV", "565 HV"], {}}}}})", places),
                       material);
    };
    const char* near = R"("x": ["0 mm", "0.160 mm"], "y": ["0 mm", "0 mm"])";
    const char* far = R"("x": ["0 mm", "0.175 mm"], "y": ["0 mm", "0 mm"])";
    const Json close = codes(hv1, near);
    EXPECT_FALSE(says(close["indents"][0]["remarks"], "too-close")) << "the first of two is sound";
    EXPECT_TRUE(says(close["indents"][1]["remarks"], "too-close", "caution"));
    EXPECT_FALSE(says(codes(hv1, far)["remarks"], "too-close"));
    EXPECT_TRUE(says(codes(hv1, far, "EN AW aluminium 6082")["remarks"], "too-close")) << "light metals want six";
    EXPECT_FALSE(says(codes(std::string(hv1) + R"(, "spacing": "shop")", near)["remarks"], "too-close"));
    EXPECT_TRUE(says(codes(std::string(hv1) + R"(, "spacing": "shop")", near)["remarks"], "spacing-shop", "caution"));
    EXPECT_TRUE(says(codes(hv1, R"("from_surface": ["0.14 mm", "0.5 mm"])")["indents"][0]["remarks"], "too-close"));
    EXPECT_FALSE(says(codes(hv1, R"("from_surface": ["0.15 mm", "0.5 mm"])")["remarks"], "too-close"));
    const Json disc = pieceOf(hv1, R"({"label": "A", "dimensions": {"diameter": "10 mm"}, "readings":
        {"value": ["565 HV", "565 HV", "565 HV"], "x": ["0 mm", "4.9 mm", "6 mm"], "y": ["0 mm", "0 mm", "0 mm"]}})");
    EXPECT_TRUE(disc["indents"][0]["remarks"].empty());
    EXPECT_TRUE(says(disc["indents"][1]["remarks"], "too-close"));
    EXPECT_TRUE(says(disc["indents"][2]["remarks"], "outside-piece"));
}

TEST(HardnessJob, ThinPiecesAndLayers)
{
    const auto thin = [](const char* dimensions, const char* readings) {
        return says(pieceOf(R"("scale": "HRC")",
                            fmt::format(R"({{"label": "A", "dimensions": {{{}}}, "readings": {{{}}}}})", dimensions,
                                        readings))["remarks"],
                    "too-thin");
    };
    const char* at44 = R"("value": ["44 HRC"])"; // 0.112 mm deep: ten times are 1.12 mm
    EXPECT_TRUE(thin(R"("thickness": "1.1 mm")", at44));
    EXPECT_FALSE(thin(R"("thickness": "1.12 mm")", at44));
    EXPECT_TRUE(thin(R"("thickness": "5 mm", "layer_depth": "0.7 mm")", at44));
    EXPECT_FALSE(thin("", at44));
}

TEST(HardnessJob, CaseDepthByTheDeepestCrossing)
{
    // On the line H = 750 − 400·x: 550 at 0.5 mm, whatever the distances.
    const auto traverse = [](const std::string& options, const std::vector<double>& depth, const auto& hardness) {
        std::string values, depths;
        for (const double x : depth) {
            values += fmt::format("{}\"{:.6f} HV\"", values.empty() ? "" : ", ", hardness(x));
            depths += fmt::format("{}\"{} mm\"", depths.empty() ? "" : ", ", x);
        }
        return pieceOf(std::string(hv1) + options,
                       fmt::format(R"({{"label": "A", "readings": {{"value": [{}], "from_surface": [{}]}}}})", values,
                                   depths));
    };
    const auto line = [](double x) { return 750 - 400 * x; };
    EXPECT_NEAR(value(traverse("", {0.2, 0.33, 0.45, 0.71, 0.9}, line), "CHD"), 0.5, 1e-8);
    const Json disordered = traverse("", {0.9, 0.2, 0.71, 0.33, 0.45}, line);
    EXPECT_NEAR(value(disordered, "CHD"), 0.5, 1e-8);
    EXPECT_TRUE(says(disordered["remarks"], "traverse-order"));
    EXPECT_TRUE(disordered["results"]["H"].is_null()) << "a mean over a case says nothing";
    EXPECT_EQ(disordered["verdict"], "open");
    // It falls, rises again and falls: the deepest crossing counts.
    const auto wave = [](double x) { return x < 0.45 ? 600 - 200 * x : x < 0.6 ? 500 : x < 0.8 ? 600 : 400; };
    EXPECT_NEAR(value(traverse("", {0.2, 0.4, 0.5, 0.7, 0.9}, wave), "CHD"), 0.7 + 0.2 * 50 / 200, 1e-9);
    // Core + 50: the core is the mean of the three deepest, 300.
    const auto nitrided = [](double x) { return x < 0.35 ? 700 - 1000 * x : 300; };
    EXPECT_NEAR(value(traverse(R"(, "case_limit": "core +50 HV")", {0.1, 0.2, 0.3, 0.4, 0.5, 0.6}, nitrided), "CHD"),
                0.3 + 0.1 * 50 / 100, 1e-9);
    const Json soft = traverse("", {0.8, 0.9, 1.0}, line);
    EXPECT_TRUE(soft["results"]["CHD"].is_null());
    EXPECT_TRUE(says(soft["remarks"], "case-not-crossed", "caution"));
    // A point far off its neighbours is named.
    const auto odd = [&](double x) { return x == 0.45 ? 460 : line(x); };
    EXPECT_TRUE(
        says(traverse("", {0.2, 0.25, 0.3, 0.35, 0.4, 0.45, 0.5, 0.55, 0.6}, odd)["remarks"], "traverse-point"));
    EXPECT_FALSE(
        says(traverse("", {0.2, 0.25, 0.3, 0.35, 0.4, 0.45, 0.5, 0.55, 0.6}, line)["remarks"], "traverse-point"));
}

TEST(HardnessJob, BlocksAndWhatWasReadSinceTheLastGoodOne)
{
    const Json all = analysed(jobText(R"("scale": "HRC")", R"(
        {"label": "A1", "readings": {"value": ["44 HRC"]}},
        {"label": "B1", "notes": {"block": "45.2 HRC"}, "readings": {"value": ["45.0 HRC", "45.6 HRC"]}},
        {"label": "A2", "readings": {"value": ["44 HRC"]}},
        {"label": "A3", "readings": {"value": ["45 HRC"]}},
        {"label": "B2", "notes": {"block": "45.2 HRC"}, "readings": {"value": ["47.0 HRC", "47.2 HRC"]}},
        {"label": "A4", "readings": {"value": ["44 HRC"]}})"));
    const Json& pieces = all["specimens"];
    EXPECT_NEAR(value(pieces[1], "block_error"), 0.1, 1e-12);
    EXPECT_NEAR(value(pieces[1], "block_spread"), 0.6, 1e-12);
    EXPECT_FALSE(says(pieces[1]["remarks"], "block-out-of-limits"));
    EXPECT_TRUE(says(pieces[4]["remarks"], "block-out-of-limits", "reject"));
    EXPECT_TRUE(pieces[0]["results"]["block_error"].is_null());
    const Json& set = all["remarks"];
    ASSERT_TRUE(says(set, "block-out-of-limits", "reject"));
    const auto it = std::ranges::find(set, "block-out-of-limits", [](const Json& r) { return r["code"]; });
    EXPECT_NE((*it)["text"].get<std::string>().find("A2, A3"), std::string::npos);
    EXPECT_EQ((*it)["text"].get<std::string>().find("A1"), std::string::npos) << "a good check stands after it";
    EXPECT_EQ((*it)["text"].get<std::string>().find("A4"), std::string::npos) << "read later";
    EXPECT_EQ(all["batch"]["H"]["n"], 4) << "blocks are not of the lot";
    const Json own = pieceOf(R"("scale": "HRC", "block_error_limit": "0.05")",
                             R"({"label": "B", "notes": {"block": "45.2 HRC"}, "readings": {"value": ["45.3 HRC"]}})");
    EXPECT_TRUE(says(own["remarks"], "block-out-of-limits"));
}

TEST(HardnessJob, StrengthOfPlainSteelsOnly)
{
    const auto piece = [](const char* material, const char* conditioning = "") {
        return pieceOf(
            R"("scale": "HBW", "force": "29.42 kN", "ball": "10 mm")",
            fmt::format(R"({{"label": "A", "notes": {{"conditioning": "{}"}}, "readings": {{"value": ["215 HBW"]}}}})",
                        conditioning),
            material);
    };
    for (const char* plain : {"C45", "42CrMo4", "16MnCr5", "steel S355"})
        EXPECT_NEAR(value(piece(plain), "Rm_from_HBW"), 3.45 * 215, 1e-9) << plain;
    const Json steel = piece("C45");
    EXPECT_NEAR(steel["results"]["Rm_from_HBW"]["uncertainty"].get<double>(), 0.1 * 3.45 * 215, 15);
    EXPECT_TRUE(says(steel["remarks"], "converted"));
    for (const char* other :
         {"X5CrNi18-10", "1.4301", "stainless 1.4404", "austenitic steel", "aluminium 6082", "grey iron"}) {
        EXPECT_TRUE(piece(other)["results"]["Rm_from_HBW"].is_null()) << other;
        EXPECT_TRUE(piece(other)["results"]["Rm_from_HV"].is_null()) << other;
    }
    EXPECT_TRUE(piece("C45", "cold-worked")["results"]["Rm_from_HBW"].is_null());
    const Json unknown = piece("lot 7");
    EXPECT_TRUE(unknown["results"]["Rm_from_HBW"].is_null());
    EXPECT_TRUE(says(unknown["remarks"], "family-unknown", "caution"));
}

TEST(HardnessJob, OldRecordsAreReadAndMarked)
{
    const std::string brinell = R"("scale": "HBW", "force": "29.42 kN", "ball": "10 mm")";
    const Json old = pieceOf(brinell, R"({"label": "A", "readings": {"value": ["215 kgf/mm2", "2108.43 MPa"]}})");
    EXPECT_NEAR(value(old, "H_min"), 215, 1e-3);
    EXPECT_NEAR(value(old, "H_max"), 215, 1e-3);
    EXPECT_TRUE(says(old["remarks"], "unit-mix", "caution"));
    const Json mixed = pieceOf(brinell, R"({"label": "A", "readings": {"value": ["230 HBS", "215 HBW"]}})");
    EXPECT_EQ(value(mixed, "H"), 215.0) << "a steel ball's number is not averaged with the others";
    EXPECT_EQ(mixed["indents"][0]["set_aside"], true);
    EXPECT_TRUE(says(mixed["remarks"], "unit-mix"));
    const Json steel = pieceOf(R"("scale": "HBS", "force": "29.42 kN", "ball": "10 mm")",
                               R"({"label": "A", "readings": {"value": ["215 HBS"]}})");
    EXPECT_EQ(steel["results"]["H"]["unit"], "HBS");
    EXPECT_EQ(steel["indents"][0]["notation"], "215 HBS 10/3000");
}

TEST(HardnessJob, RequirementsAreOfTheScale)
{
    Json body = jobText(R"("scale": "HRC")", R"({"label": "A", "readings": {"value": ["44 HRC"]}},
        {"label": "B", "options": {"scale": "HRB"}, "readings": {"value": ["95 HRB"]}})");
    body["requirements"] = Json::array({{{"symbol", "H"}, {"min", "40 HRC"}}});
    const Json all = analysed(body);
    EXPECT_EQ(all["specimens"][0]["verdict"], "pass");
    EXPECT_EQ(all["specimens"][1]["verdict"], "open") << "95 HRBW is not held against 40 HRC";
    EXPECT_EQ(all["specimens"][1]["results"]["H"]["unit"], "HRBW");
    EXPECT_EQ(all["batch"]["H"]["n"], 1);
    EXPECT_TRUE(says(all["remarks"], "scales-mixed"));
    body["requirements"][0]["min"] = "300 HV";
    EXPECT_NE(problemOf(body).find("HRC"), std::string::npos);
}

TEST(HardnessJob, BadInputIsSaidPlainly)
{
    const auto said = [](const std::string& options, const std::string& piece) {
        return problemOf(jobText(options, piece));
    };
    const std::string rockwell = R"("scale": "HRC")";
    const auto one = [](const std::string& readings) {
        return fmt::format(R"({{"label": "A", "readings": {{{}}}}})", readings);
    };
    EXPECT_NE(said(rockwell, one(R"("value": ["120 HRC"])")).find("120 HRC"), std::string::npos);
    EXPECT_NE(said(rockwell, one(R"("value": ["-3 HRC"])")).find("-3"), std::string::npos);
    EXPECT_NE(said(rockwell, one(R"("value": ["59 HRB"])")).find("HRC"), std::string::npos);
    EXPECT_NE(said(rockwell, one(R"("value": ["59"])")).find("unit"), std::string::npos);
    EXPECT_NE(said(rockwell, one(R"("diagonal_1": ["59 um"], "diagonal_2": ["59 um"])")).find("diagonal_1"),
              std::string::npos);
    EXPECT_NE(said(rockwell, one(R"("value": ["59 HRC"], "depth": ["0.1 mm"])")).find("one way"), std::string::npos);
    EXPECT_NE(said(rockwell, one(R"("value": ["59 HRC", "59 HRC"], "x": ["1 mm"])")).find("2 as in the other"),
              std::string::npos);
    EXPECT_NE(said(rockwell, one(R"("x": ["1 mm"])")).find("value"), std::string::npos);
    EXPECT_NE(said(R"("scale": "HRX")", one(R"("value": ["59 HRC"])")).find("HRX"), std::string::npos);
    EXPECT_NE(said("", one(R"("value": ["59 HRC"])")).find("scale"), std::string::npos);
    EXPECT_NE(said(R"("scale": "HV")", one(R"("value": ["59 HV"])")).find("force"), std::string::npos);
    EXPECT_NE(said(R"("scale": "HBW", "force": "29.42 kN")", one(R"("value": ["59 HBW"])")).find("ball"),
              std::string::npos);
    EXPECT_NE(said(hv1, one(R"("diagonal_1": ["0 um"], "diagonal_2": ["59 um"])")).find("above zero"),
              std::string::npos);
    EXPECT_NE(said(hv1, one(R"("diagonal_1": ["-1 um"], "diagonal_2": ["59 um"])")).find("above zero"),
              std::string::npos);
    EXPECT_NE(said(hv1, one(R"("barrel_1": ["4"], "drum_1": ["3"], "barrel_2": ["4"], "drum_2": ["3"])"))
                  .find("filar_factor"),
              std::string::npos);
    EXPECT_NE(said(std::string(hv1) + R"(, "case_limit": "deep")",
                   one(R"("value": ["59 HV"], "from_surface": ["1 mm"])"))
                  .find("core"),
              std::string::npos);
    EXPECT_NE(said(rockwell, R"({"label": "B", "notes": {"block": "700 HV"}, "readings": {"value": ["59 HRC"]}})")
                  .find("700 HV"),
              std::string::npos);
    const Json none = pieceOf(rockwell, R"({"label": "A"})");
    EXPECT_TRUE(none["results"]["H"].is_null());
    EXPECT_TRUE(says(none["remarks"], "no-readings"));
}

TEST(HardnessJob, RoundPiecesWantTheLaboratorysCorrection)
{
    const auto round = [](const std::string& more) {
        return pieceOf(R"("scale": "HRC", "curved": "cylinder")" + more,
                       R"({"label": "A", "readings": {"value": ["44 HRC"]}})");
    };
    EXPECT_TRUE(says(round("")["remarks"], "curved-not-corrected", "caution"));
    EXPECT_NEAR(value(round(R"(, "curved_by": "1.5")"), "H"), 45.5, 1e-12);
    const Json pyramid = pieceOf(std::string(hv1) + R"(, "curved": "cylinder", "curved_by": "0.98")",
                                 R"({"label": "A", "readings": {"value": ["500 HV"]}})");
    EXPECT_NEAR(value(pyramid, "H"), 490, 1e-9);
}

TEST(HardnessJob, APictureAndItsDoubtGoWithTheReading)
{
    const std::string hv = R"("scale": "HV", "force": "9.807 N")";
    const std::string readings =
        R"("label": "A", "readings": {"diagonal_1": ["54.60 um"], "diagonal_2": ["53.90 um"]})";
    const std::string picture = R"("pictures": [{"reading": 1, "file": "a.png", "picture_sha256": "ab", "pixel":
        "0.1736 um", "scale": "objective", "placed": [[1, 2], [3, 4], [5, 6], [7, 8]],
        "doubts": {"diagonal_1": "0.8 um",
        "diagonal_2": "0.8 um"}}])";
    const auto unsure = [&](const std::string& more) {
        const Json one = pieceOf(hv, "{" + readings + more + "}");
        return one["results"]["H"]["uncertainty"].get<double>();
    };
    const double H = 0.1891 * 9.807 / (0.05425 * 0.05425);
    // Two ends of a mean of two, twice over, beside what the tester adds.
    const double ends = 2 * 2 * (0.8 / std::sqrt(2.0)) / 54.25 * H;
    EXPECT_NEAR(std::hypot(unsure(""), ends), unsure(", " + picture), 0.02 * ends);
    const auto job = readJob(jobText(hv, "{" + readings + ", " + picture + "}"));
    ASSERT_TRUE(job);
    ASSERT_EQ(job->specimens[0].pictures.size(), 1u);
    EXPECT_EQ(job->specimens[0].pictures[0].placed.size(), 4u);
    for (const char* bad : {R"("pictures": 3)", R"("pictures": [{"reading": 0}])", R"("pictures": [{"reading": 1,
             "placed": [[1, "x"]]}])",
                            R"("pictures": [{"reading": 1, "pixel": "one"}])"})
        EXPECT_FALSE(readJob(jobText(hv, "{" + readings + ", " + bad + "}"))) << bad;
}

TEST(HardnessJob, ZonesHaveTheirStatisticsAndAReadingIsInOne)
{
    const std::string hrc = R"("scale": "HRC", "seating": "0")";
    const std::string readings =
        R"("label": "A", "readings": {"value": ["40 HRC", "42 HRC", "50 HRC", null, "52 HRC"]})";
    const Json one = pieceOf(hrc, "{" + readings + R"(, "zones": {"weld": [1, 2], "base": [3, 4, 5, 9]}})");
    EXPECT_EQ(one["zones"]["weld"]["n"], 2);
    EXPECT_NEAR(one["zones"]["weld"]["mean"].get<double>(), 41, 1e-12);
    EXPECT_NEAR(one["zones"]["weld"]["sd"].get<double>(), std::sqrt(2.0), 1e-12);
    EXPECT_EQ(one["zones"]["base"]["n"], 2) << "what was missed or is not there does not count";
    EXPECT_NEAR(one["zones"]["base"]["max"].get<double>(), 52, 1e-12);
    EXPECT_EQ(one["zones"]["base"]["unit"], "HRC");
    for (const char* bad : {R"("zones": [1])", R"("zones": {"weld": [0]})", R"("zones": {"weld": [1], "base": [1]})",
                            R"("zones": {"weld": "1"})"})
        EXPECT_FALSE(readJob(jobText(hrc, "{" + readings + ", " + bad + "}"))) << bad;
}

TEST(HardnessJob, ATakenReadingBringsItsNotesOptionsAndPictureInOneStep)
{
    auto document = JobDocument::fromJson(jobText(R"("scale": "HV", "force": "9.807 N")", R"({"label": "A"})"));
    ASSERT_TRUE(document) << document.problem().text();
    PictureTaken picture{.sha256 = "ab", .file = "a.png", .pixel = "0.1736 um", .scale = "typed"};
    picture.placed = {{1, 2}, {3, 4}, {5, 6}, {7, 8}};
    picture.doubts = {{"diagonal_1", "0.2 um"}};
    const Json before = document->json();
    const auto command =
        edits::takeReading(*document, 0, {{"diagonal_1", "54.6 um"}, {"diagonal_2", "53.9 um"}}, Spot{.x = 1, .y = 2},
                           "indent 1 of A",
                           {.picture = picture,
                            .notes = {{"read_at", "2026-11-30T08:10"}, {"tester", "M-1"}, {"after_change", "yes"}},
                            .options = {{"block_error_limit", "8"}, {"block_spread_limit", "9"}}});
    ASSERT_TRUE(command);
    ASSERT_TRUE(document->apply(*command));
    const Json& piece = document->json()["specimens"][0];
    EXPECT_EQ(piece["notes"].size(), 3u) << piece.dump(1);
    EXPECT_EQ(piece["notes"]["read_at"], "2026-11-30T08:10");
    EXPECT_EQ(piece["options"].size(), 2u);
    EXPECT_EQ(piece["pictures"][0]["reading"], 1);
    EXPECT_EQ(piece["readings"]["x"][0], "1 mm");
    ASSERT_TRUE(document->undo());
    EXPECT_EQ(document->json(), before);
}

} // namespace
} // namespace fortitor::hardness_job_test
