// SPDX-License-Identifier: GPL-3.0-or-later
// The command line as scripts see it: the real program, its exit codes, its files.
#include "cli/cli_run.h"

#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include <sys/wait.h>
#include <unistd.h>

#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <set>
#include <sstream>

namespace {

namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;

using fortitor::test::Cli;

TEST_F(Cli, HelpAndVersion)
{
    EXPECT_EQ(run("--help"), 0);
    EXPECT_NE(text("out.txt").find("analyse"), std::string::npos);
    EXPECT_EQ(run("--version"), 0);
    EXPECT_NE(text("out.txt").find("0.1.0"), std::string::npos);
}

TEST_F(Cli, AWrongCommandLineIsTwo)
{
    EXPECT_EQ(run(""), 2);
    EXPECT_EQ(run("bake cake.json"), 2);
    EXPECT_EQ(run("analyse"), 2);
    EXPECT_EQ(run("simulate --specimen rigger-tube"), 2);
    EXPECT_EQ(run("analyse job.json --no-such-flag"), 2);
}

TEST_F(Cli, OneIndentAsHardness)
{
    EXPECT_EQ(run("hardness vickers --force '98.07 N' --diagonals '0.2350 mm' '0.2370 mm'"), 0) << text("err.txt");
    EXPECT_EQ(json("out.txt")["notation"], "333 HV 10");
    EXPECT_NEAR(json("out.txt")["value"].get<double>(), 332.97, 0.01);
    EXPECT_EQ(run("hardness brinell --force '3000 kgf' --ball '10 mm' --indent '4.12 mm' '4,12 mm'"), 0);
    EXPECT_EQ(json("out.txt")["notation"], "215 HBW 10/3000");
    EXPECT_EQ(run("hardness knoop --force '4.903 N' --long-diagonal '98.2 um'"), 0);
    EXPECT_EQ(json("out.txt")["notation"], "738 HK 0.5");
    EXPECT_EQ(run("hardness rockwell --scale HRC --depth '0.112 mm'"), 0);
    EXPECT_EQ(json("out.txt")["notation"], "44.0 HRC");
    EXPECT_TRUE(json("out.txt")["remarks"].empty());

    EXPECT_EQ(run("hardness rockwell --scale HRC --depth '0.170 mm'"), 4);
    EXPECT_TRUE(json("out.txt")["value"].is_null());
    EXPECT_EQ(json("out.txt")["remarks"][0]["code"], "scale-out-of-range");
    EXPECT_NE(text("err.txt").find("HRBW"), std::string::npos);
    EXPECT_EQ(run("hardness rockwell --scale HRX --depth '0.112 mm'"), 3);
    EXPECT_NE(text("err.txt").find("HRX"), std::string::npos);
    EXPECT_EQ(run("hardness vickers --force '98.07 N' --diagonals '0 mm' '0.2 mm'"), 3);
    EXPECT_EQ(run("hardness vickers --force '98.07 mm' --diagonals '0.2 mm' '0.2 mm'"), 3);
    EXPECT_NE(text("err.txt").find("--force"), std::string::npos);
    EXPECT_EQ(run("hardness vickers --force '98.07 N' --diagonals '0.2 mm'"), 2);
    EXPECT_EQ(run("hardness"), 2);
}

TEST_F(Cli, HardnessOnAnotherScale)
{
    EXPECT_EQ(run("hardness convert --from '45 HRC' --to HV"), 0) << text("err.txt");
    EXPECT_EQ(json("out.txt")["value"], 446);
    EXPECT_EQ(json("out.txt")["remarks"][0]["code"], "converted");
    EXPECT_EQ(run("hardness convert --from '15 HRC' --to HV"), 4);
    EXPECT_TRUE(json("out.txt")["value"].is_null());
    EXPECT_NE(text("err.txt").find("20 to 70"), std::string::npos);
    EXPECT_EQ(run("hardness convert --from '45 HRC' --to HV --material copper"), 4);
    EXPECT_EQ(run("hardness convert --from '81 HR15T' --to HV"), 4) << "a scale, but in no table";
    EXPECT_EQ(run("hardness convert --from '45 MPa' --to HV"), 3);
    EXPECT_EQ(run("hardness convert --from '200 HBS' --to HV"), 3) << "a steel ball is no scale of today";
    EXPECT_EQ(run("hardness convert --from '45' --to HV"), 3);
}

TEST_F(Cli, WhatAFileLeavesOpenIsAskedAndNothingWritten)
{
    simulate();
    const std::string record = text("A.csv");
    put("A.csv", record + "\n" + record.substr(record.find('\n') + 1));
    put("results.json", "older");
    EXPECT_EQ(run("analyse job.json --out results.json"), 3);
    EXPECT_NE(text("err.txt").find("part 2: lines"), std::string::npos) << text("err.txt");
    EXPECT_NE(text("err.txt").find("record.part"), std::string::npos) << text("err.txt");
    EXPECT_EQ(text("results.json"), "older");
    Json job = json("job.json");
    job["specimens"][0]["record"]["part"] = 2;
    put("job.json", job.dump());
    EXPECT_EQ(run("analyse job.json --out results.json"), 0) << text("err.txt");
    EXPECT_NEAR(json("results.json")["specimens"][0]["results"]["Rm"]["value"].get<double>()
                    / job["truth"]["Rm"]["value"].get<double>(),
                1, 0.005);
    job["specimens"][0]["record"]["part"] = 3;
    put("job.json", job.dump());
    EXPECT_EQ(run("analyse job.json --out results.json"), 3);
    job["specimens"][0]["record"]["part"] = "two";
    put("job.json", job.dump());
    EXPECT_EQ(run("analyse job.json --out results.json"), 3);
    EXPECT_NE(text("err.txt").find("record.part"), std::string::npos) << text("err.txt");
    // A mark that can be read both ways.
    job["specimens"][0]["record"].erase("part");
    std::string figures = "Time (s);Force (N);Extension (um)\n";
    for (int i = 0; i < 200; ++i)
        figures += std::to_string(100 + i) + ';' + std::to_string(10 + i / 4) + ",2" + std::to_string(10 + i % 80) + ";"
            + std::to_string(100 + i) + ",5" + std::to_string(10 + i % 80) + "\n";
    put("A.csv", figures);
    put("job.json", job.dump());
    EXPECT_EQ(run("analyse job.json"), 3);
    EXPECT_NE(text("err.txt").find("record.decimal"), std::string::npos) << text("err.txt");
    job["specimens"][0]["record"]["decimal"] = ".";
    put("job.json", job.dump());
    EXPECT_NE(run("analyse job.json"), 3) << text("err.txt");
    job["specimens"][0]["options"]["slope"] = "chord";
    put("job.json", job.dump());
    EXPECT_EQ(run("analyse job.json"), 3);
    EXPECT_NE(text("err.txt").find("options.slope"), std::string::npos) << text("err.txt");
}

TEST_F(Cli, SimulateThenAnalyse)
{
    simulate();
    ASSERT_EQ(run("analyse job.json --out results.json"), 0) << text("err.txt");
    const Json truth = json("job.json")["truth"];
    const Json results = json("results.json");
    EXPECT_EQ(results["fortitor_results"], 1);
    EXPECT_EQ(results["method"], "tension-metal");
    const Json& figures = results["specimens"][0]["results"];
    for (const auto& [symbol, share] :
         {std::pair{"E", 0.01}, std::pair{"Rp0.2", 0.01}, std::pair{"Rm", 0.005}, std::pair{"A_ext", 0.05}}) {
        ASSERT_FALSE(figures[symbol].is_null()) << symbol;
        EXPECT_NEAR(figures[symbol]["value"].get<double>() / truth[symbol]["value"].get<double>(), 1, share) << symbol;
        EXPECT_FALSE(figures[symbol]["working"].get<std::string>().empty());
    }
    EXPECT_TRUE(figures["ReH"].is_null());
    EXPECT_EQ(results["specimens"][0]["verdict"], "open");
    EXPECT_EQ(results["batch"]["Rm"]["n"], 1);
}

TEST_F(Cli, TestsReadByHandAreSimulatedAndAnalysed)
{
    for (const auto& [specimen, symbol, share] :
         {std::tuple{"sill-pin", "G", 0.01}, std::tuple{"hollow-shaft", "tau_p", 0.03},
          std::tuple{"loom-batten", "MOE", 0.02}, std::tuple{"loom-batten-third", "MOE", 0.02},
          std::tuple{"rigger-strip", "nu", 0.02}}) {
        ASSERT_EQ(run(std::string("simulate --specimen ") + specimen + " --seed 4 --out B.csv --job byhand.json"), 0)
            << text("err.txt");
        ASSERT_EQ(run("analyse byhand.json --out byhand-results.json"), 0) << specimen << text("err.txt");
        const Json truth = json("byhand.json")["truth"];
        const Json results = json("byhand-results.json");
        const Json& figure = results["specimens"][0]["results"][symbol];
        ASSERT_FALSE(figure.is_null()) << specimen;
        EXPECT_NEAR(figure["value"].get<double>() / truth[symbol]["value"].get<double>(), 1, share) << specimen;
        for (const Json& remark : results.value("remarks", Json::array()))
            EXPECT_EQ(remark["code"], "few-specimens") << specimen << remark.dump();
    }
}

TEST_F(Cli, IndentedPiecesAreSimulatedAndAnalysed)
{
    for (const auto& [specimen, symbol, share] :
         {std::tuple{"case-pin", "CHD", 0.05}, std::tuple{"cast-bush", "H", 0.05},
          std::tuple{"stainless-bar", "H", 0.02}, std::tuple{"stainless-bar-hard", "H", 0.06}}) {
        ASSERT_EQ(run(std::string("simulate --specimen ") + specimen + " --seed 4 --out I.csv --job indents.json"), 0)
            << text("err.txt");
        const std::string first = text("indents.json");
        ASSERT_EQ(run("analyse indents.json --out indents-results.json"), 0) << specimen << text("err.txt");
        const Json truth = json("indents.json")["truth"];
        const Json piece = json("indents-results.json")["specimens"][0];
        ASSERT_FALSE(piece["results"][symbol].is_null()) << specimen;
        EXPECT_NEAR(piece["results"][symbol]["value"].get<double>() / truth[symbol]["value"].get<double>(), 1, share)
            << specimen;
        for (const Json& remark : piece["remarks"])
            EXPECT_EQ(remark["severity"], "note") << specimen << remark.dump();
        ASSERT_EQ(run(std::string("simulate --specimen ") + specimen + " --seed 4 --out I.csv --job indents.json"), 0);
        EXPECT_EQ(text("indents.json"), first);
    }
    ASSERT_EQ(run("simulate --specimen list"), 0);
    std::istringstream lines(text("out.txt"));
    std::set<std::string> names;
    for (std::string line; std::getline(lines, line);)
        EXPECT_TRUE(names.insert(line.substr(0, line.find(' '))).second) << line;
}

TEST_F(Cli, PrintsWithoutOut)
{
    simulate();
    EXPECT_EQ(run("analyse job.json"), 0);
    EXPECT_EQ(json("out.txt")["fortitor_results"], 1);
}

TEST_F(Cli, SimulateIsRepeatable)
{
    simulate();
    const std::string first = text("A.csv");
    simulate();
    EXPECT_EQ(text("A.csv"), first);
    EXPECT_EQ(run("simulate --specimen list"), 0);
    EXPECT_NE(text("out.txt").find("rigger-tube"), std::string::npos);
    EXPECT_EQ(run("simulate --specimen cheese --seed 1 --out x.csv"), 3);
}

TEST_F(Cli, AWrongInputIsThreeAndLeavesNothingBehind)
{
    EXPECT_EQ(run("analyse gone.json --out r.json"), 3);
    EXPECT_NE(text("err.txt").find("gone.json"), std::string::npos);
    put("broken.json", "{\"fortitor_job\": 1,");
    EXPECT_EQ(run("analyse broken.json --out r.json"), 3);
    EXPECT_NE(text("err.txt").find("broken.json"), std::string::npos);
    simulate();
    Json job = json("job.json");
    job["specimens"][0]["dimensions"]["diameter"] = "10.02";
    put("unit.json", job.dump());
    EXPECT_EQ(run("analyse unit.json --out r.json"), 3);
    EXPECT_NE(text("err.txt").find("diameter"), std::string::npos);
    EXPECT_FALSE(fs::exists(folder / "r.json"));
}

TEST_F(Cli, AFailVerdictIsZero)
{
    simulate();
    Json job = json("job.json");
    job["requirements"] = Json::array({{{"symbol", "Rm"}, {"min", "900 MPa"}}});
    put("job.json", job.dump());
    EXPECT_EQ(run("analyse job.json --out r.json"), 0);
    EXPECT_EQ(json("r.json")["specimens"][0]["verdict"], "fail");
}

TEST_F(Cli, DoneInPartIsFive)
{
    simulate();
    Json job = json("job.json");
    Json second = job["specimens"][0];
    second["label"] = "gone";
    second["record"]["file"] = "not-there.csv";
    job["specimens"].push_back(second);
    put("job.json", job.dump());
    EXPECT_EQ(run("analyse job.json --out r.json"), 5);
    const Json results = json("r.json");
    EXPECT_FALSE(results["specimens"][0]["results"]["Rm"].is_null());
    EXPECT_TRUE(results["specimens"][1].contains("problem"));
}

TEST_F(Cli, NoResultAtAllIsFourAndTheFileIsWritten)
{
    put("job.json",
        R"({"fortitor_job": 1, "job": {"number": "J-1"}, "method": "tension-metal", "specimens": [{"label": "A1",
          "dimensions": {"shape": "round"}}]})");
    EXPECT_EQ(run("analyse job.json --out r.json"), 4);
    const Json results = json("r.json");
    EXPECT_TRUE(results["specimens"][0]["results"]["Rm"].is_null());
    EXPECT_FALSE(results["specimens"][0]["remarks"].empty());
}

