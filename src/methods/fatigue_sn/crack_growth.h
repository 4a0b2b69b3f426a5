// SPDX-License-Identifier: GPL-3.0-or-later
// How a crack grows: lengths over cycles, rates by secant and polynomial, the Paris line (ASTM E647).
#pragma once

#include "units/expected.h"

#include <optional>
#include <span>
#include <string>
#include <utility>
#include <vector>

namespace fortitor {

/// Pairs of a table that a person states, "2: 1.12; 5: 1.20", x rising.
struct StatedTable {
    std::vector<double> x{}, y{};
    /// Between the pairs by straight lines; nothing beyond them.
    [[nodiscard]] std::optional<double> at(double value) const;
    [[nodiscard]] bool empty() const { return x.empty(); }
};
/// Refused: fewer than two pairs, what is no number, x that does not rise, y below zero.
Expected<StatedTable> readTable(const std::string& place, const std::string& text);

struct CrackLength {
    double cycles = 0, length = 0; ///< mm
};

/// One length for each `step` of growth: the mean of the readings on it, so that noise makes no rate. Where readings
/// lie further apart they stay as they are.
std::vector<CrackLength> thinnedLengths(std::span<const CrackLength> readings, double step);

struct GrowthRate {
    double length = 0, rate = 0; ///< mm, mm/cycle
    double deltaK = 0; ///< MPa√m; 0: not known
};
/// Between neighbours, at the length in their middle. Rates that are not above zero are left out.
std::vector<GrowthRate> ratesBySecant(std::span<const CrackLength> lengths);
/// Of a parabola through seven neighbours, at their middle one (E647, incremental polynomial).
std::vector<GrowthRate> ratesByPolynomial(std::span<const CrackLength> lengths);

/// Stress intensity range, MPa√m, of a stress range in MPa and a length in mm.
double deltaK(double range, double length, double geometry);

struct ParisLine {
    double C = 0, m = 0; ///< mm/cycle at 1 MPa√m; slope
    double scatter = 0; ///< of log rate, to ten
    size_t points = 0;
    std::pair<double, double> mWithin{}, cWithin{}; ///< 95 %
};
/// By least squares of log rate on log ΔK. Neighbouring rates by polynomial share readings: their errors are taken as
/// they hang together (Newey–West over `shared` neighbours). Nothing of fewer than four rates, or of one ΔK.
std::optional<ParisLine> parisLine(std::span<const GrowthRate> rates, size_t shared = 0);
/// A parabola through seven smooths a curved course: its intervals are widened by what the secants' line differs.
ParisLine widened(ParisLine line, const ParisLine& bySecant);

} // namespace fortitor
