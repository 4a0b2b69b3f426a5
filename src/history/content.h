// SPDX-License-Identifier: GPL-3.0-or-later
// What the signal holds that the chain may hurt.
#pragma once

#include "history/spectrum.h"

namespace fortitor {

/// Share of the power (without the mean) that lies between two frequencies: Hann windows spread evenly over the
/// history, their spectra added. Hz.
double powerShare(const HistorySource& source, double rate, double spikeLimit, double low, double high);

/// The same about the low-pass of the chain; 0 without one.
double nearFilter(const HistoryFile& file, const ChainSettings& settings, const ChainFound& chain);

/// Content near the low-pass, and readings that stand at the end of their range.
void tellContent(Spectrum& spectrum, double nearFilter, const SpectrumSettings& settings);

} // namespace fortitor
