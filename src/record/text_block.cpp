// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/text_block.h"

#include "units/quantity.h"

#include <algorithm>

namespace fortitor {
namespace {

constexpr size_t linesLookedAt = 400;

/// A figure without marks but its decimal one, as most cells are: told at a glance.
bool isPlainFigure(std::string_view text, char decimal)
{
    size_t at = !text.empty() && (text.front() == '-' || text.front() == '+') ? 1 : 0;
    size_t digits = 0;
    bool marked = false;
    for (; at < text.size(); ++at) {
        if (text[at] >= '0' && text[at] <= '9')
            ++digits;
        else if (text[at] == decimal && !marked && digits > 0)
            marked = true;
        else
            return false;
    }
    return digits > 0 && text.back() != decimal;
}

/// Whether a quote that opens a field is not closed on this line. An inch mark opens none.
bool quoteLeftOpen(std::string_view text)
{
    bool open = false;
    for (size_t i = 0; i < text.size(); ++i) {
        if (text[i] != '"')
            continue;
        const size_t before = i == 0 ? std::string_view::npos : text.find_last_not_of(' ', i - 1);
        if (open)
            open = false;
        else if (i == 0 || before == std::string_view::npos || text[before] == ',' || text[before] == ';'
                 || text[before] == '\t')
            open = true;
    }
    return open;
}

Block longestBlock(const std::vector<Line>& lines, char delimiter, Marks marks)
{
    Block best;
    Block now;
    const auto close = [&] {
        if (now.score() > best.score())
            best = now;
        now = Block{};
    };
    for (size_t i = 0; i < lines.size(); ++i) {
        const auto fields = fieldsOf(lines[i].text, delimiter);
        if (fields.empty())
            continue; // a blank line ends nothing by itself
        std::vector<Cell> cells;
        size_t numbers = 0;
        size_t blanks = 0;
        for (const std::string& field : fields) {
            cells.push_back(cellOf(field, marks));
            numbers += cells.back() == Cell::Number;
            blanks += cells.back() == Cell::Blank;
        }
        const bool data = numbers >= 2 || (numbers == 1 && numbers + blanks == fields.size() && now.rows > 0);
        if (!data || (now.rows > 0 && !now.takes(cells)))
            close();
        if (!data)
            continue;
        if (now.rows == 0)
            now.first = i;
        now.add(cells);
    }
    close();
    return best;
}

/// What the cells of a file say of a mark that may be the decimal or stand between groups of three digits.
class MarkEvidence {
public:
    explicit MarkEvidence(char mark) : mark_(mark) { }

