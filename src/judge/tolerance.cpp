// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/tolerance.h"

#include "judge/statistics.h"

#include <boost/math/distributions/non_central_t.hpp>
#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/students_t.hpp>

#include <cmath>
#include <map>
#include <mutex>
#include <tuple>

namespace fortitor {

double toleranceFactor(size_t n, double share, double confidence)
{
    // The same few sizes are asked for again and again, for every figure of a set.
    static std::mutex mutex;
    static std::map<std::tuple<size_t, double, double>, double> known;
    const std::lock_guard lock(mutex);
    const std::tuple key{n, share, confidence};
    if (const auto it = known.find(key); it != known.end())
        return it->second;
    const auto size = static_cast<double>(n);
    return known[key] = toleranceFactor(size - 1, 1 / size, share, confidence);
}

double toleranceFactor(double freedom, double leverage, double share, double confidence)
{
    const double root = std::sqrt(leverage);
    const double z = boost::math::quantile(boost::math::normal(), share);
    return boost::math::quantile(boost::math::non_central_t(freedom, z / root), confidence) * root;
}

double studentQuantile(double freedom, double confidence)
{
    return boost::math::quantile(boost::math::students_t(freedom), confidence);
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

} // namespace fortitor