TEST_F(Cli, OutsideTheFolder)
{
    simulate();
    fs::create_directories(folder / "sub");
    Json job = json("job.json");
    job["specimens"][0]["record"]["file"] = "../A.csv";
    put("sub/job.json", job.dump());
    EXPECT_EQ(run("analyse sub/job.json"), 3);
    EXPECT_EQ(run("analyse sub/job.json --allow-outside"), 0);
}

TEST_F(Cli, AnOutFolderThatCannotBeWrittenIsOne)
{
    simulate();
    EXPECT_EQ(run("analyse job.json --out no/such/folder/r.json"), 1);
    EXPECT_NE(text("err.txt").find("no/such/folder"), std::string::npos);
}

TEST_F(Cli, LogbookCheckOfForeignFiles)
{
    put("text.sqlite",
        "this is no database, whatever its name says, and it is long enough to be looked at twice, is it not? Yes "
        "it is.");
    EXPECT_EQ(run("logbook check text.sqlite"), 3);
    EXPECT_NE(text("err.txt").find("text.sqlite"), std::string::npos);
    EXPECT_EQ(run("logbook check nothing.sqlite"), 3);
    EXPECT_EQ(run("logbook"), 2);
}

TEST_F(Cli, EachMethodFromTheShelfToItsResults)
{
    struct Case {
        const char* entry;
        const char* method;
        const char* symbol;
        double within;
    };
    for (const Case& c :
         {Case{"rigger-tube", "tension-metal", "Rm", 0.01},
          Case{"footplate-crossed", "tension-plastic", "sigma_y", 0.01},
          Case{"fairing-polyethylene", "tension-plastic", "eps_tb", 0.02},
          Case{"shell-skin", "tension-composite", "E_chord", 0.02},
          Case{"shell-sandwich", "flatwise-tension", "Fz_tu", 0.01},
          Case{"spruce-block", "compression", "sigma_max", 0.01}, Case{"canister-negative", "crush", "W", 0.01},
          Case{"lifting-eye", "proof-load", "k", 0.01}, Case{"lifting-eye-unmarked", "proof-load", "F_max", 0.002}}) {
        ASSERT_EQ(run(std::string("simulate --specimen ") + c.entry + " --seed 9 --out R.csv --job job.json"), 0)
            << c.entry << text("err.txt");
        const Json job = json("job.json");
        EXPECT_EQ(job["method"], c.method);
        ASSERT_EQ(run("analyse job.json --out results.json"), 0) << c.entry << text("err.txt");
        const Json results = json("results.json");
        const Json& specimen = results["specimens"][0];
        EXPECT_EQ(results["method"], c.method);
        const Json& figure = specimen["results"][c.symbol];
        ASSERT_FALSE(figure.is_null()) << c.entry;
        const Json& truth = job["truth"][c.symbol];
        EXPECT_EQ(figure["unit"], truth["unit"]);
        EXPECT_NEAR(figure["value"].get<double>() / truth["value"].get<double>(), 1, c.within) << c.entry;
        EXPECT_FALSE(figure["formula"].get<std::string>().empty());
        EXPECT_GT(figure["uncertainty"].get<double>(), 0) << c.entry;
        // Every null has a remark that names it.
        for (const auto& [symbol, value] : specimen["results"].items()) {
            if (!value.is_null())
                continue;
            bool named = false;
            for (const Json& r : specimen["remarks"])
                for (const Json& s : r.value("symbols", Json::array()))
                    named = named || s == symbol;
            EXPECT_TRUE(named) << c.entry << " " << symbol;
        }
    }
}

