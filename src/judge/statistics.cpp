// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/statistics.h"

#include <boost/math/distributions/students_t.hpp>

#include <algorithm>
#include <cmath>

namespace fortitor {

SetStatistics setStatistics(std::span<const double> values)
{
    SetStatistics s;
    s.n = values.size();
    if (s.n == 0)
        return s;
    const auto count = static_cast<double>(s.n);
    double shifted = 0;
    s.min = s.max = values[0];
    for (const double v : values) {
        shifted += v - values[0];
        s.min = std::min(s.min, v);
        s.max = std::max(s.max, v);
    }
    s.mean = values[0] + shifted / count;
    if (s.n < 2)
        return s;
    double squares = 0;
    for (const double v : values)
        squares += (v - s.mean) * (v - s.mean);
    s.sd = std::sqrt(squares / (count - 1));
    s.cvPercent = s.mean != 0 ? 100 * s.sd / std::abs(s.mean) : 0;
    const boost::math::students_t student(count - 1);
    s.ciHalfWidth = boost::math::quantile(student, 0.975) * s.sd / std::sqrt(count);
    return s;
}

std::optional<size_t> countForHalfWidth(double sd, double half)
{
    constexpr size_t most = 1000;
    for (size_t n = 2; n <= most && half > 0; ++n)
        if (boost::math::quantile(boost::math::students_t(static_cast<double>(n - 1)), 0.975) * sd
                / std::sqrt(static_cast<double>(n))
            <= half)
            return n;
    return std::nullopt;
}

double grubbsCritical(size_t n, double level)
{
    const auto count = static_cast<double>(n);
    const boost::math::students_t student(count - 2);
    const double t = boost::math::quantile(boost::math::complement(student, level / (2 * count)));
    return (count - 1) / std::sqrt(count) * std::sqrt(t * t / (count - 2 + t * t));
}

std::optional<Grubbs> grubbsTest(std::span<const double> values)
{
    const SetStatistics s = setStatistics(values);
    if (s.n < 4 || !(s.sd > 0))
        return std::nullopt;
    Grubbs g;
    for (size_t i = 0; i < values.size(); ++i) {
        const double far = std::abs(values[i] - s.mean) / s.sd;
        if (far > g.statistic)
            g = {i, far, 0};
    }
    g.critical = grubbsCritical(s.n);
    return g;
}

} // namespace fortitor
