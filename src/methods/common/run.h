// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

#include <optional>
#include <string>

namespace fortitor {

/// Strain at which the material yields by its published values; nothing where they are not known.
std::optional<double> publishedYieldStrain(const SpecimenInput& input);

/// The first of the fields that was measured, mm; 0 when none was.
double firstOf(const SpecimenInput& input, const std::vector<std::string>& keys);

/// Speeds over a length (methods basis, "Rates"; ISO 6892-1 method A). `length` in mm, above zero.
RatePlan speedsOver(double length, const RateSpec& rule, const ExpectedLoad& expected);

/// The strain at which the extensometer comes off: as stated in the option, never beyond nine tenths of its own travel
/// where that is known. 0: it stays on, or there is none (`gaugeField` names the field with its gauge length).
double extensometerOffAt(const SpecimenInput& input, const ExpectedLoad& expected, const std::string& gaugeField,
                         const std::string& fallback);

/// Quiet start, slow to yield, the extensometer off where it can't stay on, faster to the break; a pressed piece to
/// its travel and back. `removeAt` a strain, `endTravel` mm; 0: not.
RunProgram runToBreak(const RatePlan& rates, double removeAt, double endTravel, Kind load = Kind::Force);

/// Holds at equal force steps up to `top` N, each `holds` s long, and back to no force.
RunProgram runSteps(double top, int steps, double speed, double holds);

/// Equal force steps of which a dozen or more come to the break.
StepPlan forceSteps(const SpecimenInput& input, const ExpectedLoad& expected, const Unit& unit);
/// Ten equal force steps up to half of the yield.
StepPlan elasticSteps(const SpecimenInput& input, const ExpectedLoad& expected, const Unit& unit);

/// "12.5 mm/min"; "60 °/min" of a torsion head.
std::string driveSpeedText(double speed, Kind load, int digits = 3);

/// Load trains that several methods share.
namespace trains {
LoadTrain gripped(const std::string& extensometer = {});
LoadTrain pressed(const std::string& extensometer = {});
/// On a fixture of its own that every test needs, a bending or torsion fixture.
LoadTrain onFixture(const std::string& fixture, LinkSpec::Form form, const std::string& words, Kind load);
} // namespace trains

/// A method over force and travel only: nothing is divided by a section.
std::optional<double> noArea(const SpecimenInput& input);

} // namespace fortitor
