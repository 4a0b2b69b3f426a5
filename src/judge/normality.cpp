// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/normality.h"

#include "judge/statistics.h"

#include <boost/math/distributions/normal.hpp>

#include <algorithm>
#include <cmath>
#include <numeric>

namespace fortitor {
namespace {

/// p of the adjusted statistic (D'Agostino and Stephens, 1986).
double andersonP(double a)
{
    if (a >= 0.6)
        return std::exp(1.2937 - 5.709 * a + 0.0186 * a * a);
    if (a > 0.34)
        return std::exp(0.9177 - 4.279 * a - 1.38 * a * a);
    if (a > 0.2)
        return 1 - std::exp(-8.318 + 42.796 * a - 59.938 * a * a);
    return 1 - std::exp(-13.436 + 101.14 * a - 223.73 * a * a);
}

} // namespace

std::optional<Normality> andersonDarling(std::span<const double> values)
{
    const size_t n = values.size();
    const SetStatistics s = setStatistics(values);
    if (n < 8 || !(s.sd > 0))
        return std::nullopt;
    std::vector<double> z(values.begin(), values.end());
    std::ranges::sort(z);
    for (double& v : z)
        v = (v - s.mean) / s.sd;
    // Logarithms of both tails by erfc, so that far values keep their digits.
    const auto logBelow = [](double x) { return std::log(0.5 * std::erfc(-x / std::sqrt(2.0))); };
    double sum = 0;
    for (size_t i = 0; i < n; ++i)
        sum += (2.0 * static_cast<double>(i) + 1) * (logBelow(z[i]) + logBelow(-z[n - 1 - i]));
    Normality found;
    const auto count = static_cast<double>(n);
    found.statistic = -count - sum / count;
    found.adjusted = found.statistic * (1 + 0.75 / count + 2.25 / (count * count));
    found.p = std::clamp(andersonP(found.adjusted), 0.0, 1.0);
    return found;
}

std::vector<ProbabilityPoint> probabilityPlot(std::span<const double> values)
{
    std::vector<size_t> order(values.size());
    std::iota(order.begin(), order.end(), size_t{0});
    std::ranges::sort(order, {}, [&](size_t i) { return values[i]; });
    const boost::math::normal standard;
    std::vector<ProbabilityPoint> points;
    const auto n = static_cast<double>(values.size());
    for (size_t rank = 0; rank < order.size(); ++rank)
        points.push_back({values[order[rank]],
                          boost::math::quantile(standard, (static_cast<double>(rank) + 0.625) / (n + 0.25)),
                          order[rank]});
    return points;
}

Histogram histogramOf(std::span<const double> values)
{
    Histogram h;
    if (values.empty())
        return h;
    const auto [low, high] = std::ranges::minmax(values);
    const auto classes =
        std::max<size_t>(4, static_cast<size_t>(std::ceil(std::log2(static_cast<double>(values.size())) + 1)));
    h.counts.assign(classes, 0);
    h.low = low;
    h.width = high > low ? (high - low) / static_cast<double>(classes) : 1;
    for (double v : values)
        ++h.counts[std::min(classes - 1, static_cast<size_t>((v - low) / h.width))];
    return h;
}

} // namespace fortitor
