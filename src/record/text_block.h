// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/text_layout.h"

#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

constexpr size_t longestTextLine = 100'000;

enum class Cell { Number, Blank, Word };

/// What a cell holds under the marks of a file.
Cell cellOf(std::string_view text, Marks marks);

/// A line as a reader sees it: a header whose quotes run over several lines of the file is one.
struct Line {
    std::string text;
    size_t number = 0; ///< in the file, from 1
};

/// The first 400 lines of a text, each cut where no line may be longer.
std::vector<Line> firstLines(std::string_view text);

/// Fields of a line without the empty ones at its end.
std::vector<std::string> fieldsOf(std::string_view line, char delimiter);

/// A run of data lines of one shape. Columns of words, and cells missing at the end, may differ from row to row.
struct Block {
    size_t first = 0; ///< index of its first line
    size_t rows = 0;
    std::vector<size_t> numbers, words; ///< of each column

    [[nodiscard]] size_t fields() const { return numbers.size(); }
    [[nodiscard]] bool numeric(size_t column) const { return numbers[column] > words[column]; }
    [[nodiscard]] size_t numericColumns() const
    {
        size_t count = 0;
        for (size_t c = 0; c < fields(); ++c)
            count += numeric(c);
        return count;
    }
    /// Figures count; of two dialects that see as many the one with fewer columns of words reads the file rightly.
    [[nodiscard]] size_t score() const
    {
        const size_t figures = numericColumns();
        return figures < 2 ? 0 : rows * (64 * figures - std::min<size_t>(63, fields() - figures));
    }

    /// Whether a row fits: two of its figures stand in columns of figures, and what is missing or more is words.
    [[nodiscard]] bool takes(const std::vector<Cell>& cells) const
    {
        size_t common = 0;
        for (size_t c = 0; c < std::min(cells.size(), fields()); ++c)
            common += cells[c] == Cell::Number && numeric(c);
        for (size_t c = cells.size(); c < fields(); ++c)
            if (numbers[c] > 0)
                return false;
        for (size_t c = fields(); c < cells.size(); ++c)
            if (cells[c] == Cell::Number)
                return false;
        return common >= std::min<size_t>(2, numericColumns());
    }
    void add(const std::vector<Cell>& cells)
    {
        numbers.resize(std::max(fields(), cells.size()));
        words.resize(numbers.size());
        for (size_t c = 0; c < cells.size(); ++c) {
            numbers[c] += cells[c] == Cell::Number;
            words[c] += cells[c] == Cell::Word;
        }
        ++rows;
    }
};

/// The dialect under which most of the first lines are rows of figures, put into the layout, and that block of rows.
/// Where two readings of the marks fit alike, the whole text settles it, or nobody. `decimal`: settled by hand, or 0.
Block chooseDialect(std::string_view text, const std::vector<Line>& lines, char decimal, TextLayout& layout);

/// Names and units of the columns, from the lines above a block.
void readHeader(const std::vector<Line>& lines, const Block& block, TextLayout& layout);

/// A text without blanks and quotes at its ends.
std::string trimmedText(std::string_view text);

} // namespace fortitor
