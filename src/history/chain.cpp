// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/chain.h"

#include "history/blocks.h"
#include "history/workers.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <limits>
#include <mutex>
#include <optional>

namespace fortitor {
namespace {

constexpr std::uint64_t window = 1 << 16;

/// Passes over the history share one progress.
struct Passes {
    const Progress& progress;
    double done = 0, whole = 1;

    [[nodiscard]] std::function<bool(double)> of(double weight)
    {
        const double start = done;
        done += weight;
        if (!progress)
            return {};
        return [this, start, weight](double share) { return progress((start + weight * share) / whole); };
    }
};

/// Sizes of [first, last) on all threads, those from `watched.first` to `watched.second` kept; nothing where stopped.
std::optional<SpikeLevel> sizesOf(const Repaired& gapless, std::uint64_t first, std::uint64_t last,
                                  std::pair<double, double> watched, size_t threads,
                                  const std::function<bool(double)>& goOn)
{
    const std::uint64_t each = 16 * window;
    const auto tasks = static_cast<size_t>((last - first + each - 1) / each);
    std::vector<SpikeLevel> levels(workersFor(tasks, threads));
    for (SpikeLevel& level : levels)
        level.watch(watched.first, watched.second);
    const bool done = shareOut(
        tasks, threads,
        [&](size_t task, size_t worker) {
            std::vector<double> values;
            const std::uint64_t start = first + task * each;
            for (std::uint64_t from = start; from < std::min(last, start + each); from += window) {
                values.resize(static_cast<size_t>(std::min({window, last - from, start + each - from})) + 4);
                gapless.readGapless(from, values);
                levels[worker].add(values);
            }
        },
        goOn);
    if (!done)
        return std::nullopt;
    for (size_t worker = 1; worker < levels.size(); ++worker)
        levels.front().add(levels[worker]);
    return std::move(levels.front());
}

/// How large readings less their median are. Stretches here and there tell about where the median of them lies, so that
/// one pass mostly finds it exactly; where it does not, a second one does.
std::optional<SpikeLevel> spikesOf(const HistorySource& source, std::uint64_t first, std::uint64_t last, size_t threads,
                                   const std::function<bool(double)>& goOn)
{
    const Repaired gapless(source, std::numeric_limits<double>::infinity());
    constexpr std::uint64_t stretches = 256, length = 1024;
    SpikeLevel probe;
    std::vector<double> values;
    for (std::uint64_t k = 0; k < stretches; ++k) {
        const std::uint64_t from = first + (last - first) / stretches * k;
        values.resize(static_cast<size_t>(std::min(length, last - from)) + 4);
        gapless.readGapless(from, values);
        probe.add(values);
    }
    constexpr double about = 0.03;
    const auto [low, high] = probe.medianWithin();
    auto level = sizesOf(gapless, first, last, {low * (1 - about), high * (1 + about)}, threads, goOn);
    if (!level || level->exact() || !(level->medianWithin().second > 0))
        return level;
    return sizesOf(gapless, first, last, level->medianWithin(), threads, goOn);
}

/// The level at every joint; empty where it was stopped.
std::vector<double> trendOf(const Repaired& repaired, const TrendPieces& pieces, size_t threads,
                            const std::function<bool(double)>& goOn)
{
    std::vector<TrendSums> sums(pieces.count());
    const bool done = shareOut(
        pieces.count(), threads,
        [&](size_t piece, size_t) {
            const auto [first, end] = pieces.readingsOf(piece);
            std::vector<double> values;
            for (std::uint64_t from = first; from < end; from += window) {
                values.resize(static_cast<size_t>(std::min(window, end - from)));
                repaired.read(from, values);
                addToTrend(sums[piece], pieces, piece, from, values);
            }
        },
        goOn);
    return done ? solveTrend(sums) : std::vector<double>();
}

/// Joins the blocks' turning points in their order, whoever brings them.
class Joiner {
public:
    Joiner(LongTurning& into, double scale, size_t blocks)
        : scaled_{into, scale}, finder_(scaled_), waiting_(blocks) { }
    void bring(size_t block, Turning&& found)
    {
        const std::lock_guard lock(mutex_);
        waiting_[block] = std::move(found);
        for (; next_ < waiting_.size() && waiting_[next_]; ++next_) {
            for (size_t i = 0; i < waiting_[next_]->size(); ++i)
                finder_.take(waiting_[next_]->values[i], waiting_[next_]->at[i]);
            waiting_[next_] = Turning{};
        }
        if (next_ == waiting_.size())
            finder_.end();
    }

private:
    struct Scaled {
        LongTurning& into;
        double scale;
        void add(double value, std::uint32_t at) { into.add(value * scale, at); }
    };
    Scaled scaled_;
    TurningFinder<Scaled> finder_;
    std::vector<std::optional<Turning>> waiting_;
    size_t next_ = 0;
    std::mutex mutex_;
};

/// Of a lane's own rows, those within the history.
void findInBlock(Turning& found, const Blocks& blocks, std::int64_t first, std::span<const double> interleaved)
{
    std::array<Turning, laneCount> each;
    const auto own = interleaved.subspan(static_cast<size_t>(blocks.around()) * laneCount,
                                         static_cast<size_t>(blocks.core()) * laneCount);
    findTurningOfLanes(each, own, static_cast<std::uint32_t>(first));
    TurningFinder joined(found);
    for (size_t k = 0; k < laneCount; ++k) {
        for (size_t i = 0; i < each[k].size(); ++i)
            if (static_cast<std::int64_t>(each[k].at[i]) < blocks.last())
                joined.take(each[k].values[i], each[k].at[i]);
        // The history ends within this lane.
        const std::int64_t count = blocks.last() - first - static_cast<std::int64_t>(k) * blocks.core();
        if (count > 0 && count < blocks.core())
            joined.take(own[static_cast<size_t>(count - 1) * laneCount + k],
                        static_cast<std::uint32_t>(blocks.last() - 1));
    }
    joined.end();
}

Expected<Done> check(const HistorySource& source, double rate, const ChainSettings& settings)
{
    if (!(rate > 0))
        return Problem{"rate", fmt::format("{:g} Hz", rate), "above zero", {}};
    if (settings.first + settings.count > source.size() || (settings.count == 0 && settings.first > 0))
        return Problem{"stretch", "one that lies beyond the history", "one within it", {}};
    if (source.size() < 2 || source.size() >= std::numeric_limits<std::uint32_t>::max())
        return Problem{"history", fmt::format("{} readings", source.size()), "two to 4 294 967 294", {}};
    if (settings.lowPass < 0 || (settings.lowPass > 0 && LowPass::refused(settings.lowPass, rate)))
        return Problem{"low-pass", fmt::format("{:g} Hz at {:g} readings a second", settings.lowPass, rate),
                       fmt::format("above zero and below {:.4g} Hz", 0.4999 * rate / 1.1165),
                       "Both passes together reach half of the rate there: nothing would be left to filter."};
    if (settings.detrend < 0)
        return Problem{"detrend", fmt::format("{:g} s", settings.detrend), "a length above zero, or none", {}};
    return Done{};
}

} // namespace

Expected<ChainOutcome> runChain(const HistorySource& source, double rate, const ChainSettings& settings)
{
    if (auto ok = check(source, rate, settings); !ok)
        return ok.problem();
    const std::uint64_t last = settings.count > 0 ? settings.first + settings.count : source.size();
    ChainOutcome out;
    out.readings = last - settings.first;
    out.rate = rate;
    constexpr double first = 0.2, second = 0.25, third = 1; // shares of the time, roughly
    Passes passes{settings.progress};
    passes.whole = third + (settings.spikes ? first : 0) + (settings.detrend > 0 ? second : 0);
    double limit = std::numeric_limits<double>::infinity();
    if (settings.spikes) {
        const auto told = spikesOf(source, settings.first, last, settings.threads, passes.of(first));
        if (!told) {
            out.stopped = true;
            return out;
        }
        limit = settings.spikeLimit.value_or(told->limit());
        out.spikeLimit = std::isfinite(limit) ? limit : 0;
        out.spikes = told->counts();
    }
    const Repaired repaired(source, limit);
    std::optional<TrendPieces> pieces;
    if (settings.detrend > 0) {
        pieces.emplace(source.size(), settings.detrend * rate);
        out.joints = pieces->joints();
        out.trend = trendOf(repaired, *pieces, settings.threads, passes.of(second));
        if (out.trend.empty()) {
            out.stopped = true;
            return out;
        }
    }
    const std::optional<LowPass> filter =
        settings.lowPass > 0 ? std::optional(LowPass::design(settings.lowPass, rate)) : std::nullopt;
    const Blocks blocks(repaired, pieces ? &*pieces : nullptr, out.trend, filter, rate, settings.first, last);
    out.turning = LongTurning(settings.inMemory);
    Joiner joiner(out.turning, settings.scale, blocks.count());
    std::atomic<std::uint64_t> bridged = 0;
    std::vector<std::vector<double>> rooms(workersFor(blocks.count(), settings.threads)), lines(rooms.size());
    std::vector<Blocks::Ends> ends(rooms.size());
    const bool done = shareOut(
        blocks.count(), settings.threads,
        [&](size_t block, size_t worker) {
            const std::int64_t start = blocks.start(block);
            bridged += blocks.fill(start, rooms[worker], lines[worker], &ends[worker]);
            Turning found;
            findInBlock(found, blocks, start, rooms[worker]);
            joiner.bring(block, std::move(found));
        },
        passes.of(third));
    for (size_t worker = 1; worker < ends.size(); ++worker) {
        ends.front().top.take(ends[worker].top);
        ends.front().bottom.take(ends[worker].bottom);
    }
    out.top = ends.front().top.found(settings.scale);
    out.bottom = ends.front().bottom.found(settings.scale);
    out.repaired = bridged;
    out.stopped = !done;
    if (auto trouble = source.trouble())
        return *trouble;
    if (auto trouble = out.turning.trouble())
        return *trouble;
    for (double& value : out.trend)
        value *= settings.scale;
    out.spikeLimit *= std::abs(settings.scale);
    for (size_t k = 0; k + 1 < out.trend.size(); ++k)
        out.mean += (out.trend[k] + out.trend[k + 1]) / 2 * (out.joints[k + 1] - out.joints[k]) / out.joints.back();
    return out;
}

Expected<ChainStretch> stretchOf(const HistorySource& source, const ChainSettings& settings, const ChainFound& found,
                                 std::uint64_t from, size_t count)
{
    if (from >= source.size())
        return Problem{"stretch", fmt::format("reading {}", from), fmt::format("below {}", source.size()), {}};
    count = static_cast<size_t>(std::min<std::uint64_t>(count, source.size() - from));
    ChainStretch s;
    s.from = from;
    s.raw.resize(count);
    source.read(from, s.raw);
    const double limit =
        found.spikeLimit > 0 ? found.spikeLimit / std::abs(settings.scale) : std::numeric_limits<double>::infinity();
    const Repaired repaired(source, limit);
    s.repaired.resize(count);
    repaired.read(from, s.repaired);
    std::optional<TrendPieces> pieces;
    std::vector<double> trend = found.trend;
    for (double& level : trend)
        level /= settings.scale;
    if (!trend.empty())
        pieces.emplace(source.size(), settings.detrend * found.rate);
    s.detrended = s.repaired;
    if (pieces)
        takeOff(s.detrended, from, *pieces, trend);
    s.filtered = s.detrended;
    if (settings.lowPass > 0) {
        const auto filter = std::optional(LowPass::design(settings.lowPass, found.rate));
        const Blocks blocks(repaired, pieces ? &*pieces : nullptr, trend, filter, found.rate, 0, source.size());
        std::vector<double> room, line;
        const auto first = static_cast<std::int64_t>(from), end = first + static_cast<std::int64_t>(count);
        for (std::int64_t block = first / blocks.each(); block * blocks.each() < end; ++block) {
            blocks.fill(block * blocks.each(), room, line);
            for (std::int64_t i = std::max(first, block * blocks.each());
                 i < std::min(end, (block + 1) * blocks.each()); ++i) {
                const std::int64_t in = i - block * blocks.each(), lane = in / blocks.core();
                const std::int64_t row = blocks.around() + in % blocks.core();
                s.filtered[static_cast<size_t>(i - first)] =
                    room[static_cast<size_t>(row) * laneCount + static_cast<size_t>(lane)];
            }
        }
    }
    for (auto* list : {&s.raw, &s.repaired, &s.detrended, &s.filtered})
        for (double& value : *list)
            value *= settings.scale;
    return s;
}

} // namespace fortitor
