// SPDX-License-Identifier: GPL-3.0-or-later
// Fatigue at constant amplitude: S–N line or staircase (ISO 12107, ASTM E739, E466).
#pragma once

#include "methods/fatigue_sn/mean_stress.h"
#include "methods/fatigue_sn/sn_line.h"
#include "methods/method.h"

#include <optional>
#include <string>

namespace fortitor {

namespace fatigueKeys {
inline constexpr const char *range = "range", *amplitude = "amplitude", *cycles = "cycles"; // readings
inline constexpr const char *outcome = "outcome", *ratio = "ratio", *frequency = "frequency", *group = "group",
                            *planned = "planned_range", *stopped = "stopped_because", *started = "started_at",
                            *ended = "ended_at", *soFar = "cycles_so_far";
inline constexpr const char *facesWatched = "faces_watched", *crackFace = "crack_face", *starts = "starts",
                            *ratchetMarks = "ratchet_marks", *startPlace = "start_place", *depth = "crack_depth",
                            *length = "crack_length"; // notes: what watched it, and its fracture
inline constexpr const char *call = "call", *calibration = "potential_calibration", *geometry = "geometry_factor",
                            *crackStep = "crack_step", *ratesBy = "rates_by"; // options
inline constexpr const char *start = "N_start", *parisC = "C", *parisM = "m_paris",
                            *damageSum = "damage_sum"; // results
inline constexpr const char *blocks = "blocks", *block = "block", *below = "below"; // a reading, options
inline constexpr const char *broken = "broken", *runOut = "run-out", *elsewhere = "elsewhere"; // outcomes
} // namespace fatigueKeys

Method fatigueSn();
Expected<Outcome> evaluateFatigue(const SpecimenInput& input);
Expected<Outcome> evaluateFatigueSet(const SetInput& set);

/// The options as they are to be read; refuses those that can't be.
struct SnSettings {
    bool staircase = false;
    bool variable = false; ///< blocks of variable amplitude: a Gassner line
    SnRule rule{};
    SnBound bound{};
    double reference = 2e6; ///< cycles
    std::optional<double> detailClass{}; ///< MPa
    MeanStress meanStress = MeanStress::None;
    double step = 0; ///< MPa, of the staircase; 0: from the levels
};
Expected<SnSettings> snSettings(const SpecimenInput& input);

/// Stress range of a reading, MPa; nothing without one. Refuses two that don't agree.
Expected<std::optional<double>> keyedRange(const SpecimenInput& input);
/// R; nothing while it is not noted. Refuses what is no number.
Expected<std::optional<double>> notedRatio(const SpecimenInput& input);
/// Hz; 0 while it is not noted or can't be read.
double notedFrequency(const SpecimenInput& input);
/// What a record beside the readings tells of the crack: start, growth, Paris line, with views. Puts results into
/// `outcome` of the piece, those that do not apply are taken out of it. Refuses options that don't read.
struct Figures;
/// A piece under blocks; false where what is needed is missing, and that is told.
Expected<bool> readVariable(Figures& figures, const SnSettings& settings);
Expected<Done> readCrack(Figures& figures);
/// What is noted of the fracture, with depth over length; told, nothing is worked out from it.
void tellFracture(Figures& figures);

/// MPa; nothing while the piece is not planned.
std::optional<double> plannedRange(const SpecimenInput& input);

/// A piece of the set that counts.
struct SnRun {
    SnPiece piece{};
    const SpecimenInput* input = nullptr;
    bool elsewhere = false;
};
std::vector<SnRun> runsOf(const SetInput& set);
std::vector<SnPiece> piecesOf(const std::vector<SnRun>& runs);

/// "2·10⁶", "412 000".
std::string cyclesText(double cycles);
/// "3.2 days", "5 h 20 min".
std::string spanText(double seconds);

} // namespace fortitor
