// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/text_layout.h"

#include "record/record.h"
#include "record/text_block.h"
#include "record/text_encoding.h"

#include <fmt/format.h>

#include <algorithm>

namespace fortitor {
namespace {

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
        fields.push_back(trimmedText(line.substr(at, end - at)));
        at = end + 1;
    }
    return fields;
}
Expected<TextLayout> recogniseLayout(std::string_view text, char decimal)
{
    const auto lines = firstLines(text);
    for (const Line& line : lines)
        if (line.text.size() > longestTextLine)
            return Problem{
                "line " + std::to_string(line.number), "a line of over a hundred thousand characters",
                "lines of numbers",
                "The file may be damaged, or hold all values in one line. Export it with one reading a line."};
    TextLayout layout;
    const Block best = chooseDialect(text, lines, decimal, layout);
    if (best.numericColumns() < 2)
        return Problem{"first " + std::to_string(lines.size()) + " lines", "no two columns of numbers",
                       "readings in columns separated by comma, semicolon, tab or blanks",
                       "Is this the record, and not a report about it?"};
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
        if (lines[i].number > header
            && std::ranges::count_if(fields,
                                     [&](const std::string& f) { return cellOf(f, layout.marks) == Cell::Number; })
                >= 2)
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
        return Problem{{},
                       fmt::format("figures such as {}, which may be {} or {}", shownText(layout.marksExample),
                                   layout.marks.decimal == ',' ? "a decimal comma" : "a decimal point",
                                   "groups of three digits"),
                       "a file that tells which, or the decimal mark settled by hand",
                       "Settle it (record.decimal \",\" or \".\", or the import page)."};
    for (const auto& [channel, columns] : layout.claims) {
        std::string list;
        for (const size_t i : columns)
            list +=
                fmt::format("{}column {} \"{}\"", list.empty() ? "" : ", ", i + 1, shownText(layout.columns[i].header));
        return Problem{{},
                       fmt::format("{} columns that may be {}: {}", columns.size(), channel, list),
                       "one column for " + channel,
                       "Say which it is (record.columns, or the import page); a second extensometer is extension_2."};
    }
    for (size_t i = 0; i < layout.columns.size(); ++i) {
        const TextColumn& c = layout.columns[i];
        if (!c.otherUnit.empty() && !c.channel.empty())
            return Problem{fmt::format("column {} \"{}\"", i + 1, shownText(c.header)),
                           fmt::format("{} in its header and {} in the row of units", shownText(c.unitText),
                                       shownText(c.otherUnit)),
                           "one unit", "Settle it by hand (record.columns, or the import page)."};
    }
    return std::nullopt;
}

Expected<Done> applyChoices(TextLayout& layout, const ColumnChoices& choices)
{
    for (const auto& [channel, choice] : choices) {
        const ChannelName* name = findChannelName(channel);
        if (!name)
            return Problem{"columns." + channel,
                           '"' + channel + '"',
                           "a channel of the exchange format such as force, extension, displacement",
                           {}};
        size_t index = choice.column;
        if (index == 0)
            for (size_t i = 0; i < layout.columns.size() && index == 0; ++i)
                if (layout.columns[i].header == choice.header
                    || layout.columns[i].header + " (" + layout.columns[i].unitText + ")" == choice.header)
                    index = i + 1;
        if (index == 0 || index > layout.columns.size())
            return Problem{"columns." + channel,
                           choice.column ? "column " + std::to_string(choice.column) : '"' + choice.header + '"',
                           "one of: " + describeColumns(layout),
                           {}};
        for (TextColumn& column : layout.columns)
            if (column.channel == channel)
                column.channel.clear();
        TextColumn& column = layout.columns[index - 1];
        column.channel = channel;
        layout.claims.erase(channel);
        if (!choice.unit.empty())
            column.otherUnit.clear();
        const std::string spelling = choice.unit.empty() ? column.unitText : choice.unit;
        const bool count = name->kind == Kind::Number && spelling.empty();
        const Unit* unit = count ? &baseUnit(Kind::Number) : findUnit(spelling, name->kind);
        if (!choice.unit.empty() && (!unit || unit->kind != name->kind))
            return Problem{"columns." + channel,
                           (unit ? std::string(kindName(unit->kind)) + " unit \"" : "unknown unit \"") + choice.unit
                               + '"',
                           "a " + std::string(kindName(name->kind)) + " unit: " + listUnits(name->kind),
                           {}};
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
        out += fmt::format("{}column {} {} {}", i ? ", " : "", i + 1,
                           column.header.empty() ? "without a name" : '"' + shownText(column.header, 40) + '"',
                           column.unitText.empty() ? "(no unit)" : "(" + shownText(column.unitText, 20) + ")");
    }
    if (layout.columns.size() > most)
        out += fmt::format(", and {} more", layout.columns.size() - most);
    return out;
}

} // namespace fortitor
