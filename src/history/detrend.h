// SPDX-License-Identifier: GPL-3.0-or-later
// What the warmth of day and night does: a trend of straight pieces that meet at their joints.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

namespace fortitor {

/// Joints at every `length` readings from the first, the last at the last reading; a last piece shorter than half of
/// that joins its neighbour.
class TrendPieces {
public:
    TrendPieces(std::uint64_t readings, double length);
    [[nodiscard]] size_t count() const { return joints_.size() - 1; }
    /// The readings of a piece: [first, second).
    [[nodiscard]] std::pair<std::uint64_t, std::uint64_t> readingsOf(size_t piece) const;
    [[nodiscard]] const std::vector<double>& joints() const { return joints_; }

private:
    std::uint64_t readings_;
    std::vector<double> joints_; ///< places, in readings
};

/// What a piece's readings add to the least squares of the hats at its two joints.
struct TrendSums {
    double first = 0, second = 0; ///< Σ y·(1 − u), Σ y·u
    double firstFirst = 0, firstSecond = 0, secondSecond = 0; ///< Σ (1 − u)², Σ u(1 − u), Σ u²
};
/// `values` are readings of the piece from `from` on; sums in stretches, so that their digits stay.
void addToTrend(TrendSums& sums, const TrendPieces& pieces, size_t piece, std::uint64_t from,
                std::span<const double> values);

/// The level at every joint, by least squares over all readings.
std::vector<double> solveTrend(std::span<const TrendSums> sums);

/// Takes it off readings [from, from + values.size()).
void takeOff(std::span<double> values, std::uint64_t from, const TrendPieces& pieces, std::span<const double> levels);

} // namespace fortitor
