// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/record_faults.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace fortitor {
namespace {

/// The least step between two neighbours that differ: what the channel is quantised in, or less.
double leastStep(std::span<const double> y, double dust)
{
    double least = std::numeric_limits<double>::infinity();
    for (size_t i = 1; i < y.size(); ++i)
        if (const double step = std::abs(y[i] - y[i - 1]); step > dust && step < least)
            least = step;
    return least;
}

/// Noise of single readings, from second differences: a straight or gently bent climb drops out of them.
double scatter(std::span<const double> y)
{
    std::vector<double> d;
    for (size_t i = 2; i < y.size(); ++i)
        if (const double v = std::abs(y[i] - 2 * y[i - 1] + y[i - 2]); std::isfinite(v))
            d.push_back(v);
    if (d.empty())
        return 0;
    const auto middle = d.begin() + static_cast<std::ptrdiff_t>(d.size() / 2);
    std::ranges::nth_element(d, middle);
    return *middle / 0.6745 / std::sqrt(6.0);
}

} // namespace

std::optional<Clipped> findClipped(std::span<const double> y, const std::function<std::vector<double>()>& travelOf)
{
    constexpr size_t leastFlat = 5; // readings
    constexpr double band = 40; // steps, or noise
    constexpr double slower = 1.5; // a round top spends 2.4 times as long in the last band as in the one before
    constexpr double noisy = 3; // steps of noise that no five readings in a row hide
    constexpr double leastRise = 0.002; // of the greatest value
    constexpr double goesOn = 0.3; // of the travel before
    if (y.size() < 2 * leastFlat)
        return std::nullopt;
    double greatest = -std::numeric_limits<double>::infinity();
    for (const double v : y)
        greatest = std::max(greatest, v); // NaN is not greater
    if (!(greatest > 0) || !std::isfinite(greatest))
        return std::nullopt;
    Clipped longest;
    for (size_t i = 0; i < y.size(); ++i) {
        size_t end = i;
        while (end < y.size() && y[end] == greatest)
            ++end;
        if (end - i > longest.end - longest.begin)
            longest = {i, end};
        i = std::max(i, end);
    }
    const size_t flat = longest.end - longest.begin;
    if (flat < leastFlat || longest.begin < 3)
        return std::nullopt;
    const double step = leastStep(y, 1e-12 * greatest);
    const double noise = scatter(y.first(longest.begin));
    // Over a flat of n readings a round top that is cut into steps rises by eight of them in the n readings before.
    const size_t back = std::min(flat, longest.begin);
    const double rise = (greatest - y[longest.begin - back]) * static_cast<double>(flat) / static_cast<double>(back);
    if (!(rise > 3 * 8 * step) || !(rise > leastRise * greatest))
        return std::nullopt;
    if (noise <= noisy * step) {
        // How long the climb took for the last band, and for the one before it.
        const double wide = std::min(band * std::max(step, noise), 0.05 * greatest);
        const auto above = [&](double level) {
            size_t from = longest.begin;
            while (from > 0 && y[from - 1] > level)
                --from;
            return from;
        };
        const size_t near = above(greatest - wide);
        const size_t far = above(greatest - 2 * wide);
        const auto last = static_cast<double>(longest.begin - near);
        const auto before = static_cast<double>(near - far);
        if (last > slower * before + 3)
            return std::nullopt; // it came ever more slowly
    }
    const std::vector<double> travel = travelOf();
    if (travel.size() != y.size())
        return std::nullopt;
    const double before = std::abs(travel[longest.begin] - travel[longest.begin - back]) / static_cast<double>(back);
    const double during = std::abs(travel[longest.end - 1] - travel[longest.begin]) / static_cast<double>(flat - 1);
    return during > goesOn * before && during > 0 ? std::optional(longest) : std::nullopt;
}

std::optional<TimeDisorder> findTimeDisorder(std::span<const double> time)
{
    constexpr size_t leastRows = 10; // below that a leap is no leap
    TimeDisorder back{TimeFault::Backwards, 0, 0};
    size_t rows = 0;
    double widest = 0;
    size_t widestAt = 0;
    double first = std::nan("");
    double last = std::nan("");
    for (size_t i = 0; i < time.size(); ++i) {
        if (!std::isfinite(time[i]))
            continue;
        if (rows++ == 0) {
            first = last = time[i];
            continue;
        }
        const double step = time[i] - last;
        if (step < 0) {
            back.at = back.count == 0 ? i : back.at;
            ++back.count;
        }
        if (step > widest) {
            widest = step;
            widestAt = i;
        }
        last = time[i];
    }
    if (back.count > 0)
        return back;
    if (rows >= 3 && last == first)
        return TimeDisorder{TimeFault::Standing, 0, rows};
    if (rows >= leastRows && widest > 0.5 * (last - first))
        return TimeDisorder{TimeFault::Leaping, widestAt, 1};
    return std::nullopt;
}

} // namespace fortitor
