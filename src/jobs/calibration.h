// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/document.h"
#include "reference/tables.h"

#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// One reading against its reference: N for a cell, mm for an extensometer. `series` counts the times the
/// whole range was gone through.
struct ReferenceReading {
    double reference = 0;
    double reading = 0;
    int series = 1;
};

/// A reference step with its readings. Shares are of the reference.
struct CalibrationStep {
    double reference = 0;
    double mean = 0; ///< of the readings
    double error = 0; ///< mean − reference
    double relative = 0; ///< error / reference
    double repeatability = 0; ///< (greatest − least) / reference; 0 with one series
    std::string best; ///< the finest class that it meets, empty: none
};

/// What a check against a reference gave: ISO 7500-1 for the force, ISO 9513 for the extensometer, whose
/// limit is relative or absolute, the greater.
struct CalibrationResult {
    std::vector<CalibrationStep> steps; ///< by rising reference, without zero
    double zeroError = 0; ///< mean reading at reference zero, over the greatest reference
    std::string best; ///< the finest class that all meet, empty: none
    bool meets = false; ///< the class that is wanted
    std::string words; ///< one sentence
};

/// `device` is "force" or "extensometer". Refuses fewer than three steps, and readings that are no figures.
Expected<CalibrationResult> checkCalibration(const std::string& device, const std::string& wantedClass,
                                             const std::vector<ReferenceReading>& readings);

/// What an instrument's body keeps of a check, newest last under "checks".
Json checkJson(const CalibrationResult& result, const std::string& device, const std::string& wantedClass,
               const std::vector<ReferenceReading>& readings, const std::string& date, const std::string& who);

struct CalibrationTrouble {
    std::string code; ///< "calibration-overdue" or "calibration-failed"
    std::string words;
};

/// What stands against using an instrument on a day (yyyy-MM-dd, as the due date): it ran out, or failed
/// its last check. Nothing is held against one without a date and without a check.
std::optional<CalibrationTrouble> calibrationTrouble(const Json& body, const std::string& due,
                                                     const std::string& today);

} // namespace fortitor
