// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/figures.h"

#include "history/rainflow.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// Integral of a smooth function, Simpson's rule.
template <class Of> double integral(double from, double to, Of&& of)
{
    if (!(to > from))
        return 0;
    constexpr int halves = 10000;
    const double step = (to - from) / (2 * halves);
    LongSum sum;
    for (int i = 0; i <= 2 * halves; ++i)
        sum.add((i == 0 || i == 2 * halves ? 1 : i % 2 == 1 ? 4 : 2) * of(from + step * i));
    return sum.value() * step / 3;
}

/// Days of a long history, hours of a shorter one, tenths of a short one.
double stretchFor(double seconds)
{
    constexpr double hour = 3600, day = 24 * hour;
    return seconds >= 2 * day ? day : seconds >= 2 * hour ? hour : seconds / 10;
}

WorstEvent worstOf(const LongTurning& turning)
{
    WorstEvent worst;
    bool any = false;
    turning.each([&](std::span<const double> values, std::span<const std::uint32_t> at) {
        if (values.empty())
            return;
        const auto [low, high] = std::ranges::minmax_element(values);
        if (!any || *low < worst.lowValue) {
            worst.lowValue = *low;
            worst.low = at[static_cast<size_t>(low - values.begin())];
        }
        if (!any || *high >= worst.highValue) {
            worst.highValue = *high;
            worst.high = at[static_cast<size_t>(high - values.begin())];
        }
        any = true;
    });
    return worst;
}

} // namespace

double rayleighExceedance(double range, double rms)
{
    return rms > 0 ? std::exp(-(range / rms) * (range / rms)) : 0;
}

double rayleighDamage(const DamageCurve& curve, double rms)
{
    if (!(rms > 0))
        return 0;
    const auto part = [&](double range) {
        return curve.perCycle(range) * 2 * range / (rms * rms) * std::exp(-(range / rms) * (range / rms));
    };
    constexpr double far = 12; // root mean squares: e^-144 is left
    const double bend = std::min(curve.kneeRange(), far * rms);
    // The knee itself belongs to what lies above it.
    const double below = std::nextafter(bend, 0.0);
    return integral(0, below, part) + integral(bend, std::max(bend, far * rms), part);
}

DamageInTime damageInTime(const LongTurning& turning, double rate, std::uint64_t readings, const Counts& counts,
                          const CountSettings& settings)
{
    DamageInTime out;
    const double seconds = static_cast<double>(readings) / rate;
    out.seconds = stretchFor(seconds);
    if (!settings.curve || !(out.seconds > 0))
        return out;
    const auto bins = std::max<size_t>(1, static_cast<size_t>(std::ceil(seconds / out.seconds - 1e-9)));
    std::vector<LongSum> sums(bins);
    const auto stretchAt = [&](std::uint32_t at) {
        return std::min(bins - 1, static_cast<size_t>(static_cast<double>(at) / rate / out.seconds));
    };
    const auto damageOf = [&](double from, double to) {
        const double range = std::abs(to - from);
        return range < counts.cutAt ? 0 : settings.curve->perCycle(range) / settings.curve->sum;
    };
    Rainflow flow;
    turning.each([&](std::span<const double> values, std::span<const std::uint32_t> at) {
        for (size_t first = 0; first < values.size();) {
            const size_t bin = stretchAt(at[first]);
            size_t last = first;
            while (last < values.size() && stretchAt(at[last]) == bin)
                ++last;
            flow.take(values.subspan(first, last - first),
                      [&](double from, double to) { sums[bin].add(damageOf(from, to)); });
            first = last;
        }
    });
    const std::span<const double> rest = flow.residue();
    if (settings.residue == Residue::Half) {
        size_t i = 0; // the residue stands among the turning points in its order
        turning.each([&](std::span<const double> values, std::span<const std::uint32_t> at) {
            for (size_t k = 0; k < values.size() && i < rest.size(); ++k) {
                if (values[k] != rest[i])
                    continue;
                if (i > 0)
                    sums[stretchAt(at[k])].add(damageOf(rest[i - 1], rest[i]) / 2);
                ++i;
            }
        });
    }
    if (settings.residue == Residue::Repeat && rest.size() > 1) {
        Rainflow again;
        again.take(repeated(rest), [&](double from, double to) { out.beside += damageOf(from, to); });
    }
    for (const LongSum& sum : sums)
        out.damage.push_back(sum.value());
    return out;
}

/// All but the chain, from turning points that stay with who has them.
Expected<HistoryFigures> figuresOf(const SpectrumPart& part, const SpectrumSettings& settings)
{
    HistoryFigures out;
    out.settings = settings;
    out.settings.chain.scale = part.scale;
    out.seconds = static_cast<double>(part.chain.readings) / part.chain.rate;
    out.worst = worstOf(part.chain.turning);
    auto spectrum = countParts({&part, 1}, settings);
    if (!spectrum)
        return spectrum.problem();
    out.spectrum = std::move(*spectrum);
    const Counts& counts = out.spectrum.counts;
    if (!counts.damage)
        return out;
    CountSettings counting = settings.counts;
    out.inTime = damageInTime(part.chain.turning, part.chain.rate, part.chain.readings, counts, counting);
    if (*counts.damage > 0)
        out.life = out.seconds / *counts.damage;
    out.rayleighDamage =
        counts.cycles * rayleighDamage(*settings.counts.curve, counts.rmsRange) / settings.counts.curve->sum;
    return out;
}

} // namespace fortitor
