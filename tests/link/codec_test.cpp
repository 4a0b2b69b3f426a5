// SPDX-License-Identifier: GPL-3.0-or-later
// Foreign bytes on the link: whole frames come through, anything else is named and ends the stream.
#include "link/frame_codec.h"
#include "link/messages.h"
#include "sim/random.h"

#include <gtest/gtest.h>

#include <cmath>
#include <limits>

namespace fortitor {
namespace {

SampleBatch batch(std::uint64_t first, size_t rows, std::uint16_t channels)
{
    SampleBatch b{.first = first, .channels = channels, .time = 1.5, .step = 0.0002, .values = {}};
    for (size_t i = 0; i < rows * channels; ++i)
        b.values.push_back(static_cast<double>(i) * 0.1);
    return b;
}

/// Whatever comes: whole frames counted, or the trouble. Never a crash, never more than what was sent.
size_t decodeAll(FrameDecoder& decoder)
{
    size_t frames = 0;
    for (;;) {
        const auto frame = decoder.next();
        if (!frame || !*frame)
            return frames;
        ++frames;
        if ((*frame)->kind == FrameKind::Samples) {
            if (const auto b = unpackSamples((*frame)->payload); b) {
                EXPECT_EQ(b->values.size(), b->rows() * b->channels);
            }
        } else if (const auto m = parseMessage((*frame)->payload); m) {
            (void)statusFrom(*m);
            (void)programFrom(m->value("program", LinkJson::object()));
            (void)limitsFrom(m->value("limits", LinkJson::object()));
            (void)specFrom(*m, {});
            (void)mountFrom(*m);
        }
    }
}

TEST(Codec, FramesComeThroughInAnyPieces)
{
    const std::string bytes = encodeFrame(FrameKind::Text, R"({"kind":"beat"})")
        + encodeFrame(FrameKind::Samples, packSamples(batch(7, 5, 3))) + encodeFrame(FrameKind::Text, "{}");
    for (const size_t piece : {size_t{1}, size_t{3}, size_t{16}, size_t{1000}}) {
        FrameDecoder decoder;
        std::vector<LinkFrame> frames;
        for (size_t at = 0; at < bytes.size(); at += piece) {
            decoder.take(std::string_view(bytes).substr(at, piece));
            for (auto frame = decoder.next(); frame && *frame; frame = decoder.next())
                frames.push_back(**frame);
        }
        ASSERT_EQ(frames.size(), 3u) << piece;
        EXPECT_EQ(frames[0].payload, R"({"kind":"beat"})");
        const auto b = unpackSamples(frames[1].payload);
        ASSERT_TRUE(b);
        EXPECT_EQ(b->first, 7u);
        EXPECT_EQ(b->values, batch(7, 5, 3).values);
    }
}

TEST(Codec, GapsAndExtremesKeepTheirBits)
{
    SampleBatch b{.first = 1,
                  .channels = 2,
                  .time = 0,
                  .step = 1,
                  .values = {std::numeric_limits<double>::quiet_NaN(), -0.0, std::numeric_limits<double>::denorm_min(),
                             1e308}};
    const auto back = unpackSamples(packSamples(b));
    ASSERT_TRUE(back);
    EXPECT_TRUE(std::isnan(back->values[0]));
    EXPECT_TRUE(std::signbit(back->values[1]));
    EXPECT_EQ(back->values[2], std::numeric_limits<double>::denorm_min());
    EXPECT_EQ(back->at(1, 1), 1e308);
}

TEST(Codec, WhatIsNoFrameIsNamedAndEndsTheStream)
{
    const std::string good = encodeFrame(FrameKind::Text, R"({"kind":"beat"})");
    const auto trouble = [](std::string bytes) {
        FrameDecoder decoder;
        decoder.take(bytes);
        const auto frame = decoder.next();
        if (frame)
            return std::string("none");
        decoder.take(encodeFrame(FrameKind::Text, "{}"));
        EXPECT_FALSE(decoder.next()) << "it stays ended";
        return frame.problem().found;
    };
    const auto with = [&](size_t at, char byte) {
        std::string bytes = good;
        bytes[at] = byte;
        return bytes;
    };
    EXPECT_EQ(trouble("HTTP"), "bytes that begin no frame");
    EXPECT_EQ(trouble("H"), "bytes that begin no frame");
    EXPECT_EQ(trouble(with(4, 2)), "version 2");
    EXPECT_EQ(trouble(with(5, 9)), "kind 9");
    EXPECT_EQ(trouble(with(7, 1)), "reserved bytes that are set");
    EXPECT_EQ(trouble(with(11, 127)).substr(0, 12), "a payload of");
    EXPECT_EQ(trouble(with(20, '?')), "a checksum that does not fit");
}

TEST(Codec, SamplesThatDoNotAddUpAreRefused)
{
    const std::string good = packSamples(batch(0, 4, 3));
    const auto bad = [&](size_t at, char byte) {
        std::string bytes = good;
        bytes[at] = byte;
        return !unpackSamples(bytes);
    };
    EXPECT_TRUE(unpackSamples(good));
    EXPECT_FALSE(unpackSamples(good.substr(0, 31)));
    EXPECT_FALSE(unpackSamples(good.substr(0, good.size() - 1)));
    EXPECT_TRUE(bad(8, 5));
    EXPECT_TRUE(bad(11, '\xff'));
    EXPECT_TRUE(bad(12, 0));
    EXPECT_TRUE(bad(13, '\xff'));
    EXPECT_TRUE(bad(7, '\xff'));
    SampleBatch still = batch(0, 4, 3);
    still.step = 0;
    EXPECT_FALSE(unpackSamples(packSamples(still)));
}

TEST(Codec, AMillionMutatedFramesDoNoHarm)
{
    RunProgram program;
    program.stages.push_back({.words = "Pull", .control = Control::Speed, .value = 0.1});
    LinkJson start{{"kind", "command"},
                   {"do", "start"},
                   {"id", 4},
                   {"program", programJson(program)},
                   {"limits", limitsJson({.force = 1000})}};
    const std::vector<std::string> seeds{encodeFrame(FrameKind::Text, start.dump()),
                                         encodeFrame(FrameKind::Text, statusJson({}).dump()),
                                         encodeFrame(FrameKind::Samples, packSamples(batch(12, 3, 6)))};
    Random random(20);
    const auto upTo = [&](size_t n) { return static_cast<size_t>(random.even() * static_cast<double>(n)); };
    size_t whole = 0;
    for (int i = 0; i < 1'000'000; ++i) {
        std::string bytes = seeds[upTo(seeds.size())];
        const bool honest = random.even() < 0.6; // the checksum fits, so that the payload is looked at
        std::string payload = bytes.substr(linkHeader);
        std::string& at = honest ? payload : bytes;
        for (size_t k = upTo(4) + 1; k > 0; --k) {
            if (at.empty())
                break;
            switch (upTo(4)) {
            case 0: at[upTo(at.size())] = static_cast<char>(upTo(256)); break;
            case 1: at.erase(upTo(at.size()), upTo(9)); break;
            case 2: at.insert(upTo(at.size()), 1 + upTo(5), static_cast<char>(upTo(256))); break;
            default: at[upTo(at.size())] ^= static_cast<char>(1 << upTo(8)); break;
            }
        }
        if (honest)
            bytes = encodeFrame(bytes[5] == 2 ? FrameKind::Samples : FrameKind::Text, payload);
        FrameDecoder decoder;
        const size_t cut = upTo(bytes.size() + 1);
        decoder.take(std::string_view(bytes).substr(0, cut));
        whole += decodeAll(decoder);
        decoder.take(std::string_view(bytes).substr(cut));
        whole += decodeAll(decoder);
    }
    EXPECT_GT(whole, 500'000u);
}

TEST(Messages, ProgramsLimitsAndSpecsGoBothWays)
{
    RunProgram program;
    program.stages.push_back({.words = "Quiet", .control = Control::Hold, .untilTime = 1.2});
    program.stages.push_back({.words = "Slow",
                              .control = Control::StrainRate,
                              .value = 0.00025,
                              .untilStrain = 0.02,
                              .prompt = "Off now.",
                              .act = "extensometer-off"});
    program.stages.push_back(
        {.words = "Cycle", .control = Control::Cycles, .value = 2, .low = -1, .high = 3, .count = 10});
    program.returns = true;
    program.returnSpeed = 4;
    const auto back = programFrom(programJson(program));
    ASSERT_TRUE(back);
    EXPECT_EQ(programJson(*back), programJson(program));
    EXPECT_EQ(back->stages[1].act, "extensometer-off");
    const StopLimits limits{.force = 1, .extension = 2, .travel = 3, .forceDrop = 0.4, .time = 5};
    const auto same = limitsFrom(limitsJson(limits));
    ASSERT_TRUE(same);
    EXPECT_EQ(limitsJson(*same), limitsJson(limits));
    FrameSpec spec{.hydraulic = true, .cell = 7, .rate = 500, .fixture = "platens"};
    EXPECT_EQ(specJson(*specFrom(specJson(spec), {})), specJson(spec));
    FrameStatus status{.state = DriveState::Waiting, .mounted = true, .guard = true, .stage = 3, .prompt = "Off now."};
    EXPECT_EQ(*statusFrom(statusJson(status)), status);
    const MountSpec mount{.specimen = "mild-bar", .seed = 99, .section = 78.5};
    EXPECT_EQ(mountJson(*mountFrom(mountJson(mount))), mountJson(mount));
}

TEST(Messages, WhatIsMissingOrWrongIsNamed)
{
    EXPECT_EQ(parseMessage("no json").problem().found, "text that is no JSON");
    EXPECT_EQ(parseMessage("[1,2]").problem().found, "JSON without a kind");
    EXPECT_EQ(parseMessage(R"({"kind":3})").problem().found, "JSON without a kind");
    EXPECT_EQ(programFrom(LinkJson::array()).problem().wanted, "an object with stages");
    EXPECT_NE(programFrom(LinkJson::parse(R"({"stages":[{"control":"speed","value":"fast"}]})"))
                  .problem()
                  .place.find("value"),
              std::string::npos);
    EXPECT_EQ(programFrom(LinkJson::parse(R"({"stages":[{"control":"sideways"}]})")).problem().found, "sideways");
    EXPECT_FALSE(limitsFrom(LinkJson::parse(R"({"force":null})")));
    EXPECT_FALSE(statusFrom(LinkJson::parse(R"({"state":"asleep"})")));
}

} // namespace
} // namespace fortitor
