// SPDX-License-Identifier: GPL-3.0-or-later
// Butterworth, 4th order, forward and backward: no shift.
#pragma once

#include <array>
#include <cstdint>
#include <span>
#include <vector>

namespace fortitor {

/// One of two sections in a row: y = x + s1, s1 = 2x − a1·y + s2, s2 = x − a2·y; the gain goes before both.
struct LowPassSection {
    double a1 = 0, a2 = 0;
};

struct LowPass {
    double gain = 1;
    std::array<LowPassSection, 2> sections{};
    std::uint64_t warmUp = 0; ///< readings after which its start is forgotten to 1e-11

    /// `asked`: Hz at which both passes together give half the power; below half the rate. Each pass has its own corner
    /// at (√2 − 1)^(−1/8) times that; bilinear, prewarped. See `refused`.
    static LowPass design(double asked, double rate);
    /// The corner of one pass would reach half of the rate.
    static bool refused(double asked, double rate);
    /// Share of the amplitude that is left at a frequency after both passes.
    [[nodiscard]] double leftAt(double frequency, double rate) const;
};

/// Both passes over stretches of equal length that lie interleaved, `lanes` of them: reading i of lane k at
/// i·lanes + k. Each pass starts as if its first reading had stood for ever. The figures of a lane do not depend on
/// what is beside it. lanes: 1 or 8.
void filterBothWays(std::span<double> interleaved, size_t lanes, const LowPass& filter);

} // namespace fortitor
