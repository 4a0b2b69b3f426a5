// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/seen_stretch.h"

#include <algorithm>

namespace fortitor {
namespace {

/// The same stretch as it looks from the pieces of the trend about it.
Expected<ChainStretch> aloneOf(const HistoryFile& file, const ChainSettings& settings, const ChainFound& whole,
                               std::uint64_t from, size_t count)
{
    const std::uint64_t size = file.source->size();
    const double piece = settings.detrend * file.rate;
    const auto index = [&](double k) {
        return static_cast<std::uint64_t>(std::clamp(k * piece, 0.0, static_cast<double>(size)));
    };
    const double at = static_cast<double>(from) / piece;
    constexpr double beside = 2; // pieces
    const std::uint64_t first = index(std::max(0.0, std::floor(at) - beside)),
                        last = std::max(index(std::floor(at) + 1 + beside), std::min(size, from + count));
    const auto window = fortitor::partOf(file.source, first, last - first);
    ChainSettings s = settings;
    s.first = s.count = 0;
    s.progress = {};
    if (whole.spikeLimit > 0)
        s.spikeLimit = whole.spikeLimit / std::abs(settings.scale);
    ChainSettings trendOnly = s;
    trendOnly.lowPass = 0;
    const auto found = runChain(*window, file.rate, trendOnly);
    if (!found)
        return found.problem();
    auto seen = stretchOf(*window, s, *found, from - first, count);
    if (seen)
        seen->from = from;
    return seen;
}

} // namespace

Expected<SeenStretch> seenStretch(const HistoryFile& file, const HistoryFigures& whole,
                                  const SpectrumSettings& settings, std::uint64_t from, size_t count)
{
    ChainSettings s = settings.chain;
    s.scale = whole.settings.chain.scale;
    ChainFound found;
    found.rate = file.rate;
    found.spikeLimit = s.spikes ? whole.spectrum.chain.spikeLimit : 0;
    SeenStretch out;
    out.rate = file.rate;
    out.alone = s.detrend > 0 && s.detrend != whole.settings.chain.detrend;
    if (s.detrend > 0 && !out.alone) {
        found.trend = whole.spectrum.chain.trend;
        found.joints = whole.spectrum.chain.joints;
    }
    auto seen = out.alone ? aloneOf(file, s, found, from, count) : stretchOf(*file.source, s, found, from, count);
    if (!seen)
        return seen.problem();
    out.chain = std::move(*seen);
    Turning turning;
    TurningFinder finder(turning);
    for (size_t i = 0; i < out.chain.filtered.size(); ++i)
        finder.take(out.chain.filtered[i], static_cast<std::uint32_t>(i));
    finder.end();
    out.turning = turning.values;
    out.turningAt.assign(turning.at.begin(), turning.at.end());
    CutRule rule = settings.counts.cut;
    if (rule.of == CutRule::Of::Fixed)
        rule.fixed = whole.spectrum.unit->fromBase(rule.fixed);
    out.cut = cutOf(rule, whole.spectrum.counts);
    out.kept = out.turning;
    dropSmall(out.kept, out.cut);
    size_t at = 0; // what is kept stands among the turning points in its order
    for (const double value : out.kept) {
        while (out.turning[at] != value)
            ++at;
        out.keptAt.push_back(out.turningAt[at++]);
    }
    return out;
}

} // namespace fortitor
