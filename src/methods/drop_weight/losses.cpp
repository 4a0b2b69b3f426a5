// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/drop_weight/losses.h"

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <utility>
#include <vector>

namespace fortitor {
namespace {

constexpr double doubtShare = 0.05; // below it nothing is made of a fall

/// The best place of a loss near `i`: where what lies before and behind it is fitted best, the fall itself left out.
SuddenLoss placeLoss(const WithoutRinging& quiet, size_t i, size_t begin, size_t end, size_t width, double noise)
{
    SuddenLoss best;
    const size_t w = quiet.window();
    const size_t low = std::max(begin + 4, i > 2 * width ? i - 2 * width : 0);
    const size_t high = std::min(end - 6, i + 2 * width);
    std::vector<double> restBefore, restBehind; // a freedom
    for (size_t last = low; last <= high; ++last) {
        const size_t count = std::min(w, last + 1 - begin);
        const auto [rest, freedom] = quiet.left(last + 1 - count, count);
        restBefore.push_back(rest / std::max(1.0, freedom));
    }
    for (size_t after = low + 1; after <= high + width && after + 5 < end; ++after) {
        const auto [rest, freedom] = quiet.left(after, std::min(w, end - after));
        restBehind.push_back(rest / std::max(1.0, freedom));
    }
    double usual = 1e300;
    for (int round = 0; round < 2; ++round) {
        double least = 1e300;
        for (size_t last = low; last <= high; ++last) {
            if ((round == 0 ? 1 : static_cast<double>(w) / usual) * restBefore[last - low] >= least)
                continue; // no better, whatever lies behind
            for (size_t after = last + 1; after <= last + width && after - low - 1 < restBehind.size(); ++after) {
                // A reading left out says nothing for the place: each has its price.
                constexpr double price = 3;
                const double both = restBefore[last - low] + restBehind[after - low - 1];
                const double cost = round == 0
                    ? both
                    : static_cast<double>(w) * both / usual + price * static_cast<double>(after - last - 1);
                if (cost < least) {
                    least = cost;
                    best.last = last;
                    best.after = after;
                }
            }
        }
        usual = std::max(least / 2, noise * noise);
    }
    best.top = quiet.at(best.last, begin, best.last + 1);
    // Against the way it went: the climb goes on while it falls.
    best.fall = best.top - quiet.at(best.last, best.after, end);
    best.fallDoubt =
        std::hypot(quiet.doubtAt(best.last, begin, best.last + 1), quiet.doubtAt(best.last, best.after, end));
    best.doubt = quiet.doubtAt(best.last, begin, best.last + 1);
    return best;
}

constexpr Eigen::Index levelColumn = 0, lossColumn = 5;
using StepColumns = Eigen::Matrix<double, Eigen::Dynamic, 7>;

/// What a cell that rings by itself shows about a loss at reading 0: parabola and ringing before it, its response to
/// the loss and to another slope behind it. Of `before` readings up to it and `behind` from there on, a row each.
StepColumns stepColumns(const Ringing& ringing, size_t before, size_t behind, double window, double fallTime)
{
    const double omega = 2 * std::numbers::pi / ringing.period;
    StepColumns columns(static_cast<Eigen::Index>(before + behind), 7);
    // What the cell shows of a ramp; of a fall that takes a while two of them.
    const auto ramp = [&](double t) {
        return t > 0 ? t - std::exp(-ringing.fading * t) * std::sin(omega * t) / omega : 0;
    };
    for (Eigen::Index k = 0; k < columns.rows(); ++k) {
        const double t = static_cast<double>(k) - static_cast<double>(before);
        const double u = t / window;
        const double size = std::exp(-ringing.fading * t);
        const double swing = size * std::cos(omega * t);
        const double stepped = fallTime > 0 ? (ramp(t) - ramp(t - fallTime)) / fallTime : t > 0 ? 1 - swing : 0;
        columns.row(k) << 1, u, u * u, swing, size * std::sin(omega * t), stepped, ramp(t) / ringing.period;
    }
    return columns;
}

/// A cell that rings by itself shows a loss as its own step response: it goes on, turns over, and swings through. Where
/// that fits as well as a leap does, the loss began before the force is seen to fall.
void placeAsResonance(const WithoutRinging& quiet, SuddenLoss& loss, size_t begin, size_t end, size_t width,
                      double noise)
{
    if (!quiet.ringing())
        return;
    const Ringing& ringing = *quiet.ringing();
    const auto force = quiet.force();
    const auto back = static_cast<size_t>(std::lround(0.5 * ringing.period)),
               on = static_cast<size_t>(std::lround(1.2 * ringing.period));
    const size_t w = quiet.window();
    const size_t first = std::max(begin + w / 2, loss.last > back ? loss.last - back : 0);
    const size_t count = std::min(w, loss.last + 1 - begin);
    const auto leap = quiet.left(loss.last + 1 - count, count);
    const auto behind = quiet.left(loss.after, std::min(w, end - loss.after));
    constexpr double asGood = 0.7, small = 0.02; // of a leap's rest; of the loss itself
    constexpr double sameLoss = 0.5; // of a leap's fall: what makes a bend of a loss puts it nowhere
    const double asLeap = asGood * (leap.first + behind.first) / std::max(1.0, leap.second + behind.second);
    struct Candidate {
        size_t at, after;
        double top, fall, topDoubt, fallDoubt, squares;
    };
    std::vector<Candidate> candidates;
    const double wide = static_cast<double>(width);
    for (const double fallTime : {0.0, 0.25 * wide, 0.5 * wide}) {
        const StepColumns all = stepColumns(ringing, w, on, static_cast<double>(w), fallTime);
        using Square = Eigen::Matrix<double, 7, 7>;
        Square inverse;
        std::pair<size_t, size_t> invertedOf; // the same over most of the walk
        for (size_t at = first; at <= std::min(loss.after + 1, end - 6); ++at) {
            const size_t from = at + 1 > begin + w ? at + 1 - w : begin;
            const size_t to = std::min(at + on, end);
            if (to < at + on / 2 || to - from < 14)
                continue;
            const auto columns =
                all.middleRows(static_cast<Eigen::Index>(w - (at - from)), static_cast<Eigen::Index>(to - from));
            const Eigen::Map<const Eigen::VectorXd> y(force.data() + from, columns.rows());
            if (std::exchange(invertedOf, std::pair(at - from, to - from)) != std::pair(at - from, to - from))
                inverse = Square(columns.transpose().lazyProduct(columns)).inverse();
            const Eigen::Matrix<double, 7, 1> b = inverse * (columns.transpose() * y);
            const double freedom = static_cast<double>(columns.rows() - columns.cols());
            const double rest = (y - columns * b).squaredNorm() / freedom;
            const double fall = -b[lossColumn];
            if (fall < sameLoss * loss.fall
                || rest >= std::max({asLeap, small * small * fall * fall, 2 * noise * noise}))
                continue;
            candidates.push_back({at, at + 1 + static_cast<size_t>(fallTime), b[levelColumn], fall,
                                  std::sqrt(rest * inverse(levelColumn, levelColumn)),
                                  std::sqrt(rest * inverse(lossColumn, lossColumn)), rest * freedom});
        }
    }
    if (candidates.empty())
        return;
    // An early slow fall and a later quick one look much alike: all that fit count, by how well they do.
    const auto best = std::ranges::min_element(candidates, {}, &Candidate::squares);
    constexpr double temper = 0.1; // neighbours share their noise and what the model lacks
    const double variance = std::max(noise * noise, 1e-10 * best->top * best->top); // never none
    double all = 0, top = 0, squares = 0;
    for (const Candidate& c : candidates) {
        const double weight = std::exp(temper * (best->squares - c.squares) / (2 * variance));
        all += weight;
        top += weight * c.top;
        squares += weight * c.top * c.top;
    }
    loss.last = best->at;
    loss.after = best->after;
    loss.top = top / all;
    loss.fall = best->fall;
    loss.doubt = std::hypot(best->topDoubt, std::sqrt(std::max(0.0, squares / all - loss.top * loss.top)));
    loss.fallDoubt = best->fallDoubt;
}

/// The deepest fall of the readings themselves about a loss.
double fallOfReadings(const WithoutRinging& quiet, const SuddenLoss& loss, size_t end, size_t width)
{
    const double half = quiet.ringing() ? quiet.ringing()->period / 2 : 0;
    const auto reach = static_cast<size_t>(std::max(static_cast<double>(width), half)) + 1;
    const auto force = quiet.force();
    double top = force[loss.last], deepest = 0;
    for (size_t i = loss.last > reach ? loss.last - reach / 2 : 0; i < std::min(loss.after + reach, end); ++i) {
        top = std::max(top, force[i]);
        deepest = std::max(deepest, top - force[i]);
    }
    return deepest;
}

} // namespace

std::vector<SuddenLoss> findLosses(const WithoutRinging& quiet, const LossSearch& search)
{
    const auto [begin, end, climbEnd, width, peak, noise, asResonance] = search;
    std::vector<SuddenLoss> losses;
    const size_t shortest = std::max<size_t>(6, quiet.window() / 2);
    const size_t stride = std::max<size_t>(1, width / 6);
    size_t from = begin;
    std::pair<size_t, size_t> seenAt;
    for (size_t i = begin + shortest; i + 2 * width + 6 < end; i += stride) {
        const double before = quiet.at(i, std::max(from, i + 1 > quiet.window() ? i + 1 - quiet.window() : 0), i + 1);
        if (before < (i < climbEnd ? 0.15 : 0.85) * peak)
            continue;
        const double atOnce = before - quiet.at(i, i + 1, end);
        const double slowly = before - quiet.at(i, i + width, end);
        constexpr double worthALook = 0.7;
        if (std::max(atOnce, slowly) < worthALook * doubtShare * before)
            continue;
        SuddenLoss loss = placeLoss(quiet, i, from, end, width, noise);
        if (std::exchange(seenAt, std::pair(loss.last, loss.after)) == std::pair(loss.last, loss.after))
            continue; // the same place as a moment ago, and it was none
        if (asResonance)
            placeAsResonance(quiet, loss, from, end, width, noise);
        const double seen = fallOfReadings(quiet, loss, end, width);
        constexpr double clear = 3, unclear = 1.5; // standard doubts
        const bool large = std::min(loss.fall, seen) >= lossShare * loss.top;
        loss.sure = large && loss.fall >= clear * loss.fallDoubt;
        // A large fall that the ringing blurs stays in question: without it the ringing is told better, then it is.
        const double least = large ? unclear : clear;
        if (loss.fall < std::max(doubtShare * loss.top, least * loss.fallDoubt) || loss.after + width <= i
            || seen < doubtShare * loss.top)
            continue;
        // When within a fall it began can't be seen to better than a sixth of its time.
        const size_t earlier = loss.last > from + width ? loss.last - width : from;
        loss.doubt = std::hypot(loss.doubt, 0.15 * std::abs(loss.top - quiet.at(earlier, from, loss.last + 1)));
        losses.push_back(loss);
        from = loss.after;
        i = std::max(i, loss.after) + shortest;
    }
    return losses;
}

} // namespace fortitor