TEST_F(Cli, KeyedReadingsAndAnInchJobOfOtherMethods)
{
    put("crush.json",
        R"({"fortitor_job":1,"job":{"number":"J-1","title":"t"},"method":"crush","options":{"crush_to":"0.3 in"},
        "specimens":[{"label":"C1","dimensions":{"height":"4 1/2 in"},"readings":{"force":["0 lbf","50 lbf","100 lbf",
          "40 lbf","40 lbf","40 lbf","40 lbf","40 lbf","40 lbf","40 lbf"],
        "displacement":["0 in","0.05 in","0.1 in","0.15 in","0.2 in","0.25 in","0.3 in","0.35 in","0.4 in",
          "0.45 in"]}}]})");
    ASSERT_EQ(run("analyse crush.json --out r.json"), 0) << text("err.txt");
    const Json r = json("r.json")["specimens"][0]["results"];
    EXPECT_NEAR(r["F_peak"]["value"].get<double>(), 444.82, 1);
    // 5 + 3.5 + 6 = 14.5 lbf·in
    EXPECT_NEAR(r["W"]["value"].get<double>(), 14.5 * 4.4482216 * 25.4 / 1000, 0.02);
    put("wrong.json",
        R"({"fortitor_job":1,"job":{"number":"J-1","title":"t"},"method":"tension-composite",
          "options":{"chord":"0.3 % 0.1 %"},
        "specimens":[{"label":"L1","dimensions":{"width":"15 mm","thickness":"2 mm"},"readings":{"force":["0 N","1 kN",
          "2 kN"],"strain":["0 ue","500 ue","1000 ue"]}}]})");
    EXPECT_NE(run("analyse wrong.json"), 0);
    EXPECT_NE(text("out.txt").find("options.chord") + text("err.txt").find("options.chord"), 2 * std::string::npos);
}

