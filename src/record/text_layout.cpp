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

bool isMissingMark(std::string_view text)
{
    return text.empty() || text == "-" || text == "--" || text == "NaN" || text == "nan" || text == "n/a" || text == "NA";
}

Cell cellOf(std::string_view text, char decimal)
{
    if (isMissingMark(text))
        return Cell::Blank;
    const char other = decimal == '.' ? ',' : '.';
    if (text.find(other) != std::string_view::npos || text.find_first_of("/ ") != std::string_view::npos || text.back() == ',')
        return Cell::Word;
    return parseNumber(text) ? Cell::Number : Cell::Word;
}

std::vector<std::string_view> firstLines(std::string_view text)
{
    std::vector<std::string_view> lines;
    for (size_t at = 0; at < text.size() && lines.size() < linesLookedAt;) {
        const size_t end = std::min(text.find('\n', at), text.size());
        std::string_view line = text.substr(at, end - at);
        if (line.ends_with('\r'))
            line.remove_suffix(1);
        lines.push_back(line.substr(0, longestLine));
        at = end + 1;
    }
    return lines;
}

/// A run of data lines of one shape.
struct Block {
    size_t first = 0; ///< from 0
    size_t rows = 0;
    size_t fields = 0;
    size_t numbers = 0;
    std::vector<bool> numeric;
};

Block longestBlock(const std::vector<std::string_view>& lines, char delimiter, char decimal)
{
    Block best;
    Block now;
    const auto close = [&] {
        if (now.rows * now.numbers > best.rows * best.numbers)
            best = now;
        now = Block{};
    };
    for (size_t i = 0; i < lines.size(); ++i) {
        auto fields = splitFields(lines[i], delimiter);
        if (fields.size() > 1 && fields.back().empty())
            fields.pop_back();
        std::vector<bool> numeric;
        size_t numbers = 0;
        size_t blanks = 0;
        for (const std::string& field : fields) {
            const Cell cell = cellOf(field, decimal);
            numeric.push_back(cell != Cell::Word);
            numbers += cell == Cell::Number;
            blanks += cell == Cell::Blank;
        }
        const bool data = numbers >= 2 || (numbers == 1 && numbers + blanks == fields.size() && now.rows > 0);
        if (!data || (now.rows > 0 && (fields.size() != now.fields || numeric != now.numeric)))
            close();
        if (!data)
            continue;
        if (now.rows == 0)
            now = Block{i, 0, fields.size(), numbers, numeric};
        ++now.rows;
    }
    close();
    return best;
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

std::vector<std::string> headerFields(std::string_view line, char delimiter, size_t wanted)
{
    auto fields = splitFields(line, delimiter);
    if (fields.size() == wanted + 1 && fields.back().empty())
        fields.pop_back();
    // Blank-separated numbers often stand under a header separated by tabs or by double blanks.
    if (fields.size() != wanted && delimiter == ' ')
        for (const char other : {'\t', ';', ','})
            if (auto again = splitFields(line, other); again.size() == wanted)
                return again;
    return fields;
}

void readHeader(const std::vector<std::string_view>& lines, const Block& block, TextLayout& layout)
{
    const bool latin = layout.encoding == "Latin-1";
    std::vector<std::string> units;
    size_t at = block.first;
    // Blank lines and rules may stand between the header and the numbers.
    const auto above = [&]() -> bool {
        while (at > 0) {
            --at;
            if (lines[at].find_first_not_of(" \t-=;,") != std::string_view::npos)
                return true;
        }
        return false;
    };
    if (!above())
        return;
    const auto decoded = [&](size_t i) { return latin ? latin1ToUtf8(lines[i]) : std::string(lines[i]); };
    auto fields = headerFields(decoded(at), layout.delimiter, block.fields);
    if (fields.size() == block.fields && looksLikeUnits(fields)) {
        layout.unitsLine = at + 1;
        units = fields;
        if (!above())
            fields.clear();
        else
            fields = headerFields(decoded(at), layout.delimiter, block.fields);
    }
    const bool named = fields.size() == block.fields;
    if (named)
        layout.headerLine = at + 1;
    for (size_t i = 0; i < block.fields; ++i) {
        if (named)
            splitHeader(fields[i], layout.columns[i]);
        if (!units.empty()) {
            std::string text = trimmed(units[i]);
            if (text.size() > 2 && (text.front() == '(' || text.front() == '['))
                text = text.substr(1, text.size() - 2);
            layout.columns[i].unitText = text;
        }
        understand(layout.columns[i]);
    }
}

/// Of two columns that claim one channel the first keeps it.
void dropSecondClaims(TextLayout& layout)
{
    for (size_t i = 0; i < layout.columns.size(); ++i)
        for (size_t k = 0; k < i; ++k)
            if (!layout.columns[i].channel.empty() && layout.columns[i].channel == layout.columns[k].channel) {
                layout.columns[i].channel.clear();
                layout.columns[i].unit = nullptr;
            }
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

Expected<TextLayout> recogniseLayout(std::string_view text)
{
    const size_t firstEnd = std::min(text.find('\n'), text.size());
    const auto tooLong = [](size_t line) { return Problem{"line " + std::to_string(line), "a line of over a hundred thousand characters", "lines of numbers", "The file may be damaged, or hold all values in one line. Export it with one reading a line."}; };
    if (firstEnd > longestLine)
        return tooLong(1);
    const auto lines = firstLines(text);
    for (size_t i = 0; i < lines.size(); ++i)
        if (lines[i].size() > longestLine)
            return tooLong(i + 1);
    TextLayout layout;
    Block best;
    bool commaGroups = false;
    struct Dialect {
        char delimiter;
        char decimal;
    };
    for (const Dialect d : {Dialect{'\t', '.'}, Dialect{';', '.'}, Dialect{',', '.'}, Dialect{'\t', ','},
                            Dialect{';', ','}, Dialect{' ', '.'}, Dialect{' ', ','}, Dialect{',', ','}}) {
        const Block block = longestBlock(lines, d.delimiter, d.decimal);
        if (block.rows * block.numbers > best.rows * best.numbers) {
            best = block;
            layout.delimiter = d.delimiter;
            layout.decimal = d.decimal;
        }
    }
    if (best.numbers < 2) {
        for (const std::string_view line : lines)
            commaGroups = commaGroups || (line.find(',') != std::string_view::npos && line.find('.') != std::string_view::npos);
        return Problem{"first " + std::to_string(lines.size()) + " lines", "no two columns of numbers",
                       "readings in columns separated by comma, semicolon, tab or blanks",
                       commaGroups ? "Numbers with grouping marks (1,234.5) are not read; export without them." : "Is this the record, and not a report about it?"};
    }
    layout.encoding = isUtf8(text.substr(0, std::min(text.size(), size_t{65536}))) ? "UTF-8" : "Latin-1";
    layout.firstDataLine = best.first + 1;
    layout.columns.resize(best.fields);
    for (size_t i = 0; i < best.fields; ++i)
        layout.columns[i].numeric = best.numeric[i];
    readHeader(lines, best, layout);
    dropSecondClaims(layout);
    for (size_t i = best.first; i < best.first + std::min(best.rows, size_t{12}); ++i)
        layout.preview.push_back(splitFields(lines[i], layout.delimiter));
    return layout;
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
    std::string out;
    for (size_t i = 0; i < layout.columns.size(); ++i) {
        const TextColumn& column = layout.columns[i];
        out += fmt::format("{}column {} \"{}\" {}", i ? ", " : "", i + 1, column.header,
                           column.unitText.empty() ? "(no unit)" : "(" + column.unitText + ")");
    }
    return out;
}

} // namespace fortitor
