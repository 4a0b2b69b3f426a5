// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/signal.h"

#include "curve/wide.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace fortitor {

FORTITOR_WIDE Extremes extremesOf(std::span<const double> y)
{
    if (y.empty())
        return {};
    // Sixteen at a time, each with a least and a greatest of its own. What is not a number is passed over.
    const double first = y[0];
    Four low[4], high[4];
    for (size_t k = 0; k < 4; ++k)
        low[k] = high[k] = Four{first, first, first, first};
    size_t i = 0;
    for (; i + 16 <= y.size(); i += 16)
        for (size_t k = 0; k < 4; ++k) {
            Four v;
            loadFour(v, y.data() + i + 4 * k);
            low[k] = v < low[k] ? v : low[k];
            high[k] = v > high[k] ? v : high[k];
        }
    Extremes e{first, first};
    for (size_t k = 0; k < 4; ++k)
        for (size_t j = 0; j < 4; ++j) {
            e.least = std::min(e.least, low[k][j]);
            e.greatest = std::max(e.greatest, high[k][j]);
        }
    for (; i < y.size(); ++i) {
        e.least = std::min(e.least, y[i]);
        e.greatest = std::max(e.greatest, y[i]);
    }
    return e;
}

size_t indexOfGreatest(std::span<const double> y, Extremes* ends)
{
    constexpr size_t block = 2048; // looked through again in the one that holds it only
    if (y.empty())
        return 0;
    size_t best = 0;
    Extremes all{y[0], y[0]};
    for (size_t from = 0; from < y.size(); from += block) {
        const Extremes here = extremesOf(y.subspan(from, std::min(block, y.size() - from)));
        all.least = std::min(all.least, here.least);
        if (here.greatest > all.greatest) {
            all.greatest = here.greatest;
            best = from;
        }
    }
    if (ends)
        *ends = all;
    const auto piece = y.subspan(best);
    return std::min(best + static_cast<size_t>(std::ranges::find(piece, all.greatest) - piece.begin()), y.size() - 1);
}

namespace {

FORTITOR_WIDE void scaleInto(double* out, const double* y, size_t count, double less, double by)
{
    size_t i = 0;
    for (; i + 4 <= count; i += 4) {
        Four v;
        loadFour(v, y + i);
        v = (v - less) / by;
        std::memcpy(out + i, &v, sizeof v);
    }
    for (; i < count; ++i)
        out[i] = (y[i] - less) / by;
}

} // namespace

FORTITOR_WIDE size_t risesIn(std::span<const double> y)
{
    using Counts = long __attribute__((vector_size(32)));
    Counts rises = {};
    size_t i = 1;
    for (; i + 4 <= y.size(); i += 4) {
        Four now, before;
        loadFour(now, y.data() + i);
        loadFour(before, y.data() + i - 1);
        rises -= now > before; // a true lane is −1
    }
    auto count = static_cast<size_t>(rises[0] + rises[1] + rises[2] + rises[3]);
    for (; i < y.size(); ++i)
        count += y[i] > y[i - 1];
    return count;
}

std::vector<double> scaled(std::span<const double> y, double less, double by)
{
    constexpr size_t block = 1024; // a vector fills its room with zeros first: that pass is spared
    double there[block];
    std::vector<double> out;
    out.reserve(y.size());
    for (size_t from = 0; from < y.size(); from += block) {
        const size_t count = std::min(block, y.size() - from);
        scaleInto(there, y.data() + from, count, less, by);
        out.insert(out.end(), there, there + count);
    }
    return out;
}

FORTITOR_WIDE size_t firstAtLeast(std::span<const double> y, size_t from, double level, double base)
{
    size_t i = from;
    for (; i + 16 <= y.size(); i += 16) {
        using Truths = long __attribute__((vector_size(32)));
        Truths any = {};
        for (size_t k = 0; k < 4; ++k) {
            Four v;
            loadFour(v, y.data() + i + 4 * k);
            any |= v - base >= level;
        }
        if ((any[0] | any[1] | any[2] | any[3]) != 0)
            break;
    }
    while (i < y.size() && !(y[i] - base >= level))
        ++i;
    return i;
}

