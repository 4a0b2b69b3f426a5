// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/unit.h"

#include <span>
#include <string_view>

namespace fortitor {

/// A scale of hardness: how it is made, and in which band of numbers it holds.
struct HardnessScale {
    enum class By { Rockwell, Brinell, Vickers, Knoop };
    std::string_view name; ///< as it is printed: "HRBW"
    By by = By::Rockwell;
    double preload = 0; ///< N; the rest is of Rockwell too
    double total = 0; ///< N
    double full = 0; ///< the number at no depth
    double step = 0; ///< depth of one number, mm
    double ball = 0; ///< mm; 0: a cone
    double lowest = 0;
    double highest = 0;
    std::string_view softer{}; ///< to go on with under the band
    std::string_view harder{}; ///< to go on with over it
};

/// All that are read today, in the order of the Rockwell letters, then Brinell, Vickers, Knoop.
std::span<const HardnessScale> hardnessScales();

/// "HRC"; "HRB" and "HRBW" are one scale (a steel ball is no more used). nullptr when unknown.
const HardnessScale* findHardnessScale(std::string_view name);

/// Its unit; numbers of two scales never mix.
const Unit& unitOf(const HardnessScale& scale);

} // namespace fortitor
