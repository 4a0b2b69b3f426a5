// SPDX-License-Identifier: GPL-3.0-or-later
// Tables of conversion that a laboratory brings along.
#include "methods/hardness/conversion.h"

#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr size_t mostRows = 5000;

std::string_view trimmed(std::string_view text)
{
    const auto blank = [](char c) { return c == ' ' || c == '\t' || c == '\r' || c == '"'; };
    while (!text.empty() && blank(text.front()))
        text.remove_prefix(1);
    while (!text.empty() && blank(text.back()))
        text.remove_suffix(1);
    return text;
}

std::vector<std::string> cellsOf(std::string_view line, char mark)
{
    std::vector<std::string> cells;
    for (;;) {
        const size_t end = line.find(mark);
        cells.emplace_back(trimmed(line.substr(0, end)));
        if (end == std::string_view::npos)
            return cells;
        line.remove_prefix(end + 1);
    }
}

/// One that stands between cells; with a semicolon or a tab a comma is a decimal mark.
char markOf(std::string_view line)
{
    for (const char mark : {';', '\t'})
        if (line.find(mark) != std::string_view::npos)
            return mark;
    return ',';
}

std::optional<std::string> afterKey(std::string_view line, std::string_view key)
{
    line.remove_prefix(1);
    line = trimmed(line);
    if (!line.starts_with(key))
        return std::nullopt;
    line.remove_prefix(key.size());
    return std::string(trimmed(line));
}

/// All numbers of a column fall, or all rise, as those of the columns before it do: `way`, 0 before the first.
Expected<Done> goesOneWay(const ConversionTable& table, size_t column, const std::string& file, double& way)
{
    std::optional<double> before;
    for (size_t r = 0; r < table.rows.size(); ++r) {
        const auto& cell = table.rows[r][column];
        if (!cell)
            continue;
        if (before && (*cell == *before || way * (*cell - *before) < 0))
            return Problem{fmt::format("{}, row {}, {}", file, r + 1, table.scales[column]),
                           formatSignificant(*cell, 4) + " after " + formatSignificant(*before, 4),
                           "columns that all fall, or all rise, from row to row", "Sort the rows."};
        if (before && way == 0)
            way = *cell - *before;
        before = cell;
    }
    return Done{};
}

} // namespace

Expected<ConversionTable> readConversionTable(std::string_view text, const std::string& file)
{
    ConversionTable table{.name = file, .material = {}, .scales = {}, .rows = {}};
    if (text.starts_with("\xEF\xBB\xBF"))
        text.remove_prefix(3);
    char mark = ',';
    size_t number = 0;
    while (!text.empty()) {
        const size_t end = text.find('\n');
        const std::string_view line = trimmed(text.substr(0, end));
        text.remove_prefix(end == std::string_view::npos ? text.size() : end + 1);
        ++number;
        const std::string place = fmt::format("{}, line {}", file, number);
        if (line.empty())
            continue;
        if (line.front() == '#') {
            if (auto name = afterKey(line, "name:"))
                table.name = std::move(*name);
            if (auto material = afterKey(line, "material:"))
                table.material = std::move(*material);
            continue;
        }
        if (table.scales.empty()) {
            mark = markOf(line);
            for (const std::string& cell : cellsOf(line, mark)) {
                const HardnessScale* scale = findHardnessScale(cell);
                if (!scale)
                    return Problem{place, '"' + cell.substr(0, 40) + '"', "a scale such as HRC, HV, HBW", {}};
                if (std::ranges::find(table.scales, scale->name) != table.scales.end())
                    return Problem{place, cell + " for the second time", "each scale once", {}};
                table.scales.emplace_back(scale->name);
            }
            continue;
        }
        const auto cells = cellsOf(line, mark);
        if (cells.size() != table.scales.size())
            return Problem{place, fmt::format("{} cells", cells.size()), fmt::format("{}", table.scales.size()),
                           "Leave a cell blank where a scale has no number."};
        if (table.rows.size() == mostRows)
            return Problem{place, "more rows", fmt::format("up to {}", mostRows), {}};
        auto& row = table.rows.emplace_back();
        for (size_t c = 0; c < cells.size(); ++c) {
            std::string cell = cells[c];
            if (mark != ',')
                std::ranges::replace(cell, ',', '.');
            const auto value = cell.empty() || cell == "-" || cell == "–" ? std::nullopt : parseNumber(cell);
            if (!cell.empty() && cell != "-" && cell != "–" && (!value || !std::isfinite(*value) || !(*value > 0)))
                return Problem{
                    place + ", " + table.scales[c], '"' + cell.substr(0, 40) + '"', "a number above zero", {}};
            row.push_back(value);
        }
    }
    if (table.scales.size() < 2 || table.rows.size() < 2)
        return Problem{file, "no table", "a line of two or more scales, and two or more rows of numbers", {}};
    double way = 0;
    for (size_t c = 0; c < table.scales.size(); ++c)
        if (auto ok = goesOneWay(table, c, file, way); !ok)
            return ok.problem();
    return table;
}

} // namespace fortitor