    void add(size_t column, std::string_view cell)
    {
        if (!cell.empty() && (cell.front() == '+' || cell.front() == '-'))
            cell.remove_prefix(1);
        if (cell.empty() || cell.find_first_not_of(std::string("0123456789") + mark_) != std::string_view::npos)
            return;
        if (column >= columns_.size())
            columns_.resize(column + 1);
        Column& c = columns_[column];
        const size_t at = cell.find(mark_);
        if (at == std::string_view::npos) {
            c.longPlain += cell.size() > 3;
            c.shortPlain += cell.size() <= 3 && cell != "0";
            return;
        }
        std::string plain;
        if (cell.front() == '0' || !withoutGroups(cell, {mark_ == '.' ? ',' : '.', mark_}, plain))
            decimal_ = true;
        else if (cell.find(mark_, at + 1) != std::string_view::npos)
            group_ = true;
        if (example_.empty())
            example_ = cell;
        ++c.marked;
    }
    enum class Verdict { Decimal, Group, Open };
    [[nodiscard]] Verdict verdict() const
    {
        // Of some thirty figures with three decimals each, three would have lost a nought at the end.
        constexpr size_t enough = 25;
        const bool loose =
            std::ranges::any_of(columns_, [](const Column& c) { return c.marked > 0 && c.longPlain > 0; });
        if (decimal_ || loose)
            return Verdict::Decimal;
        const bool mixed =
            std::ranges::any_of(columns_, [](const Column& c) { return c.marked >= enough && c.shortPlain >= 3; });
        return group_ || mixed ? Verdict::Group : Verdict::Open;
    }
    [[nodiscard]] bool seen() const { return !example_.empty(); }
    [[nodiscard]] const std::string& example() const { return example_; }

private:
    struct Column {
        size_t marked = 0, shortPlain = 0, longPlain = 0;
    };
    char mark_;
    bool decimal_ = false;
    bool group_ = false;
    std::string example_;
    std::vector<Column> columns_;
};

/// Looks through the whole text: one cell may settle it.
MarkEvidence evidenceOf(std::string_view text, char delimiter, char mark, const Block& block)
{
    MarkEvidence evidence(mark);
    for (size_t at = 0; at < text.size();) {
        const size_t end = std::min(text.find('\n', at), text.size());
        const auto fields = fieldsOf(text.substr(at, end - at), delimiter);
        for (size_t c = 0; c < std::min(fields.size(), block.fields()); ++c)
            if (block.numeric(c))
                evidence.add(c, fields[c]);
        at = end + 1;
    }
    return evidence;
}
struct Dialect {
    char delimiter = ',';
    Marks marks;
};

} // namespace

Cell cellOf(std::string_view text, Marks marks)
{
    if (isPlainFigure(text, marks.decimal))
        return Cell::Number;
    if (isMissingMark(text) || isOverflowMark(text))
        return Cell::Blank;
    std::string plain;
    if (!withoutGroups(text, marks, plain))
        return Cell::Word;
    const char other = marks.decimal == '.' ? ',' : '.';
    if (plain.find(other) != std::string::npos || plain.find_first_of("/ ") != std::string::npos || plain.back() == ',')
        return Cell::Word;
    return parseNumber(plain) ? Cell::Number : Cell::Word;
}

std::vector<Line> firstLines(std::string_view text)
{
    constexpr size_t mostJoined = 6;
    std::vector<Line> lines;
    size_t number = 0;
    const auto pieceAt = [&](size_t& at) {
        const size_t end = std::min(text.find('\n', at), text.size());
        std::string_view piece = text.substr(at, end - at);
        if (piece.ends_with('\r'))
            piece.remove_suffix(1);
        at = end + 1;
        return std::string(piece.substr(0, longestTextLine + 1));
    };
    for (size_t at = 0; at < text.size() && lines.size() < linesLookedAt;) {
        Line line{pieceAt(at), ++number};
        if (quoteLeftOpen(line.text)) {
            std::string joined = line.text;
            size_t next = at;
            for (size_t more = 1; more < mostJoined && next < text.size(); ++more) {
                joined += ' ' + pieceAt(next);
                if (quoteLeftOpen(joined))
                    continue;
                line.text = std::move(joined);
                at = next;
                number += more;
                break;
            }
        }
        lines.push_back(std::move(line));
    }
    return lines;
}

std::vector<std::string> fieldsOf(std::string_view line, char delimiter)
{
    auto fields = splitFields(line, delimiter);
    while (!fields.empty() && fields.back().empty())
        fields.pop_back();
    return fields;
}

Block chooseDialect(std::string_view text, const std::vector<Line>& lines, char decimal, TextLayout& layout)
{
    Block best;
    const auto share = [&](char c) {
        return std::ranges::count_if(lines, [&](const Line& line) { return line.text.find(c) != std::string::npos; });
    };
    const bool quoted = share('"') > 0;
    const bool commas = share(',') > 0;
    const bool points = share('.') > 0;
    for (const Dialect d :
         {Dialect{'\t', {'.', 0}}, Dialect{';', {'.', 0}}, Dialect{',', {'.', 0}}, Dialect{'\t', {',', 0}},
          Dialect{';', {',', 0}}, Dialect{' ', {'.', 0}}, Dialect{' ', {',', 0}}, Dialect{',', {',', 0}},
          Dialect{'\t', {'.', ','}}, Dialect{';', {'.', ','}}, Dialect{' ', {'.', ','}}, Dialect{',', {'.', ','}},
          Dialect{'\t', {',', '.'}}, Dialect{';', {',', '.'}}, Dialect{' ', {',', '.'}}, Dialect{',', {',', '.'}}}) {
        if (decimal != 0 && d.marks.decimal != decimal)
            continue;
        // What does not occur in the lines need not be tried; a comma that parts the columns marks figures only in
        // quotes.
        const bool commaMarks = d.marks.decimal == ',' || d.marks.group == ',';
        if ((commaMarks && !commas) || (d.marks.group == '.' && !points)
            || (d.delimiter == ',' && commaMarks && !quoted) || share(d.delimiter) == 0)
            continue;
        const Block block = longestBlock(lines, d.delimiter, d.marks);
        if (block.score() > best.score()) {
            best = block;
            layout.delimiter = d.delimiter;
            layout.marks = d.marks;
        }
    }
    if (decimal != 0 || best.numericColumns() < 2 || layout.marks.group != 0)
        return best;
    // "12,345" may be twelve point three or twelve thousand, "12.345" too.
    const Marks grouped{layout.marks.decimal == '.' ? ',' : '.', layout.marks.decimal};
    const Block other = longestBlock(lines, layout.delimiter, grouped);
    if (other.score() < best.score())
        return best;
    const MarkEvidence evidence = evidenceOf(text, layout.delimiter, layout.marks.decimal, best);
    if (!evidence.seen() || evidence.verdict() == MarkEvidence::Verdict::Decimal)
        return best;
    if (evidence.verdict() == MarkEvidence::Verdict::Open) {
        layout.marksOpen = true;
        layout.marksExample = evidence.example();
        return best;
    }
    layout.marks = grouped;
    return other;
}

} // namespace fortitor
