// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

#include <optional>
#include <string>

namespace fortitor {

/// Drop weight onto a plate, or an indenter pressed into it (methods basis, "Drop weight").
Method dropWeight();

/// Options, sizes and results that a page or a simulator speaks of by name.
namespace dropKeys {
constexpr const char* mass = "mass";
constexpr const char* height = "height";
constexpr const char* speed = "speed";
constexpr const char* length = "length";
constexpr const char* width = "width";
constexpr const char* thickness = "thickness";
constexpr const char* dent = "dent_depth";
constexpr const char* dentRelaxed = "dent_depth_relaxed";
constexpr const char* damageLength = "damage_length";
constexpr const char* damageWidth = "damage_width";
constexpr const char* front = "damage_front"; ///< notes of the faces
constexpr const char* back = "damage_back";
constexpr const char* energy = "E_i"; ///< results
constexpr const char* dentResult = "dent";
constexpr const char* firstLoad = "F_1";
constexpr const char* shape = "plate";
} // namespace dropKeys

/// Speed, energies and loads of one blow. Refused: options that do not read, a record without force.
Expected<Outcome> evaluateDropWeight(const SpecimenInput& input);

/// What a blow is to be, and with which mass from which height, as far as it is known.
struct DropPlan {
    double perThickness = 0; ///< J/mm
    std::optional<double> thickness{}; ///< mm
    std::optional<double> wanted{}; ///< J, by the thickness
    std::optional<double> mass{}; ///< kg
    std::optional<double> height{}; ///< mm, as stated
    std::optional<double> heightWanted{}; ///< mm for the energy wanted
    std::optional<double> towerHeight{}; ///< mm, the most it drops from
    std::optional<double> massNeeded{}; ///< kg for the energy wanted from there, where the mass at hand is too light
    std::optional<double> nominal{}; ///< J: of mass and height, else the one wanted
    std::optional<double> speed{}; ///< m/s of a free fall with that energy
    std::optional<double> offWanted{}; ///< nominal over wanted, less one
    double slip = 0; ///< the factor of a unit that would explain it; 0: none
};
/// Refused: an option that does not read, a thickness of zero.
Expected<DropPlan> dropPlan(const SpecimenInput& input);

} // namespace fortitor
