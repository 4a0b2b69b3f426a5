// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/signal.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace fortitor {

Extremes extremesOf(std::span<const double> y)
{
    if (y.empty())
        return {};
    // Eight at a time, each with a least and a greatest of its own.
    constexpr size_t lanes = 8;
    double low[lanes];
    double high[lanes];
    for (size_t k = 0; k < lanes; ++k)
        low[k] = high[k] = y[0];
    size_t i = 0;
    for (; i + lanes <= y.size(); i += lanes)
        for (size_t k = 0; k < lanes; ++k) {
            const double v = y[i + k];
            low[k] = v < low[k] ? v : low[k];
            high[k] = v > high[k] ? v : high[k];
        }
    for (; i < y.size(); ++i) {
        low[0] = std::min(low[0], y[i]);
        high[0] = std::max(high[0], y[i]);
    }
    return {*std::min_element(low, low + lanes), *std::max_element(high, high + lanes)};
}

size_t indexOfGreatest(std::span<const double> y)
{
    constexpr size_t block = 2048; // small enough to be looked through twice while it is at hand
    size_t best = 0;
    for (size_t from = 0; from < y.size(); from += block) {
        const auto piece = y.subspan(from, std::min(block, y.size() - from));
        const double greatest = extremesOf(piece).greatest;
        if (from == 0 || greatest > y[best])
            best = from + static_cast<size_t>(std::ranges::find(piece, greatest) - piece.begin());
    }
    return std::min(best, y.empty() ? 0 : y.size() - 1);
}

std::vector<Extremes> greatestSteps(std::span<const double> y, size_t from, size_t to, size_t width)
{
    std::vector<Extremes> steps;
    steps.reserve((to - from) / blockOfSteps + 1);
    std::array<double, blockOfSteps> step;
    for (size_t block = from; block < to; block += blockOfSteps) {
        const size_t count = std::min(blockOfSteps, to - block);
        for (size_t i = 0; i < count; ++i)
            step[i] = y[block + i + width] - y[block + i];
        steps.push_back(extremesOf(std::span(step).first(count)));
    }
    return steps;
}

double medianOf(std::vector<double> values)
{
    if (values.empty())
        return std::numeric_limits<double>::quiet_NaN();
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    if (values.size() % 2 == 1)
        return *middle;
    return 0.5 * (*middle + *std::max_element(values.begin(), middle));
}

double noiseOf(std::span<const double> y)
{
    // Between a handful of keyed readings the curve itself bends more than any noise.
    if (y.size() < 30)
        return 0;
    const size_t places = std::min(y.size() - 2, size_t{1500});
    const double stride = static_cast<double>(y.size() - 2) / static_cast<double>(places);
    std::vector<double> bends;
    bends.reserve(places);
    double step = std::numeric_limits<double>::infinity();
    double largest = 0;
    for (size_t k = 0; k < places; ++k) {
        const size_t i = 1 + static_cast<size_t>(static_cast<double>(k) * stride);
        bends.push_back(std::abs(y[i - 1] - 2 * y[i] + y[i + 1]));
        const double jump = std::abs(y[i] - y[i - 1]);
        largest = std::max(largest, std::abs(y[i]));
        if (jump > 0)
            step = std::min(step, jump);
    }
    const double sigma = 1.4826 * medianOf(std::move(bends)) / std::sqrt(6.0);
    const bool steps = std::isfinite(step) && step > 1e-12 * largest;
    return std::max(sigma, steps ? step / std::sqrt(12.0) : 0.0);
}

double noiseAlong(std::span<const double> x, std::span<const double> y)
{
    if (y.size() < 32)
        return noiseOf(y);
    const size_t places = std::min(y.size() - 2, size_t{1500});
    const double stride = static_cast<double>(y.size() - 2) / static_cast<double>(places);
    std::vector<double> off;
    double step = std::numeric_limits<double>::infinity();
    for (size_t k = 0; k < places; ++k) {
        const size_t i = 1 + static_cast<size_t>(static_cast<double>(k) * stride);
        if (const double jump = std::abs(y[i] - y[i - 1]); jump > 0)
            step = std::min(step, jump);
        if (!(x[i] > x[i - 1]) || !(x[i + 1] > x[i]))
            continue;
        const double share = (x[i] - x[i - 1]) / (x[i + 1] - x[i - 1]);
        const double between = y[i - 1] + share * (y[i + 1] - y[i - 1]);
        off.push_back(std::abs(y[i] - between) / std::sqrt(1 + share * share + (1 - share) * (1 - share)));
    }
    if (off.size() < 30)
        return noiseOf(y);
    const double quantum = std::isfinite(step) ? step / std::sqrt(12.0) : 0;
    return std::max(1.4826 * medianOf(std::move(off)), std::min(quantum, noiseOf(y)));
}

