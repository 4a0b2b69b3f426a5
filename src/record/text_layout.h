// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/text_cells.h"
#include "units/expected.h"
#include "units/unit.h"

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// One column of a text file, as found and as understood.
struct TextColumn {
    std::string header; ///< as written, unit taken out
    std::string unitText; ///< as written; empty when none was found
    std::string channel; ///< name in the exchange format; empty when not recognised
    const Unit* unit = nullptr; ///< nullptr when missing, unknown or of the wrong kind
    bool numeric = true; ///< false for columns of words, which are passed over
    std::string otherUnit; ///< a second unit that the file states for it, in conflict with the first
};

/// How a delimited text file is written.
struct TextLayout {
    std::string encoding;
    char delimiter = ','; ///< ' ' stands for any run of blanks
    Marks marks; ///< of its figures
    bool marksOpen = false; ///< whether a mark is a decimal or one between groups can't be told from the file
    std::string marksExample; ///< a cell that can be read both ways
    size_t passedOver = 0; ///< rows of figures above the readings that do not fit their columns
    std::map<std::string, std::vector<size_t>> claims; ///< channels that several columns (from 0) claim; none has it
    size_t headerLine = 0; ///< lines count from 1; 0 when there is none
    size_t unitsLine = 0;
    size_t firstDataLine = 1;
    std::vector<TextColumn> columns;
    std::vector<std::vector<std::string>> preview; ///< the first data rows, as written
};

/// What a person settled about a column: which one (from 1, or by header) and in which unit.
struct ColumnChoice {
    size_t column = 0;
    std::string header;
    std::string unit;
};
using ColumnChoices = std::map<std::string, ColumnChoice>;

/// Recognises delimiter, decimal mark, preamble, header and units in decoded text, from the first
/// 400 lines; where a mark may be a decimal or one between groups, by the whole text. `decimal`: settled by hand, 0
/// when not. Refuses text without two columns of numbers and lines over a hundred thousand characters.
Expected<TextLayout> recogniseLayout(std::string_view text, char decimal = 0);

/// Puts a person's choices over the layout. Refuses unknown channels, columns, units.
Expected<Done> applyChoices(TextLayout& layout, const ColumnChoices& choices);

/// What the file leaves open and a person has to settle: marks, columns that claim one channel, units in conflict.
/// Nothing when all can be told.
std::optional<Problem> openQuestion(const TextLayout& layout);

/// "column 2 \"Load\" (no unit), column 3 \"Ext\" mm": for messages, no more of them than can be read.
std::string describeColumns(const TextLayout& layout);

/// Splits a line into fields, quotes taken off, blanks trimmed.
std::vector<std::string> splitFields(std::string_view line, char delimiter);

/// The channel that a column header means, by the words of the trade; the unit's kind decides where
/// a word is used for both ("Strain" in mm). Empty when it can't be told.
std::string channelFromHeader(std::string_view header, const Unit* unit);

} // namespace fortitor
