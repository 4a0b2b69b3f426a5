// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <optional>
#include <span>

namespace fortitor {

/// Yielding that begins with a drop (methods basis, section 1).
struct YieldDrop {
    size_t upperIndex = 0;
    double upper = 0; ///< ReH, MPa
    double upperStrain = 0;
    size_t lowerIndex = 0;
    double lower = 0; ///< ReL, MPa
    bool transientLeftOut = false; ///< the first minimum lay below all later ones
    double lowerShortCut = 0; ///< least stress within 0.25 % strain after ReH (the short cut)
    size_t hardeningIndex = 0; ///< last minimum before the stress climbs for good
    double extensionDoubt = 0; ///< standard, strain: how well a plateau of this scatter says where it ends
    std::optional<double> extension; ///< Ae as strain, when hardening is seen to start
};

/// Looks for the first stress maximum followed by a drop of at least 0.5 % that is not exceeded in
/// the next 0.05 % strain, at a plastic strain below 0.5 %, with the stress rising again later (so
/// that necking is not taken for it). x, y up to the break; `slope` and `origin` of the modulus line.
std::optional<YieldDrop> findYieldDrop(std::span<const double> x, std::span<const double> y, double slope,
                                       double origin, double noise);
/// The same where the greatest of y is known: `level`.
std::optional<YieldDrop> findYieldDrop(std::span<const double> x, std::span<const double> y, double slope,
                                       double origin, double noise, double level);

} // namespace fortitor
