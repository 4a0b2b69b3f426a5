// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/impact/geometry.h"
#include "methods/impact/transition.h"
#include "methods/method.h"

namespace fortitor {

/// Pendulum impact (methods basis, "Pendulum impact"). By the option `geometry` it is one for metals or for plastics.
Method impact();

/// The energy of one blow, and its forms over the section and the width. Refused: no pendulum, a section of zero, more
/// than one blow, a temperature that does not read.
Expected<Outcome> evaluateImpact(const SpecimenInput& input);

/// The transition curve of the blows that count, with its levels.
Expected<Outcome> evaluateImpactSet(const SetInput& set);

/// Notes of a blow that a page sets by itself.
namespace impactKeys {
constexpr const char* geometry = "geometry"; ///< an option
constexpr const char* temperature = "temperature";
constexpr const char* planned = "planned_temperature";
constexpr const char* way = "bath_to_blow";
constexpr const char* bathIn = "bath_in"; ///< when it went in, 2026-11-30T08:10:05
constexpr const char* bathTime = "bath_time";
constexpr const char* broken = "break";
constexpr const char* look = "look";
constexpr const char* shear = "shear_fraction";
constexpr const char* width = "width"; ///< sizes
constexpr const char* ligament = "ligament";
} // namespace impactKeys
/// The unit that a bare number of that note is taken in; empty: it is no figure.
std::string_view unitOfNote(std::string_view key);

/// What stands on the page where it is struck: section, loss, pendulum, in words.
struct StrikeDesk {
    const ImpactGeometry* geometry = nullptr;
    std::optional<double> release{}; ///< rad
    std::optional<double> pendulum{}; ///< J
    std::string lossWords{}, sectionWords{}, bathWords{}, resolutionWords{};
    std::string trouble{}; ///< why nothing can be read yet
};
StrikeDesk strikeDesk(const SpecimenInput& input);
/// s that a piece is to stay in its bath: 5 min in a liquid, 30 min in gas.
double leastBath(const SpecimenInput& input);
/// What a keyed energy or rise angle gives, before it is taken.
Expected<Outcome> tryBlow(const SpecimenInput& input, const std::string& name, const std::string& text);
/// rad; how high the hammer rose, where that can be told.
std::optional<double> riseOf(const SpecimenInput& input);
/// Shear share of the fracture face from the sides of its bright patch, both in mm (ISO 148-1, annex): 0 to 1.
Expected<double> shearShare(double width, double ligament, double patchWidth, double patchHeight);

/// The geometry that is chosen; nullptr for one that is none.
const ImpactGeometry* geometryOf(const SpecimenInput& input);
/// °C; nothing where it is not noted. Refused: it does not read, or lies below absolute zero.
Expected<std::optional<double>> temperatureOf(const SpecimenInput& input);
/// "-20 °C", and the kind of break where they are averaged apart.
std::string impactLotOf(const SpecimenInput& input);
/// "27 J; 41 J" in J; refused where one does not read.
Expected<std::vector<double>> levelsOf(const SpecimenInput& input);
/// The blows of the set that count for the curve.
std::vector<Blow> blowsOf(const SetInput& set);

} // namespace fortitor
