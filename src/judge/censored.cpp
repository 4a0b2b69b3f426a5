// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/censored.h"

#include "judge/normal_tail.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace fortitor {
namespace {

bool isOpen(std::span<const char> open, size_t i)
{
    return i < open.size() && open[i] != 0;
}

/// Values that are none but bounds: how many, and whether they differ.
struct Exact {
    size_t count = 0;
    double least = std::numeric_limits<double>::infinity(), greatest = -std::numeric_limits<double>::infinity();
};

std::optional<Exact> exactOf(std::span<const double> values, std::span<const char> open)
{
    Exact e;
    for (size_t i = 0; i < values.size(); ++i) {
        if (!std::isfinite(values[i]))
            return std::nullopt;
        if (isOpen(open, i))
            continue;
        ++e.count;
        e.least = std::min(e.least, values[i]);
        e.greatest = std::max(e.greatest, values[i]);
    }
    if (e.count < 2 || !(e.greatest > e.least))
        return std::nullopt;
    return e;
}

} // namespace

std::optional<CensoredFit> fitNormal(std::span<const double> values, std::span<const char> open)
{
    const auto exact = exactOf(values, open);
    if (!exact)
        return std::nullopt;
    const auto n = static_cast<double>(values.size());
    // Counted from the least exact value, in spans of the exact ones.
    const double level = exact->least, span = exact->greatest - exact->least;
    double mean = 0.5, variance = 0.25;
    constexpr int most = 100000;
    constexpr double enough = 1e-12;
    for (int round = 0; round < most; ++round) {
        const double sd = std::sqrt(variance);
        double first = 0, second = 0; // of x − mean, as expected
        for (size_t i = 0; i < values.size(); ++i) {
            const double d = (values[i] - level) / span - mean;
            if (!isOpen(open, i)) {
                first += d;
                second += d * d;
                continue;
            }
            const double z = d / sd, h = hazard(z);
            first += sd * h;
            second += variance * (1 + z * h);
        }
        const double step = first / n;
        const double next = second / n - step * step;
        const double change = std::abs(step) + std::abs(std::sqrt(next) - sd);
        mean += step;
        variance = next;
        if (change < enough)
            break;
    }
    CensoredFit fit{.law = CensoredFit::Law::Normal};
    fit.mean = level + span * mean;
    const double sd = span * std::sqrt(variance);
    fit.sd = sd * std::sqrt(n / (n - 1));
    for (size_t i = 0; i < values.size(); ++i) {
        const double z = (values[i] - fit.mean) / sd;
        fit.logLikelihood +=
            isOpen(open, i) ? logAbove(z) : -0.5 * z * z - std::log(sd) - 0.5 * std::log(2 * std::numbers::pi);
    }
    return fit;
}

std::optional<CensoredFit> fitWeibull(std::span<const double> values, std::span<const char> open)
{
    const auto exact = exactOf(values, open);
    if (!exact || !(*std::ranges::min_element(values) > 0))
        return std::nullopt;
    const double largest = *std::ranges::max_element(values);
    const auto r = static_cast<double>(exact->count);
    double logs = 0; // of the exact ones, over the largest
    for (size_t i = 0; i < values.size(); ++i)
        if (!isOpen(open, i))
            logs += std::log(values[i] / largest);
    const auto sums = [&](double shape) {
        double plain = 0, weighted = 0;
        for (const double x : values) {
            const double l = std::log(x / largest), p = std::exp(shape * l);
            plain += p;
            weighted += p * l;
        }
        return std::pair(plain, weighted);
    };
    // Rises with the shape from −∞ to above zero.
    const auto balance = [&](double shape) {
        const auto [plain, weighted] = sums(shape);
        return weighted / plain - 1 / shape - logs / r;
    };
    double low = 1e-3, high = 1;
    while (balance(high) < 0 && high < 1e7)
        high *= 2;
    for (int i = 0; i < 200 && high - low > 1e-13 * high; ++i) {
        const double middle = 0.5 * (low + high);
        (balance(middle) < 0 ? low : high) = middle;
    }
    CensoredFit fit{.law = CensoredFit::Law::Weibull};
    fit.shape = 0.5 * (low + high);
    fit.scale = largest * std::pow(sums(fit.shape).first / r, 1 / fit.shape);
    const double one = std::tgamma(1 + 1 / fit.shape), two = std::tgamma(1 + 2 / fit.shape);
    fit.mean = fit.scale * one;
    fit.sd = fit.scale * std::sqrt(std::max(0.0, two - one * one));
    for (size_t i = 0; i < values.size(); ++i) {
        const double l = std::log(values[i] / fit.scale), above = -std::exp(fit.shape * l);
        fit.logLikelihood += isOpen(open, i) ? above : std::log(fit.shape / fit.scale) + (fit.shape - 1) * l + above;
    }
    return std::isfinite(fit.mean) && std::isfinite(fit.logLikelihood) ? std::optional(fit) : std::nullopt;
}

std::optional<CensoredFit> fitCensored(std::span<const double> values, std::span<const char> open)
{
    const auto normal = fitNormal(values, open);
    const auto weibull = fitWeibull(values, open);
    if (!normal || !weibull)
        return normal ? normal : weibull;
    return weibull->logLikelihood > normal->logLikelihood ? weibull : normal;
}

std::string lawName(CensoredFit::Law law)
{
    return law == CensoredFit::Law::Normal ? "normal" : "Weibull";
}

} // namespace fortitor
