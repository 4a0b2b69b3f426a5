// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/expected.h"
#include "units/quantity.h"

namespace fortitor {

/// The scale a person reads from: what a bare number means, and what a division of it is worth.
struct ReadingScale {
    Kind kind = Kind::Number;
    const Unit* unit = nullptr; ///< of a bare number
    double division = 0; ///< base value of one division, "div"; 0: the scale has none
    double turn = 0; ///< base value of one turn of a dial, "rev"; 0: 100 divisions (of an angle: one turn)
};

/// Reads what people say at a dial: a number with or without its unit ("275", "-35 µε", "1 5/16 in"), turns
/// and divisions ("3 rev + 42 div", "2 rev 40 deg"), the parts all of one sign. The text given back is the
/// quantity in the unit of the last part that has one of its own, as the exchange format wants it.
/// Refuses what is no number, a division where the scale has none, and units of another kind.
Expected<Quantity> parseReading(std::string_view text, const ReadingScale& scale);

} // namespace fortitor
