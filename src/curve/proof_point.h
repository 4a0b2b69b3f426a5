// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <optional>
#include <span>

namespace fortitor {

/// Where a curve meets a line or a strain.
struct CurvePoint {
    double strain = 0;
    double stress = 0;
    size_t before = 0; ///< the readings it lies between
    size_t after = 0;
    double tangent = 0; ///< local slope of the curve, MPa
};

/// The first point where the curve falls below the modulus line moved right by `offset` and stays
/// there; linear between readings, or by a local least-squares line where noise would hide it.
/// Nothing when the curve never gets there. x counts as in the record; `origin` is the line's zero.
std::optional<CurvePoint> offsetPoint(std::span<const double> x, std::span<const double> y, double slope, double origin,
                                      double offset, size_t from);

/// The curve's stress at a strain, the same way.
std::optional<CurvePoint> pointAtStrain(std::span<const double> x, std::span<const double> y, double strain);

} // namespace fortitor
