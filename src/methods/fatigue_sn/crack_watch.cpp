// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/fatigue_sn/crack_watch.h"

#include "curve/signal.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <span>
#include <string_view>

namespace fortitor {
namespace {

constexpr std::array<std::string_view, 9> watching{"strain",   "strain_2", "strain_3", "strain_4", "strain_5",
                                                   "strain_6", "strain_7", "strain_8", "potential"};

/// Rows of the load's peaks: the greatest between two falls of half the swing. Empty where the load does not swing.
std::vector<size_t> peakRows(std::span<const double> force)
{
    double low = INFINITY, high = -INFINITY;
    for (const double f : force)
        if (std::isfinite(f)) {
            low = std::min(low, f);
            high = std::max(high, f);
        }
    std::vector<size_t> rows;
    const double half = (high - low) / 2;
    if (!(half > 0.05 * std::max(std::abs(high), std::abs(low))))
        return rows;
    bool rising = true;
    size_t top = force.size();
    double bottom = INFINITY;
    for (size_t i = 0; i < force.size(); ++i) {
        const double f = force[i];
        if (!std::isfinite(f))
            continue;
        if (rising) {
            if (top == force.size() || f > force[top])
                top = i;
            if (force[top] - f >= half) {
                rows.push_back(top);
                rising = false;
                bottom = f;
            }
        } else {
            bottom = std::min(bottom, f);
            if (f - bottom >= half) {
                rising = true;
                top = i;
            }
        }
    }
    return rows;
}

struct Binned {
    std::vector<double> x, y;
};

/// Medians of as many readings each, so that their noise is alike.
Binned binned(std::span<const double> x, std::span<const double> y)
{
    constexpr size_t most = 96;
    const size_t n = x.size(), bins = std::min(most, n);
    Binned out;
    std::vector<double> part;
    for (size_t k = 0; k < bins; ++k) {
        const size_t first = k * n / bins, last = (k + 1) * n / bins;
        part.assign(y.begin() + static_cast<std::ptrdiff_t>(first), y.begin() + static_cast<std::ptrdiff_t>(last));
        const double median = medianIn(part);
        const double at = (x[first] + x[last - 1]) / 2;
        if (!out.x.empty() && at <= out.x.back())
            continue;
        out.x.push_back(at);
        out.y.push_back(median);
    }
    return out;
}

struct Line {
    double at = 0, level = 0, slope = 0;
    [[nodiscard]] double value(double x) const { return level + slope * (x - at); }
};

Line lineOf(const Binned& b, double upTo)
{
    double n = 0, mx = 0, my = 0, xx = 0, xy = 0;
    for (size_t i = 0; i < b.x.size() && b.x[i] <= upTo; ++i) {
        n += 1;
        mx += (b.x[i] - mx) / n;
        my += (b.y[i] - my) / n;
    }
    for (size_t i = 0; i < b.x.size() && b.x[i] <= upTo; ++i) {
        xx += (b.x[i] - mx) * (b.x[i] - mx);
        xy += (b.x[i] - mx) * (b.y[i] - my);
    }
    return {mx, my, xx > 0 ? xy / xx : 0};
}

/// Whether the course stays away from its line, to its end.
bool lasts(const Binned& b, const ChangePoint& change)
{
    const Line before = lineOf(b, change.at);
    const double way = change.after > change.before ? 1 : -1;
    size_t all = 0, away = 0;
    double end = 0;
    size_t ends = 0;
    const double middle = (change.at + b.x.back()) / 2, last = change.at + 0.9 * (b.x.back() - change.at);
    for (size_t i = 0; i < b.x.size(); ++i) {
        const double off = way * (b.y[i] - before.value(b.x[i]));
        if (b.x[i] >= middle) {
            ++all;
            away += off > 0 ? 1 : 0;
        }
        if (b.x[i] >= last) {
            end += off;
            ++ends;
        }
    }
    return all > 0 && 10 * away >= 9 * all && ends > 0 && end / static_cast<double>(ends) > 3 * change.noise;
}

/// Readings from a change on until the course is back on its line; none of them where it does not come back.
std::pair<double, double> bump(const Binned& b, const ChangePoint& change)
{
    const Line before = lineOf(b, change.within.first);
    size_t back = 0;
    for (size_t i = 0; i < b.x.size(); ++i) {
        if (b.x[i] <= change.within.second)
            continue;
        back = std::abs(b.y[i] - before.value(b.x[i])) < 2.5 * change.noise ? back + 1 : 0;
        if (back == 3)
            return {change.within.first, b.x[i]};
    }
    return {change.at, change.at};
}

/// The step at reading `at` of what goes on with one slope on either side.
struct Step {
    double size = 0, slope = 0;
};
Step stepAt(std::span<const double> x, std::span<const double> y, size_t at, size_t side)
{
    double mean[2][2]{}, xx = 0, xy = 0; // of x and y, before and behind
    for (size_t i = 0; i < 2 * side; ++i) {
        mean[i / side][0] += x[at - side + i] / static_cast<double>(side);
        mean[i / side][1] += y[at - side + i] / static_cast<double>(side);
    }
    for (size_t i = 0; i < 2 * side; ++i) {
        const double dx = x[at - side + i] - mean[i / side][0];
        xx += dx * dx;
        xy += dx * (y[at - side + i] - mean[i / side][1]);
    }
    const double slope = xx > 0 ? xy / xx : 0;
    return {mean[1][1] - mean[0][1] - slope * (mean[1][0] - mean[0][0]), slope};
}

/// Noise of a course from what one reading differs from its neighbours, whatever the slope.
double noiseOf(const Binned& b)
{
    std::vector<double> steps;
    for (size_t i = 1; i + 1 < b.y.size(); ++i)
        steps.push_back(b.y[i + 1] - 2 * b.y[i] + b.y[i - 1]);
    if (steps.empty())
        return 0;
    const double middle = medianIn(steps);
    for (double& one : steps)
        one = std::abs(one - middle);
    return 1.4826 * medianIn(steps) / std::sqrt(6.0);
}

/// Takes out what jumps from one reading to the next and goes on as before: a stop, a gauge that was moved. Gives the
/// cycles at which it did.
std::vector<double> takeJumpsOut(std::span<const double> x, std::span<double> y)
{
    constexpr size_t side = 5;
    constexpr double sure = 7; // times its own standard error
    std::vector<double> jumps;
    for (int round = 0; round < 12; ++round) {
        const Binned b = binned(x, y);
        if (b.x.size() < 4 * side)
            break;
        const double doubt = noiseOf(b) * std::sqrt(2.0 / side + 1.5 / side);
        size_t best = 0;
        double most = sure * doubt;
        for (size_t at = side; at + side <= b.x.size(); ++at)
            if (const double size = std::abs(stepAt(b.x, b.y, at, side).size); size > most) {
                most = size;
                best = at;
            }
        if (best == 0)
            break;
        const Step step = stepAt(b.x, b.y, best, side);
        // A jump is over from one bin to the next: the same readings, two bins further, tell of less.
        const size_t low = std::max(side, best - std::min(best, size_t{4})),
                     high = std::min(b.x.size() - side, best + 4);
        if (std::abs(stepAt(b.x, b.y, low, side).size) > 0.75 * most
            || std::abs(stepAt(b.x, b.y, high, side).size) > 0.75 * most)
            break;
        // The reading it stands at: the best split between the bins beside it.
        const auto first = static_cast<size_t>(std::ranges::lower_bound(x, b.x[best - 2]) - x.begin());
        const auto last =
            static_cast<size_t>(std::ranges::upper_bound(x, b.x[std::min(best + 1, b.x.size() - 1)]) - x.begin());
        const double half = b.y[best - 1] + (b.y[best] - b.y[best - 1]) / 2;
        size_t split = first;
        double sum = 0, top = -INFINITY;
        for (size_t i = first; i < last; ++i) {
            if (sum > top) {
                top = sum;
                split = i;
            }
            // A reading that stands far off counts no more than one on either side.
            sum -= std::clamp((y[i] - half) / step.size, -1.0, 1.0);
        }
        for (size_t i = split; i < y.size(); ++i)
            y[i] -= step.size;
        jumps.push_back(x[split]);
    }
    std::ranges::sort(jumps);
    return jumps;
}

/// Seating and warming up: at the beginning a course bends towards its later one, seen the closer the shorter it lasts.
/// Gives the first reading behind it.
size_t settledFrom(std::span<const double> x, std::span<const double> y, double level, std::span<const double> jumps)
{
    size_t from = 0;
    for (size_t part = 64; part >= 4; part /= 2)
        for (int again = 0; again < 3; ++again) {
            const size_t to = from + (x.size() - from) / part;
            if (to - from < 24)
                break;
            const Binned now = binned(x.subspan(from, to - from), y.subspan(from, to - from));
            const auto change = greatestChange(now.x, now.y, 1, jumps);
            const bool settles =
                change && change->falseAlarm <= level && std::abs(change->after) < 0.5 * std::abs(change->before);
            if (!settles)
                break;
            from = static_cast<size_t>(std::ranges::upper_bound(x, change->at) - x.begin());
        }
    return from;
}

} // namespace

std::vector<WatchedChannel> watchedChannels(const Record& record)
{
    std::vector<WatchedChannel> all;
    const Channel* cycles = record.find("cycles");
    if (!cycles)
        return all;
    const Channel* force = record.find("force");
    const std::vector<size_t> peaks = force ? peakRows(force->values.values()) : std::vector<size_t>{};
    // A record of a reading a cycle has as many peaks as rows, or none.
    const bool atPeaks = peaks.size() > 1 && peaks.size() < record.rows() / 2;
    for (const std::string_view name : watching) {
        const Channel* channel = record.find(name);
        if (!channel)
            continue;
        WatchedChannel one{.name = std::string(name)};
        const auto take = [&](size_t row) {
            const double n = cycles->values[row], value = channel->values[row];
            if (!std::isfinite(n) || !std::isfinite(value) || (!one.cycles.empty() && n < one.cycles.back())) {
                ++one.dropped;
                return;
            }
            one.cycles.push_back(n);
            one.values.push_back(value);
        };
        if (atPeaks && name != "potential")
            for (const size_t row : peaks)
                take(row);
        else
            for (size_t row = 0; row < channel->values.size(); ++row)
                take(row);
        all.push_back(std::move(one));
    }
    return all;
}

namespace {

/// Whether its end lies far outside of what its first third spans.
bool leaves(const Binned& b)
{
    const size_t third = b.y.size() / 3, tenth = std::max<size_t>(1, b.y.size() / 10);
    if (third < 4)
        return false;
    const auto [low, high] = std::minmax_element(b.y.begin(), b.y.begin() + static_cast<std::ptrdiff_t>(third));
    double end = 0;
    for (size_t i = b.y.size() - tenth; i < b.y.size(); ++i)
        end += b.y[i] / static_cast<double>(tenth);
    constexpr double far = 5;
    return std::abs(end - (*low + *high) / 2) > far * (*high - *low) / 2;
}

/// The search on one channel; what passed and went back is taken out of it on the way.
struct Search {
    ChannelStart& out;
    std::vector<double> x, y;
    double level = 0;
    size_t from = 0;

