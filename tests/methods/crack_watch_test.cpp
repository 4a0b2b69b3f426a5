// SPDX-License-Identifier: GPL-3.0-or-later
// Crack watch: starts among what else happens in long runs, growth and the Paris line, the method from its record.
#include "methods/fatigue_sn/crack_growth.h"
#include "methods/fatigue_sn/crack_watch.h"
#include "methods/fatigue_sn/fatigue_sn.h"
#include "sim/random.h"
#include "support.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

namespace fortitor::crack_watch_test {
namespace {

constexpr double life = 5e5;

/// A thousand microstrain, noise that hangs together a little.
WatchedChannel still(Random& random, double noise = 3, size_t n = 4000)
{
    WatchedChannel c{.name = "strain"};
    double e = 0;
    for (size_t i = 0; i < n; ++i) {
        e = 0.3 * e + 0.954 * random.normal();
        c.cycles.push_back(life * static_cast<double>(i) / static_cast<double>(n));
        c.values.push_back(1000 + noise * e);
    }
    return c;
}

template <class Add> void add(WatchedChannel& c, Add&& more)
{
    for (size_t i = 0; i < c.cycles.size(); ++i)
        c.values[i] += more(c.cycles[i] / life);
}

TEST(CrackWatch, ASoundPieceHasNoStart)
{
    Random random(21);
    int starts = 0;
    for (int trial = 0; trial < 12; ++trial) {
        const auto sound = [&](auto&& more) {
            WatchedChannel c = still(random);
            add(c, more);
            return findStart(c, startLevel);
        };
        starts += sound([](double) { return 0.0; }).start.has_value();
        starts += sound([](double x) { return 40 * x; }).start.has_value();
        starts += sound([](double x) { return 10 * std::sin(x * 6 * std::numbers::pi); }).start.has_value();
        const ChannelStart settled = sound([](double x) { return 60 * std::exp(-x / 0.03); });
        starts += settled.start.has_value();
        EXPECT_GT(settled.settled, 0);
        const ChannelStart stopped = sound([](double x) { return x > 0.4 ? 25.0 : 0.0; });
        starts += stopped.start.has_value();
        ASSERT_FALSE(stopped.jumps.empty());
        EXPECT_NEAR(stopped.jumps.front() / life, 0.4, 0.01);
        const auto spike = [&] { return random.even() < 0.02 ? 500.0 : 0.0; };
        starts += sound([&](double) { return spike(); }).start.has_value();
        // Far readings beside the stop do not move it, and one stop is one.
        const ChannelStart both = sound([&](double x) { return (x > 0.3 ? 30 : 0) + spike(); });
        starts += both.start.has_value();
        ASSERT_EQ(both.jumps.size(), 1u);
        EXPECT_NEAR(both.jumps.front() / life, 0.3, 0.012);
    }
    EXPECT_LE(starts, 2) << "of 84";
}

TEST(CrackWatch, AStartIsFoundWhateverElseHappened)
{
    Random random(5);
    for (const double sign : {1.0, -1.0})
        for (const double at : {0.3, 0.7})
            for (const bool tired : {false, true}) {
                WatchedChannel c = still(random);
                add(c, [&](double x) { return x > at ? sign * 150 * (x - at) / (1 - at) : 0.0; });
                if (tired)
                    add(c, [&](double x) {
                        return 60 * std::exp(-x / 0.02) - (x > 0.2 ? 15 : 0) + (random.even() < 0.01 ? 400 : 0);
                    });
                const ChannelStart found = findStart(c, startLevel);
                ASSERT_TRUE(found.start) << sign << " " << at << " " << tired;
                EXPECT_NEAR(found.start->at / life, at, 0.03) << sign << " " << tired;
                EXPECT_LE(found.start->falseAlarm, startLevel);
                EXPECT_LE(found.start->within.first, found.start->at);
                EXPECT_GE(found.start->within.second, found.start->at);
            }
}

TEST(CrackWatch, ReadAtTheLoadsPeaks)
{
    Record record;
    Channel& cycles = record.add("cycles");
    Channel& force = record.add("force");
    Channel& strain = record.add("strain");
    for (int i = 0; i < 4000; ++i) { // twenty rows a cycle
        const double wave = std::sin(2 * std::numbers::pi * i / 20.0);
        record.channels[0].values.append(i / 20);
        record.channels[1].values.append(5000 + 4000 * wave);
        record.channels[2].values.append(1e-6 * (500 + 400 * wave));
    }
    static_cast<void>(cycles), static_cast<void>(force), static_cast<void>(strain);
    const auto channels = watchedChannels(record);
    ASSERT_EQ(channels.size(), 1u);
    EXPECT_NEAR(static_cast<double>(channels[0].cycles.size()), 200, 1);
    for (const double value : channels[0].values)
        EXPECT_NEAR(value, 900e-6, 1e-9);
    record.channels[1].values = {};
    for (int i = 0; i < 4000; ++i)
        record.channels[1].values.append(5000);
    EXPECT_EQ(watchedChannels(record)[0].cycles.size(), 4000u); // the load does not swing
}

TEST(CrackGrowth, TablesAreReadBetweenTheirPairs)
{
    const auto table = readTable("Y", "2 mm: 1.12; 5: 1.2;10:1.4");
    ASSERT_TRUE(table);
    EXPECT_NEAR(*table->at(3.5), 1.16, 1e-12);
    EXPECT_EQ(*table->at(2), 1.12);
    EXPECT_EQ(*table->at(10), 1.4);
    EXPECT_EQ(*readTable("a", "1: 0; 1.2: 3")->at(1), 0); // a whole piece
    EXPECT_FALSE(table->at(1.99));
    EXPECT_FALSE(table->at(10.01));
    for (const char* bad : {"", "2: 1", "2 1.1; 3 1.2", "3: 1; 2: 1", "2: -1; 3: 1", "2: x; 3: 1", "2: 1; 2: 1.1"})
        EXPECT_FALSE(readTable("Y", bad)) << bad;
}

/// Grows by a Paris line through an infinite sheet, Y of one: closed form for m = 3.
double lengthAt(double a0, double C, double range, double cycles)
{
    // da/dN = C·(range·√(π·a/1000))³, a^-½ falls by half of that factor times N.
    const double k = C * std::pow(range * std::sqrt(std::numbers::pi / 1000), 3);
    const double root = 1 / std::sqrt(a0) - k * cycles / 2;
    return 1 / (root * root);
}

TEST(CrackGrowth, AParisLineIsFoundAgain)
{
    constexpr double C = 1.6e-8, range = 120;
    std::vector<CrackLength> exact;
    for (double a = 2; a < 30; a *= 1.12) {
        const double k = C * std::pow(range * std::sqrt(std::numbers::pi / 1000), 3);
        exact.push_back({2 / k * (1 / std::sqrt(2.0) - 1 / std::sqrt(a)), a});
    }
    for (const bool polynomial : {false, true}) {
        auto rates = polynomial ? ratesByPolynomial(exact) : ratesBySecant(exact);
        EXPECT_EQ(rates.size(), exact.size() - (polynomial ? 6 : 1));
        for (GrowthRate& one : rates)
            one.deltaK = deltaK(range, one.length, 1);
        const auto line = parisLine(rates);
        ASSERT_TRUE(line);
        EXPECT_NEAR(line->m, 3, 0.02) << polynomial;
        EXPECT_NEAR(line->C / C, 1, 0.08) << polynomial;
    }
    EXPECT_NEAR(deltaK(100, 10, 1.12), 1.12 * 100 * std::sqrt(std::numbers::pi * 0.01), 1e-12);
}

TEST(CrackGrowth, NoisyReadingsAreThinnedAndTheIntervalsHoldTheTruth)
{
    constexpr double C = 1.6e-8, range = 120;
    for (const bool polynomial : {false, true}) {
        Random random(17);
        int held = 0;
        double sum = 0;
        constexpr int trials = 60;
        for (int trial = 0; trial < trials; ++trial) {
            std::vector<CrackLength> readings;
            for (double n = 0; n < 1e6; n += 400) {
                const double k = C * std::pow(range * std::sqrt(std::numbers::pi / 1000), 3);
                if (1 / std::sqrt(2.0) - k * n / 2 < 1 / std::sqrt(30.0))
                    break;
                readings.push_back({n, lengthAt(2, C, range, n) + 0.05 * random.normal()});
            }
            const auto lengths = thinnedLengths(readings, 0.5);
            for (size_t i = 1; i < lengths.size(); ++i)
                EXPECT_GT(lengths[i].cycles, lengths[i - 1].cycles);
            auto rates = polynomial ? ratesByPolynomial(lengths) : ratesBySecant(lengths);
            for (GrowthRate& one : rates)
                one.deltaK = deltaK(range, one.length, 1);
            auto line = parisLine(rates, polynomial ? 6 : 0);
            ASSERT_TRUE(line);
            if (polynomial) {
                auto secants = ratesBySecant(lengths);
                for (GrowthRate& one : secants)
                    one.deltaK = deltaK(range, one.length, 1);
                line = widened(*line, *parisLine(secants));
            }
            held += line->mWithin.first <= 3 && 3 <= line->mWithin.second;
            sum += line->m / trials;
        }
        EXPECT_GE(held, 50) << polynomial << " of 60";
        EXPECT_NEAR(sum, 3, 0.06) << polynomial;
    }
    EXPECT_FALSE(parisLine({}));
    const std::vector<GrowthRate> one(6, {5, 1e-5, 20});
    EXPECT_FALSE(parisLine(one)); // of a single ΔK
}

/// A piece with a record of potential and two extensometers.
SpecimenInput watched(Random& random)
{
    constexpr double C = 1.6e-8, range = 120, start = 60000;
    auto record = std::make_shared<Record>();
    for (const char* name : {"cycles", "strain", "strain_2", "potential"})
        record->add(name);
    for (double n = 0; n < 400000; n += 200) {
        const double grown = n > start ? lengthAt(2, C, range, n - start) : 2;
        if (grown > 25)
            break;
        record->channels[0].values.append(n);
        record->channels[1].values.append(1e-6 * (800 + 3 * random.normal() + 60 * (grown - 2)));
        record->channels[2].values.append(1e-6 * (700 + 3 * random.normal() + 40 * std::max(0.0, grown - 6)));
        record->channels[3].values.append(1e-3 * (10 + 0.4 * (grown - 2) + 0.01 * random.normal()));
    }
    SpecimenInput in;
    in.label = "L1";
    in.record = record;
    in.readings["range"] = {*parseQuantity("120 MPa", Kind::Stress)};
    in.readings["cycles"] = {*parseQuantity("300000", Kind::Number, findUnit("1", Kind::Number))};
    in.notes = {{"outcome", "broken"}, {"ratio", "0.1"}};
    in.options = {{"potential_calibration", "1: 2; 2: 27"}, {"geometry_factor", "1: 1; 40: 1"}};
    return in;
}

TEST(CrackWatch, TheMethodTellsStartAndGrowthFromItsRecord)
{
    Random random(2);
    SpecimenInput in = watched(random);
    in.notes["faces_watched"] = "front, back";
    in.notes["crack_face"] = "Front";
    const Outcome out = test::evaluated("fatigue-sn", in);
    EXPECT_NEAR(*test::valueOf(out, "N_start"), 60000, 12000);
    EXPECT_NEAR(*test::valueOf(out, "m_paris"), 3, 0.15);
    EXPECT_NEAR(std::log10(*test::valueOf(out, "C") / 1.6e-8), 0, 0.2);
    EXPECT_TRUE(out.find("m_paris")->interval);
    EXPECT_EQ(out.find("C")->unit->symbol, "mm/cycle");
    EXPECT_GE(out.views.size(), 4u);
    for (const View& view : out.views)
        EXPECT_TRUE(viewTroubles(view).empty());
    ASSERT_EQ(out.told.size(), 1u);
    EXPECT_EQ(out.told[0].rows.size(), 3u);
    EXPECT_FALSE(out.remarked("crack-not-watched"));
    // The second extensometer sees it later.
    EXPECT_NE(out.told[0].rows[1].words, out.told[0].rows[0].words);
    in.notes["crack_face"] = "left";
    EXPECT_TRUE(test::evaluated("fatigue-sn", in).remarked("crack-not-watched"));
}

TEST(CrackWatch, AStartBehindSettlingAndAStopIsDoubted)
{
    Random random(2);
    SpecimenInput in = watched(random);
    EXPECT_FALSE(test::evaluated("fatigue-sn", in).remarked("restless-before-start"));
    auto restless = std::make_shared<Record>(*in.record);
    const Column cycles = restless->find("cycles")->values;
    for (Channel& channel : restless->channels)
        if (channel.name == "strain") {
            Column now;
            for (size_t i = 0; i < cycles.size(); ++i)
                now.append(channel.values[i] + 60e-6 * std::exp(-cycles[i] / 4000) + (cycles[i] > 35000 ? 40e-6 : 0));
            channel.values = std::move(now);
        }
    in.record = restless;
    const Outcome out = test::evaluated("fatigue-sn", in);
    EXPECT_TRUE(out.remarked("restless-before-start"));
    EXPECT_NEAR(*test::valueOf(out, "N_start"), 60000, 15000);
}

TEST(CrackWatch, WhatIsMissingIsSaid)
{
    Random random(2);
    SpecimenInput in = watched(random);
    const auto without = [&](const char* option) {
        SpecimenInput other = in;
        other.options.erase(option);
        return test::evaluated("fatigue-sn", other);
    };
    for (const char* option : {"potential_calibration", "geometry_factor"}) {
        const Outcome out = without(option);
        EXPECT_TRUE(*test::valueOf(out, "N_start") > 0);
        EXPECT_FALSE(test::valueOf(out, "C"));
        EXPECT_TRUE(test::explained(out, "C")) << option;
    }
    in.options["geometry_factor"] = "one";
    EXPECT_FALSE(findMethod("fatigue-sn")->evaluate(in));
    in.options["geometry_factor"] = "1: 1; 40: 1";
    in.options["potential_calibration"] = "1: 2; 1.2: 7";
    EXPECT_TRUE(test::evaluated("fatigue-sn", in).remarked("calibration-left"));
    auto bare = std::make_shared<Record>();
    bare->add("strain").values.append(3e-4);
    in.record = bare;
    const Outcome out = test::evaluated("fatigue-sn", in);
    EXPECT_TRUE(out.remarked("no-watch"));
    EXPECT_FALSE(test::valueOf(out, "N_start"));
    EXPECT_EQ(*test::valueOf(out, "N"), 300000); // the life stands all the same
    in.record = nullptr;
    EXPECT_FALSE(test::evaluated("fatigue-sn", in).find("N_start"));
    // A whole run without a change, and broken.
    Random other(4);
    auto even = std::make_shared<Record>();
    even->add("cycles");
    even->add("strain");
    for (int i = 0; i < 600; ++i) {
        even->channels[0].values.append(500.0 * i);
        even->channels[1].values.append(1e-6 * (800 + 3 * other.normal()));
    }
    in.record = even;
    const Outcome unseen = test::evaluated("fatigue-sn", in);
    EXPECT_TRUE(unseen.remarked("crack-not-watched"));
    EXPECT_FALSE(unseen.find("C")); // there is no potential
}

} // namespace
} // namespace fortitor::crack_watch_test
