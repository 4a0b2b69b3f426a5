// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <optional>
#include <string_view>

namespace fortitor {

/// The offset that a proof strength is asked for by: "Rp0.2" → 0.002, "Rp1.0" → 0.01. Nothing for another word, and
/// for an offset of zero or above 5 %.
std::optional<double> proofOffset(std::string_view symbol);

} // namespace fortitor
