// SPDX-License-Identifier: GPL-3.0-or-later
// A long signal to look at: what a window shows is what its readings are; the file beside it is of its age or none.
#include "history/pyramid.h"
#include "sim/random.h"

#include <gtest/gtest.h>

#include <sys/resource.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <csignal>
#include <filesystem>
#include <fstream>
#include <limits>

namespace fortitor::pyramid_test {
namespace {

namespace fs = std::filesystem;

/// Wandering, with gaps, an infinite reading and a spike.
std::vector<double> signal(size_t n)
{
    Random random(5);
    std::vector<double> values(n);
    double level = 0;
    for (double& v : values)
        v = level += random.normal();
    for (size_t i = n / 3; i < n / 3 + 700; ++i)
        values[i] = std::numeric_limits<double>::quiet_NaN();
    values[n / 2] = std::numeric_limits<double>::infinity();
    values[n / 2 + 1000] = 1e4;
    return values;
}

Extent bruteForce(const std::vector<double>& values, double from, double to)
{
    Extent found;
    for (auto i = static_cast<size_t>(std::max(0.0, std::ceil(from))); i < values.size() && static_cast<double>(i) < to;
         ++i)
        if (std::isfinite(values[i]))
            found.take({static_cast<float>(values[i]), static_cast<float>(values[i])});
    return found;
}

TEST(Pyramid, AWindowShowsItsReadings)
{
    const size_t n = 300'017;
    const auto values = signal(n);
    const auto source = historyOf(values);
    const auto built = Pyramid::build(*source);
    ASSERT_TRUE(built && *built);
    const Pyramid& pyramid = **built;
    Random random(8);
    for (int trial = 0; trial < 300; ++trial) {
        const double wide = std::exp(random.even() * std::log(static_cast<double>(n)));
        const double from = random.even() * (static_cast<double>(n) - wide);
        std::vector<Extent> columns(1 + static_cast<size_t>(random.even() * 1300));
        pyramid.extents(*source, from, from + wide, columns);
        const double each = wide / static_cast<double>(columns.size());
        const double slack = each >= Pyramid::leaf ? Pyramid::leaf : 0; // of a column's ends
        for (size_t k = 0; k < columns.size(); ++k) {
            const double a = from + each * static_cast<double>(k), b = a + each;
            const Extent most = bruteForce(values, a, b + slack), least = bruteForce(values, a + slack, b);
            if (columns[k].empty()) {
                EXPECT_TRUE(least.empty()) << trial << " " << k;
                continue;
            }
            ASSERT_FALSE(most.empty()) << trial << " " << k;
            EXPECT_GE(columns[k].low, most.low);
            EXPECT_LE(columns[k].high, most.high);
            if (!least.empty()) {
                EXPECT_LE(columns[k].low, least.low);
                EXPECT_GE(columns[k].high, least.high);
            }
        }
    }
    EXPECT_EQ(pyramid.whole().high, 1e4F); // the infinite reading is a gap
    EXPECT_EQ(pyramid.whole().low, bruteForce(values, 0, static_cast<double>(n)).low);
}

TEST(Pyramid, TheSameWhateverTheThreadsAndStoppedWhereItIsAsked)
{
    const auto source = historyOf(signal(500'000));
    const auto one = Pyramid::build(*source, {}, 1), many = Pyramid::build(*source, {}, 5);
    EXPECT_EQ((*one)->bytes("a"), (*many)->bytes("a"));
    const auto stopped = Pyramid::build(*source, [](double) { return false; });
    ASSERT_TRUE(stopped);
    EXPECT_FALSE(*stopped);
}

TEST(Pyramid, BytesThatWereCutOrChangedAreNone)
{
    const auto source = historyOf(signal(10'000));
    const Pyramid pyramid = **Pyramid::build(*source);
    const std::string bytes = pyramid.bytes("stamp");
    ASSERT_TRUE(Pyramid::fromBytes(bytes, "stamp"));
    EXPECT_EQ(Pyramid::fromBytes(bytes, "stamp")->bytes("stamp"), bytes);
    EXPECT_FALSE(Pyramid::fromBytes(bytes, "stomp"));
    EXPECT_FALSE(Pyramid::fromBytes(bytes, "stamps"));
    Random random(1);
    for (int trial = 0; trial < 400; ++trial) {
        std::string bad = bytes;
        const auto at = static_cast<size_t>(random.even() * static_cast<double>(bad.size() - 1));
        if (trial % 2 == 0)
            bad.resize(at);
        else
            bad[at] = static_cast<char>(bad[at] ^ (1 << (trial % 8)));
        EXPECT_FALSE(Pyramid::fromBytes(bad, "stamp")) << trial << " at " << at;
    }
}

class Beside : public testing::Test {
protected:
    void SetUp() override
    {
        folder = fs::temp_directory_path() / ("fortitor-pyramid-" + std::to_string(::getpid()));
        fs::create_directories(folder);
        path = (folder / "week.f32").string();
        write(0);
    }
    void TearDown() override { fs::remove_all(folder); }
    void write(float add, int later = 0)
    {
        std::vector<float> values;
        for (const double v : signal(40'000))
            values.push_back(static_cast<float>(v) + add);
        std::ofstream(path, std::ios::binary)
            .write(reinterpret_cast<const char*>(values.data()),
                   static_cast<std::streamsize>(values.size() * sizeof(float)));
        fs::last_write_time(path, fs::last_write_time(path) + std::chrono::seconds(later));
        HistoryRequest request;
        request.rate = 200;
        file = *openHistory(path, request);
    }
    Expected<std::optional<KeptPyramid>> kept() { return keptPyramid(*file.source, {path}); }
    fs::path folder;
    std::string path;
    HistoryFile file;
};

TEST_F(Beside, ItIsBuiltOnceAndAnewWhereTheFileChanged)
{
    EXPECT_TRUE((*kept())->built);
    EXPECT_FALSE((*kept())->built);
    write(3, 5);
    const auto anew = kept();
    ASSERT_TRUE(anew && *anew);
    EXPECT_TRUE((*anew)->built);
    EXPECT_NEAR((*anew)->pyramid.whole().high, 1e4F + 3, 0.01);
    EXPECT_FALSE((*kept())->built);
    std::ofstream(pyramidPath({path}), std::ios::binary) << "something else";
    EXPECT_TRUE((*kept())->built);
}

TEST_F(Beside, WhereItCanNotBeWrittenItServesAllTheSame)
{
    rlimit before{};
    ASSERT_EQ(getrlimit(RLIMIT_FSIZE, &before), 0);
    const auto handler = std::signal(SIGXFSZ, SIG_IGN);
    rlimit low = before;
    low.rlim_cur = 512;
    ASSERT_EQ(setrlimit(RLIMIT_FSIZE, &low), 0);
    const auto full = kept();
    setrlimit(RLIMIT_FSIZE, &before);
    std::signal(SIGXFSZ, handler);
    ASSERT_TRUE(full && *full);
    EXPECT_FALSE((*full)->notKept.empty());
    EXPECT_EQ((*full)->pyramid.size(), 40'000u);
    size_t files = 0;
    for ([[maybe_unused]] const auto& entry : fs::directory_iterator(folder))
        ++files;
    EXPECT_EQ(files, 1u) << "half a file was left";
    fs::create_directory(pyramidPath({path})); // a folder stands in its place
    EXPECT_FALSE((*kept())->notKept.empty());
    EXPECT_TRUE(fs::is_directory(pyramidPath({path})));
}

} // namespace
} // namespace fortitor::pyramid_test
