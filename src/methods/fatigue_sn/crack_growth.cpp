// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/fatigue_sn/crack_growth.h"

#include "judge/tolerance.h"
#include "units/quantity.h"

#include <Eigen/Dense>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {

std::optional<double> StatedTable::at(double value) const
{
    if (x.empty() || value < x.front() || value > x.back())
        return std::nullopt;
    const auto above = static_cast<size_t>(std::ranges::lower_bound(x, value) - x.begin());
    if (above == 0)
        return y.front();
    const double share = (value - x[above - 1]) / (x[above] - x[above - 1]);
    return y[above - 1] + share * (y[above] - y[above - 1]);
}

Expected<StatedTable> readTable(const std::string& place, const std::string& text)
{
    const Problem wanted{place, '"' + text + '"', "pairs such as 2: 1.12; 5: 1.20; 10: 1.41, two or more, rising", {}};
    StatedTable table;
    for (size_t at = 0; at < text.size();) {
        const size_t end = std::min(text.find(';', at), text.size());
        const std::string pair = text.substr(at, end - at);
        at = end + 1;
        if (pair.find_first_not_of(" \t") == std::string::npos)
            continue;
        const size_t colon = pair.find(':');
        if (colon == std::string::npos)
            return wanted;
        const auto number = [](std::string part) {
            for (const char* unit : {"mm", " "})
                for (size_t k = part.find(unit); k != std::string::npos; k = part.find(unit))
                    part.erase(k, std::string(unit).size());
            return parseNumber(part);
        };
        const auto x = number(pair.substr(0, colon)), y = number(pair.substr(colon + 1));
        if (!x || !y || !(*y >= 0) || !std::isfinite(*y) || !std::isfinite(*x)
            || (!table.x.empty() && !(*x > table.x.back())))
            return wanted;
        table.x.push_back(*x);
        table.y.push_back(*y);
    }
    if (table.x.size() < 2)
        return wanted;
    return table;
}

namespace {

/// Lengths that never fall: of neighbours that do, the mean (isotonic by pooling).
std::vector<double> neverFalling(std::span<const CrackLength> readings)
{
    struct Pool {
        double sum = 0;
        size_t count = 0;
        [[nodiscard]] double mean() const { return sum / static_cast<double>(count); }
    };
    std::vector<Pool> pools;
    for (const CrackLength& one : readings) {
        pools.push_back({one.length, 1});
        while (pools.size() > 1 && pools[pools.size() - 2].mean() >= pools.back().mean()) {
            pools[pools.size() - 2].sum += pools.back().sum;
            pools[pools.size() - 2].count += pools.back().count;
            pools.pop_back();
        }
    }
    std::vector<double> out;
    for (const Pool& pool : pools)
        out.insert(out.end(), pool.count, pool.mean());
    return out;
}

} // namespace

std::vector<CrackLength> thinnedLengths(std::span<const CrackLength> readings, double step)
{
    std::vector<CrackLength> out;
    if (readings.empty())
        return out;
    const std::vector<double> level = neverFalling(readings);
    const double first = level.front();
    double n = 0, cycles = 0, length = 0;
    long at = 0;
    const auto keep = [&] {
        if (n > 0)
            out.push_back({cycles / n, length / n});
        n = cycles = length = 0;
    };
    for (size_t i = 0; i < readings.size(); ++i) {
        const long stepHere = static_cast<long>(std::floor((level[i] - first) / step));
        if (stepHere != at)
            keep();
        at = stepHere;
        n += 1;
        cycles += readings[i].cycles;
        length += readings[i].length;
    }
    keep();
    return out;
}

std::vector<GrowthRate> ratesBySecant(std::span<const CrackLength> lengths)
{
    std::vector<GrowthRate> rates;
    for (size_t i = 1; i < lengths.size(); ++i) {
        const double cycles = lengths[i].cycles - lengths[i - 1].cycles;
        const double growth = lengths[i].length - lengths[i - 1].length;
        if (cycles > 0 && growth > 0)
            rates.push_back({(lengths[i].length + lengths[i - 1].length) / 2, growth / cycles});
    }
    return rates;
}

