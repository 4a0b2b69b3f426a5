// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "store/logbook.h"

namespace fortitor {

/// Fills an empty logbook with the made-up world of Skerrow Bench: instruments, and jobs for
/// Tarnholm Rowing Works with records from the simulated frame.
Expected<Done> fillDemo(Logbook& logbook);

/// Instruments that a new laboratory starts from.
std::vector<InstrumentRow> demoInstruments();

} // namespace fortitor
