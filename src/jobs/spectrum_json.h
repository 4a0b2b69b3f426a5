// SPDX-License-Identifier: GPL-3.0-or-later
// Results of a load history as a file.
#pragma once

#include "history/spectrum.h"
#include "jobs/analysis.h"

namespace fortitor {

/// The results file of the contract.
Json spectrumJson(const Spectrum& spectrum);

/// A stretch that was worked apart, with the flags it was worked with; numbers to the last digit.
Json partJson(const SpectrumPart& part, const Json& flags);
/// Reads it back; `place` names the file. Refused: what is none, or lacks a figure.
Expected<SpectrumPart> partFromJson(const Json& json, const std::string& place);

} // namespace fortitor
