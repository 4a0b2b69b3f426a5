// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/fatigue_sn/sn_line.h"

#include "judge/censored_line.h"
#include "judge/tolerance.h"

#include <Eigen/Dense>
#include <boost/math/tools/roots.hpp>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

using Eigen::Index;

/// Pieces that count, log Δσ from the middle of the broken, and what of log N the line has to tell.
struct Table {
    Eigen::MatrixXd x;
    Eigen::VectorXd y;
    std::vector<char> open;
};

Table tableOf(std::span<const SnPiece> pieces, const SnRule& rule, const SnLine& line)
{
    std::vector<SnPiece> counted;
    for (const SnPiece& p : pieces)
        if (!p.open || rule.runOuts)
            counted.push_back(p);
    const auto n = static_cast<Index>(counted.size());
    Table t{Eigen::MatrixXd::Ones(n, line.parameters), Eigen::VectorXd(n), {}};
    for (Index i = 0; i < n; ++i) {
        const SnPiece& p = counted[static_cast<size_t>(i)];
        const double x = std::log10(p.range) - line.middle;
        t.y(i) = std::log10(p.cycles) + rule.slope.value_or(0) * x;
        if (!rule.slope)
            t.x(i, 1) = x;
        t.open.push_back(p.open);
    }
    return t;
}

/// Level and slope at the middle, with their covariance, become log a and m.
void settle(SnLine& line, const Eigen::VectorXd& b, const Eigen::MatrixXd& doubt, const SnRule& rule)
{
    line.slope = rule.slope ? *rule.slope : -b(1);
    line.logA = b(0) + line.slope * line.middle;
    const double level = doubt(0, 0), slope = rule.slope ? 0 : doubt(1, 1), both = rule.slope ? 0 : doubt(0, 1);
    line.slopeDoubt = std::sqrt(slope);
    line.logADoubt = std::sqrt(std::max(0.0, level - 2 * line.middle * both + line.middle * line.middle * slope));
    line.together = -both + line.middle * slope;
}

/// All are broken: least squares.
void fitBroken(SnLine& line, const Table& t, const SnRule& rule)
{
    const Eigen::ColPivHouseholderQR<Eigen::MatrixXd> qr(t.x);
    const Eigen::VectorXd b = qr.solve(t.y);
    const double squares = (t.y - t.x * b).squaredNorm(), n = static_cast<double>(line.broken);
    line.scatter = std::sqrt(squares / line.freedom());
    line.likelihoodScatter = std::sqrt(squares / n);
    line.logLikelihood = -0.5 * n * (std::log(2 * M_PI * squares / n) + 1);
    const Eigen::MatrixXd doubt = (t.x.transpose() * t.x).inverse() * line.scatter * line.scatter;
    settle(line, b, doubt, rule);
}

} // namespace

double SnLine::logLifeAt(double range) const
{
    return logA - slope * std::log10(range);
}

double SnLine::rangeAt(double cycles) const
{
    return std::pow(10, (logA - std::log10(cycles)) / slope);
}

double SnLine::rangeDoubt(double cycles) const
{
    const double x = (logA - std::log10(cycles)) / slope;
    const double variance = logADoubt * logADoubt - 2 * x * together + x * x * slopeDoubt * slopeDoubt;
    return rangeAt(cycles) * std::log(10) * std::sqrt(std::max(0.0, variance)) / slope;
}

double SnLine::leverageAt(double logRange) const
{
    const double off = parameters > 1 ? (logRange - middle) * (logRange - middle) / spread : 0;
    return 1 / static_cast<double>(broken) + off;
}

Expected<SnLine> fitSn(std::span<const SnPiece> pieces, const SnRule& rule)
{
    SnLine line;
    line.parameters = rule.slope ? 1 : 2;
    std::vector<double> levels;
    for (const SnPiece& p : pieces) {
        if (!(p.range > 0) || !(p.cycles > 0) || !std::isfinite(p.range) || !std::isfinite(p.cycles))
            return Problem{"set", "a range or a number of cycles that is not above zero", "both above zero", {}};
        if (!p.open)
            levels.push_back(std::log10(p.range));
        line.open += p.open && rule.runOuts;
    }
    line.broken = levels.size();
    if (levels.empty())
        return Problem{"set", "no piece that broke where it should", "broken pieces", "Run some at a higher level."};
    for (const double x : levels)
        line.middle += x / static_cast<double>(levels.size());
    for (const double x : levels)
        line.spread += (x - line.middle) * (x - line.middle);
    const auto [least, most] = std::ranges::minmax(levels);
    if (!rule.slope && !(most - least > 1e-6))
        return Problem{"set", "all broken pieces on one level", "two levels, or a fixed slope",
                       "Run pieces on another level, or fix the slope on Plan."};
    if (line.broken <= static_cast<size_t>(line.parameters))
        return Problem{"set",
                       line.broken == 1 ? std::string("1 broken piece") : fmt::format("{} broken pieces", line.broken),
                       fmt::format("at least {}", line.parameters + 1), "Run more pieces."};
    const Table t = tableOf(pieces, rule, line);
    if (line.open == 0) {
        fitBroken(line, t, rule);
        return line;
    }
    const auto fit = fitCensoredLine(t.x, t.y, t.open);
    if (!fit)
        return Problem{"set", "pieces whose likelihood has no maximum", "broken pieces with some scatter",
                       "Run more pieces to their break."};
    line.likelihoodScatter = fit->sigma;
    line.logLikelihood = fit->logLikelihood;
    const double freed = static_cast<double>(line.broken) / line.freedom();
    line.scatter = fit->sigma * std::sqrt(freed);
    settle(line, fit->coefficients, fit->covariance * freed, rule);
    return line;
}

double SnBound::factor(const SnLine& line, double logRange) const
{
    const double h = line.leverageAt(logRange);
    return by == By::Prediction ? studentQuantile(line.freedom(), confidence) * std::sqrt(1 + h)
                                : toleranceFactor(line.freedom(), h, survival, confidence);
}

double SnBound::logLifeAt(const SnLine& line, double range) const
{
    return line.logLifeAt(range) - factor(line, std::log10(range)) * line.scatter;
}

std::optional<double> SnBound::rangeAt(const SnLine& line, double cycles) const
{
    const double wanted = std::log10(cycles), mean = (line.logA - wanted) / line.slope;
    if (!(line.slope > 0) || !std::isfinite(mean))
        return std::nullopt;
    if (!(line.scatter > 0))
        return std::pow(10, mean);
    const auto over = [&](double x) { return line.logA - line.slope * x - factor(line, x) * line.scatter - wanted; };
    // Left of the mean line the bound rises, unless the slope is hardly told: then it may never come up there.
    constexpr double step = 0.05, farthest = 1.5; // decades of range
    double right = mean;
    for (double left = mean - step; left > mean - farthest; left -= step) {
        if (over(left) < 0) {
            right = left;
            continue;
        }
        std::uintmax_t rounds = 60;
        const auto [a, b] =
            boost::math::tools::toms748_solve(over, left, right, boost::math::tools::eps_tolerance<double>(46), rounds);
        return std::pow(10, (a + b) / 2);
    }
    return std::nullopt;
}

} // namespace fortitor