TEST_F(Cli, WrongInputLeavesAnOlderFileAsItIs)
{
    simulate();
    put("out.json", "older");
    Json all = json("job.json");
    all["specimens"][0]["record"]["file"] = "missing.csv";
    put("none.json", all.dump());
    EXPECT_EQ(run("analyse none.json --out out.json"), 3);
    EXPECT_EQ(text("out.json"), "older") << "no specimen could be read";
    EXPECT_EQ(run("analyse none.json"), 3);
    EXPECT_EQ(text("out.txt"), "");
    all["specimens"] = Json::array();
    put("none.json", all.dump());
    EXPECT_EQ(run("analyse none.json --out out.json"), 3);
    EXPECT_NE(text("err.txt").find("empty list"), std::string::npos) << text("err.txt");
    EXPECT_EQ(text("out.json"), "older");
    EXPECT_EQ(run("analyse job.json --out out.json"), 0);
    EXPECT_EQ(json("out.json")["fortitor_results"], 1);
    EXPECT_EQ(std::distance(fs::directory_iterator(folder), fs::directory_iterator()), 6)
        << "nothing half written is left";
}

TEST_F(Cli, ADashIsStandardOutput)
{
    simulate();
    ASSERT_EQ(run("analyse job.json --out -"), 0);
    const std::string dash = text("out.txt");
    EXPECT_FALSE(fs::exists(folder / "-"));
    ASSERT_EQ(run("analyse job.json"), 0);
    EXPECT_EQ(dash, text("out.txt"));
    ASSERT_EQ(run("analyse job.json --out r.json"), 0);
    EXPECT_EQ(dash, text("r.json"));
}

