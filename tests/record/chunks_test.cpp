// SPDX-License-Identifier: GPL-3.0-or-later
// A record handed out in stretches is the record, whatever their length.
#include "record/text_import.h"

#include <gtest/gtest.h>

#include <cmath>
#include <filesystem>
#include <fstream>
#include <unistd.h>

namespace fortitor {
namespace {

class Chunks : public testing::Test {
protected:
    void TearDown() override { std::filesystem::remove(path_); }

    void write(const std::string& text) { std::ofstream(path_, std::ios::binary) << text; }

    /// All rows of all stretches; a gap counts as −1, so that rows can be compared.
    std::vector<std::vector<double>> taken(size_t rows, size_t most = 1'000'000)
    {
        std::vector<std::vector<double>> all;
        size_t next = 0;
        const auto head = forEachChunk(path_, {}, rows, [&](const RowsChunk& chunk) {
            EXPECT_EQ(chunk.first, next);
            EXPECT_LE(chunk.channels.front().size(), std::max(rows, size_t{1}) + 2);
            next += chunk.channels.front().size();
            all.resize(chunk.channels.size());
            for (size_t c = 0; c < chunk.channels.size(); ++c)
                for (const double v : chunk.channels[c])
                    all[c].push_back(std::isnan(v) ? -1 : v);
            return next < most;
        });
        problem_ = head ? Problem{} : head.problem();
        if (head) {
            EXPECT_EQ(head->rows(), 0u);
            notes_ = head->notes;
        }
        return all;
    }

    std::vector<std::vector<double>> whole()
    {
        const auto record = importText(path_, {});
        EXPECT_TRUE(record) << record.problem().text();
        std::vector<std::vector<double>> all;
        for (const Channel& c : record->channels) {
            all.emplace_back();
            for (const double v : c.values.values())
                all.back().push_back(std::isnan(v) ? -1 : v);
        }
        notesOfWhole_ = record->notes;
        return all;
    }

    std::string path_ = (std::filesystem::temp_directory_path() / ("chunks_" + std::to_string(::getpid()))).string();
    Problem problem_;
    std::vector<std::string> notes_, notesOfWhole_;
};

TEST_F(Chunks, AreTheWholeWhateverTheirLength)
{
    std::string text = "time s;force N;torque Nm\n";
    for (int i = 0; i < 500; ++i)
        text += std::to_string(i) + ";" + (i % 7 == 3 ? std::string() : std::to_string(100 + i)) + ";0.5\n";
    write(text);
    const auto all = whole();
    for (const size_t rows :
         {size_t{0}, size_t{1}, size_t{2}, size_t{3}, size_t{7}, size_t{64}, size_t{499}, size_t{500}, size_t{9999}})
        EXPECT_EQ(taken(rows), all) << rows;
}

TEST_F(Chunks, AConverterAtItsEndIsSeenAcrossASeam)
{
    // Runs of one to five at the end of the converter, three and more of which are no readings.
    std::string text = "time s;force N\n";
    for (int i = 0, run = 0; i < 300; ++i) {
        run = i % 11 == 0 ? i / 11 % 6 : std::max(run - 1, 0);
        text += std::to_string(i) + ";" + std::to_string(run > 0 ? 32767 : i) + "\n";
    }
    write(text);
    const auto all = whole();
    ASSERT_GT(std::ranges::count(all[1], -1.0), 20);
    for (size_t rows = 1; rows < 40; ++rows) {
        EXPECT_EQ(taken(rows), all) << rows;
        EXPECT_EQ(notes_, notesOfWhole_) << rows;
    }
}

TEST_F(Chunks, StopsWhenItIsToldTo)
{
    std::string text = "time s;force N\n";
    for (int i = 0; i < 100; ++i)
        text += std::to_string(i) + ";" + std::to_string(i) + "\n";
    write(text);
    EXPECT_LE(taken(10, 30)[0].size(), 30u);
    EXPECT_EQ(problem_.found, "stopped by hand");
}

TEST_F(Chunks, NamesDamageAndSeveralTestsAsTheImportDoes)
{
    std::string text = "time s;force N\n";
    for (int i = 0; i < 60; ++i)
        text += i == 40 ? std::string("40;4x0\n") : std::to_string(i) + ";" + std::to_string(i) + "\n";
    write(text);
    taken(8);
    const auto damaged = importText(path_, {});
    ASSERT_FALSE(damaged);
    EXPECT_EQ(problem_.text(), damaged.problem().text());
    std::string two = "time s;force N\n";
    for (int i = 0; i < 60; ++i)
        two += (i == 30 ? "\n" : "") + std::to_string(i % 30) + ";" + std::to_string(i) + "\n";
    write(two);
    taken(8);
    const auto parts = importText(path_, {});
    ASSERT_FALSE(parts);
    EXPECT_EQ(problem_.text(), parts.problem().text());
    const auto second = forEachChunk(path_, {.part = 2}, 8, [](const RowsChunk&) { return true; });
    EXPECT_TRUE(second);
}

TEST(ChunksInMemory, AreLookedAtInPlace)
{
    Record record;
    for (int i = 0; i < 10; ++i)
        (record.channels.empty() ? record.add("force") : record.channels[0]).values.append(i);
    size_t rows = 0;
    forEachChunk(record, 4, [&](const RowsChunk& chunk) {
        EXPECT_EQ(chunk.channels[0].data(), record.channels[0].values.values().data() + chunk.first);
        rows += chunk.channels[0].size();
        return true;
    });
    EXPECT_EQ(rows, 10u);
}

} // namespace
} // namespace fortitor
