// SPDX-License-Identifier: GPL-3.0-or-later
// The real program in a folder of its own.
#pragma once

#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include <sys/wait.h>
#include <unistd.h>

#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <sstream>

namespace fortitor::test {

namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;

class Cli : public testing::Test {
protected:
    void SetUp() override
    {
        folder = fs::temp_directory_path()
            / ("fortitor-cli-" + std::to_string(::getpid())
               + testing::UnitTest::GetInstance()->current_test_info()->name());
        fs::create_directories(folder);
    }
    void TearDown() override { fs::remove_all(folder); }

    int run(const std::string& arguments)
    {
        const std::string command =
            "cd '" + folder.string() + "' && '" CLI_PROGRAM "' " + arguments + " >out.txt 2>err.txt";
        const int status = std::system(command.c_str());
        return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
    }
    std::string text(const std::string& name)
    {
        std::ifstream in(folder / name);
        std::ostringstream all;
        all << in.rdbuf();
        return all.str();
    }
    Json json(const std::string& name) { return Json::parse(text(name)); }
    void put(const std::string& name, const std::string& what) { std::ofstream(folder / name) << what; }
    void simulate()
    {
        ASSERT_EQ(run("simulate --specimen rigger-tube --seed 5 --out A.csv --job job.json"), 0) << text("err.txt");
    }
    fs::path folder;
};

} // namespace fortitor::test
