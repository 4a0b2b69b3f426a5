// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/hardness/indent.h"
#include "methods/outcome.h"

#include <map>
#include <optional>
#include <string>

namespace fortitor {

/// How a piece is tested, by its options.
struct HardnessSetting {
    const HardnessScale* scale = nullptr;
    const Unit* unit = nullptr; ///< of the number: the scale's own, or that of an old record with a ball of steel
    bool steelBall = false;
    Pressed pressed{}; ///< not of Rockwell
    int seating = 0; ///< first readings set aside after a change
    double apart = 3; ///< indents from centre to centre, in sizes of an indent
    double fromEdge = 2.5; ///< from the centre to the edge, the same
    bool shopRule = false;
    double drum = 1, barrel = 50, zero = 0; ///< filar figures to units
    double filarUnit = 0; ///< mm a unit; 0: not stated
    double curvature = 0; ///< added to Rockwell numbers, or multiplied; 0: none
    bool cylinder = false;
};

/// The setting by the options; a Problem names the option that is missing or makes no sense.
Expected<HardnessSetting> settingOf(const SpecimenInput& input);

/// What is fitted to the tester: indenter, ball and force. Another one has to be seated.
std::string fittedOn(const HardnessSetting& setting);
/// What is noted of a piece that is the first after such a change.
std::map<std::string, std::string> notesOfChange();

/// What kind of material it is, as far as its hardness tells of its strength.
enum class MaterialFamily { Unknown, PlainSteel, OtherSteel, Iron, Copper, Light, Other };

/// By the option `family`, else by the name of the material.
MaterialFamily familyOf(const SpecimenInput& input);

} // namespace fortitor