std::vector<GrowthRate> ratesByPolynomial(std::span<const CrackLength> lengths)
{
    constexpr size_t side = 3;
    std::vector<GrowthRate> rates;
    for (size_t i = side; i + side < lengths.size(); ++i) {
        const double middle = (lengths[i - side].cycles + lengths[i + side].cycles) / 2;
        const double half = (lengths[i + side].cycles - lengths[i - side].cycles) / 2;
        if (!(half > 0))
            continue;
        Eigen::Matrix<double, 2 * side + 1, 3> terms; // of a parabola over cycles between −1 and 1
        Eigen::Vector<double, 2 * side + 1> seen;
        for (size_t k = 0; k < 2 * side + 1; ++k) {
            const double at = (lengths[i - side + k].cycles - middle) / half;
            terms.row(static_cast<Eigen::Index>(k)) << 1, at, at * at;
            seen[static_cast<Eigen::Index>(k)] = lengths[i - side + k].length;
        }
        const auto solver = terms.colPivHouseholderQr();
        if (solver.rank() < 3)
            continue;
        const Eigen::Vector3d b = solver.solve(seen);
        const double u = (lengths[i].cycles - middle) / half;
        const double rate = (b[1] + 2 * b[2] * u) / half;
        if (rate > 0)
            rates.push_back({b[0] + b[1] * u + b[2] * u * u, rate});
    }
    return rates;
}

double deltaK(double range, double length, double geometry)
{
    constexpr double perMetre = 1e-3;
    return geometry * range * std::sqrt(std::numbers::pi * length * perMetre);
}

std::optional<ParisLine> parisLine(std::span<const GrowthRate> rates, size_t shared)
{
    std::vector<double> x, y;
    for (const GrowthRate& one : rates)
        if (one.deltaK > 0 && one.rate > 0) {
            x.push_back(std::log10(one.deltaK));
            y.push_back(std::log10(one.rate));
        }
    const size_t n = x.size();
    if (n < 4)
        return std::nullopt;
    double mx = 0, my = 0, xx = 0, xy = 0;
    for (size_t i = 0; i < n; ++i) {
        mx += x[i] / static_cast<double>(n);
        my += y[i] / static_cast<double>(n);
    }
    for (size_t i = 0; i < n; ++i) {
        xx += (x[i] - mx) * (x[i] - mx);
        xy += (x[i] - mx) * (y[i] - my);
    }
    if (!(xx > 1e-12))
        return std::nullopt;
    ParisLine line{.m = xy / xx, .points = n};
    const double logC = my - line.m * mx;
    line.C = std::pow(10, logC);
    std::vector<double> rest(n);
    double squares = 0;
    for (size_t i = 0; i < n; ++i) {
        rest[i] = y[i] - logC - line.m * x[i];
        squares += rest[i] * rest[i];
    }
    const double free = static_cast<double>(n - 2), variance = squares / free;
    line.scatter = std::sqrt(variance);
    // Variance of Σ w·rest, for the slope and for the level at ΔK = 1.
    const auto doubt = [&](auto&& weight) {
        double usual = 0, together = 0;
        for (size_t i = 0; i < n; ++i) {
            usual += weight(i) * weight(i) * variance;
            together += weight(i) * weight(i) * rest[i] * rest[i];
            for (size_t lag = 1; lag <= shared && i + lag < n; ++lag)
                together += 2 * (1 - static_cast<double>(lag) / static_cast<double>(shared + 1)) * weight(i)
                    * weight(i + lag) * rest[i] * rest[i + lag];
        }
        return std::sqrt(std::max(usual, together * static_cast<double>(n) / free));
    };
    const double t = studentQuantile(std::max(1.0, shared > 0 ? free / static_cast<double>(shared) : free), 0.975);
    const double doubtM = doubt([&](size_t i) { return (x[i] - mx) / xx; });
    const double doubtC = doubt([&](size_t i) { return 1 / static_cast<double>(n) - mx * (x[i] - mx) / xx; });
    line.mWithin = {line.m - t * doubtM, line.m + t * doubtM};
    line.cWithin = {std::pow(10, logC - t * doubtC), std::pow(10, logC + t * doubtC)};
    return line;
}

ParisLine widened(ParisLine line, const ParisLine& bySecant)
{
    const double m = std::abs(line.m - bySecant.m), C = std::max(line.C, bySecant.C) / std::min(line.C, bySecant.C);
    line.mWithin = {line.mWithin.first - m, line.mWithin.second + m};
    line.cWithin = {line.cWithin.first / C, line.cWithin.second * C};
    return line;
}

} // namespace fortitor
