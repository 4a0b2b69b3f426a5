// SPDX-License-Identifier: GPL-3.0-or-later
// What the page where indents are made asks of the method.
#pragma once

#include "methods/hardness/readings.h"
#include "methods/hardness/spacing.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// A traverse: so many indents from the first depth on, each a step deeper, in as many rows as keep the distance.
std::vector<Spot> planTraverse(double first, double step, size_t count, double apart);
/// A row or a grid about a place.
std::vector<Spot> planGrid(double x, double y, size_t columns, size_t rows, double pitch);

/// What stands on a piece now.
struct Desk {
    HardnessSetting setting;
    std::vector<PieceIndent> indents;
    std::vector<Spot> places; ///< planned; the first of them that have been read carry the readings
    PieceSize size;
    double across = 0; ///< size that the next indent is likely to have, mm; 0: not known
    bool traverse = false;
    std::vector<IndentPlace> used{}; ///< of earlier checks on the same block

    /// The place of the next indent, where one is planned.
    [[nodiscard]] std::optional<Spot> next() const;
};
Expected<Desk> deskOf(const SpecimenInput& input);

/// Why an indent can't stand at a place, in words; empty where it can. `but`: index of the planned place itself.
std::string refusedAt(const Desk& desk, const Spot& place, std::optional<size_t> but = {});

/// The free place nearest to the middle; nothing where none is left, or the size of the indents is not known.
std::optional<Spot> nextFree(const Desk& desk);

/// What the readings typed so far come to.
struct TriedIndent {
    std::optional<PieceIndent> indent{}; ///< nothing while too little is typed
    bool whole = false; ///< false: from the first of two
    std::optional<Problem> problem{};
    std::string field{}; ///< that the problem is in
};
TriedIndent tryIndent(const SpecimenInput& input, const EntryWay& way, const std::map<std::string, std::string>& typed,
                      const std::optional<Spot>& place);

/// What would be read, in that way, of an indent of a number: texts as they are keyed. `uneven`: by what share the
/// first
/// of two is longer than the second. Empty where the setting can't be read so.
std::map<std::string, std::string> readingsOf(const HardnessSetting& setting, const EntryWay& way, double number,
                                              double uneven = 0);

/// A dial number that fits the figures of the other ring, in words; empty where it does not. Black and red lie 30
/// apart.
std::string dialDoubt(const Desk& desk, const PieceIndent& made);

/// Mean and scatter of what counts so far, and how many more readings an interval of ± `wanted` asks for.
struct RunningMean {
    size_t count = 0;
    double mean = 0, sd = 0, half = 0; ///< half width of the 95 % interval; 0 for fewer than two
};
RunningMean runningMean(const std::vector<PieceIndent>& indents);
std::optional<size_t> readingsFor(const RunningMean& now, double wanted);

} // namespace fortitor