    [[nodiscard]] size_t behind(double at) const
    {
        return static_cast<size_t>(std::ranges::upper_bound(x, at) - x.begin());
    }
    [[nodiscard]] Binned seen(size_t first, size_t last) const
    {
        return binned(std::span(x).subspan(first, last - first), std::span(y).subspan(first, last - first));
    }
    /// Readings up to `to`, then what lies before what was found there, until noise would do as well.
    void upTo(size_t to)
    {
        constexpr int most = 40;
        for (int pass = 0; pass < most && to > from + 12; ++pass) {
            const Binned now = seen(from, to);
            const auto change = greatestChange(now.x, now.y, 1, out.jumps);
            if (!change || change->falseAlarm > level)
                return;
            if (std::abs(change->after) < 0.5 * std::abs(change->before) && behind(change->at) - from < x.size() / 4) {
                from = behind(change->at);
                out.settled = change->at;
            } else if (lasts(seen(from, x.size()), *change)) {
                keep(*change, now);
                to = behind(change->at);
            } else if (const size_t taken = takeOut(now, *change); taken > 0) {
                to -= taken;
            } else {
                return;
            }
        }
    }

private:
    /// Never told closer than the readings that were put together.
    void keep(const ChangePoint& change, const Binned& now)
    {
        const double apart = (now.x.back() - now.x.front()) / static_cast<double>(now.x.size() - 1);
        out.start = change;
        out.start->within.first = std::max(now.x.front(), change.within.first - apart);
        out.start->within.second += apart;
    }
    size_t takeOut(const Binned& now, const ChangePoint& change)
    {
        const auto [first, last] = bump(now, change);
        const size_t a = behind(first), b = behind(last);
        if (b <= a)
            return 0;
        out.passing = change.at;
        x.erase(x.begin() + static_cast<std::ptrdiff_t>(a), x.begin() + static_cast<std::ptrdiff_t>(b));
        y.erase(y.begin() + static_cast<std::ptrdiff_t>(a), y.begin() + static_cast<std::ptrdiff_t>(b));
        return b - a;
    }
};

} // namespace

ChannelStart findStart(const WatchedChannel& channel, double level)
{
    ChannelStart out{.name = channel.name};
    Search search{.out = out, .x = channel.cycles, .y = channel.values, .level = level};
    out.jumps = takeJumpsOut(search.x, search.y);
    search.from = settledFrom(search.x, search.y, level, out.jumps);
    if (search.from > 0)
        out.settled = search.x[search.from];
    search.upTo(search.x.size());
    // A course that bends over and over is no bend among noise: the first one is clearer with less behind it. Looked
    // for only where it leaves by far what it wandered about in at first, or a warm day would be a start.
    if (leaves(search.seen(search.from, search.x.size())))
        for (double share = 0.85; share > 0.2 && !out.start; share -= 0.15) {
            const auto left = static_cast<double>(search.x.size() - search.from);
            search.upTo(search.from + static_cast<size_t>(share * left));
        }
    // What jumped behind the start belongs to the crack.
    if (out.start)
        std::erase_if(out.jumps, [&](double at) { return at >= out.start->within.first; });
    return out;
}

} // namespace fortitor
