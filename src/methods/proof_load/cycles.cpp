// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/proof_load/cycles.h"

#include "curve/line_fit.h"
#include "curve/signal.h"
#include "curve/unloading.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double gone = 0.05; // of a load: it was taken off
constexpr double small = 0.02; // of the greatest force of all: less is no load

/// Mean of the readings in [first, last].
double meanOf(std::span<const double> y, size_t first, size_t last)
{
    const double level = y[first];
    double sum = 0;
    for (size_t i = first; i <= last; ++i)
        sum += y[i] - level;
    return level + sum / static_cast<double>(last + 1 - first);
}

/// Where a ramp through [first, last] meets a level, as a place among the readings; `otherwise` where it is none.
double meets(std::span<const double> y, size_t first, size_t last, double level, double otherwise)
{
    if (last < first + 2)
        return otherwise;
    std::vector<double> place(last + 1 - first);
    for (size_t i = 0; i < place.size(); ++i)
        place[i] = static_cast<double>(i);
    const LineFit line = fitLine(place, y.subspan(first, place.size()));
    if (!line.valid() || line.slope == 0)
        return otherwise;
    return static_cast<double>(first) + line.meanX + (level - line.meanY) / line.slope;
}

/// The hold at the top: where the ramp up comes to it, and where the way down leaves it.
void findHold(const ProofData& d, ProofPull& pull, size_t end)
{
    constexpr double rampLow = 0.85, rampHigh = 0.97; // of the load; it may give way by as much while it is held
    const std::span<const double> F = d.force;
    const double top = F[pull.top];
    size_t up = pull.top, down = pull.top;
    while (up > pull.from && F[up - 1] >= rampHigh * top)
        --up;
    while (down + 1 < end && F[down + 1] >= rampHigh * top)
        ++down;
    size_t before = up, behind = down;
    while (before > pull.from && F[before - 1] >= rampLow * top)
        --before;
    while (behind + 1 < end && F[behind + 1] >= rampLow * top)
        ++behind;
    const size_t third = (down - up) / 3;
    const double first = meets(F, before, up, meanOf(F, up + third, down - third), static_cast<double>(up));
    const double last = meets(F, down, behind, meanOf(F, down - third, down), static_cast<double>(down));
    pull.holdFirst =
        static_cast<size_t>(std::clamp(std::ceil(first), static_cast<double>(up), static_cast<double>(down)));
    pull.holdLast = static_cast<size_t>(
        std::clamp(std::floor(last), static_cast<double>(pull.holdFirst), static_cast<double>(down)));
    // A ramp that turns at once stands there for a moment too.
    const double ramp = static_cast<double>(up - before) + static_cast<double>(behind - down);
    pull.held = static_cast<double>(pull.holdLast - pull.holdFirst) > 0.3 * ramp + 5;
    pull.load = pull.held ? meanOf(F, pull.holdFirst, pull.holdLast) : top;
}

/// Once all are known: a load is off where the force has come down to what stays until the next one.
void findOffs(const ProofData& d, std::vector<ProofPull>& pulls)
{
    for (size_t p = 0; p < pulls.size(); ++p) {
        ProofPull& pull = pulls[p];
        if (!pull.off)
            continue;
        const size_t until = p + 1 < pulls.size() ? std::max(pulls[p + 1].from, *pull.off) : d.force.size() - 1;
        std::vector<double> between(d.force.begin() + static_cast<std::ptrdiff_t>(*pull.off),
                                    d.force.begin() + static_cast<std::ptrdiff_t>(until) + 1);
        pull.left = medianIn(between);
        size_t i = *pull.off;
        while (i < until && d.force[i] > pull.left + 2 * d.noise)
            ++i;
        pull.off = i;
        pull.wayLeft = meanOf(d.way, i, std::min(until, i + 10));
    }
}

} // namespace

std::vector<ProofPull> findPulls(const ProofData& d)
{
    std::vector<ProofPull> pulls;
    const std::span<const double> F = d.force;
    const size_t n = F.size();
    const double greatest = *std::ranges::max_element(F);
    const double clear = std::max(12 * d.noise, small * greatest);
    if (!(greatest > clear))
        return pulls;
    const double nothing = std::max(4 * d.noise, 0.002 * greatest);
    size_t from = 0;
    for (size_t i = 0; i < n;) {
        // The climb begins where the force leaves nothing for good.
        while (i < n && F[i] < clear) {
            if (F[i] <= nothing)
                from = i;
            ++i;
        }
        if (i == n)
            break;
        ProofPull pull;
        pull.from = from;
        pull.top = i;
        size_t low = 0;
        for (; i < n; ++i) {
            if (F[i] > F[pull.top])
                pull.top = i;
            if (F[i] < std::max(gone * F[pull.top], std::min(clear, 0.5 * F[pull.top]))) {
                low = i;
                break;
            }
        }
        findHold(d, pull, low > 0 ? low : n);
        if (low > 0) {
            size_t last = low; // the last reading that still carried most of it
            while (last > pull.top && F[last] < 0.9 * F[pull.top])
                --last;
            if (fallsByGoingBack(F, d.way, d.wayNoise, pull.from, last)) {
                // On down to nothing, or to where it climbs again.
                double least = F[low];
                while (low + 1 < n && F[low] > nothing
                       && F[low + 1] < least + std::max(6 * d.noise, 0.01 * F[pull.top]))
                    least = std::min(least, F[++low]);
                pull.off = low;
            } else {
                size_t drop = last; // the steepest fall
                for (size_t k = last; k < low; ++k)
                    if (F[k] - F[k + 1] > F[drop] - F[drop + 1])
                        drop = k;
                pull.breakAt = drop;
            }
            i = low;
            from = low;
        }
        pulls.push_back(pull);
    }
    findOffs(d, pulls);
    return pulls;
}

