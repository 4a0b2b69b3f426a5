// SPDX-License-Identifier: GPL-3.0-or-later
// Nobody outside its folder knows a method by its words.
#include "methods/method.h"
#include "record/record.h"

#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include <map>
#include <regex>
#include <set>
#include <string>

namespace fortitor::house_test {
namespace {

namespace fs = std::filesystem;

/// Words that a method shares with the rest of the house, and who owns them there.
const std::map<std::string, std::string> shared{
    {"steps", "the plan of a reading pad, in the frame's room"},
    {"torsion", "a fixture of the frame"},
    {"E", "published values"},
    {"G", "published values"},
    {"A", "published values"},
    {"Rm", "published values"},
    {"nu", "published values"},
    {"yield", "published values"},
    {"MOE", "published values"},
    {"MOR", "published values"},
    {"direction", "state of the material"},
    {"moisture", "state of the material"},
    {"conditioning", "state of the material"},
    {"operator", "who tested"},
    {"batch", "lots of a material"},
    {"adhesive", "a kind of instrument"},
    {"extensometer", "a kind of instrument"},
    {"depth", "a part of a place"},
    {"scale", "of a number of hardness"},
    {"hardness", "a kind of quantity, and a command of the command line"},
    {"n", "a count in files"},
    {"K", "the kelvin"},
    {"C", "of a language"},
    {"area", "a kind of quantity"},
    {"mass", "a kind of quantity"},
    {"level", "of an interval, in results"},
    {"break", "an event of the frame"},
    {"geometry", "of the window"},
    {"length", "a kind of quantity, and a size the frame is told"},
    {"density", "a kind of quantity"},
    {"compliance", "a kind of quantity"},
    {"limit", "how a run ended"},
    {"centring", "a step of the frame"},
    {"gauge_length", "a size the frame is told"},
    {"strength", "of an adhesive"},
    {"column", "of a text file"},
    {"shape", "a key of job files"},
    {"chord", "of the straight part"},
    {"segment", "a kind of button"},
    {"shell", "a form of drawing"},
    {"plate", "a form of drawing"},
    {"speed", "a kind of quantity, and what a drive is told"},
    {"waisted", "the form on the program's own mark"},
    {"pin", "a place on a drawing"},
    {"bow", "a place on a drawing"},
    {"part", "of a file that holds several tests, and of a drawing's words"},
    {"hold", "what a drive does, and what a rule asks"},
    {"cycles", "how a drive is led, and what a rule asks"},
    {"proof_factor", "what a rule asks"},
    {"end", "how a run ended"},
    {"round", "the form on the program's own mark"},
    {"kind", "of messages and instruments, and a property of widgets"},
    {"source", "where a record, a rule or a value comes from"},
    {"class", "of an instrument"},
    {"step", "of a scale, of a pad"},
    {"frequency", "a kind of quantity, and what a drive is told"},
    {"bound", "of a result in files"},
    {"modulus", "a flag of load histories"},
    {"slope", "a flag of load histories"},
    {"knee", "a flag of load histories"},
    {"spikes", "a flag of load histories"},
    {"detrend", "a flag of load histories"},
    {"cut", "a flag of load histories"},
    {"bins", "a flag of load histories"},
    {"damage", "a figure of load histories"},
    {"damage_cut_share", "a figure of load histories"},
    {"equivalent_range", "a figure of load histories"},
    {"range_max", "a figure of load histories"},
    {"range_low_chance", "a figure of load histories"},
    {"cut_at", "a figure of load histories"},
    {"spectrum", "a command of the command line"},
    {"N", "the newton"},
    {"m", "the metre"},
};

/// Files whose text is data: the demo, the shelf of the simulated laboratory, and the pictures taken of them.
const std::set<std::string> data{"app/model/demo.cpp",        "app/model/demo_parts.cpp",
                                 "app/model/demo_plates.cpp", "app/model/demo_hardness.cpp",
                                 "app/model/demo_impact.cpp", "app/model/demo_fatigue.cpp",
                                 "app/shell/capture.cpp",     "sim/catalogue.cpp",
                                 "sim/catalogue.h",           "sim/indented_catalogue.cpp",
                                 "sim/draw_specimen.cpp",     "sim/family.cpp",
                                 "sim/family_pressed.cpp",    "sim/run.cpp",
                                 "sim/proof_run.cpp",         "jobs/dropped_job.cpp",
                                 "jobs/struck_job.cpp",       "jobs/fatigue_job.cpp",
                                 "sim/dropped_plate.cpp",     "sim/dropped_plate.h",
                                 "sim/struck_piece.cpp",      "sim/stand_in.cpp"};

std::map<std::string, std::string> wordsOfMethods()
{
    std::map<std::string, std::string> words;
    for (const Method& m : methodRegistry()) {
        words[m.id] = "id";
        for (const std::string& shape : m.shapes)
            words[shape] = "shape";
        for (const FieldSpec& f : m.fields)
            words[f.key] = "field";
        for (const OptionSpec& o : m.options)
            words[o.key] = "option";
        for (const NoteSpec& n : m.notes)
            words[n.key] = "note";
        for (const ResultSpec& r : m.results)
            words[r.symbol] = "symbol";
    }
    return words;
}

TEST(House, NoWordOfAMethodStandsOutsideItsFolder)
{
    const auto words = wordsOfMethods();
    ASSERT_GT(words.size(), 150u);
    const std::regex quoted("\"((?:[^\"\\\\]|\\\\.)*)\"");
    const fs::path source = fs::path(SOURCE_FOLDER) / "src";
    int files = 0;
    for (const auto& entry : fs::recursive_directory_iterator(source)) {
        const std::string name = entry.path().lexically_relative(source).string();
        const bool code = entry.path().extension() == ".cpp" || entry.path().extension() == ".h";
        if (!code || name.starts_with("methods/") || data.contains(name))
            continue;
        ++files;
        std::ifstream in(entry.path());
        int number = 0;
        for (std::string line; std::getline(in, line);) {
            ++number;
            line = line.substr(0, line.find("//"));
            for (std::sregex_iterator it(line.begin(), line.end(), quoted), end; it != end; ++it) {
                const std::string word = (*it)[1];
                const auto found = words.find(word);
                if (found == words.end() || shared.contains(word) || findChannelName(word))
                    continue;
                ADD_FAILURE() << name << ":" << number << " knows the " << found->second << " \"" << word
                              << "\" of a method";
            }
        }
    }
    EXPECT_GT(files, 150);
}

/// Forms of drawings are known in the room that draws them only.
TEST(House, FormsStandInOneTable)
{
    const fs::path source = fs::path(SOURCE_FOLDER) / "src";
    std::set<std::string> forms;
    for (const Method& m : methodRegistry())
        forms.insert('"' + m.drawing.form + '"');
    for (const auto& entry : fs::recursive_directory_iterator(source)) {
        const std::string name = entry.path().lexically_relative(source).string();
        if (entry.path().extension() != ".cpp" || name.starts_with("methods/")
            || !(name.starts_with("draw/") || name.starts_with("app/")) || name == "draw/forms.cpp"
            || data.contains(name) || name == "app/shell/rail.cpp")
            continue;
        std::ifstream in(entry.path());
        const std::string text{std::istreambuf_iterator<char>(in), {}};
        for (const std::string& form : forms)
            EXPECT_EQ(text.find(form), std::string::npos) << name << " knows the form " << form;
    }
}

} // namespace
} // namespace fortitor::house_test
