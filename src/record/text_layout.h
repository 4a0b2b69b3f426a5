// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/expected.h"
#include "units/unit.h"

#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// One column of a text file, as found and as understood.
struct TextColumn {
    std::string header;           ///< as written, unit taken out
    std::string unitText;         ///< as written; empty when none was found
    std::string channel;          ///< name in the exchange format; empty when not recognised
    const Unit* unit = nullptr;   ///< nullptr when missing, unknown or of the wrong kind
    bool numeric = true;          ///< false for columns of words, which are passed over
};

/// How a delimited text file is written.
struct TextLayout {
    std::string encoding;
    char delimiter = ',';         ///< ' ' stands for any run of blanks
    char decimal = '.';
    size_t headerLine = 0;        ///< lines count from 1; 0 when there is none
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
/// 400 lines. Refuses text without two columns of numbers and lines over a hundred thousand characters.
Expected<TextLayout> recogniseLayout(std::string_view text);

/// Puts a person's choices over the layout. Refuses unknown channels, columns, units.
Expected<Done> applyChoices(TextLayout& layout, const ColumnChoices& choices);

/// "column 2 \"Load\" (no unit), column 3 \"Ext\" mm": for messages.
std::string describeColumns(const TextLayout& layout);

/// Splits a line into fields, quotes taken off, blanks trimmed.
std::vector<std::string> splitFields(std::string_view line, char delimiter);

/// The channel that a column header means, by the words of the trade; the unit's kind decides where
/// a word is used for both ("Strain" in mm). Empty when it can't be told.
std::string channelFromHeader(std::string_view header, const Unit* unit);

} // namespace fortitor
