// SPDX-License-Identifier: GPL-3.0-or-later
// Rules of the house that a compiler does not keep.
#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include <map>
#include <string>

namespace {

namespace fs = std::filesystem;

const std::map<std::string, int> roomOrder{{"units", 0},     {"frame", 1},   {"record", 1}, {"curve", 2}, {"judge", 2},
                                           {"reference", 2}, {"methods", 3}, {"plan", 4},   {"sim", 4},   {"jobs", 5}};

TEST(CoreRules, NoQtInTheCoreAndIncludesPointUpwards)
{
    int files = 0;
    for (const auto& [room, order] : roomOrder) {
        for (const auto& entry : fs::recursive_directory_iterator(fs::path(SOURCE_FOLDER) / "src" / room)) {
            if (!entry.is_regular_file())
                continue;
            ++files;
            std::ifstream in(entry.path());
            for (std::string line; std::getline(in, line);) {
                EXPECT_EQ(line.find("#include <Q"), std::string::npos) << entry.path() << ": " << line;
                if (!line.starts_with("#include \""))
                    continue;
                const std::string target = line.substr(10, line.find('/') - 10);
                const auto other = roomOrder.find(target);
                if (other != roomOrder.end()) {
                    EXPECT_LE(other->second, order) << entry.path() << ": " << line;
                }
                EXPECT_TRUE(target != "app" && target != "store" && target != "draw" && target != "report")
                    << entry.path() << ": " << line;
            }
        }
    }
    EXPECT_GT(files, 50);
}

} // namespace