Flank flankOf(const ProofData& d, const ProofPull& pull, bool up, double load, double low, double high)
{
    Flank flank;
    size_t first, last;
    if (up) {
        first = pull.from;
        while (first < pull.top && d.force[first] < low * load)
            ++first;
        last = first;
        while (last < pull.top && d.force[last] < high * load)
            ++last;
    } else {
        if (!pull.off)
            return flank;
        last = *pull.off;
        while (last > pull.holdLast && d.force[last] < low * load)
            --last;
        first = last;
        while (first > pull.holdLast && d.force[first] < high * load)
            --first;
    }
    if (last < first + 4)
        return flank;
    const auto way = std::span(d.way).subspan(first, last + 1 - first);
    const auto force = std::span(d.force).subspan(first, last + 1 - first);
    // Over the channel that has less noise for its range: noise on that one makes a slope too flat.
    const double travel = std::abs(way.back() - way.front()), climb = std::abs(force.back() - force.front());
    const bool overForce = d.wayNoise * climb > d.noise * travel;
    const LineFit line = overForce ? fitLine(force, way) : fitLine(way, force);
    if (!line.valid() || !(line.slope > 0))
        return flank;
    if (overForce)
        return {1 / line.slope, line.meanY, line.meanX, line.relativeSlopeError(), line.n};
    return {line.slope, line.meanX, line.meanY, line.relativeSlopeError(), line.n};
}

std::optional<Knee> halfSlopeKnee(const ProofData& d, const ProofPull& pull, double k, double fromForce)
{
    const size_t end = pull.breakAt ? *pull.breakAt : pull.top;
    size_t first = pull.from;
    while (first < end && d.force[first] < fromForce)
        ++first;
    if (end < first + 12 || !(k > 0))
        return std::nullopt;
    // Stretches of equal way, as narrow as the noise of both channels lets the slope be told to a twentieth of k.
    std::vector<double> way(d.way.begin() + static_cast<std::ptrdiff_t>(first),
                            d.way.begin() + static_cast<std::ptrdiff_t>(end) + 1);
    for (size_t i = 1; i < way.size(); ++i)
        way[i] = std::max(way[i], way[i - 1]); // noise runs back; what is looked up here goes on
    const double travel = way.back() - way.front();
    if (!(travel > 0))
        return std::nullopt;
    const double apart = travel / static_cast<double>(end - first);
    constexpr double fine = 0.05, clear = 15; // of k; noises of the way
    double width = std::max(travel / 80, clear * d.wayNoise);
    while (width < travel / 6
           && std::hypot(d.noise / k, d.wayNoise) * std::sqrt(12.0) / (width * std::sqrt(std::max(3.0, width / apart)))
               > fine)
        width *= 1.2;
    const auto placeOf = [&](double x) {
        return first + static_cast<size_t>(std::ranges::lower_bound(way, x) - way.begin());
    };
    const auto slopeAt = [&](double centre) -> LineFit {
        size_t a = placeOf(centre - width / 2), b = std::max(placeOf(centre + width / 2), a + 4);
        b = std::min(b, end);
        a = std::min(a, b - 4);
        return fitLine(std::span(d.way).subspan(a, b + 1 - a), std::span(d.force).subspan(a, b + 1 - a));
    };
    const double step = width / 4;
    double before = k, below = 0;
    std::optional<Knee> knee;
    for (double x = way.front() + width / 2; x < way.back() - width / 2; x += step) {
        const LineFit line = slopeAt(x);
        if (line.slope >= 0.5 * k) {
            before = line.slope;
            below = 0;
            knee.reset();
            continue;
        }
        if (!knee) {
            const double back = before > line.slope ? (0.5 * k - line.slope) / (before - line.slope) : 0;
            const double crossing = x - back * step;
            const LineFit there = slopeAt(crossing);
            knee =
                Knee{std::min(placeOf(crossing), end), crossing, there.at(crossing),
                     std::hypot(d.noise / std::sqrt(static_cast<double>(std::max<size_t>(there.n, 1))), k * step / 4)};
        }
        below += step;
        if (below >= 1.5 * width) { // for good
            // How far the crossing may lie off: what the slope is uncertain by, over how fast it falls there.
            const LineFit there = slopeAt(knee->way);
            const double early = slopeAt(knee->way - width).slope, late = slopeAt(knee->way + width).slope;
            const double falls = std::max((early - late) / (2 * width), 0.02 * k / width);
            const double off = there.relativeSlopeError() * std::abs(there.slope) / falls;
            knee->doubt = std::hypot(knee->doubt, 0.5 * k * std::min(off, width));
            return knee;
        }
    }
    return std::nullopt;
}

} // namespace fortitor
