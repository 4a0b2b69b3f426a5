// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/document.h"
#include "methods/display.h"
#include "plan/step_plan.h"
#include "units/reading.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// The sheet of a specimen's keyed readings: a list of texts with unit a channel, as the job file holds them.
struct PadTable {
    std::vector<PadChannel> channels; ///< in the order of reading
    std::vector<std::vector<std::optional<std::string>>> cells; ///< by channel, then step; none: missed or not read yet
    size_t rows = 0;

    /// Base values of a channel, NaN where there is none; empty for a channel that is not read.
    [[nodiscard]] std::vector<double> values(std::string_view channel) const;
    [[nodiscard]] std::optional<size_t> indexOf(std::string_view channel) const;
};

/// What is read at each step of a specimen and what stands already. Optional channels take part once they
/// have readings, here or in another specimen of the job, or stand in `also`.
PadTable padTable(const JobDocument& document, size_t index, const std::vector<std::string>& also = {});

/// The scale a channel is read from: its unit in a system of units, its division as the option states it.
ReadingScale padScale(const PadChannel& channel, const SpecimenInput& input, UnitSystem system);

/// A plan of steps in the stepped channel's unit.
Expected<StepPlan> padPlan(const Method& method, const SpecimenInput& input, UnitSystem system);

/// The words a doubtful reading is asked about with; `text` as typed, for digits that changed places.
std::string doubtWords(const PadTable& table, const Method& method, std::string_view channel, size_t row, double value,
                       const std::string& text, const ReadingScale& scale);

/// A whole sheet from pasted or read text: columns by tab, semicolon, comma or blanks, in the order of the
/// channels or named by a header; empty cells, dashes and x are missed readings. Problems name line and cell.
Expected<PadTable> padTableFromText(std::string_view text, const std::vector<PadChannel>& channels,
                                    const SpecimenInput& input, UnitSystem system);

namespace edits {

/// A cell keyed, or missed (no text); row == rows begins the next step. A reading that stood there stays in the
/// specimen's list of corrections with who, when and why. Refused while the specimen has a record.
Expected<Command> padReading(const JobDocument& document, size_t index, const PadTable& table, size_t channel,
                             size_t row, const std::optional<std::string>& text, const std::string& who = {},
                             const std::string& when = {}, const std::string& why = {});
/// A whole step at once.
Expected<Command> padRow(const JobDocument& document, size_t index, const PadTable& table,
                         const std::map<std::string, std::string>& texts, const std::string& words);
/// A whole sheet behind what stands.
Expected<Command> padSheet(const JobDocument& document, size_t index, const PadTable& now, const PadTable& sheet,
                           const std::string& from);

} // namespace edits
} // namespace fortitor
