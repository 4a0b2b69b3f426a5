// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/text_layout.h"

#include "record/text_encoding.h"

#include "record/record.h"
#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

namespace fortitor {
namespace {

constexpr size_t linesLookedAt = 400;
constexpr size_t longestLine = 100'000;

enum class Cell { Number, Blank, Word };

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

/// A line as a reader sees it: a header whose quotes run over several lines of the file is one.
struct Line {
    std::string text;
    size_t number = 0; ///< in the file, from 1
};

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
        else if (i == 0 || before == std::string_view::npos || text[before] == ',' || text[before] == ';' || text[before] == '\t')
            open = true;
    }
    return open;
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
        return std::string(piece.substr(0, longestLine + 1));
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

/// Fields of a line without the empty ones at its end.
std::vector<std::string> fieldsOf(std::string_view line, char delimiter)
{
    auto fields = splitFields(line, delimiter);
    while (!fields.empty() && fields.back().empty())
        fields.pop_back();
    return fields;
}

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
    explicit MarkEvidence(char mark) : mark_(mark) {}

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
        const bool loose = std::ranges::any_of(columns_, [](const Column& c) { return c.marked > 0 && c.longPlain > 0; });
        if (decimal_ || loose)
            return Verdict::Decimal;
        const bool mixed = std::ranges::any_of(columns_, [](const Column& c) { return c.marked >= enough && c.shortPlain >= 3; });
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

std::string trimmed(std::string_view text)
{
    const size_t first = text.find_first_not_of(" \t\"");
    if (first == std::string_view::npos)
        return {};
    return std::string(text.substr(first, text.find_last_not_of(" \t\"") - first + 1));
}

/// Takes a unit out of "Force (kN)", "Force [kN]", "Force/kN", "Force in kN", "Force, kN".
void splitHeader(std::string_view text, TextColumn& column)
{
    const std::string whole = trimmed(text);
    column.header = whole;
    if (findChannelName(whole))
        return;
    for (const auto& [open, close] : {std::pair{'(', ')'}, std::pair{'[', ']'}, std::pair{'<', '>'}}) {
        const size_t to = whole.rfind(close);
        const size_t from = whole.rfind(open);
        if (from != std::string::npos && to != std::string::npos && to > from) {
            column.unitText = trimmed(whole.substr(from + 1, to - from - 1));
            column.header = trimmed(whole.substr(0, from));
            return;
        }
    }
    for (const std::string_view mark : {"/", " in ", ",", " "}) {
        const size_t at = mark == "/" ? whole.find('/') : whole.rfind(mark);
        if (at == std::string::npos || at == 0)
            continue;
        const std::string tail = trimmed(whole.substr(at + mark.size()));
        const Unit* unit = findUnit(tail);
        if (tail.empty() || (!unit && mark != "/") || (unit && unit->symbol == "1"))
            continue;
        column.unitText = tail;
        column.header = trimmed(whole.substr(0, at));
        return;
    }
    // "Force_N": only where what stands before it is a channel.
    const size_t at = whole.rfind('_');
    if (at == std::string::npos || at == 0)
        return;
    std::string tail = trimmed(whole.substr(at + 1));
    if (tail == "pct" || tail == "percent")
        tail = "%";
    const Unit* unit = findUnit(tail);
    if (unit && !channelFromHeader(whole.substr(0, at), unit).empty() && channelFromHeader(whole, nullptr).empty()) {
        column.unitText = tail;
        column.header = trimmed(whole.substr(0, at));
    }
}

void understand(TextColumn& column)
{
    column.channel = channelFromHeader(column.header, findUnit(column.unitText));
    const ChannelName* name = findChannelName(column.channel);
    if (!name)
        return;
    const Unit* unit = findUnit(column.unitText, name->kind);
    if (unit && unit->kind == name->kind)
        column.unit = unit;
}

bool looksLikeUnits(const std::vector<std::string>& fields)
{
    size_t units = 0;
    for (const std::string& field : fields) {
        std::string text = trimmed(field);
        if (text.size() > 2 && (text.front() == '(' || text.front() == '['))
            text = text.substr(1, text.size() - 2);
        if (text.empty())
            continue;
        if (!findUnit(text) && text != "-")
            return false;
        ++units;
    }
    return units > 0;
}

/// Where the figures of a row stand: first character, and one past the last.
std::vector<std::pair<size_t, size_t>> spansOf(std::string_view row)
{
    std::vector<std::pair<size_t, size_t>> spans;
    for (size_t at = 0; at < row.size();) {
        const size_t begin = row.find_first_not_of(" \t", at);
        if (begin == std::string_view::npos)
            break;
        at = std::min(row.find_first_of(" \t", begin), row.size());
        spans.emplace_back(begin, at);
    }
    return spans;
}

/// Words over columns of a fixed width belong to the column in whose cell their middle lies: cells end where the
/// figures end, or begin where they begin, whichever is the same in all rows.
std::vector<std::string> byPlace(std::string_view header, const std::vector<std::string>& rows, size_t wanted)
{
    const auto first = rows.empty() ? std::vector<std::pair<size_t, size_t>>() : spansOf(rows.front());
    if (first.size() != wanted)
        return {};
    bool right = true;
    for (const std::string& row : rows) {
        const auto spans = spansOf(row);
        for (size_t c = 0; c < std::min(wanted, spans.size()); ++c)
            right = right && spans[c].second == first[c].second;
    }
    std::vector<std::string> fields(wanted);
    for (const auto& [begin, end] : spansOf(header)) {
        const size_t middle = (begin + end) / 2;
        size_t cell = right ? 0 : wanted - 1;
        while (right ? cell + 1 < wanted && middle >= first[cell].second : cell > 0 && middle < first[cell].first)
            cell = right ? cell + 1 : cell - 1;
        fields[cell] += (fields[cell].empty() ? "" : " ") + std::string(header.substr(begin, end - begin));
    }
    return std::ranges::all_of(fields, [](const std::string& f) { return !f.empty(); }) ? fields : std::vector<std::string>();
}

/// Words parted by two blanks or more.
std::vector<std::string> byWideBlanks(std::string_view header)
{
    std::vector<std::string> fields;
    for (size_t at = 0; at < header.size();) {
        const size_t begin = header.find_first_not_of(" \t", at);
        if (begin == std::string_view::npos)
            break;
        const size_t end = std::min(header.find("  ", begin), header.size());
        fields.push_back(trimmed(header.substr(begin, end - begin)));
        at = end;
    }
    return fields;
}

std::vector<std::string> headerFields(std::string_view line, char delimiter, const std::vector<std::string>& rows, size_t wanted)
{
    auto fields = splitFields(line, delimiter);
    while (fields.size() > wanted && fields.back().empty())
        fields.pop_back();
    if (delimiter != ' ' || fields.size() == wanted)
        return fields;
    // Blank-separated numbers often stand under a header separated otherwise, or by their places.
    for (const char other : {'\t', ';', ','})
        if (auto again = splitFields(line, other); again.size() == wanted)
            return again;
    if (auto again = byWideBlanks(line); again.size() == wanted)
        return again;
    auto placed = byPlace(line, rows, wanted);
    return placed.size() == wanted ? placed : fields;
}

std::string unitCell(std::string_view cell)
{
    std::string text = trimmed(cell);
    if (text.size() > 2 && (text.front() == '(' || text.front() == '[') && (text.back() == ')' || text.back() == ']'))
        text = trimmed(text.substr(1, text.size() - 2));
    return text == "-" ? std::string() : text;
}

void readHeader(const std::vector<Line>& lines, const Block& block, TextLayout& layout)
{
    const bool latin = layout.encoding == "Latin-1";
    const size_t wanted = block.fields();
    std::vector<std::string> units;
    size_t at = block.first;
    // Blank lines and rules may stand between the header and the numbers.
    const auto above = [&]() -> bool {
        while (at > 0) {
            --at;
            if (lines[at].text.find_first_not_of(" \t-=;,") != std::string::npos)
                return true;
        }
        return false;
    };
    if (!above())
        return;
    const auto decoded = [&](size_t i) { return latin ? latin1ToUtf8(lines[i].text) : lines[i].text; };
    std::vector<std::string> rows;
    for (size_t i = block.first; i < std::min(lines.size(), block.first + 10); ++i)
        if (!lines[i].text.empty())
            rows.push_back(lines[i].text);
    const auto fits = [&](const std::vector<std::string>& fields) { return fields.size() == wanted || (fields.size() < wanted && !fields.empty() && std::ranges::none_of(block.numbers.begin() + static_cast<std::ptrdiff_t>(fields.size()), block.numbers.end(), [](size_t n) { return n > 0; })); };
    auto fields = headerFields(decoded(at), layout.delimiter, rows, wanted);
    if (fits(fields) && looksLikeUnits(fields)) {
        layout.unitsLine = lines[at].number;
        units = fields;
        if (!above())
            fields.clear();
        else
            fields = headerFields(decoded(at), layout.delimiter, rows, wanted);
    }
    const bool named = fits(fields);
    if (named)
        layout.headerLine = lines[at].number;
    for (size_t i = 0; i < wanted; ++i) {
        TextColumn& column = layout.columns[i];
        if (named && i < fields.size())
            splitHeader(fields[i], column);
        if (const std::string unit = i < units.size() ? unitCell(units[i]) : std::string(); !unit.empty()) {
            const Unit* inHeader = findUnit(column.unitText);
            const Unit* inRow = findUnit(unit);
            if (inHeader && inRow && (inHeader->kind != inRow->kind || inHeader->factor != inRow->factor))
                column.otherUnit = unit;
            else
                column.unitText = unit;
        }
        understand(column);
        if (!column.otherUnit.empty())
            column.unit = nullptr;
    }
}

/// A channel that several columns claim belongs to none of them before a person says so.
void settleClaims(TextLayout& layout)
{
    std::map<std::string, std::vector<size_t>> claims;
    for (size_t i = 0; i < layout.columns.size(); ++i)
        if (!layout.columns[i].channel.empty() && layout.columns[i].numeric)
            claims[layout.columns[i].channel].push_back(i);
    for (auto& [channel, columns] : claims) {
        if (columns.size() < 2)
            continue;
        for (const size_t i : columns) {
            layout.columns[i].channel.clear();
            layout.columns[i].unit = nullptr;
        }
        layout.claims[channel] = columns;
    }
}

struct Dialect {
    char delimiter = ',';
    Marks marks;
};

/// The dialect under which most of the first lines are rows of figures. Where two readings of the marks fit alike, the
/// whole text settles it, or nobody.
Block chooseDialect(std::string_view text, const std::vector<Line>& lines, char decimal, TextLayout& layout)
{
    Block best;
    const auto share = [&](char c) { return std::ranges::count_if(lines, [&](const Line& line) { return line.text.find(c) != std::string::npos; }); };
    const bool quoted = share('"') > 0;
    const bool commas = share(',') > 0;
    const bool points = share('.') > 0;
    for (const Dialect d : {Dialect{'\t', {'.', 0}}, Dialect{';', {'.', 0}}, Dialect{',', {'.', 0}}, Dialect{'\t', {',', 0}}, Dialect{';', {',', 0}},
                            Dialect{' ', {'.', 0}}, Dialect{' ', {',', 0}}, Dialect{',', {',', 0}}, Dialect{'\t', {'.', ','}}, Dialect{';', {'.', ','}},
                            Dialect{' ', {'.', ','}}, Dialect{',', {'.', ','}}, Dialect{'\t', {',', '.'}}, Dialect{';', {',', '.'}}, Dialect{' ', {',', '.'}}, Dialect{',', {',', '.'}}}) {
        if (decimal != 0 && d.marks.decimal != decimal)
            continue;
        // What does not occur in the lines need not be tried; a comma that parts the columns marks figures only in quotes.
        const bool commaMarks = d.marks.decimal == ',' || d.marks.group == ',';
        if ((commaMarks && !commas) || (d.marks.group == '.' && !points) || (d.delimiter == ',' && commaMarks && !quoted) || share(d.delimiter) == 0)
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

} // namespace

std::vector<std::string> splitFields(std::string_view line, char delimiter)
{
    std::vector<std::string> fields;
    const auto isEnd = [&](char c) { return delimiter == ' ' ? c == ' ' || c == '\t' : c == delimiter; };
    size_t at = 0;
    while (at <= line.size()) {
        if (delimiter == ' ')
            while (at < line.size() && isEnd(line[at]))
                ++at;
        if (delimiter == ' ' && at >= line.size())
            break;
        size_t lead = at;
        while (lead < line.size() && (line[lead] == ' ' || (line[lead] == '\t' && delimiter != '\t')))
            ++lead;
        size_t end = at;
        if (lead < line.size() && line[lead] == '"') {
            end = std::min(line.find('"', lead + 1), line.size());
            while (end < line.size() && !isEnd(line[end]))
                ++end;
        } else {
            while (end < line.size() && !isEnd(line[end]))
                ++end;
        }
        fields.push_back(trimmed(line.substr(at, end - at)));
        at = end + 1;
    }
    return fields;
}

Expected<TextLayout> recogniseLayout(std::string_view text, char decimal)
{
    const auto lines = firstLines(text);
    for (const Line& line : lines)
        if (line.text.size() > longestLine)
            return Problem{"line " + std::to_string(line.number), "a line of over a hundred thousand characters", "lines of numbers", "The file may be damaged, or hold all values in one line. Export it with one reading a line."};
    TextLayout layout;
    const Block best = chooseDialect(text, lines, decimal, layout);
    if (best.numericColumns() < 2)
        return Problem{"first " + std::to_string(lines.size()) + " lines", "no two columns of numbers",
                       "readings in columns separated by comma, semicolon, tab or blanks", "Is this the record, and not a report about it?"};
    layout.encoding = isUtf8(text.substr(0, std::min(text.size(), size_t{65536}))) ? "UTF-8" : "Latin-1";
    layout.firstDataLine = lines[best.first].number;
    layout.columns.resize(best.fields());
    for (size_t i = 0; i < best.fields(); ++i)
        layout.columns[i].numeric = best.numeric(i);
    readHeader(lines, best, layout);
    settleClaims(layout);
    const size_t header = std::max(layout.headerLine, layout.unitsLine);
    for (size_t i = 0; i < best.first; ++i) {
        const auto fields = fieldsOf(lines[i].text, layout.delimiter);
        if (lines[i].number > header && std::ranges::count_if(fields, [&](const std::string& f) { return cellOf(f, layout.marks) == Cell::Number; }) >= 2)
            ++layout.passedOver;
    }
    for (size_t i = best.first; i < lines.size() && layout.preview.size() < 12; ++i)
        if (auto fields = splitFields(lines[i].text, layout.delimiter); fields.size() > 1)
            layout.preview.push_back(std::move(fields));
    return layout;
}

std::optional<Problem> openQuestion(const TextLayout& layout)
{
    if (layout.marksOpen)
        return Problem{{}, fmt::format("figures such as {}, which may be {} or {}", shownText(layout.marksExample), layout.marks.decimal == ',' ? "a decimal comma" : "a decimal point", "groups of three digits"),
                       "a file that tells which, or the decimal mark settled by hand", "Settle it (record.decimal \",\" or \".\", or the import page)."};
    for (const auto& [channel, columns] : layout.claims) {
        std::string list;
        for (const size_t i : columns)
            list += fmt::format("{}column {} \"{}\"", list.empty() ? "" : ", ", i + 1, shownText(layout.columns[i].header));
        return Problem{{}, fmt::format("{} columns that may be {}: {}", columns.size(), channel, list), "one column for " + channel, "Say which it is (record.columns, or the import page); a second extensometer is extension_2."};
    }
    for (size_t i = 0; i < layout.columns.size(); ++i) {
        const TextColumn& c = layout.columns[i];
        if (!c.otherUnit.empty() && !c.channel.empty())
            return Problem{fmt::format("column {} \"{}\"", i + 1, shownText(c.header)), fmt::format("{} in its header and {} in the row of units", shownText(c.unitText), shownText(c.otherUnit)), "one unit", "Settle it by hand (record.columns, or the import page)."};
    }
    return std::nullopt;
}

Expected<Done> applyChoices(TextLayout& layout, const ColumnChoices& choices)
{
    for (const auto& [channel, choice] : choices) {
        const ChannelName* name = findChannelName(channel);
        if (!name)
            return Problem{"columns." + channel, '"' + channel + '"', "a channel of the exchange format such as force, extension, displacement", {}};
        size_t index = choice.column;
        if (index == 0)
            for (size_t i = 0; i < layout.columns.size() && index == 0; ++i)
                if (layout.columns[i].header == choice.header || layout.columns[i].header + " (" + layout.columns[i].unitText + ")" == choice.header)
                    index = i + 1;
        if (index == 0 || index > layout.columns.size())
            return Problem{"columns." + channel, choice.column ? "column " + std::to_string(choice.column) : '"' + choice.header + '"',
                           "one of: " + describeColumns(layout), {}};
        for (TextColumn& column : layout.columns)
            if (column.channel == channel)
                column.channel.clear();
        TextColumn& column = layout.columns[index - 1];
        column.channel = channel;
        layout.claims.erase(channel);
        if (!choice.unit.empty())
            column.otherUnit.clear();
        const std::string spelling = choice.unit.empty() ? column.unitText : choice.unit;
        const Unit* unit = findUnit(spelling, name->kind);
        if (!choice.unit.empty() && (!unit || unit->kind != name->kind))
            return Problem{"columns." + channel, (unit ? std::string(kindName(unit->kind)) + " unit \"" : "unknown unit \"") + choice.unit + '"',
                           "a " + std::string(kindName(name->kind)) + " unit: " + listUnits(name->kind), {}};
        column.unit = unit && unit->kind == name->kind ? unit : nullptr;
        if (!choice.unit.empty())
            column.unitText = choice.unit;
    }
    return Done{};
}

std::string describeColumns(const TextLayout& layout)
{
    constexpr size_t most = 20;
    std::string out;
    for (size_t i = 0; i < std::min(layout.columns.size(), most); ++i) {
        const TextColumn& column = layout.columns[i];
        out += fmt::format("{}column {} {} {}", i ? ", " : "", i + 1, column.header.empty() ? "without a name" : '"' + shownText(column.header, 40) + '"',
                           column.unitText.empty() ? "(no unit)" : "(" + shownText(column.unitText, 20) + ")");
    }
    if (layout.columns.size() > most)
        out += fmt::format(", and {} more", layout.columns.size() - most);
    return out;
}

} // namespace fortitor
