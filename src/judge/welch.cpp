// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/welch.h"

#include "judge/statistics.h"

#include <boost/math/distributions/students_t.hpp>

#include <cmath>

namespace fortitor {

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
