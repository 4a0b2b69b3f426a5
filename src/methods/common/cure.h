// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

#include <optional>
#include <string>

namespace fortitor {

/// The notes that its clock is kept in.
namespace cureKeys {
constexpr const char* bonded = "bonded";
constexpr const char* hours = "cure";
constexpr const char* tested = "tested";
} // namespace cureKeys

/// The cure of an adhesive as the notes of a specimen tell it: `bonded` (when the blocks were put
/// together, "2026-11-25 09:30"), `cure` (a time with unit, "24 h") and `tested` (when it was loaded).
struct CureClock {
    double bonded = 0; ///< s since 1970, local wall clock
    double hours = 0; ///< needed, h
    [[nodiscard]] double readyAt() const { return bonded + 3600 * hours; }
};

/// Nothing when bonding was not noted. A Problem names the note that does not read.
Expected<std::optional<CureClock>> cureClock(const SpecimenInput& input);

/// Seconds since 1970 of "2026-11-25 09:30" or "2026-11-25T09:30:00" as a wall clock; nothing when it does not read.
std::optional<double> wallClock(const std::string& text);

/// cure-incomplete when it was loaded before the clock ran down; a caution when that can't be told.
std::optional<Remark> cureRemark(const SpecimenInput& input, std::vector<std::string> symbols);

} // namespace fortitor
