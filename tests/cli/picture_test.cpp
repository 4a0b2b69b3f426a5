// SPDX-License-Identifier: GPL-3.0-or-later
// Indents read from pictures through the command line. The pictures are put together from polygons, sixteen samples a
// pixel, with uneven light, scratches, specks and noise; what is asked is the length they were made from.
#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include <sys/wait.h>
#include <unistd.h>

#include <cmath>
#include <cstdint>
#include <filesystem>
#include <fstream>
#include <numbers>
#include <random>
#include <sstream>
#include <string>
#include <vector>

namespace {

namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;

struct Picture {
    int width = 640, height = 480;
    std::vector<double> light{};

    double& at(int x, int y)
    {
        return light[static_cast<size_t>(y) * static_cast<size_t>(width) + static_cast<size_t>(x)];
    }
};

struct Making {
    double cx = 320, cy = 240, first = 210, second = 214, angle = 0.3;
    bool ball = false, none = false, inverted = false;
    double bulge = 0; ///< of the sides of a long one, share of the half width
    double blur = 1; ///< px, of a mean over a square
    unsigned seed = 1;
};

/// Whether a place lies in the indent, and in which facet.
int facetAt(const Making& m, double x, double y)
{
    const double u = (x - m.cx) * std::cos(m.angle) + (y - m.cy) * std::sin(m.angle);
    const double v = -(x - m.cx) * std::sin(m.angle) + (y - m.cy) * std::cos(m.angle);
    const double a = 2 * u / m.first, b = 2 * v / m.second;
    const double side = std::abs(a) + std::abs(b) - m.bulge * std::sin(std::numbers::pi * std::min(1.0, std::abs(a)));
    const bool inside = m.ball ? a * a + b * b <= 1 : std::abs(a) < 1 && side <= 1;
    return !inside || m.none ? -1 : (u < 0 ? 2 : 0) + (v < 0 ? 1 : 0);
}

Picture made(const Making& m)
{
    std::mt19937 random(m.seed);
    std::uniform_real_distribution<double> even(0, 1);
    std::normal_distribution<double> noise(0, 1.5 + 2 * even(random));
    const double ground = 120 + 80 * even(random);
    double facets[4];
    for (double& f : facets)
        f = m.ball ? 0.5 : 0.3 + 0.3 * even(random);
    const double slopeX = 0.4 * (even(random) - 0.5), slopeY = 0.4 * (even(random) - 0.5);
    Picture p;
    p.light.assign(static_cast<size_t>(p.width) * static_cast<size_t>(p.height), 0);
    for (int y = 0; y < p.height; ++y)
        for (int x = 0; x < p.width; ++x) {
            double sum = 0;
            for (int k = 0; k < 16; ++k) {
                const int f = facetAt(m, x - 0.375 + 0.25 * (k % 4), y - 0.375 + 0.25 * (k / 4));
                sum += f < 0 ? 1 : facets[f];
            }
            p.at(x, y) = ground * (1 + slopeX * (x / 640.0 - 0.5) + slopeY * (y / 480.0 - 0.5)) * sum / 16;
        }
    for (int s = 0; s < 6; ++s) { // scratches across all of it
        const double phi = std::numbers::pi * even(random), away = 400 * (even(random) - 0.5),
                     deep = 0.15 * (even(random) - 0.6);
        for (int y = 0; y < p.height; ++y)
            for (int x = 0; x < p.width; ++x) {
                const double d = std::abs((x - 320) * std::cos(phi) + (y - 240) * std::sin(phi) - away);
                p.at(x, y) *= 1 + deep * std::exp(-d * d);
            }
    }
    const int half = static_cast<int>(m.blur);
    for (int turn = 0; turn < 2 && half > 0; ++turn) {
        const Picture before = p;
        for (int y = 0; y < p.height; ++y)
            for (int x = 0; x < p.width; ++x) {
                double sum = 0;
                for (int k = -half; k <= half; ++k) {
                    const int i = std::clamp(turn == 0 ? x + k : y + k, 0, turn == 0 ? p.width - 1 : p.height - 1);
                    sum += const_cast<Picture&>(before).at(turn == 0 ? i : x, turn == 0 ? y : i);
                }
                p.at(x, y) = sum / (2 * half + 1);
            }
    }
    for (double& v : p.light)
        v = m.inverted ? 255 - v + noise(random) : v + noise(random);
    return p;
}

void number(std::string& out, std::uint64_t value, int bytes)
{
    for (int i = 0; i < bytes; ++i)
        out.push_back(static_cast<char>(value >> (8 * i) & 0xFF));
}

/// A grey picture as an uncompressed BMP.
std::string bmp(Picture p)
{
    const auto pixels = static_cast<std::uint64_t>(p.width) * static_cast<std::uint64_t>(p.height);
    std::string out = "BM";
    number(out, 54 + 1024 + pixels, 4);
    number(out, 0, 4);
    number(out, 54 + 1024, 4);
    number(out, 40, 4);
    number(out, static_cast<std::uint64_t>(p.width), 4);
    number(out, static_cast<std::uint64_t>(p.height), 4);
    number(out, 1, 2);
    number(out, 8, 2);
    for (int i = 0; i < 4; ++i)
        number(out, 0, 4);
    number(out, 256, 4);
    number(out, 0, 4);
    for (unsigned i = 0; i < 256; ++i)
        number(out, i * 0x010101U, 4);
    for (int y = p.height - 1; y >= 0; --y)
        for (int x = 0; x < p.width; ++x)
            out.push_back(static_cast<char>(std::lround(std::clamp(p.at(x, y), 0.0, 255.0))));
    return out;
}

class Pictures : public testing::Test {
protected:
    void SetUp() override
    {
        folder = fs::temp_directory_path()
            / ("fortitor-picture-" + std::to_string(::getpid())
               + testing::UnitTest::GetInstance()->current_test_info()->name());
        fs::create_directories(folder);
    }
    void TearDown() override { fs::remove_all(folder); }
    int read(const std::string& bytes, const std::string& more, const std::string& name = "p.bmp")
    {
        std::ofstream(folder / name, std::ios::binary) << bytes;
        const std::string command = "cd '" + folder.string() + "' && '" CLI_PROGRAM "' hardness picture " + name + " "
            + more + " >out.txt 2>err.txt";
        const int status = std::system(command.c_str());
        return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
    }
    std::string text(const char* name)
    {
        std::ifstream in(folder / name);
        std::ostringstream all;
        all << in.rdbuf();
        return all.str();
    }
    Json json() { return Json::parse(text("out.txt")); }
    fs::path folder;
};

const std::string vickers = R"(--kind vickers --scale "0.2 um" --force "9.807 N")";
const std::string knoop = R"(--kind knoop --scale "0.2 um" --force "9.807 N")";
const std::string brinell = R"(--kind brinell --scale "2 um" --force "1839 N" --ball "2.5 mm")";

TEST_F(Pictures, SquareIndentsAtAnyAngleAndInAnyLight)
{
    int within = 0;
    constexpr int count = 20;
    for (unsigned seed = 1; seed <= count; ++seed) {
        Making m{.seed = seed};
        m.first = 110 + 11 * seed;
        m.second = m.first * (0.985 + 0.0012 * seed);
        m.angle = 0.26 * seed;
        m.cx = 320 + 3.3 * (seed % 7);
        m.inverted = seed % 5 == 0;
        m.blur = 1 + seed % 2;
        ASSERT_EQ(read(bmp(made(m)), vickers), 0) << seed << text("err.txt");
        const Json j = json();
        const double d = (m.first + m.second) / 2 * 0.2e-3; // mm
        const double truth = 0.1891 * 9.807 / (d * d);
        within += std::abs(j["value"].get<double>() / truth - 1) < 0.01;
        EXPECT_NEAR(j["value"].get<double>(), truth, 0.02 * truth) << seed;
        EXPECT_EQ(j["corners"].size(), 4u);
        EXPECT_EQ(j["diagonals"].size(), 2u);
        EXPECT_LT(j["uncertainty"].get<double>(), 0.05 * truth);
        EXPECT_NE(j["notation"].get<std::string>().find(" HV 1"), std::string::npos);
    }
    EXPECT_GE(within, count - 1);
}

TEST_F(Pictures, RimsOfABall)
{
    for (unsigned seed = 1; seed <= 8; ++seed) {
        Making m{.ball = true, .seed = seed + 100};
        m.first = 320 + 6.0 * seed; // 0.26 to 0.31 of the ball
        m.second = m.first * (0.99 + 0.0015 * seed);
        m.angle = 0.5 * seed;
        ASSERT_EQ(read(bmp(made(m)), brinell), 0) << seed << text("err.txt");
        const Json j = json();
        const double d = (m.first + m.second) / 2 * 2e-3, D = 2.5;
        const double truth = 0.102 * 2 * 1839 / (std::numbers::pi * D * (D - std::sqrt(D * D - d * d)));
        EXPECT_NEAR(j["value"].get<double>(), truth, 0.01 * truth) << seed;
        EXPECT_NEAR(j["rim"]["centre"][0].get<double>(), m.cx, 1);
        EXPECT_EQ(j["diameters"].size(), 2u);
    }
}

TEST_F(Pictures, TipsOfALongPyramid)
{
    int within = 0;
    constexpr int count = 12;
    for (unsigned seed = 1; seed <= count; ++seed) {
        Making m{.seed = seed + 200};
        m.first = 200 + 17 * seed;
        m.second = m.first / 7.114 * (0.985 + 0.0025 * seed);
        m.angle = 0.26 * seed;
        m.inverted = seed % 5 == 0;
        m.bulge = 0.02 * (seed % 7) - 0.06;
        const int status = read(bmp(made(m)), knoop);
        const Json j = json();
        ASSERT_EQ(status, 0) << seed << text("err.txt");
        const double L = m.first * 0.2e-3;
        const double off = std::abs(j["value"].get<double>() / (1.451 * 9.807 / (L * L)) - 1);
        EXPECT_TRUE(off < 0.02 || !j["remarks"].empty()) << seed << ": " << off;
        within += off < 0.02;
        EXPECT_EQ(j["diagonals"].size(), 2u);
        EXPECT_NE(j["notation"].get<std::string>().find(" HK 1"), std::string::npos);
    }
    EXPECT_EQ(within, count);
}

TEST_F(Pictures, WhatCannotBeToldGivesNoNumber)
{
    for (unsigned seed = 1; seed <= 5; ++seed) {
        EXPECT_EQ(read(bmp(made({.none = true, .seed = seed})), vickers), 4) << seed;
        EXPECT_TRUE(json()["value"].is_null());
        EXPECT_EQ(read(bmp(made({.none = true, .seed = seed})), brinell), 4) << seed;
    }
    EXPECT_EQ(read(bmp(made({.cx = 60})), vickers), 4) << "cut by the border";
    EXPECT_NE(text("err.txt").size(), 0u);
    EXPECT_EQ(read(bmp(made({.cy = 470, .ball = true})), brinell), 4);
    EXPECT_EQ(read(bmp(made({.first = 120, .second = 120, .blur = 24})), vickers), 4) << "out of focus";
    EXPECT_EQ(read(bmp(made({})), knoop), 4) << "a square one";
    for (unsigned seed = 1; seed <= 3; ++seed)
        EXPECT_EQ(read(bmp(made({.none = true, .seed = seed})), knoop), 4) << seed;
    EXPECT_EQ(read(bmp(made({.cx = 100, .first = 300, .second = 42.2, .angle = 0.1})), knoop), 4) << "a tip cut off";
}

TEST_F(Pictures, BadFilesAndFlagsAreSaidPlainly)
{
    const std::string good = bmp(made({}));
    EXPECT_EQ(read(good.substr(0, good.size() / 2), vickers), 3);
    EXPECT_NE(text("err.txt").find("cut short"), std::string::npos);
    EXPECT_EQ(read("", vickers), 3);
    EXPECT_EQ(read("a text", vickers), 3);
    std::string huge = good;
    for (const size_t at : {18u, 22u})
        for (int i = 0; i < 4; ++i)
            huge[at + static_cast<size_t>(i)] = static_cast<char>(20000 >> (8 * i) & 0xFF);
    EXPECT_EQ(read(huge, vickers), 3) << "400 million pixels, or cut short: refused before memory is taken";
    EXPECT_EQ(read(good, R"(--kind vickers --scale "0 um" --force "9.807 N")"), 3);
    EXPECT_EQ(read(good, R"(--kind vickers --scale "0.2 um" --force "0 N")"), 3);
    EXPECT_EQ(read(good, R"(--kind vickers --scale "0.2 N" --force "9.807 N")"), 3);
    EXPECT_EQ(read(good, R"(--kind other --scale "0.2 um" --force "9.807 N")"), 3);
    EXPECT_EQ(read(good, R"(--kind brinell --scale "2 um" --force "9.807 N")"), 3) << "no ball";
    EXPECT_EQ(read(good, R"(--kind vickers --force "9.807 N")"), 2) << "a picture without scale";
    EXPECT_EQ(read(good, vickers, "other-name.png"), 0) << "what it is stands in the file, not in its name";
}

} // namespace
