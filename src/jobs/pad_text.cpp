// SPDX-License-Identifier: GPL-3.0-or-later
// A table of readings pasted or imported as text.
#include "jobs/pad.h"

#include "curve/step_doubt.h"
#include "methods/common/stress_strain.h"
#include "record/text_layout.h"
#include "units/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <limits>
#include <ranges>

namespace fortitor {
namespace {

bool isMissed(const std::string& cell)
{
    return cell.empty() || cell == "-" || cell == "–" || cell == "—" || cell == "x" || cell == "X" || cell == "null"
        || cell == "missed";
}

char delimiterOf(const std::vector<std::string>& lines, size_t channels)
{
    const auto all = [&](char c, size_t least) {
        return std::ranges::all_of(lines, [&](const std::string& l) {
            return static_cast<size_t>(std::ranges::count(l, c)) >= least;
        });
    };
    for (const char c : {'\t', ';'})
        if (all(c, 1))
            return c;
    // A comma that parts columns stands as often as there are gaps between them; else it is a decimal mark.
    if (std::ranges::all_of(lines,
                            [&](const std::string& l) {
                                return static_cast<size_t>(std::ranges::count(l, ',')) + 1 == channels;
                            })
        && channels > 1)
        return ',';
    return ' ';
}

struct Heading {
    std::vector<std::optional<size_t>> channel; ///< of each column
    std::vector<const Unit*> unit;
};

/// "Load, N" or "Torque (Nm)" → the channel and its unit.
Heading headingOf(const std::vector<std::string>& cells, const std::vector<PadChannel>& channels)
{
    Heading h;
    for (const std::string& cell : cells) {
        const size_t open = cell.find_first_of("([/,");
        const std::string name = trimmed(cell.substr(0, open));
        std::string unit = open == std::string::npos ? std::string() : trimmed(cell.substr(open + 1));
        while (!unit.empty() && (unit.back() == ')' || unit.back() == ']'))
            unit.pop_back();
        std::optional<size_t> found;
        const std::string known = channelFromHeader(name, nullptr);
        const auto lower = [](std::string text) {
            std::ranges::transform(text, text.begin(),
                                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
            return text;
        };
        for (size_t c = 0; c < channels.size(); ++c)
            if (!found && (known == channels[c].name || lower(name) == lower(channels[c].label)))
                found = c;
        h.channel.push_back(found);
        const ChannelName* spec = found ? findChannelName(channels[*found].name) : nullptr;
        h.unit.push_back(spec && !unit.empty() ? findUnit(unit, spec->kind) : nullptr);
    }
    return h;
}

struct NumberedLine {
    size_t number = 0; ///< in the text, from 1
    std::string text;
};

/// The lines with something on them; those that begin with # are remarks.
std::vector<NumberedLine> linesOf(std::string_view text)
{
    std::vector<NumberedLine> lines;
    size_t number = 0;
    for (size_t at = 0; at <= text.size();) {
        const size_t end = std::min(text.find('\n', at), text.size());
        ++number;
        const std::string line(text.substr(at, end - at));
        at = end + 1;
        const std::string bare = trimmed(line);
        if (!bare.empty() && bare[0] != '#')
            lines.push_back({number, line.ends_with('\r') ? line.substr(0, line.size() - 1) : line});
    }
    return lines;
}

/// What the columns are by the first line; none where it holds readings already: then they stand in the order of the
/// channels.
Expected<std::optional<Heading>> headingIn(const NumberedLine& line, char delimiter,
                                           const std::vector<PadChannel>& channels)
{
    const auto head = splitFields(line.text, delimiter);
    const bool heading = std::ranges::any_of(head, [](const std::string& c) {
        return !c.empty() && std::isalpha(static_cast<unsigned char>(c[0])) && !isMissed(c);
    });
    if (!heading)
        return std::optional<Heading>();
    Heading h = headingOf(head, channels);
    if (std::ranges::any_of(h.channel, [](const auto& c) { return c.has_value(); }))
        return std::optional(std::move(h));
    std::string names;
    for (const PadChannel& c : channels)
        names += (names.empty() ? "" : ", ") + c.label;
    return Problem{fmt::format("line {}", line.number),
                   '"' + trimmed(line.text) + '"',
                   "columns named " + names + ", or none named",
                   {}};
}

} // namespace

Expected<PadTable> padTableFromText(std::string_view text, const std::vector<PadChannel>& channels,
                                    const SpecimenInput& input, UnitSystem system)
{
    const std::vector<NumberedLine> lines = linesOf(text);
    if (lines.empty())
        return Problem{"table", "no line", "a line a step", {}};
    constexpr size_t most = 10000;
    if (lines.size() > most)
        return Problem{"table", std::to_string(lines.size()) + " lines", "readings taken by hand",
                       "A record of a frame is dropped on the window instead."};
    std::vector<std::string> texts;
    for (const NumberedLine& line : lines)
        texts.push_back(line.text);
    const char delimiter = delimiterOf(texts, channels.size());
    auto found = headingIn(lines.front(), delimiter, channels);
    if (!found)
        return found.problem();
    Heading columns;
    if (*found) {
        columns = std::move(**found);
    } else {
        for (size_t c = 0; c < channels.size(); ++c)
            columns.channel.emplace_back(c);
        columns.unit.resize(channels.size(), nullptr);
    }
    PadTable table;
    table.channels = channels;
    table.cells.resize(channels.size());
    for (size_t l = *found ? 1 : 0; l < lines.size(); ++l) {
        const auto cells = splitFields(lines[l].text, delimiter);
        if (cells.size() > columns.channel.size())
            return Problem{fmt::format("line {}", lines[l].number),
                           std::to_string(cells.size()) + " columns",
                           std::to_string(columns.channel.size()) + " at most: one a channel, in the order of reading",
                           {}};
        for (auto& list : table.cells)
            list.emplace_back();
        ++table.rows;
        for (size_t k = 0; k < cells.size(); ++k) {
            if (!columns.channel[k] || isMissed(cells[k]))
                continue;
            const PadChannel& channel = channels[*columns.channel[k]];
            ReadingScale scale = padScale(channel, input, system);
            if (columns.unit[k] && columns.unit[k]->kind == scale.kind)
                scale.unit = columns.unit[k];
            const auto q = parseReading(cells[k], scale);
            if (!q)
                return Problem{fmt::format("line {}, {}", lines[l].number, channel.label), q.problem().found,
                               q.problem().wanted, q.problem().advice};
            table.cells[*columns.channel[k]].back() = q->text;
        }
    }
    if (table.rows == 0)
        return Problem{"table", "a heading alone", "a line a step below it", {}};
    return table;
}

} // namespace fortitor
