// SPDX-License-Identifier: GPL-3.0-or-later
// Rainflow (ASTM E1049): closed cycles taken out of the turning points, the rest counted by the rule for the residue.
#pragma once

#include "history/long_turning.h"

#include <algorithm>
#include <cmath>
#include <span>
#include <vector>

namespace fortitor {

enum class Residue { Half, Repeat, Ignore };

/// Takes closed cycles out as turning points come in. What is left is the residue: ranges that grow, then shrink.
/// A cycle closes where its range is not above either neighbour's. Values alternate up and down.
class Rainflow {
public:
    /// `closed(from, to)`: the two turning points of a closed cycle, in the order they came.
    template <class Closed> void take(std::span<const double> values, Closed&& closed)
    {
        constexpr size_t stretch = 4096;
        for (size_t at = 0; at < values.size(); at += stretch) {
            const auto part = values.subspan(at, std::min(stretch, values.size() - at));
            if (room_.size() < count_ + part.size())
                room_.resize(2 * (count_ + stretch));
            double* top = room_.data() + count_;
            const double* third = room_.data() + 3; // with fewer below, nothing can close
            for (const double value : part) {
                *top++ = value;
                while (top > third) {
                    const double inner = std::abs(top[-2] - top[-3]);
                    // Not above the neighbour on either side; the newer one first, it decides more often.
                    if (inner > std::abs(top[-1] - top[-2]) || inner > std::abs(top[-3] - top[-4]))
                        break;
                    closed(top[-3], top[-2]);
                    top[-3] = top[-1];
                    top -= 2;
                }
            }
            count_ = static_cast<size_t>(top - room_.data());
        }
    }
    [[nodiscard]] std::span<const double> residue() const { return {room_.data(), count_}; }

private:
    std::vector<double> room_;
    size_t count_ = 0;
};

/// A residue run twice. Where it meets itself a point may be no turning point any more.
std::vector<double> repeated(std::span<const double> residue);

/// What the rule counts of a residue.
template <class Each> void countResidue(std::span<const double> rest, Residue rule, Each&& each)
{
    if (rule == Residue::Half)
        for (size_t i = 1; i < rest.size(); ++i)
            each(rest[i - 1], rest[i], 0.5);
    if (rule == Residue::Repeat && rest.size() > 1) {
        Rainflow again;
        again.take(repeated(rest), [&](double from, double to) { each(from, to, 1.0); });
    }
}

/// All cycles of turning points: `each(from, to, count)` with 1 for closed ones, and ½, or 1 for those closed in the
/// second run of the residue, as the rule has it. Gives the number of turning points in the residue.
template <class Each> size_t countRainflow(std::span<const double> points, Residue rule, Each&& each)
{
    Rainflow flow;
    flow.take(points, [&](double from, double to) { each(from, to, 1.0); });
    countResidue(flow.residue(), rule, each);
    return flow.residue().size();
}

template <class Each> size_t countRainflow(const LongTurning& points, Residue rule, Each&& each)
{
    Rainflow flow;
    points.each([&](std::span<const double> values, std::span<const std::uint32_t>) {
        flow.take(values, [&](double from, double to) { each(from, to, 1.0); });
    });
    countResidue(flow.residue(), rule, each);
    return flow.residue().size();
}

} // namespace fortitor
