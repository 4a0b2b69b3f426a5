// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/line_fit.h"

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>

namespace fortitor {

double LineFit::relativeSlopeError() const
{
    if (n < 3 || r2 <= 0)
        return 1;
    return std::sqrt(std::max(0.0, 1 / r2 - 1) / static_cast<double>(n - 2));
}

LineFit fitLine(std::span<const double> x, std::span<const double> y)
{
    LineFit fit;
    const size_t n = std::min(x.size(), y.size());
    if (n < 2)
        return fit;
    using Values = Eigen::Map<const Eigen::ArrayXd>;
    const Values xs(x.data(), static_cast<Eigen::Index>(n));
    const Values ys(y.data(), static_cast<Eigen::Index>(n));
    fit.meanX = x[0] + (xs - x[0]).sum() / static_cast<double>(n);
    fit.meanY = y[0] + (ys - y[0]).sum() / static_cast<double>(n);
    const double sxx = (xs - fit.meanX).square().sum();
    const double sxy = ((xs - fit.meanX) * (ys - fit.meanY)).sum();
    const double syy = (ys - fit.meanY).square().sum();
    if (!(sxx > 0))
        return fit;
    fit.n = n;
    fit.slope = sxy / sxx;
    fit.intercept = fit.meanY - fit.slope * fit.meanX;
    const double sse = (ys - fit.intercept - fit.slope * xs).square().sum();
    fit.r2 = syy > 0 ? std::max(0.0, 1 - sse / syy) : 1;
    fit.residualRms = n > 2 ? std::sqrt(sse / static_cast<double>(n - 2)) : 0;
    return fit;
}

double QuadraticFit::at(double x) const
{
    const double t = (x - centre) / halfWidth;
    return a + t * (b + t * c);
}

double QuadraticFit::vertex() const
{
    if (c == 0)
        return centre;
    const double t = -b / (2 * c);
    return centre + std::clamp(t, -1.0, 1.0) * halfWidth;
}

QuadraticFit fitQuadratic(std::span<const double> x, std::span<const double> y)
{
    QuadraticFit fit;
    const size_t n = std::min(x.size(), y.size());
    if (n < 5)
        return fit;
    const auto [low, high] = std::ranges::minmax(x);
    if (!(high > low))
        return fit;
    fit.centre = 0.5 * (low + high);
    fit.halfWidth = 0.5 * (high - low);
    double s[5] = {};
    Eigen::Vector3d right = Eigen::Vector3d::Zero();
    const double base = y[0];
    for (size_t i = 0; i < n; ++i) {
        const double t = (x[i] - fit.centre) / fit.halfWidth;
        double power = 1;
        for (int k = 0; k < 5; ++k, power *= t) {
            s[k] += power;
            if (k < 3)
                right(k) += power * (y[i] - base);
        }
    }
    Eigen::Matrix3d left;
    left << s[0], s[1], s[2], s[1], s[2], s[3], s[2], s[3], s[4];
    const Eigen::Vector3d p = left.ldlt().solve(right);
    if (!p.allFinite())
        return fit;
    fit.a = p(0) + base;
    fit.b = p(1);
    fit.c = p(2);
    fit.n = n;
    return fit;
}

} // namespace fortitor
