// SPDX-License-Identifier: GPL-3.0-or-later
// A measured load history: the chain it goes through, what is counted of it, and the damage (ASTM E1049).
#pragma once

#include "history/figures.h"
#include "methods/method.h"

#include <map>
#include <string>

namespace fortitor {

namespace spectrumKeys {
inline constexpr const char *damage = "damage", *life = "life", *cutShare = "damage_cut_share",
                            *equivalent = "equivalent_range", *greatest = "range_max";
inline constexpr const char *gauge = "gauge", *taken = "taken"; // notes
} // namespace spectrumKeys

Method loadSpectrum();
/// Reads the files that the input names, or what is kept of them.
Expected<Outcome> evaluateSpectrum(const SpecimenInput& input);
/// Histories of a job together: their damage, each gone through once.
Expected<Outcome> evaluateSpectrumSet(const SetInput& set);

/// From texts by the method's option keys; what is not among them is taken as usual. Problems name the place as the
/// command line's flag.
Expected<SpectrumSettings> spectrumSettings(const std::map<std::string, std::string>& texts);
/// "--low-pass" of "low_pass".
std::string flagOf(const std::string& key);
/// How the files are to be read.
Expected<HistoryRequest> historyRequest(const HistorySaid& said);

/// A box of the chain as the page draws it, with the option that sets it and what switches it off.
struct ChainBox {
    std::string name{}, option{}, off{};
};
/// In their order: raw, repaired, detrended, low-pass, turning points, cut, counted.
const std::vector<ChainBox>& chainBoxes();

/// Another setting that a box may be tried with.
struct ChainTrial {
    std::string option{}, value{}, words{}; ///< "2 Hz → 4 Hz"
};
/// Of the options as they are; empty where the box has none to try.
std::vector<ChainTrial> chainTrials(const ChainBox& box, const std::map<std::string, std::string>& options);

/// What it shows itself by.
std::vector<View> spectrumViews(const HistoryFigures& figures);
/// The exceedance of all histories of a set, and their transitions summed into one matrix; none where their units
/// differ or nothing is counted.
std::vector<View> spectrumSetViews(const SetInput& set);
/// Its own ranges and those of a history that was drawn with the same transitions.
View overlaidExceedance(const HistoryFigures& figures, const std::vector<double>& drawn);

} // namespace fortitor
