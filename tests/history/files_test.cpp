// SPDX-License-Identifier: GPL-3.0-or-later
// Sound files and HDF5: what is in them comes out, what is wrong with them is named.
#include "history/source.h"

#include <gtest/gtest.h>
#include <hdf5.h>

#include <cmath>
#include <cstring>
#include <filesystem>
#include <fstream>

namespace fortitor::files_test {
namespace {

namespace fs = std::filesystem;

struct Scratch {
    explicit Scratch(const char* name) : path((fs::temp_directory_path() / name).string()) { }
    ~Scratch() { fs::remove(path); }
    Scratch(const Scratch&) = delete;
    Scratch& operator=(const Scratch&) = delete;
    std::string path;
};

template <class T> void put(std::string& into, T value)
{
    into.append(reinterpret_cast<const char*>(&value), sizeof value);
}

/// Written byte by byte: whole numbers of 16 bit, or figures of 32.
std::string wave(int channels, bool figures, int frames)
{
    const int width = figures ? 4 : 2;
    std::string head = "RIFF";
    put<std::uint32_t>(head, 36 + static_cast<std::uint32_t>(frames * channels * width));
    head += "WAVEfmt ";
    put<std::uint32_t>(head, 16);
    put<std::uint16_t>(head, figures ? 3 : 1);
    put<std::uint16_t>(head, static_cast<std::uint16_t>(channels));
    put<std::uint32_t>(head, 200);
    put<std::uint32_t>(head, static_cast<std::uint32_t>(200 * channels * width));
    put<std::uint16_t>(head, static_cast<std::uint16_t>(channels * width));
    put<std::uint16_t>(head, static_cast<std::uint16_t>(8 * width));
    head += "data";
    put<std::uint32_t>(head, static_cast<std::uint32_t>(frames * channels * width));
    for (int i = 0; i < frames; ++i)
        for (int c = 0; c < channels; ++c)
            if (figures)
                put<float>(head, static_cast<float>(i + 1000 * c));
            else
                put<std::int16_t>(head, static_cast<std::int16_t>(i % 1000 * 8));
    return head;
}

TEST(History, SoundFiles)
{
    const Scratch scratch("fortitor-files.wav");
    std::ofstream(scratch.path, std::ios::binary) << wave(1, false, 70'000);
    const auto file = openHistory(scratch.path, {});
    ASSERT_TRUE(file) << file.problem().text();
    EXPECT_EQ(file->rate, 200);
    ASSERT_EQ(file->source->size(), 70'000u);
    std::vector<double> part(2);
    file->source->read(65'123, part);
    EXPECT_NEAR(part[0], 123 * 8 / 32768.0, 1e-12);
    EXPECT_FALSE(openHistory(scratch.path, {.rate = 100})); // the file says otherwise
    std::ofstream(scratch.path, std::ios::binary) << wave(3, true, 500);
    EXPECT_FALSE(openHistory(scratch.path, {}));
    EXPECT_FALSE(openHistory(scratch.path, {.channel = "4"}));
    EXPECT_FALSE(openHistory(scratch.path, {.channel = "1.5"}));
    const auto third = openHistory(scratch.path, {.channel = "3", .unit = "MPa"});
    ASSERT_TRUE(third) << third.problem().text();
    third->source->read(17, part);
    EXPECT_EQ(part[0], 2017);
    std::ofstream(scratch.path, std::ios::binary) << "RIFF and nothing";
    EXPECT_FALSE(openHistory(scratch.path, {}));
    EXPECT_FALSE(openHistory("/nowhere.wav", {}));
}

TEST(History, Hdf5Files)
{
    const Scratch scratch("fortitor-files.h5");
    const hid_t file = H5Fcreate(scratch.path.c_str(), H5F_ACC_TRUNC, H5P_DEFAULT, H5P_DEFAULT);
    const hid_t group = H5Gcreate2(file, "/day1", H5P_DEFAULT, H5P_DEFAULT, H5P_DEFAULT);
    const auto write = [&](const char* name, hid_t type, const std::vector<hsize_t>& size, const void* data) {
        const hid_t space = H5Screate_simple(static_cast<int>(size.size()), size.data(), nullptr);
        const hid_t set = H5Dcreate2(file, name, type, space, H5P_DEFAULT, H5P_DEFAULT, H5P_DEFAULT);
        H5Dwrite(set, type, H5S_ALL, H5S_ALL, H5P_DEFAULT, data);
        H5Dclose(set);
        H5Sclose(space);
    };
    std::vector<float> row;
    std::vector<int> table;
    for (int i = 0; i < 70'000; ++i)
        row.push_back(static_cast<float>(i) / 4);
    for (int i = 0; i < 300; ++i)
        table.insert(table.end(), {i, -i});
    write("/day1/strain", H5T_NATIVE_FLOAT, {70'000}, row.data());
    write("/day1/both", H5T_NATIVE_INT, {300, 2}, table.data());
    write("/day1/block", H5T_NATIVE_INT, {10, 10, 6}, table.data());
    H5Gclose(group);
    H5Fclose(file);
    const auto strain = openHistory(scratch.path, {.dataset = "/day1/strain", .rate = 200});
    ASSERT_TRUE(strain) << strain.problem().text();
    EXPECT_EQ(strain->source->size(), 70'000u);
    std::vector<double> part(3);
    strain->source->read(65'535, part);
    EXPECT_EQ(part[1], 65'536 / 4.0);
    const auto second = openHistory(scratch.path, {.dataset = "/day1/both", .channel = "2", .rate = 200});
    ASSERT_TRUE(second) << second.problem().text();
    second->source->read(200, part);
    EXPECT_EQ(part[0], -200);
    EXPECT_FALSE(openHistory(scratch.path, {.rate = 200})); // which one
    EXPECT_FALSE(openHistory(scratch.path, {.dataset = "/day2/strain", .rate = 200}));
    EXPECT_FALSE(openHistory(scratch.path, {.dataset = "/day1", .rate = 200}));
    EXPECT_FALSE(openHistory(scratch.path, {.dataset = "/day1/both", .rate = 200})); // which column
    EXPECT_FALSE(openHistory(scratch.path, {.dataset = "/day1/block", .rate = 200}));
    EXPECT_FALSE(openHistory(scratch.path, {.dataset = "/day1/strain"})); // no rate
    fs::resize_file(scratch.path, 3'000);
    EXPECT_FALSE(openHistory(scratch.path, {.dataset = "/day1/strain", .rate = 200}));
}

} // namespace
} // namespace fortitor::files_test
