// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/spread.h"

#include "judge/statistics.h"

#include <boost/math/distributions/fisher_f.hpp>
#include <boost/math/distributions/non_central_t.hpp>
#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/students_t.hpp>

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <string_view>
#include <mutex>
#include <tuple>

namespace fortitor {
namespace {

double meanOfValues(std::span<const double> values)
{
    return setStatistics(values).mean;
}

double sumOfSquares(std::span<const double> values, double mean)
{
    double sum = 0;
    for (double v : values)
        sum += (v - mean) * (v - mean);
    return sum;
}

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

double toleranceFactor(size_t n, double share, double confidence)
{
    // The same few sizes are asked for again and again, for every figure of a set.
    static std::mutex mutex;
    static std::map<std::tuple<size_t, double, double>, double> known;
    const std::lock_guard lock(mutex);
    const std::tuple key{n, share, confidence};
    if (const auto it = known.find(key); it != known.end())
        return it->second;
    const double root = std::sqrt(static_cast<double>(n));
    const double z = boost::math::quantile(boost::math::normal(), share);
    const boost::math::non_central_t t(static_cast<double>(n - 1), z * root);
    return known[key] = boost::math::quantile(t, confidence) / root;
}

std::optional<ToleranceBounds> toleranceBounds(std::span<const double> values)
{
    if (values.size() < 2)
        return std::nullopt;
    const SetStatistics s = setStatistics(values);
    ToleranceBounds bounds;
    if (values.size() <= 2000) {
        bounds.kA = toleranceFactor(values.size(), 0.99, 0.95);
        bounds.kB = toleranceFactor(values.size(), 0.90, 0.95);
    } else {
        // For large sets the closed form by Natrella differs in the fourth digit only.
        const auto closed = [&](double share) {
            const double zp = boost::math::quantile(boost::math::normal(), share);
            const double zc = boost::math::quantile(boost::math::normal(), 0.95);
            const auto n = static_cast<double>(values.size());
            const double a = 1 - zc * zc / (2 * (n - 1));
            const double b = zp * zp - zc * zc / n;
            return (zp + std::sqrt(zp * zp - a * b)) / a;
        };
        bounds.kA = closed(0.99);
        bounds.kB = closed(0.90);
    }
    bounds.a = s.mean - bounds.kA * s.sd;
    bounds.b = s.mean - bounds.kB * s.sd;
    return bounds;
}

std::optional<VarianceShares> varianceShares(std::span<const double> values, const std::vector<std::string>& group)
{
    std::map<std::string_view, size_t> numbers;
    std::vector<size_t> numbered;
    for (const std::string& name : group)
        numbered.push_back(numbers.try_emplace(name, numbers.size()).first->second);
    return varianceShares(values, numbered);
}

std::optional<VarianceShares> varianceShares(std::span<const double> values, std::span<const size_t> group)
{
    std::vector<std::vector<double>> groups;
    for (size_t i = 0; i < values.size() && i < group.size(); ++i) {
        groups.resize(std::max(groups.size(), group[i] + 1));
        groups[group[i]].push_back(values[i]);
    }
    std::erase_if(groups, [](const auto& members) { return members.empty(); });
    const size_t n = values.size();
    const size_t k = groups.size();
    if (k < 2 || n <= k)
        return std::nullopt;
    const double mean = meanOfValues(values);
    double between = 0;
    double within = 0;
    double squares = 0;
    for (const auto& members : groups) {
        const double own = meanOfValues(members);
        const auto count = static_cast<double>(members.size());
        between += count * (own - mean) * (own - mean);
        within += sumOfSquares(members, own);
        squares += count * count;
    }
    VarianceShares found;
    found.groups = k;
    const double meanBetween = between / static_cast<double>(k - 1);
    const double meanWithin = within / static_cast<double>(n - k);
    found.within = meanWithin;
    const double size = (static_cast<double>(n) - squares / static_cast<double>(n)) / static_cast<double>(k - 1);
    found.between = std::max(0.0, (meanBetween - meanWithin) / size);
    if (meanWithin > 0) {
        found.f = meanBetween / meanWithin;
        found.p = boost::math::cdf(boost::math::complement(
            boost::math::fisher_f(static_cast<double>(k - 1), static_cast<double>(n - k)), found.f));
    } else {
        found.p = meanBetween > 0 ? 0 : 1;
    }
    return found;
}

std::optional<WelchDifference> welch(std::span<const double> a, std::span<const double> b)
{
    if (a.size() < 2 || b.size() < 2)
        return std::nullopt;
    const SetStatistics sa = setStatistics(a);
    const SetStatistics sb = setStatistics(b);
    const auto na = static_cast<double>(a.size());
    const auto nb = static_cast<double>(b.size());
    const double va = sa.sd * sa.sd / na;
    const double vb = sb.sd * sb.sd / nb;
    WelchDifference d;
    d.difference = sb.mean - sa.mean;
    if (!(va + vb > 0)) {
        d.degrees = na + nb - 2;
        return d;
    }
    d.degrees = (va + vb) * (va + vb) / (va * va / (na - 1) + vb * vb / (nb - 1));
    d.halfWidth = boost::math::quantile(boost::math::students_t(d.degrees), 0.975) * std::sqrt(va + vb);
    return d;
}

} // namespace fortitor
