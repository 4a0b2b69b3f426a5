// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/drop_weight/contact.h"

#include "curve/signal.h"
#include "methods/drop_weight/losses.h"
#include "methods/drop_weight/without_ringing.h"
#include "units/gravity.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <numbers>

namespace fortitor {
namespace {

constexpr double bridgedTime = 4e-4; // s: ringing may take the force to nothing for a moment
constexpr double footShare = 0.2; // of the peak

/// The readings about the highest one that stay above a level, gaps up to `gap` readings bridged.
std::pair<size_t, size_t> stretchAbove(std::span<const double> y, size_t top, double level, size_t gap)
{
    size_t first = top, last = top;
    for (size_t i = top, below = 0; i-- > 0 && below <= gap;)
        if (y[i] > level) {
            first = i;
            below = 0;
        } else {
            ++below;
        }
    for (size_t i = top + 1, below = 0; i < y.size() && below <= gap; ++i)
        if (y[i] > level) {
            last = i;
            below = 0;
        } else {
            ++below;
        }
    return {first, last};
}

/// t to the power of a quarter more or less than one: 1, 1.25 or 1.5.
double quarterPower(double t, int quarters)
{
    const double half = std::sqrt(t);
    return quarters == 0 ? t : quarters == 1 ? t * std::sqrt(half) : t * half;
}

/// Sum of squares that a power law from `start` on leaves of a foot; with a ringing that begins there, where one is
/// known and the foot is long enough to tell them apart.
double footRest(std::span<const double> foot, double start, int quarters, const Ringing* ringing)
{
    double xx = 0, xz = 0, zz = 0, xy = 0, zy = 0, yy = 0;
    // The ringing turns on by the same angle with each reading.
    const auto first = static_cast<size_t>(std::max(0.0, std::floor(start) + 1));
    std::complex<double> swing, turn;
    if (ringing) {
        const std::complex<double> rate(-ringing->fading, 2 * std::numbers::pi / ringing->period);
        swing = std::exp(rate * (static_cast<double>(first) - start));
        turn = std::exp(rate);
    }
    for (size_t i = 0; i < foot.size(); ++i) {
        yy += foot[i] * foot[i];
        if (i < first)
            continue;
        const double x = quarterPower(static_cast<double>(i) - start, quarters);
        const double z = ringing ? swing.imag() : 0;
        swing *= turn;
        xx += x * x;
        xz += x * z;
        zz += z * z;
        xy += x * foot[i];
        zy += z * foot[i];
    }
    if (!(xx > 0))
        return yy;
    const double det = xx * zz - xz * xz;
    if (!ringing || !(det > 1e-3 * xx * zz))
        return yy - xy * xy / xx;
    const double a = (xy * zz - zy * xz) / det, b = (zy * xx - xy * xz) / det;
    return yy - a * xy - b * zy;
}

/// Where a power law through a foot meets zero, in readings. Least squares over the place and the exponent (1 to 1.5: a
/// plate that bends, a ball on a solid), the height follows.
double footOf(std::span<const double> foot, double noise, const Ringing* ringing)
{
    constexpr size_t enough = 80; // readings: of more, means of some tell the same
    if (foot.size() >= 2 * enough) {
        const size_t bundle = foot.size() / enough;
        std::vector<double> means(foot.size() / bundle);
        for (size_t i = 0; i < means.size(); ++i)
            for (size_t k = 0; k < bundle; ++k)
                means[i] += foot[i * bundle + k] / static_cast<double>(bundle);
        const double many = static_cast<double>(bundle);
        const Ringing slower = ringing ? Ringing{ringing->period / many, ringing->fading * many} : Ringing{};
        return footOf(means, noise / std::sqrt(many), ringing ? &slower : nullptr) * many + (many - 1) / 2;
    }
    const double n = static_cast<double>(foot.size());
    double best = 0, bestRest = 1e300;
    for (const int power : {0, 1, 2}) {
        // One valley over the start: a coarse walk, then a golden section.
        const double stride = std::max(0.5, n / 30);
        double at = 0, least = 1e300;
        for (double s = -0.25 * n; s <= n - 2; s += stride)
            if (const double r = footRest(foot, s, power, ringing); r < least) {
                least = r;
                at = s;
            }
        double low = at - stride, high = std::min(at + stride, n - 2);
        constexpr double golden = 0.6180339887498949;
        while (high - low > 0.02) {
            const double a = high - golden * (high - low), b = low + golden * (high - low);
            if (footRest(foot, a, power, ringing) < footRest(foot, b, power, ringing))
                high = b;
            else
                low = a;
        }
        const double rest = footRest(foot, (low + high) / 2, power, ringing);
        // A higher power hides its own start: it must fit better than the noise lets it.
        if (rest + 4 * noise * noise < bestRest) {
            bestRest = rest;
            best = (low + high) / 2;
        }
    }
    return best;
}

/// The foot of a rise, as a place among its readings; `level`: of the share of the peak it reaches up to.
double startOf(std::span<const double> rise, double level, double noise, const std::optional<Ringing>& ringing)
{
    size_t up = 0;
    while (up + 1 < rise.size() && rise[up] < level)
        ++up;
    size_t low = up;
    while (low > 0 && rise[low] > std::max(0.25 * level, 3 * noise))
        --low;
    const size_t climb = std::max<size_t>(up - low, 2);
    const size_t from = low > 2 * climb + 4 ? low - 2 * climb - 4 : 0;
    if (ringing)
        up = std::min(rise.size() - 1, std::max(up, low + static_cast<size_t>(ringing->period)));
    return static_cast<double>(from) + footOf(rise.subspan(from, up + 1 - from), noise, ringing ? &*ringing : nullptr);
}

/// The peak by the widest fit that the force about it bears: less of the noise is left in it.
void refineTop(Contact& c, const WithoutRinging& quiet, std::span<const double> time)
{
    const auto i = static_cast<size_t>(std::ranges::lower_bound(time, c.peakTime) - time.begin());
    size_t from = c.first, to = c.last + 1;
    for (const SuddenLoss& loss : c.losses)
        if (loss.last <= i + 1)
            from = loss.last + 1 > i ? from : loss.after;
        else
            to = std::min(to, loss.last + 1);
    for (const SuddenLoss& loss : c.losses)
        if (loss.last == i)
            return; // the force just before a loss is its own top
    double least = 1e300;
    for (const double wider : {1.0, 1.3, 1.7, 2.2, 2.8}) {
        const auto count = static_cast<size_t>(wider * static_cast<double>(quiet.window()));
        if (i < from + count / 2 || i + count / 2 >= to)
            break;
        const auto [rest, freedom] = quiet.left(i - count / 2, count);
        const double n = static_cast<double>(count), figures = n - freedom;
        const double price = std::log(rest / n) + (n + figures) / (n - figures - 2);
        if (price < least) {
            least = price;
            double top = 0;
            for (size_t k = i - count / 8; k <= i + count / 8; ++k)
                if (const double value = quiet.at(k, i - count / 2, i - count / 2 + count, count); value > top) {
                    top = value;
                    c.peakTime = time[k];
                }
            c.peak = top;
        }
    }
}

/// Ringing and losses, each told best without the other: turn by turn.
WithoutRinging quietForce(Contact& c, std::span<const double> force, size_t begin, size_t end, double step)
{
    const auto width = std::max<size_t>(1, static_cast<size_t>(std::lround(lossTime / step)));
    const auto lossesBy = [&](const RingingSeen& ringing, bool asResonance) {
        const size_t turn = ringing.ringing ? static_cast<size_t>(ringing.ringing->period) : 0;
        return findLosses(WithoutRinging(force, ringing),
                          {.begin = begin,
                           .end = end,
                           .climbEnd = c.top + width + turn / 2,
                           .width = width,
                           .peak = c.raw,
                           .noise = c.noise,
                           .asResonance = asResonance});
    };
    RingingSeen seen;
    for (int round = 0; round < 3; ++round) {
        const size_t known = c.losses.size();
        std::vector<std::span<const double>> stretches;
        size_t from = begin;
        for (const SuddenLoss& loss : c.losses) {
            stretches.push_back(force.subspan(from, loss.last + 1 - from));
            from = loss.after;
        }
        stretches.push_back(force.subspan(from, end - from));
        seen = findRinging(stretches, c.noise, 2 * width + width / 2);
        c.losses = lossesBy(seen, false);
        if (c.losses.empty() || (round > 0 && c.losses.size() == known))
            break;
    }
    c.losses = lossesBy(seen, true);
    if (seen.ringing)
        c.ringing = seen.ringing->period * step;
    c.window = static_cast<double>(seen.window) * step;
    return {force, seen};
}

/// Start and end, by their feet; `mean`: the force over one ringing period.
void findEnds(Contact& c, std::span<const double> time, std::span<const double> force, const std::vector<double>& mean,
              const std::optional<Ringing>& ringing)
{
    const size_t n = force.size();
    const double step = (time.back() - time.front()) / static_cast<double>(n - 1);
    const double level = footShare * mean[c.top];
    const double nothing = std::max(0.03 * c.raw, 6 * c.noise);
    const auto indexAt = [&](double when) { return (when - time.front()) / step; };
    c.start = time.front() + step * startOf(force.first(c.top + 1), level, c.noise, ringing);
    c.first = static_cast<size_t>(std::clamp(std::ceil(indexAt(c.start)), 0.0, static_cast<double>(c.top)));
    c.last = n - 1;
    const size_t high = stretchAbove(mean, c.top, nothing, static_cast<size_t>(bridgedTime / step)).second;
    constexpr double gone = 0.05; // of the peak
    if (high + 1 >= n || mean[n - 1] > std::max(gone * c.raw, 6 * c.noise))
        return;
    const size_t reach = std::min(n, high + 1 + std::max<size_t>(20, high - c.top)) - c.top;
    std::vector<double> back(reach);
    std::ranges::reverse_copy(force.subspan(c.top, reach), back.begin());
    const double away = startOf(back, level, c.noise, std::nullopt);
    c.end = time.front() + step * (static_cast<double>(c.top + reach - 1) - away);
    c.last = static_cast<size_t>(
        std::clamp(std::floor(indexAt(*c.end)), static_cast<double>(c.top), static_cast<double>(n - 1)));
}

/// The force without ringing, and its top, stretch by stretch between the losses: no fit reaches over one.
void smoothContact(Contact& c, std::span<const double> time, std::span<const double> force, const WithoutRinging& quiet)
{
    c.smooth.resize(c.last + 1 - c.first);
    const size_t half = quiet.window() / 2;
    size_t from = c.first;
    for (size_t k = 0; k <= c.losses.size(); ++k) {
        const bool lost = k < c.losses.size();
        const size_t to = std::clamp(lost ? c.losses[k].last + 1 : c.last + 1, from + 1, c.last + 1);
        for (size_t i = from; i < to; ++i) {
            const double value = quiet.at(i, from, to);
            c.smooth[i - c.first] = value;
            // A fit is sure in the middle of its window; at a loss its very end counts, as the force before it.
            const bool sure = i >= from + half && (i + half < to || (lost && i + 1 == to));
            if (sure && value > c.peak) {
                c.peak = value;
                c.peakTime = time[i];
                c.peakDoubt = quiet.doubtAt(i, from, to);
            }
        }
        if (lost) {
            from = std::min(c.losses[k].after, c.last + 1);
            for (size_t i = to; i < from; ++i)
                c.smooth[i - c.first] = force[i];
            if (from > c.last)
                break;
        }
    }
    if (!(c.peak > 0)) { // too short a contact for any window
        c.peak = c.raw;
        c.peakTime = time[c.top];
    }
}

/// Another top as high as the peak, far from it: where the greatest force lies is then an open question.
std::optional<double> otherTop(const Contact& c, std::span<const double> time)
{
    constexpr double alike = 0.995, apart = 0.08; // of the peak, of the contact
    const double away = apart * (time[c.last] - time[c.first]);
    for (size_t i = 1; i + 1 < c.smooth.size(); ++i)
        if (c.smooth[i] > alike * c.peak && c.smooth[i] >= c.smooth[i - 1] && c.smooth[i] >= c.smooth[i + 1]
            && std::abs(time[c.first + i] - c.peakTime) > away)
            return time[c.first + i];
    return std::nullopt;
}

/// The deepest fall of the readings on the way up, within the time of a loss or half a turn of the ringing.
double deepestFall(const Contact& c, std::span<const double> force, size_t width)
{
    constexpr double from = 0.15; // of the peak
    double deepest = 0;
    for (size_t i = c.first; i <= std::min(c.last, c.top + width / 2); ++i) {
        if (force[i] < from * c.peak)
            continue;
        const auto behind = force.subspan(i, std::min(c.last, i + width) + 1 - i);
        deepest = std::max(deepest, 1 - *std::ranges::min_element(behind) / force[i]);
    }
    return deepest;
}

/// Force that comes again once it has gone, or that came before; half a millisecond of it, so that no ringing counts.
std::optional<double> otherContact(const Contact& c, std::span<const double> time, std::span<const double> force)
{
    const double step = (time.back() - time.front()) / static_cast<double>(time.size() - 1);
    constexpr double lasting = 5e-4; // s
    const auto half = std::max<size_t>(1, static_cast<size_t>(lasting / 2 / step));
    const std::vector<double> mean = smoothed(force, half);
    const double again = std::max(0.03 * c.raw, 6 * c.noise);
    for (size_t i = 0, run = 0; i + half + 1 < c.first; ++i) {
        run = mean[i] > again && i + 2 * half < c.first ? run + 1 : 0;
        if (run >= 2 * half)
            return time[i + 1 - run];
    }
    bool gone = false;
    for (size_t i = c.last + half, run = 0; c.end && i < force.size(); ++i) {
        gone = gone || mean[i] < 0.5 * again;
        run = gone && mean[i] > again ? run + 1 : 0;
        if (run >= 2 * half)
            return time[i + 1 - run];
    }
    return std::nullopt;
}

} // namespace

std::optional<Contact> findContact(std::span<const double> time, std::span<const double> force)
{
    const size_t n = force.size();
    constexpr size_t fewest = 30;
    if (n < fewest || !(time.back() > time.front()))
        return std::nullopt;
    const double step = (time.back() - time.front()) / static_cast<double>(n - 1);
    Contact c;
    c.noise = noiseOf(force);
    c.top = indexOfGreatest(force);
    c.raw = force[c.top];
    constexpr double clear = 12; // noise widths
    if (!(c.raw > clear * c.noise) || !(c.raw > 0))
        return std::nullopt;
    const auto [rough, roughEnd] =
        stretchAbove(force, c.top, std::max(0.05 * c.raw, 6 * c.noise), static_cast<size_t>(bridgedTime / step));
    if (roughEnd + 1 - rough < fewest / 2)
        return std::nullopt;
    const WithoutRinging quiet = quietForce(c, force, rough, roughEnd + 1, step);
    const auto& ringing = quiet.ringing();
    const size_t half = ringing ? static_cast<size_t>(ringing->period / 2) : 0;
    findEnds(c, time, force, half > 0 ? smoothed(force, half) : std::vector<double>(force.begin(), force.end()),
             ringing);
    smoothContact(c, time, force, quiet);
    refineTop(c, quiet, time);
    const size_t about = 2 * half;
    for (size_t i = std::max(c.first, c.top - std::min(c.top, about)); i <= std::min(c.top + about, c.last); ++i)
        c.ringingSize = std::max(c.ringingSize, ringing ? std::abs(force[i] - c.smooth[i - c.first]) : 0);
    c.deepestFall =
        deepestFall(c, force, std::max({size_t{1}, half, static_cast<size_t>(std::lround(lossTime / step))}));
    c.otherTop = otherTop(c, time);
    c.second = otherContact(c, time, force);
    return c;
}

double Flight::at(const std::vector<double>& what, double when) const
{
    const auto it = std::ranges::lower_bound(time, when);
    if (it == time.begin())
        return what.front();
    if (it == time.end())
        return what.back();
    const auto i = static_cast<size_t>(it - time.begin());
    return what[i - 1] + (what[i] - what[i - 1]) * (when - time[i - 1]) / (time[i] - time[i - 1]);
}

Flight integrateFlight(std::span<const double> time, std::span<const double> force, const Contact& contact, double mass,
                       double speed)
{
    Flight f;
    double v = speed, way = 0; // m/s, m
    const auto add = [&](double t, double F) {
        if (!f.time.empty()) {
            const double dt = t - f.time.back();
            const double before = standardGravity - f.force.back() / mass;
            const double now = standardGravity - F / mass;
            // Exact for a force that runs straight between two readings.
            way += v * dt + (2 * before + now) * dt * dt / 6;
            v += (before + now) * dt / 2;
        }
        f.time.push_back(t);
        f.force.push_back(F);
        f.speed.push_back(v);
        f.way.push_back(1000 * way);
        f.energy.push_back(0.5 * mass * (speed * speed - v * v) + mass * standardGravity * way);
    };
    add(contact.start, 0);
    for (size_t i = contact.first; i <= contact.last; ++i)
        if (time[i] > f.time.back())
            add(time[i], force[i]);
    if (contact.end && *contact.end > f.time.back())
        add(*contact.end, 0);
    return f;
}

} // namespace fortitor
