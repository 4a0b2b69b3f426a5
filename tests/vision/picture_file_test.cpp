// SPDX-License-Identifier: GPL-3.0-or-later
// Picture files before they are decoded: their kind, size and end.
#include "vision/picture_file.h"

#include <gtest/gtest.h>

#include <random>
#include <string>
#include <vector>

namespace fortitor::picture_file_test {
namespace {

using Bytes = std::vector<std::uint8_t>;

void big(Bytes& b, std::uint64_t value, int count)
{
    for (int i = count - 1; i >= 0; --i)
        b.push_back(static_cast<std::uint8_t>(value >> (8 * i) & 0xFF));
}

void chunk(Bytes& b, const char* kind, const Bytes& data)
{
    big(b, data.size(), 4);
    b.insert(b.end(), kind, kind + 4);
    b.insert(b.end(), data.begin(), data.end());
    big(b, 0, 4);
}

Bytes png(std::uint32_t width, std::uint32_t height)
{
    Bytes b{0x89, 'P', 'N', 'G', 0x0D, 0x0A, 0x1A, 0x0A};
    Bytes head;
    big(head, width, 4);
    big(head, height, 4);
    head.insert(head.end(), {8, 0, 0, 0, 0});
    chunk(b, "IHDR", head);
    chunk(b, "IDAT", Bytes(300, 7));
    chunk(b, "IEND", {});
    return b;
}

Bytes jpeg(std::uint16_t width, std::uint16_t height)
{
    Bytes b{0xFF, 0xD8, 0xFF, 0xE0, 0, 4, 1, 2, 0xFF, 0xC0, 0, 11, 8};
    big(b, height, 2);
    big(b, width, 2);
    b.insert(b.end(), {1, 0, 0, 0, 0xFF, 0xDA, 0, 2});
    b.insert(b.end(), 200, 0x55);
    b.insert(b.end(), {0xFF, 0xD9});
    return b;
}

Bytes tiff(std::uint32_t width, std::uint32_t height, std::uint32_t offset, std::uint32_t length, size_t fileSize)
{
    Bytes b{'M', 'M', 0, 42, 0, 0, 0, 8, 0, 4};
    const auto entry = [&](std::uint16_t tag, std::uint32_t value) {
        big(b, tag, 2);
        big(b, 4, 2);
        big(b, 1, 4);
        big(b, value, 4);
    };
    entry(256, width);
    entry(257, height);
    entry(273, offset);
    entry(279, length);
    b.resize(fileSize, 1);
    return b;
}

std::string refusal(const Bytes& b)
{
    const auto head = pictureHead(b, "p");
    return head ? std::string() : head.problem().text();
}

TEST(PictureFile, KindAndSize)
{
    const auto a = pictureHead(png(640, 480), "p");
    ASSERT_TRUE(a) << a.problem().text();
    EXPECT_EQ(a->kind, "PNG");
    EXPECT_EQ(a->width, 640u);
    EXPECT_EQ(a->height, 480u);
    const auto b = pictureHead(jpeg(1280, 960), "p");
    ASSERT_TRUE(b) << b.problem().text();
    EXPECT_EQ(b->width, 1280u);
    EXPECT_EQ(b->height, 960u);
    const auto c = pictureHead(tiff(100, 50, 100, 5000, 5100), "p");
    ASSERT_TRUE(c) << c.problem().text();
    EXPECT_EQ(c->width, 100u);
}

TEST(PictureFile, CutShortAtAnyPlaceIsRefused)
{
    for (const Bytes& whole : {png(64, 64), jpeg(64, 64), tiff(64, 64, 100, 4096, 4196)})
        for (size_t n = 0; n < whole.size(); ++n)
            EXPECT_FALSE(pictureHead(std::span(whole).first(n), "p")) << n << " of " << whole.size();
}

TEST(PictureFile, TooManyPixelsAndNone)
{
    EXPECT_NE(refusal(png(20000, 15000)).find("120 million"), std::string::npos);
    EXPECT_NE(refusal(png(0xFFFFFFFF, 0xFFFFFFFF)).find("120 million"), std::string::npos);
    EXPECT_NE(refusal(png(0, 480)).find("without a size"), std::string::npos);
    EXPECT_TRUE(pictureHead(png(5472, 3648), "p"));
    EXPECT_NE(refusal({}).find("empty"), std::string::npos);
    EXPECT_NE(refusal({1, 2, 3, 4}).find("another kind"), std::string::npos);
}

TEST(PictureFile, AnyBytesAreAnswered)
{
    std::mt19937 random(7);
    for (int round = 0; round < 20000; ++round) {
        Bytes b = round % 3 == 0 ? png(64, 64) : round % 3 == 1 ? jpeg(64, 64) : tiff(64, 64, 100, 400, 520);
        for (int k = 0; k < 4; ++k)
            b[8 + random() % (b.size() - 8)] = static_cast<std::uint8_t>(random());
        if (round % 4 == 0)
            b.resize(random() % b.size());
        if (const auto head = pictureHead(b, "p"); head) {
            EXPECT_LE(head->width * head->height, mostPixels);
        }
    }
}

} // namespace
} // namespace fortitor::picture_file_test
