// SPDX-License-Identifier: GPL-3.0-or-later
// A tester over time, by its checks on reference blocks.
#include "methods/hardness/block_history.h"

#include "methods/common/figures.h"
#include "methods/hardness/block.h"
#include "methods/hardness/notation.h"
#include "methods/hardness/setting.h"

#include <boost/math/distributions/students_t.hpp>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr size_t lookedBack = 12; // checks that a drift is told by
constexpr size_t leastChecks = 6;
constexpr double sureOfDrift = 0.01; // two-sided

std::string signedNumber(double v)
{
    return (v > 0 ? "+" : "") + formatFixed(v, 2);
}

/// The slope of the last errors where it is no chance.
std::optional<double> slopeOf(std::span<const TesterWork> checks)
{
    const auto last = checks.last(std::min(lookedBack, checks.size()));
    const auto n = static_cast<double>(last.size());
    if (last.size() < leastChecks)
        return std::nullopt;
    double mean = 0, across = 0, along = 0;
    for (const TesterWork& one : last)
        mean += one.error / n;
    for (size_t i = 0; i < last.size(); ++i) {
        const double x = static_cast<double>(i) - (n - 1) / 2;
        across += x * (last[i].error - mean);
        along += x * x;
    }
    const double slope = across / along;
    double rest = 0;
    for (size_t i = 0; i < last.size(); ++i) {
        const double off = last[i].error - mean - slope * (static_cast<double>(i) - (n - 1) / 2);
        rest += off * off;
    }
    if (slope == 0)
        return std::nullopt;
    const double doubt = std::sqrt(rest / (n - 2) / along);
    if (doubt > 0) {
        const boost::math::students_t student(n - 2);
        if (2 * boost::math::cdf(boost::math::complement(student, std::abs(slope) / doubt)) > sureOfDrift)
            return std::nullopt;
    }
    return slope;
}

void nameSignals(BlockHistory& history, std::span<const TesterWork> checks)
{
    // What is over is left alone: a run that still goes on, and what lay beyond of late.
    const auto lastOf = [&](ChartSignal::Kind kind) -> const ChartSignal* {
        for (auto it = history.chart.alarms.rbegin(); it != history.chart.alarms.rend(); ++it)
            if (it->kind == kind)
                return &*it;
        return nullptr;
    };
    const auto at = [&](size_t i) {
        std::string when = checks[i].when;
        std::ranges::replace(when, 'T', ' ');
        return when.empty() ? fmt::format("check {}", i + 1) : when;
    };
    const size_t last = checks.size() - 1;
    if (const ChartSignal* s = lastOf(ChartSignal::Kind::Trend); s && s->at == last)
        history.words.push_back("Six or more checks running go one way.");
    if (const ChartSignal* s = lastOf(ChartSignal::Kind::Side); s && s->at == last)
        history.words.push_back("Nine or more checks running lie on one side of the mean.");
    if (const ChartSignal* s = lastOf(ChartSignal::Kind::Beyond); s && s->at + lookedBack > last)
        history.words.push_back(fmt::format("The check of {} lies beyond the limits of the chart.", at(s->at)));
}

} // namespace

std::string testedScale(const HardnessSetting& setting)
{
    // The notation without its number.
    const std::string whole = hardnessNotation(*setting.scale, 100, setting.pressed);
    const size_t blank = whole.find(' ');
    return blank == std::string::npos ? std::string(setting.scale->name) : whole.substr(blank + 1);
}

std::string anvilOf(const SpecimenInput& input)
{
    return noteOf(input, "stands_on");
}

bool isBlock(const SpecimenInput& input)
{
    return !noteOf(input, "block").empty();
}

std::optional<TesterWork> testerWorkOf(const SpecimenInput& input, const Outcome* outcome)
{
    const auto setting = settingOf(input);
    if (!setting || input.readings.empty())
        return std::nullopt;
    TesterWork work{.tester = noteOf(input, "tester"),
                    .scale = testedScale(*setting),
                    .fitted = fittedOn(*setting),
                    .anvil = anvilOf(input),
                    .when = noteOf(input, "read_at"),
                    .piece = !isBlock(input)};
    if (work.piece)
        return work;
    const Result* error = outcome ? outcome->find("block_error") : nullptr;
    const Result* spread = outcome ? outcome->find("block_spread") : nullptr;
    const auto block = parseQuantity(noteOf(input, "block"), Kind::Hardness, setting->unit);
    if (!error || !error->value || !spread || !spread->value || !block)
        return work; // only seated so far: what is fitted is known
    const auto limits = blockLimitsOf(input, *setting, block->base);
    if (!limits)
        return std::nullopt;
    work.check = true;
    work.block = block->base;
    work.error = *error->value;
    work.spread = *spread->value;
    work.errorLimit = limits->error;
    work.spreadLimit = limits->spread;
    work.within = !outcome->remarked("block-out-of-limits");
    if (const auto indents = indentsOf(input, *setting))
        for (const PieceIndent& one : *indents)
            if (one.x && one.y)
                work.places.push_back({*one.x, *one.y, one.reading.across});
    return work;
}

BlockHistory blockHistory(std::span<const TesterWork> checks)
{
    BlockHistory history;
    std::vector<double> errors;
    errors.reserve(checks.size());
    for (const TesterWork& one : checks)
        errors.push_back(one.error);
    history.chart = individualsChart(errors);
    if (checks.empty())
        return history;
    const TesterWork& last = checks.back();
    if (!last.within)
        history.words.push_back(fmt::format("Out of its limits: error {} of ±{}, spread {} of {}.",
                                            signedNumber(last.error), formatSignificant(last.errorLimit, 3),
                                            formatFixed(last.spread, 2), formatSignificant(last.spreadLimit, 3)));
    if (const auto slope = slopeOf(checks)) {
        history.drifts = true;
        history.slope = *slope;
        const double room = *slope > 0 ? last.errorLimit - last.error : last.errorLimit + last.error;
        std::string words = fmt::format("The error drifts by {} a check over the last {}.", signedNumber(*slope),
                                        std::min(lookedBack, checks.size()));
        if (last.within && room > 0) {
            history.checksLeft = std::ceil(room / std::abs(*slope));
            words += fmt::format(" Going on like that it reaches its limit of ±{} in about {:.0f} checks.",
                                 formatSignificant(last.errorLimit, 3), *history.checksLeft);
        }
        history.words.push_back(std::move(words));
    }
    nameSignals(history, checks);
    if (history.words.empty())
        history.words.push_back(checks.size() < leastChecks
                                    ? "Too few checks to tell a drift by: six or more are wanted."
                                    : "Nothing stands out: no drift, no run, no check beyond its limits.");
    return history;
}

std::vector<size_t> readInDoubt(std::span<const TesterWork> work)
{
    std::vector<size_t> doubted, since;
    for (size_t i = 0; i < work.size(); ++i) {
        if (!work[i].check) {
            if (work[i].piece)
                since.push_back(i);
            continue;
        }
        if (!work[i].within)
            doubted.insert(doubted.end(), since.begin(), since.end());
        since.clear();
    }
    return doubted;
}

} // namespace fortitor
