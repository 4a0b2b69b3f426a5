// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

namespace fortitor {

/// Compression of solid pieces (ISO 604, ASTM E9, D695; wood along the grain ISO 13061-17). Force and
/// shortening count as positive.
Method compression();

Expected<Outcome> evaluateCompression(const SpecimenInput& input);

} // namespace fortitor
