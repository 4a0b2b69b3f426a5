// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/sketch.h"

#include <optional>
#include <span>
#include <string>
#include <string_view>

namespace fortitor {

/// A kind of specimen for the pendulum, with what its standard asks of it. Lengths in mm, angles in degrees.
struct ImpactGeometry {
    std::string_view key{}; ///< of the option `geometry`
    std::string_view name{};
    std::string_view standard{};
    std::string_view symbol{}; ///< of the energy, "KV2"
    std::string_view areaSymbol{}; ///< of the energy over the section, "KCV"
    std::string_view materials{}; ///< that it suits, in words
    bool plastic = false;
    bool perWidth = false; ///< energy over the width is given too
    enum class Hit { Beam, Cantilever, Pulled } hit = Hit::Beam;
    double pendulum = 0; ///< usual one, J
    double ligament = 0, ligamentOff = 0; ///< wanted, and how far off it may be; 0: not fixed
    double width = 0; ///< of the full-sized piece; 0: not fixed
    double height = 0; ///< of the whole section; 0: not fixed
    double length = 0;
    double span = 0; ///< of the anvils; 0: none
    double depth = 0, depthOff = 0; ///< of the notch
    double radius = 0, radiusOff = 0; ///< of its root
    double angle = 0; ///< of its flanks; 0: parallel, or none
};

std::span<const ImpactGeometry> impactGeometries();
/// nullptr for a key that is none.
const ImpactGeometry* findImpactGeometry(std::string_view key);
/// The notch as it is seen from the side, and how it is held.
Sketch sketchOf(const ImpactGeometry& geometry);

} // namespace fortitor