namespace {

/// Least and greatest of y[i + width] − y[i] for `count` readings.
FORTITOR_WIDE Extremes stepExtremes(const double* y, size_t count, size_t width)
{
    const double first = y[width] - y[0];
    Four low[2], high[2];
    for (size_t k = 0; k < 2; ++k)
        low[k] = high[k] = Four{first, first, first, first};
    size_t i = 0;
    for (; i + 8 <= count; i += 8)
        for (size_t k = 0; k < 2; ++k) {
            Four from, to;
            loadFour(from, y + i + 4 * k);
            loadFour(to, y + i + 4 * k + width);
            const Four step = to - from;
            low[k] = step < low[k] ? step : low[k];
            high[k] = step > high[k] ? step : high[k];
        }
    Extremes e{first, first};
    for (size_t k = 0; k < 2; ++k)
        for (size_t j = 0; j < 4; ++j) {
            e.least = std::min(e.least, low[k][j]);
            e.greatest = std::max(e.greatest, high[k][j]);
        }
    for (; i < count; ++i) {
        e.least = std::min(e.least, y[i + width] - y[i]);
        e.greatest = std::max(e.greatest, y[i + width] - y[i]);
    }
    return e;
}

} // namespace

std::vector<Extremes> greatestSteps(std::span<const double> y, size_t from, size_t to, size_t width)
{
    std::vector<Extremes> steps;
    steps.reserve((to - from) / blockOfSteps + 1);
    for (size_t block = from; block < to; block += blockOfSteps)
        steps.push_back(stepExtremes(y.data() + block, std::min(blockOfSteps, to - block), width));
    return steps;
}

size_t firstDip(std::span<const double> y, size_t from, double least, double share, double clear)
{
    constexpr size_t block = 1024;
    double reached = 0;
    for (size_t begin = from; begin < y.size(); begin += block) {
        const size_t end = std::min(begin + block, y.size());
        const Extremes ends = extremesOf(y.subspan(begin, end - begin));
        const double then = std::max(reached, ends.greatest);
        if (then <= least || ends.least >= share * then - clear) { // nothing here can be a dip
            reached = then;
            continue;
        }
        for (size_t i = begin; i < end; ++i) {
            reached = std::max(reached, y[i]);
            if (reached > least && y[i] < share * reached - clear)
                return i;
        }
    }
    return y.size();
}

namespace {

/// Parts values in place: those that are `first(value)` before the others. Without a branch, for among noise each would
/// be a guess. Returns how many.
template <typename First> size_t parted(std::span<double> values, First first)
{
    size_t count = 0;
    for (double& value : values) {
        const double v = value;
        value = values[count];
        values[count] = v;
        count += first(v) ? 1 : 0;
    }
    return count;
}

/// The value of that rank, from 0; those before it come to stand before it.
double ofRank(std::span<double> values, size_t rank)
{
    while (values.size() > 6) {
        const double a = values.front(), b = values[values.size() / 2], c = values.back();
        const double pivot = std::max(std::min(a, b), std::min(std::max(a, b), c));
        const size_t less = parted(values, [pivot](double v) { return v < pivot; });
        if (rank < less) {
            values = values.first(less);
            continue;
        }
        values = values.subspan(less);
        rank -= less;
        const size_t same = parted(values, [pivot](double v) { return v <= pivot; });
        if (rank < same || same == 0)
            return pivot;
        values = values.subspan(same);
        rank -= same;
    }
    for (size_t i = 1; i < values.size(); ++i)
        for (size_t k = i; k > 0 && values[k] < values[k - 1]; --k)
            std::swap(values[k], values[k - 1]);
    return values[rank];
}

} // namespace

double medianOf(std::vector<double> values)
{
    return medianIn(values);
}

