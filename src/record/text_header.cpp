// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/record.h"
#include "record/text_block.h"
#include "record/text_encoding.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// Takes a unit out of "Force (kN)", "Force [kN]", "Force/kN", "Force in kN", "Force, kN".
void splitHeader(std::string_view text, TextColumn& column)
{
    const std::string whole = trimmedText(text);
    column.header = whole;
    if (findChannelName(whole))
        return;
    for (const auto& [open, close] : {std::pair{'(', ')'}, std::pair{'[', ']'}, std::pair{'<', '>'}}) {
        const size_t to = whole.rfind(close);
        const size_t from = whole.rfind(open);
        if (from != std::string::npos && to != std::string::npos && to > from) {
            column.unitText = trimmedText(whole.substr(from + 1, to - from - 1));
            column.header = trimmedText(whole.substr(0, from));
            return;
        }
    }
    for (const std::string_view mark : {"/", " in ", ",", " "}) {
        const size_t at = mark == "/" ? whole.find('/') : whole.rfind(mark);
        if (at == std::string::npos || at == 0)
            continue;
        const std::string tail = trimmedText(whole.substr(at + mark.size()));
        const Unit* unit = findUnit(tail);
        if (tail.empty() || (!unit && mark != "/") || (unit && unit->symbol == "1"))
            continue;
        column.unitText = tail;
        column.header = trimmedText(whole.substr(0, at));
        return;
    }
    // "Force_N": only where what stands before it is a channel.
    const size_t at = whole.rfind('_');
    if (at == std::string::npos || at == 0)
        return;
    std::string tail = trimmedText(whole.substr(at + 1));
    if (tail == "pct" || tail == "percent")
        tail = "%";
    const Unit* unit = findUnit(tail);
    if (unit && !channelFromHeader(whole.substr(0, at), unit).empty() && channelFromHeader(whole, nullptr).empty()) {
        column.unitText = tail;
        column.header = trimmedText(whole.substr(0, at));
    }
}

void understand(TextColumn& column)
{
    column.channel = channelFromHeader(column.header, findUnit(column.unitText));
    const ChannelName* name = findChannelName(column.channel);
    if (!name)
        return;
    // A count has no unit to be named.
    const bool count = name->kind == Kind::Number && column.unitText.empty();
    const Unit* unit = count ? &baseUnit(Kind::Number) : findUnit(column.unitText, name->kind);
    if (unit && unit->kind == name->kind)
        column.unit = unit;
}

bool looksLikeUnits(const std::vector<std::string>& fields)
{
    size_t units = 0;
    for (const std::string& field : fields) {
        std::string text = trimmedText(field);
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
    return std::ranges::all_of(fields, [](const std::string& f) { return !f.empty(); }) ? fields
                                                                                        : std::vector<std::string>();
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
        fields.push_back(trimmedText(header.substr(begin, end - begin)));
        at = end;
    }
    return fields;
}

std::vector<std::string> headerFields(std::string_view line, char delimiter, const std::vector<std::string>& rows,
                                      size_t wanted)
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
    std::string text = trimmedText(cell);
    if (text.size() > 2 && (text.front() == '(' || text.front() == '[') && (text.back() == ')' || text.back() == ']'))
        text = trimmedText(text.substr(1, text.size() - 2));
    return text == "-" ? std::string() : text;
}

} // namespace

std::string trimmedText(std::string_view text)
{
    const size_t first = text.find_first_not_of(" \t\"");
    if (first == std::string_view::npos)
        return {};
    return std::string(text.substr(first, text.find_last_not_of(" \t\"") - first + 1));
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
    const auto fits = [&](const std::vector<std::string>& fields) {
        return fields.size() == wanted
            || (fields.size() < wanted && !fields.empty()
                && std::ranges::none_of(block.numbers.begin() + static_cast<std::ptrdiff_t>(fields.size()),
                                        block.numbers.end(), [](size_t n) { return n > 0; }));
    };
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

} // namespace fortitor
