// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/hardness/indent.h"
#include "methods/hardness/setting.h"

#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// One indent of a piece: what was read, where, and whether it counts.
struct PieceIndent {
    size_t number = 0; ///< from 1, in the order of reading
    IndentReading reading{};
    bool missed = false; ///< a length of it was not read
    bool setAside = false;
    std::optional<double> x{}, y{}; ///< place, mm
    std::optional<double> fromSurface{}; ///< mm

    [[nodiscard]] bool counts() const { return !setAside && !missed; }
    [[nodiscard]] std::optional<double> value() const
    {
        return reading.read ? std::optional(reading.read->value()) : std::nullopt;
    }
};

/// A way of reading an indent, with the readings that it takes.
struct EntryWay {
    std::string words; ///< "direct", "drum figures"
    std::vector<std::string> names;
    bool filar = false;
};
std::vector<EntryWay> entryWays(HardnessScale::By by);

/// The one way a piece was read; a Problem where it is none, several, or one of another kind of scale.
Expected<EntryWay> wayOf(const SpecimenInput& input, const HardnessSetting& setting);

/// All indents of a piece, worked out by the way they were read: a number, a depth, diameters, diagonals, filar figures
/// or halves. Problems name the reading.
Expected<std::vector<PieceIndent>> indentsOf(const SpecimenInput& input, const HardnessSetting& setting);

/// The first ones after a change only seat the indenter: set aside, with the remark.
void setSeatingAside(const SpecimenInput& input, const HardnessSetting& setting, std::vector<PieceIndent>& indents);

/// How large an indent is when only its number was read: its depth and the size across, mm. Of Rockwell with what the
/// preload pressed in.
void estimateSize(const HardnessSetting& setting, double number, IndentReading& reading);

} // namespace fortitor
