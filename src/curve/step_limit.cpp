// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/step_limit.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double limitShare = 0.015;
constexpr double leaning = 0.2; // of the tolerance: too little to be off, too much to be sure of

double robust(std::vector<double> residuals)
{
    for (double& r : residuals)
        r = std::abs(r);
    std::ranges::sort(residuals);
    const std::size_t n = residuals.size();
    return n == 0 ? 0 : 1.4826 * (n % 2 ? residuals[n / 2] : 0.5 * (residuals[n / 2 - 1] + residuals[n / 2]));
}

struct Fit {
    LineFit line;
    double scatter = 0;
};

Fit fitOf(std::span<const double> load, std::span<const double> deflection, const std::vector<std::size_t>& used)
{
    std::vector<double> x;
    std::vector<double> y;
    for (const std::size_t i : used) {
        x.push_back(load[i]);
        y.push_back(deflection[i]);
    }
    Fit fit{fitLine(x, y)};
    std::vector<double> residuals;
    for (std::size_t i = 0; i < x.size(); ++i)
        residuals.push_back(y[i] - fit.line.at(x[i]));
    fit.scatter = robust(residuals);
    return fit;
}

double tolerance(const Fit& fit, double deflection, double division)
{
    return std::max({3 * fit.scatter, limitShare * std::abs(deflection), division});
}

std::vector<std::size_t> range(std::size_t from, std::size_t to)
{
    std::vector<std::size_t> out;
    for (std::size_t i = from; i < to; ++i)
        out.push_back(i);
    return out;
}

/// A reading at the foot lies off the line of those that follow, by more than they scatter.
std::size_t footOf(std::span<const double> load, std::span<const double> deflection, double division, std::size_t first)
{
    std::size_t begin = 0;
    for (std::size_t cut = 0; cut < 2 && cut + 1 + std::max<std::size_t>(3, first - 1) <= load.size(); ++cut) {
        const Fit rest = fitOf(load, deflection, range(cut + 1, cut + std::max<std::size_t>(4, first)));
        if (!rest.line.valid() || !(rest.line.slope > 0))
            return begin;
        // The step's own deflection is the measure: the first is small against the zero of the dial.
        const double step = rest.line.slope * std::abs(load[cut + 1] - load[cut]);
        if (std::abs(deflection[cut] - rest.line.at(load[cut])) <= std::max({3 * rest.scatter, division, 0.1 * step}))
            return begin;
        begin = cut + 1;
    }
    return begin;
}

std::size_t firstCount(std::size_t n)
{
    return n >= 10 ? 5 : std::max<std::size_t>(3, n / 2);
}

std::optional<StepLimit> amongSteps(std::span<const double> load, std::span<const double> deflection, double division)
{
    const std::size_t n = std::min(load.size(), deflection.size());
    if (n < 3)
        return std::nullopt;
    StepLimit out;
    out.begin = footOf(load, deflection, division, firstCount(n));
    const std::size_t first = std::min(n, out.begin + firstCount(n - out.begin));
    std::vector<std::size_t> used = range(out.begin, first);
    Fit fit = fitOf(load, deflection, used);
    if (!fit.line.valid())
        return std::nullopt;
    for (const std::size_t i : used)
        out.lineAtStart = out.lineAtStart
            && std::abs(deflection[i] - fit.line.at(load[i]))
                <= std::max({limitShare * std::abs(deflection[used.back()]), division, 0.0});
    out.lineAtStart = out.lineAtStart && fit.line.slope > 0;
    out.limit = first - 1;
    std::size_t off = 0;
    for (std::size_t j = first; j < n; ++j) {
        const bool beyond = deflection[j] - fit.line.at(load[j]) > tolerance(fit, deflection[j], division);
        if (beyond) {
            if (++off == 2 || j + 1 == n) {
                out.reached = true;
                break;
            }
            continue;
        }
        if (off == 1)
            out.odd.push_back(j - 1);
        off = 0;
        used.push_back(j);
        out.limit = j;
        fit = fitOf(load, deflection, used);
    }
    out.line = fit.line;
    // A soft bend leaves the line with the square of what is over the limit: where the two readings beyond
    // it say that it began before the last one on the line, that one is doubtful.
    if (out.reached && out.limit + 2 < n) {
        const auto over = [&](std::size_t i) { return std::sqrt(std::max(0.0, deflection[i] - fit.line.at(load[i]))); };
        const double near = over(out.limit + 1);
        const double far = over(out.limit + 2);
        const double step = load[out.limit + 1] - load[out.limit];
        if (far > near && step > 0)
            out.close = load[out.limit + 1] - (load[out.limit + 2] - load[out.limit + 1]) * near / (far - near)
                < load[out.limit] - 0.1 * step;
    }
    // By how much the reading at the limit leans, seen from the line without it.
    if (out.reached && used.size() > 3) {
        std::vector<std::size_t> before(used.begin(), used.end() - 1);
        const Fit without = fitOf(load, deflection, before);
        const double leans = deflection[out.limit] - without.line.at(load[out.limit]);
        out.close = out.close
            || leans > std::min(leaning * tolerance(without, deflection[out.limit], division),
                                std::max(without.scatter, 0.3 * division));
    }
    return out;
}

/// The same in a record: among the means of stretches of it, then fitted over all its rows.
std::optional<StepLimit> inRecord(std::span<const double> load, std::span<const double> deflection, double division)
{
    constexpr std::size_t bins = 200;
    const std::size_t n = std::min(load.size(), deflection.size());
    std::vector<double> x(bins), y(bins);
    const auto edge = [&](std::size_t bin) { return bin * n / bins; };
    for (std::size_t b = 0; b < bins; ++b) {
        const auto count = static_cast<double>(edge(b + 1) - edge(b));
        for (std::size_t i = edge(b); i < edge(b + 1); ++i) {
            x[b] += load[i] / count;
            y[b] += deflection[i] / count;
        }
    }
    auto out = amongSteps(x, y, division);
    if (!out)
        return out;
    out->begin = edge(out->begin);
    out->limit = edge(out->limit + 1) - 1;
    out->odd.clear();
    out->line = fitLine(load.subspan(out->begin, out->limit - out->begin + 1),
                        deflection.subspan(out->begin, out->limit - out->begin + 1));
    return out;
}

} // namespace

std::optional<StepLimit> findStepLimit(std::span<const double> load, std::span<const double> deflection,
                                       double division)
{
    constexpr std::size_t mostSteps = 400;
    return std::min(load.size(), deflection.size()) > mostSteps ? inRecord(load, deflection, division)
                                                                : amongSteps(load, deflection, division);
}

std::optional<StepLimit> stepLimitAt(std::span<const double> load, std::span<const double> deflection, double division,
                                     std::size_t limit)
{
    auto out = findStepLimit(load, deflection, division);
    if (!out || limit >= std::min(load.size(), deflection.size()) || limit < out->begin + 1)
        return std::nullopt;
    std::vector<std::size_t> used = range(out->begin, limit + 1);
    std::erase_if(used, [&](std::size_t i) { return std::ranges::find(out->odd, i) != out->odd.end() && i != limit; });
    const Fit fit = fitOf(load, deflection, used);
    if (!fit.line.valid())
        return std::nullopt;
    out->limit = limit;
    out->line = fit.line;
    out->reached = true;
    return out;
}

} // namespace fortitor