double medianIn(std::span<double> values)
{
    if (values.empty())
        return std::numeric_limits<double>::quiet_NaN();
    const size_t half = values.size() / 2;
    const double middle = ofRank(values, half);
    return values.size() % 2 == 1 ? middle : 0.5 * (middle + extremesOf(values.first(half)).greatest);
}

double noiseOf(std::span<const double> y)
{
    // Between a handful of keyed readings the curve itself bends more than any noise.
    if (y.size() < 30)
        return 0;
    const size_t places = std::min(y.size() - 2, size_t{1500});
    const double stride = static_cast<double>(y.size() - 2) / static_cast<double>(places);
    std::vector<double> bends(places);
    double step = std::numeric_limits<double>::infinity();
    double largest = 0;
    for (size_t k = 0; k < places; ++k) {
        const size_t i = 1 + static_cast<size_t>(static_cast<double>(k) * stride);
        bends[k] = std::abs(y[i - 1] - 2 * y[i] + y[i + 1]);
        const double jump = std::abs(y[i] - y[i - 1]);
        largest = std::max(largest, std::abs(y[i]));
        step = jump > 0 && jump < step ? jump : step;
    }
    const double sigma = 1.4826 * medianOf(std::move(bends)) / std::sqrt(6.0);
    const bool steps = std::isfinite(step) && step > 1e-12 * largest;
    return std::max(sigma, steps ? step / std::sqrt(12.0) : 0.0);
}

double noiseAlong(std::span<const double> x, std::span<const double> y)
{
    if (y.size() < 32)
        return noiseOf(y);
    const size_t places = std::min(y.size() - 2, size_t{1500});
    const double stride = static_cast<double>(y.size() - 2) / static_cast<double>(places);
    std::vector<double> off;
    double step = std::numeric_limits<double>::infinity();
    for (size_t k = 0; k < places; ++k) {
        const size_t i = 1 + static_cast<size_t>(static_cast<double>(k) * stride);
        if (const double jump = std::abs(y[i] - y[i - 1]); jump > 0)
            step = std::min(step, jump);
        if (!(x[i] > x[i - 1]) || !(x[i + 1] > x[i]))
            continue;
        const double share = (x[i] - x[i - 1]) / (x[i + 1] - x[i - 1]);
        const double between = y[i - 1] + share * (y[i + 1] - y[i - 1]);
        off.push_back(std::abs(y[i] - between) / std::sqrt(1 + share * share + (1 - share) * (1 - share)));
    }
    if (off.size() < 30)
        return noiseOf(y);
    const double quantum = std::isfinite(step) ? step / std::sqrt(12.0) : 0;
    const double scatter = 1.4826 * medianOf(std::move(off));
    return quantum <= scatter ? scatter : std::max(scatter, std::min(quantum, noiseOf(y)));
}

namespace {

/// How often a channel goes back and forth, and its least step that is none of zero.
struct Steps {
    size_t back = 0, forth = 0;
    double least = std::numeric_limits<double>::infinity();
};

FORTITOR_WIDE Steps stepsOf(std::span<const double> y)
{
    Steps steps;
    const double never = std::numeric_limits<double>::infinity();
    Four least[2] = {{never, never, never, never}, {never, never, never, never}};
    using Counts = long __attribute__((vector_size(32)));
    Counts back[2] = {}, forth[2] = {};
    size_t i = 1;
    for (; i + 8 <= y.size(); i += 8)
        for (size_t k = 0; k < 2; ++k) {
            Four now, before;
            loadFour(now, y.data() + i + 4 * k);
            loadFour(before, y.data() + i + 4 * k - 1);
            const Four d = now - before;
            const auto goesBack = d < 0.0;
            const auto goesForth = d > 0.0;
            back[k] -= goesBack; // a true lane is −1
            forth[k] -= goesForth;
            const Four size = goesBack ? -d : goesForth ? d : Four{never, never, never, never};
            least[k] = size < least[k] ? size : least[k];
        }
    for (size_t k = 0; k < 2; ++k)
        for (size_t j = 0; j < 4; ++j) {
            steps.back += static_cast<size_t>(back[k][j]);
            steps.forth += static_cast<size_t>(forth[k][j]);
            steps.least = std::min(steps.least, least[k][j]);
        }
    for (; i < y.size(); ++i) {
        steps.back += y[i] < y[i - 1];
        steps.forth += y[i] > y[i - 1];
        if (y[i] != y[i - 1])
            steps.least = std::min(steps.least, std::abs(y[i] - y[i - 1]));
    }
    return steps;
}

} // namespace

