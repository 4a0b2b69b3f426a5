// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "judge/derivation.h"
#include "judge/remark.h"
#include "methods/hardness/scales.h"
#include "units/expected.h"
#include "units/quantity.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// One indent as it was read. `read` is empty where no number may be given; a remark then says why.
struct IndentReading {
    std::optional<Term> read{};
    std::string notation{}; ///< "333 HV 10"; empty with `read`
    double depth = 0; ///< how far the indenter went in, mm
    double across = 0; ///< size of the indent, mm: mean of two across, or the long diagonal
    double leastThickness = 0; ///< mm
    std::vector<Remark> remarks{};
};

/// From the lasting depth, mm: HR = N − h/S. Refused where the depth is negative or the scale is no Rockwell scale.
Expected<IndentReading> rockwellIndent(const HardnessScale& scale, const Quantity& depth);

/// How large a Rockwell indent is across, mm, from its lasting depth: with what the preload pressed in before, which is
/// told from a mean pressure that stays (a cone of 120° by the root of the forces, a ball by the forces).
double rockwellAcross(const HardnessScale& scale, double depth);

/// A number outside the scale's band, with the scale to go on with.
Remark outOfBand(const HardnessScale& scale, double number);

/// Remarks on a Brinell indent: its share of the ball beyond 0.24 to 0.60, give or take `slack`, and a number over 650.
void checkBrinell(IndentReading& indent, double number, double share, double slack);
/// A remark on a diagonal under 20 µm.
void checkPyramid(IndentReading& indent);

/// How an indent is pressed in that is read under a lens.
struct Pressed {
    double force = 0; ///< N
    double ball = 0; ///< mm, Brinell only
    std::optional<double> dwell{}; ///< s
    double forceDoubt = 0; ///< N, standard uncertainty
};

/// What the force of a tester that was verified may be off by: ±1 %, as a standard uncertainty in N.
double verifiedForceDoubt(double force);

/// From two diameters across, mm: HBW = 0.102·2F/(πD(D−√(D²−d²))).
Expected<IndentReading> brinellIndent(const Pressed& pressed, const std::array<Quantity, 2>& diameters);
/// From two diagonals, mm: HV = 0.1891F/d².
Expected<IndentReading> vickersIndent(const Pressed& pressed, const std::array<Quantity, 2>& diagonals);
/// From the long diagonal, mm, whole or by its halves: HK = 1.451F/L².
Expected<IndentReading> knoopIndent(const Pressed& pressed, const std::vector<Quantity>& diagonalOrHalves);

/// The same from lengths that come about in another way than keyed, each with what it stands on.
Expected<IndentReading> brinellFrom(const Pressed& pressed, const std::array<Term, 2>& diameters);
Expected<IndentReading> vickersFrom(const Pressed& pressed, const std::array<Term, 2>& diagonals);
Expected<IndentReading> knoopFrom(const Pressed& pressed, const std::vector<Term>& diagonalOrHalves);

} // namespace fortitor
