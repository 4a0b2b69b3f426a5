// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/block_file.h"

#include "history/counts.h"
#include "history/rainflow.h"
#include "history/turning.h"
#include "record/plain_cells.h"
#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <cstring>
#include <fstream>
#include <map>

namespace fortitor {
namespace {

/// Where a column stands whose name begins so; the number of columns where it does not.
size_t columnOf(const std::vector<std::string>& header, std::string_view name)
{
    return static_cast<size_t>(
        std::ranges::find_if(header, [&](const std::string& cell) { return cell.starts_with(name); }) - header.begin());
}

/// NaN where there is none.
double numberIn(const std::vector<std::string>& row, size_t column)
{
    return column < row.size() ? parseNumber(row[column]).value_or(NAN) : NAN;
}

/// The factor to MPa of "stress (MPa)".
Expected<double> factorOf(const std::string& path, const std::string& cell)
{
    const size_t from = cell.find('('), to = cell.find(')');
    if (from == std::string::npos || to == std::string::npos || to < from)
        return 1.0;
    const std::string name = cell.substr(from + 1, to - from - 1);
    const Unit* unit = findUnit(name);
    if (!unit || unit->kind != Kind::Stress)
        return Problem{path, '"' + name + "\" as its unit", "a unit of stress, such as MPa",
                       "A block of strains is brought to stress before it is run."};
    return unit->factor;
}

} // namespace

Expected<LoadBlock> readBlock(const std::string& path)
{
    std::ifstream in(path);
    if (!in)
        return Problem{path, std::strerror(errno), "the file of a block", {}};
    std::map<double, double> counted;
    Turning turning;
    TurningFinder finder(turning);
    size_t cyclesAt = 0, rangeAt = 0, number = 0, width = 1;
    bool program = false, begun = false;
    double factor = 1;
    for (std::string line; std::getline(in, line);) {
        ++number;
        const auto row = plainCells(line);
        if (line.find_first_not_of(" \t\r") == std::string::npos)
            continue;
        if (!begun && !parseNumber(row.front())) {
            const auto header = headerCells(line);
            width = row.size();
            cyclesAt = columnOf(header, "cycles");
            rangeAt = columnOf(header, "range");
            program = cyclesAt < width && rangeAt < width;
            const auto unit = factorOf(path, program ? row[rangeAt] : row.front());
            if (!unit)
                return unit.problem();
            factor = *unit;
            begun = true;
            continue;
        }
        begun = true;
        const size_t at = program ? rangeAt : 0;
        const double value = numberIn(row, at), cycles = program ? numberIn(row, cyclesAt) : 1;
        if (!std::isfinite(value) || !(cycles >= 0) || (program && !(value > 0)))
            return Problem{fmt::format("{}, line {}", path, number),
                           '"' + line.substr(0, 40) + '"',
                           program ? "cycles and a range above zero" : "a turning point, one a line",
                           {}};
        if (program)
            counted[value * factor] += cycles;
        else
            finder.take(value * factor, 0);
    }
    finder.end();
    countRainflow(turning.values, Residue::Half,
                  [&](double from, double to, double count) { counted[std::abs(to - from)] += count; });
    LoadBlock block;
    for (const auto& [range, count] : counted)
        if (range > 0 && count > 0) {
            block.cycles.emplace_back(range, count);
            block.count += count;
            block.greatest = range;
        }
    if (block.cycles.empty())
        return Problem{path, "no cycle", "a block program, or turning points, one a line", {}};
    return block;
}

double blockDamage(const LoadBlock& block, const DamageCurve& curve, double factor)
{
    LongSum sum;
    for (const auto& [range, count] : block.cycles)
        sum.add(count * curve.perCycle(factor * range));
    return sum.value();
}

} // namespace fortitor
