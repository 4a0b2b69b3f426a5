// SPDX-License-Identifier: GPL-3.0-or-later
// Ten days worked apart are one history; what does not fit together is named.
#include "history/spectrum.h"
#include "jobs/spectrum_json.h"
#include "sim/random.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor::parts_test {
namespace {

constexpr double rate = 4;
constexpr size_t day = 86'400 * static_cast<size_t>(rate);

/// Warmth of day and night, strokes in the hours of training, spikes and gaps here and there.
std::vector<double> tenDays()
{
    Random random(77);
    std::vector<double> x;
    x.reserve(10 * day);
    for (size_t i = 0; i < 10 * day; ++i) {
        const double t = static_cast<double>(i) / rate, hour = std::fmod(t / 3600, 24);
        const double rows = hour > 6 && hour < 9 ? 60 : 4;
        x.push_back(200 + 90 * std::sin(2 * M_PI * t / 86'400)
                    + rows * std::sin(2.1 * t) * (0.6 + 0.4 * std::sin(t / 97)) + 3 * random.normal());
    }
    for (size_t k = 1; k < 40; ++k)
        x[k * 85'111] += 900;
    for (size_t i = 0; i < 60; ++i)
        x[day - 30 + i] = std::nan(""); // a gap over midnight
    x[2 * day] += 800; // a spike at its stroke
    return x;
}

HistoryFile file(std::vector<double> x)
{
    return {.source = historyOf(std::move(x)), .unit = findUnit("ue"), .rate = rate};
}

SpectrumSettings settings()
{
    SpectrumSettings s{.modulus = 210e3};
    s.chain.lowPass = 0.6;
    s.counts.curve = DamageCurve{};
    s.classGiven = true;
    return s;
}

TEST(Parts, TenDaysWorkedApart)
{
    const std::vector<double> x = tenDays();
    const auto whole = readSpectrum(file(x), settings());
    ASSERT_TRUE(whole) << whole.problem().text();
    const auto dayOf = [&](size_t k) {
        return file(
            {x.begin() + static_cast<std::ptrdiff_t>(k * day), x.begin() + static_cast<std::ptrdiff_t>((k + 1) * day)});
    };
    const auto work = [&](std::optional<double> limit) {
        std::vector<SpectrumPart> parts;
        for (size_t k = 0; k < 10; ++k) {
            SpectrumSettings s = settings();
            s.chain.spikeLimit = limit;
            const HistoryFile own = dayOf(k);
            const auto before = k > 0 ? std::optional(dayOf(k - 1)) : std::nullopt;
            const auto after = k < 9 ? std::optional(dayOf(k + 1)) : std::nullopt;
            const auto with = withNeighbours(own, before ? &*before : nullptr, after ? &*after : nullptr, s.chain);
            auto part = readPart(*with, s);
            EXPECT_TRUE(part) << part.problem().text();
            // As a file, and back.
            parts.push_back(*partFromJson(partJson(*part, {}), "part"));
        }
        return parts;
    };
    auto parts = work(std::nullopt);
    auto merged = countParts(parts, settings());
    if (!merged) { // a day by itself may take another limit for its spikes: it is told which one
        EXPECT_NE(merged.problem().advice.find("--spike-limit"), std::string::npos) << merged.problem().text();
        parts = work(whole->chain.spikeLimit / 210e3 / 1e-6);
        merged = countParts(parts, settings());
    }
    ASSERT_TRUE(merged) << merged.problem().text();
    const Counts &a = whole->counts, &b = merged->counts;
    EXPECT_EQ(merged->chain.readings, 10 * day);
    EXPECT_EQ(merged->chain.repaired, whole->chain.repaired);
    EXPECT_EQ(b.turningPoints, a.turningPoints);
    EXPECT_EQ(b.cycles, a.cycles);
    EXPECT_EQ(b.allCycles, a.allCycles);
    const double near = 1e-9 * a.rangeMax;
    EXPECT_NEAR(b.rangeMax, a.rangeMax, near);
    EXPECT_NEAR(b.rangeLowChance, a.rangeLowChance, near);
    EXPECT_NEAR(b.cutAt, a.cutAt, near);
    EXPECT_NEAR(*b.damage, *a.damage, 1e-9 * *a.damage);
    EXPECT_NEAR(*b.equivalentRange, *a.equivalentRange, near);
    ASSERT_EQ(b.histogram.size(), a.histogram.size());
    for (size_t k = 0; k < a.histogram.size(); ++k)
        EXPECT_EQ(b.histogram[k].count, a.histogram[k].count) << k;
    EXPECT_EQ(b.peakToValley, a.peakToValley);
    EXPECT_EQ(b.valleyToPeak, a.valleyToPeak);
    EXPECT_NEAR(b.levels.front(), a.levels.front(), near);
}

TEST(Parts, WhatDoesNotFitIsNamed)
{
    const std::vector<double> x = tenDays();
    const auto stretch = [&](size_t from, size_t count) {
        return file(
            {x.begin() + static_cast<std::ptrdiff_t>(from), x.begin() + static_cast<std::ptrdiff_t>(from + count)});
    };
    const auto part = [&](const HistoryFile& own, const HistoryFile* before, const HistoryFile* after) {
        SpectrumSettings s = settings();
        const auto with = withNeighbours(own, before, after, s.chain);
        return *readPart(*with, s);
    };
    const HistoryFile first = stretch(0, day), second = stretch(day, day), odd = stretch(0, day - 1'000),
                      rest = stretch(day - 1'000, day);
    const auto refused = [&](std::vector<SpectrumPart> parts) {
        const auto out = countParts(parts, settings());
        return out ? std::string() : out.problem().text();
    };
    const auto apart = [](auto... each) {
        std::vector<SpectrumPart> parts;
        (parts.push_back(std::move(each)), ...);
        return parts;
    };
    EXPECT_NE(refused(apart(part(first, nullptr, nullptr), part(second, &first, nullptr))).find("beside it"),
              std::string::npos);
    EXPECT_NE(refused(apart(part(odd, nullptr, &rest), part(rest, &odd, nullptr))).find("joint"), std::string::npos);
    auto other = part(second, &first, nullptr);
    other.scale *= 2;
    EXPECT_NE(refused(apart(part(first, nullptr, &second), std::move(other))).find("scale"), std::string::npos);
    EXPECT_FALSE(refused({}).empty());
    HistoryFile slow = second;
    slow.rate = 2;
    ChainSettings chain;
    EXPECT_FALSE(withNeighbours(first, nullptr, &slow, chain));
    EXPECT_FALSE(partFromJson(Json::parse("{}"), "x"));
    EXPECT_FALSE(partFromJson(Json::parse("[1]"), "x"));
    Json lacking = partJson(part(first, nullptr, nullptr), {});
    lacking.erase("spikes");
    EXPECT_FALSE(partFromJson(lacking, "x"));
    lacking = partJson(part(first, nullptr, nullptr), {});
    lacking["turning_points"] = "many";
    EXPECT_FALSE(partFromJson(lacking, "x"));
    lacking["turning_points"] = Json::array();
    lacking["unit"] = "furlong";
    EXPECT_FALSE(partFromJson(lacking, "x"));
}

} // namespace
} // namespace fortitor::parts_test