double noiseOfDrive(std::span<const double> y)
{
    size_t back = 0;
    size_t forth = 0;
    double least = std::numeric_limits<double>::infinity();
    for (size_t i = 1; i < y.size(); ++i) {
        back += y[i] < y[i - 1];
        forth += y[i] > y[i - 1];
        if (y[i] != y[i - 1])
            least = std::min(least, std::abs(y[i] - y[i - 1]));
    }
    const double whole = noiseOf(y);
    if (std::min(back, forth) * 50 > back + forth || !std::isfinite(least))
        return whole;
    return std::min(whole, least);
}

std::vector<double> smoothed(std::span<const double> y, size_t half)
{
    std::vector<double> out(y.begin(), y.end());
    if (half == 0 || y.size() < 3)
        return out;
    const size_t n = y.size();
    // The running sum starts anew every few thousand points, so that no error piles up.
    constexpr size_t restart = 4096;
    for (size_t from = 0; from < n; from += restart) {
        const size_t to = std::min(n, from + restart);
        double sum = 0;
        size_t low = 0;
        size_t high = 0;
        bool started = false;
        for (size_t i = from; i < to; ++i) {
            const size_t h = std::min({half, i, n - 1 - i});
            const size_t a = i - h;
            const size_t b = i + h + 1;
            if (!started) {
                for (size_t k = a; k < b; ++k)
                    sum += y[k];
                started = true;
            } else {
                for (size_t k = high; k < b; ++k)
                    sum += y[k];
                for (size_t k = b; k < high; ++k)
                    sum -= y[k];
                for (size_t k = low; k < a; ++k)
                    sum -= y[k];
                for (size_t k = a; k < low; ++k)
                    sum += y[k];
            }
            low = a;
            high = b;
            out[i] = sum / static_cast<double>(b - a);
        }
    }
    return out;
}

QuietStart findQuietStart(std::span<const double> y, double noise)
{
    QuietStart found;
    if (y.size() < 3)
        return found;
    const double top = found.top = extremesOf(y).greatest;
    // Of a few keyed readings each is a step of its own; there is no start to take the middle of.
    const size_t head = y.size() < 60 ? 1 : std::clamp(y.size() / 400, size_t{3}, size_t{50});
    const double start = medianOf({y.begin(), y.begin() + static_cast<std::ptrdiff_t>(std::min(head, y.size()))});
    const double clear = std::max(5 * noise, 0.002 * (top - start));
    const size_t inRow = y.size() < 60 ? 1 : 5;
    size_t run = 0;
    size_t i = 0;
    for (; i < y.size() && run < inRow; ++i)
        run = y[i] - start > clear ? run + 1 : 0;
    found.onset = i - run;
    if (found.onset >= y.size())
        found.onset = 0;
    // The climb out of the noise belongs to the load, not to the quiet.
    size_t last = found.onset;
    while (last > 0 && y[last - 1] - start > 1.5 * noise)
        --last;
    if (last < 3)
        return found;
    last -= last / 10;
    double mean = 0;
    for (size_t k = 0; k < last; ++k)
        mean += y[k] / static_cast<double>(last);
    double squares = 0;
    double drift = 0;
    for (size_t k = 0; k < last; ++k) {
        squares += (y[k] - mean) * (y[k] - mean);
        drift += (k < last / 2 ? -1.0 : 1.0) * (y[k] - mean);
    }
    found.scatter = std::sqrt(squares / static_cast<double>(last - 1));
    // A start that climbs all the way is not quiet.
    const double rise = std::abs(drift) / (0.5 * static_cast<double>(last));
    if (rise > (last < 8 ? 3 * noise : std::max(3 * noise, 0.001 * (top - start))))
        return found;
    found.quiet = last;
    found.level = mean;
    return found;
}

} // namespace fortitor