double noiseOfDrive(std::span<const double> y)
{
    const Steps steps = stepsOf(y);
    const double whole = noiseOf(y);
    if (std::min(steps.back, steps.forth) * 50 > steps.back + steps.forth || !std::isfinite(steps.least))
        return whole;
    return std::min(whole, steps.least);
}

std::vector<double> smoothed(std::span<const double> y, size_t half)
{
    std::vector<double> out(y.begin(), y.end());
    if (half == 0 || y.size() < 3)
        return out;
    const size_t n = y.size();
    // The running sum starts anew every few thousand points, so that no error piles up.
    constexpr size_t restart = 4096;
    for (size_t from = 0; from < n; from += restart) {
        const size_t to = std::min(n, from + restart);
        double sum = 0;
        size_t low = 0;
        size_t high = 0;
        bool started = false;
        for (size_t i = from; i < to; ++i) {
            const size_t h = std::min({half, i, n - 1 - i});
            const size_t a = i - h;
            const size_t b = i + h + 1;
            if (!started) {
                for (size_t k = a; k < b; ++k)
                    sum += y[k];
                started = true;
            } else {
                for (size_t k = high; k < b; ++k)
                    sum += y[k];
                for (size_t k = b; k < high; ++k)
                    sum -= y[k];
                for (size_t k = low; k < a; ++k)
                    sum -= y[k];
                for (size_t k = a; k < low; ++k)
                    sum += y[k];
            }
            low = a;
            high = b;
            out[i] = sum / static_cast<double>(b - a);
        }
    }
    return out;
}

QuietStart findQuietStart(std::span<const double> y, double noise, double top)
{
    QuietStart found;
    if (y.size() < 3)
        return found;
    found.top = top;
    // Of a few keyed readings each is a step of its own; there is no start to take the middle of.
    const size_t head = y.size() < 60 ? 1 : std::clamp(y.size() / 400, size_t{3}, size_t{50});
    const double start = medianOf({y.begin(), y.begin() + static_cast<std::ptrdiff_t>(std::min(head, y.size()))});
    const double clear = std::max(5 * noise, 0.002 * (top - start));
    const size_t inRow = y.size() < 60 ? 1 : 5;
    size_t run = 0;
    size_t i = 0;
    for (; i < y.size() && run < inRow; ++i)
        run = y[i] - start > clear ? run + 1 : 0;
    found.onset = i - run;
    if (found.onset >= y.size())
        found.onset = 0;
    // The climb out of the noise belongs to the load, not to the quiet.
    size_t last = found.onset;
    while (last > 0 && y[last - 1] - start > 1.5 * noise)
        --last;
    if (last < 3)
        return found;
    last -= last / 10;
    double mean = 0;
    for (size_t k = 0; k < last; ++k)
        mean += y[k] / static_cast<double>(last);
    double squares = 0;
    double drift = 0;
    for (size_t k = 0; k < last; ++k) {
        squares += (y[k] - mean) * (y[k] - mean);
        drift += (k < last / 2 ? -1.0 : 1.0) * (y[k] - mean);
    }
    found.scatter = std::sqrt(squares / static_cast<double>(last - 1));
    // A start that climbs all the way is not quiet.
    const double rise = std::abs(drift) / (0.5 * static_cast<double>(last));
    if (rise > (last < 8 ? 3 * noise : std::max(3 * noise, 0.001 * (top - start))))
        return found;
    found.quiet = last;
    found.level = mean;
    return found;
}

} // namespace fortitor
