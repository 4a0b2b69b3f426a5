// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/live_frame.h"

namespace fortitor {

/// Puts the specimen at hand into the simulated frame and does every step of the set-up by itself.
Expected<Done> setUpByItself(LiveFrame& frame, int within = 20000);

/// The whole run of the specimen at hand, to its break; refuses with what did not come about within so
/// many ms. Whoever installed the programs sees with it that they find each other and work.
Expected<Done> runByItself(LiveFrame& frame, double pace = 20, int within = 60000);

} // namespace fortitor