TEST_F(Cli, ALinkIsFollowedAndAPipeWrittenThrough)
{
    simulate();
    put("real.json", "older");
    fs::permissions(folder / "real.json", fs::perms::owner_read | fs::perms::owner_write);
    fs::create_symlink("real.json", folder / "link.json");
    fs::create_symlink("link.json", folder / "far.json");
    fs::create_symlink("new.json", folder / "dangling.json");
    ASSERT_EQ(run("analyse job.json --out far.json"), 0) << text("err.txt");
    EXPECT_TRUE(fs::is_symlink(folder / "far.json") && fs::is_symlink(folder / "link.json"));
    EXPECT_EQ(json("real.json")["fortitor_results"], 1);
    EXPECT_EQ(fs::status(folder / "real.json").permissions(), fs::perms::owner_read | fs::perms::owner_write)
        << "rights stay";
    ASSERT_EQ(run("analyse job.json --out dangling.json"), 0);
    EXPECT_EQ(text("new.json"), text("real.json"));
    // A FIFO of our own stays one, and what is read from it is the whole.
    ASSERT_EQ(std::system(("mkfifo '" + (folder / "pipe").string() + "'").c_str()), 0);
    const std::string both = "cd '" + folder.string()
        + "' && (timeout 20 cat pipe > read.json & timeout 20 '" CLI_PROGRAM
          "' analyse job.json --out pipe; code=$?; wait; exit $code)";
    EXPECT_EQ(WEXITSTATUS(std::system(both.c_str())), 0);
    EXPECT_TRUE(fs::is_fifo(folder / "pipe"));
    EXPECT_EQ(text("read.json"), text("real.json"));
    // A device through a link of ours: written through as well, the link stays.
    fs::create_symlink("/dev/null", folder / "null");
    EXPECT_EQ(run("analyse job.json --out null"), 0);
    EXPECT_TRUE(fs::is_symlink(folder / "null"));
    EXPECT_TRUE(fs::is_character_file("/dev/null"));
    fs::create_directory(folder / "folder");
    EXPECT_EQ(run("analyse job.json --out folder"), 1);
    EXPECT_NE(text("err.txt").find("a folder"), std::string::npos);
}

TEST_F(Cli, NoResultSaysWhy)
{
    put("flat.csv", "Time (s),Force (kN),Extension (mm)\n0,0,0\n1,0,0\n2,0,0\n3,0,0\n");
    put("job.json",
        R"({"fortitor_job":1,"method":"tension-metal","specimens":[{"label":"A1","dimensions":{"shape":"round",
          "diameter":"10 mm","extensometer_gauge_length":"50 mm"},"record":{"file":"flat.csv"}}]})");
    ASSERT_EQ(run("analyse job.json --out r.json"), 4) << text("err.txt");
    EXPECT_NE(text("err.txt").find("A1: no result. "), std::string::npos);
    EXPECT_GT(text("err.txt").size(), 40u) << text("err.txt");
    EXPECT_TRUE(fs::exists(folder / "r.json"));
}

TEST_F(Cli, TheNearestNameIsTold)
{
    EXPECT_EQ(run("analize job.json"), 2);
    EXPECT_NE(text("err.txt").find("\"analyse\" meant"), std::string::npos) << text("err.txt");
    EXPECT_EQ(run("simulate --specimem rigger-tube --out x.csv"), 2);
    EXPECT_NE(text("err.txt").find("\"--specimen\" meant"), std::string::npos) << text("err.txt");
    for (const char* seed : {"-5", "1.5", "x", "99999999999999999999999"})
        EXPECT_EQ(run(std::string("simulate --specimen rigger-tube --out x.csv --seed ") + seed), 2) << seed;
    EXPECT_FALSE(fs::exists(folder / "x.csv"));
    simulate();
    Json all = json("job.json");
    all["specimens"][0]["dimensions"]["diametre"] = "10 mm";
    all["options"]["area_form"] = "mean";
    all["mathod"] = "x";
    put("job.json", all.dump());
    ASSERT_EQ(run("analyse job.json"), 0);
    for (const char* meant : {"Is \\\"diameter\\\" meant?", "Is \\\"area_from\\\" meant?", "Is \\\"method\\\" meant?"})
        EXPECT_NE(text("out.txt").find(meant), std::string::npos) << meant;
}

TEST_F(Cli, ManySpecimensAreWorkedOutOnAllCoresInTheOrderOfTheJob)
{
    simulate();
    Json all = json("job.json");
    const Json one = all["specimens"][0];
    all["specimens"] = Json::array();
    for (int i = 0; i < 60; ++i) {
        Json next = one;
        next["label"] = "S" + std::to_string(i);
        next["dimensions"]["diameter"] = std::to_string(10000 + i) + " um";
        all["specimens"].push_back(next);
    }
    put("many.json", all.dump());
    ASSERT_EQ(run("analyse many.json --out a.json"), 0) << text("err.txt");
    ASSERT_EQ(run("analyse many.json --out b.json"), 0);
    EXPECT_EQ(text("a.json"), text("b.json")) << "the same bytes, whatever core had which";
    double before = 1e9;
    for (int i = 0; i < 60; ++i) {
        const Json s = json("a.json")["specimens"][static_cast<size_t>(i)];
        EXPECT_EQ(s["label"], "S" + std::to_string(i));
        EXPECT_LT(s["results"]["Rm"]["value"], before);
        before = s["results"]["Rm"]["value"];
    }
}

} // namespace
