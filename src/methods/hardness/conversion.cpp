// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/hardness/conversion.h"

#include "reference/tables.h"
#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace fortitor {
namespace {

constexpr double switchAt = 240; // HV, or HBW, which is the same by the soft table: the hard one from here on

std::optional<size_t> columnOf(const ConversionTable& table, const HardnessScale& scale)
{
    const auto at = std::ranges::find(table.scales, scale.name);
    return at == table.scales.end() ? std::nullopt : std::optional<size_t>(at - table.scales.begin());
}

/// Nothing outside the rows that hold both.
std::optional<double> lookUp(const ConversionTable& table, double value, const HardnessScale& from,
                             const HardnessScale& to)
{
    const auto a = columnOf(table, from);
    const auto b = columnOf(table, to);
    if (!a || !b)
        return {};
    const std::vector<std::optional<double>>* before = nullptr;
    for (const auto& row : table.rows) {
        if (!row[*a] || !row[*b])
            continue;
        if (value == *row[*a])
            return row[*b];
        if (before && (value - *(*before)[*a]) * (value - *row[*a]) < 0) {
            const double part = (value - *row[*a]) / (*(*before)[*a] - *row[*a]);
            return *row[*b] + part * (*(*before)[*b] - *row[*b]);
        }
        before = &row;
    }
    return {};
}

const ConversionTable& hard()
{
    return conversionTables()[0];
}

const ConversionTable& soft()
{
    return conversionTables()[1];
}

Remark note(const char* code, Severity severity, std::string text, std::string advice)
{
    return {code, severity, {}, std::move(text), std::move(advice), {}};
}

std::string numberOn(double value, const HardnessScale& scale)
{
    return formatSignificant(value, value < 100 ? 3 : 4) + " " + std::string(scale.name);
}

Converted told(double value, const ConversionTable& table)
{
    return {value,
            table.name,
            {note("converted", Severity::Note, "The number is converted by \"" + table.name + "\", not measured.",
                  "Other tables differ by a few numbers; a report says which one was used.")}};
}

/// Where both tables hold the number: the one that counts, and what the other would say.
std::optional<Converted> between(double value, const HardnessScale& from, const HardnessScale& to)
{
    const auto byHard = lookUp(hard(), value, from, to);
    const auto bySoft = lookUp(soft(), value, from, to);
    if (!byHard && !bySoft)
        return {};
    const bool takeHard = byHard && (!bySoft || value >= switchAt);
    Converted result = takeHard ? told(*byHard, hard()) : told(*bySoft, soft());
    const auto& other = takeHard ? bySoft : byHard;
    if (other && std::abs(*other - result.value) > 1e-9)
        result.remarks.push_back(note("tables-disagree", Severity::Caution,
                                      fmt::format("Both tables hold {}; \"{}\" would give {}.", numberOn(value, from),
                                                  (takeHard ? soft() : hard()).name, numberOn(*other, to)),
                                      "Measure on the scale that is asked for, where it matters."));
    return result;
}

/// From one table into the other, over a number of HV that both hold.
std::optional<Converted> byWayOfVickers(double value, const HardnessScale& from, const HardnessScale& to)
{
    const HardnessScale& vickers = *findHardnessScale("HV");
    for (const auto& [first, second] : {std::pair{&hard(), &soft()}, std::pair{&soft(), &hard()}}) {
        const auto middle = lookUp(*first, value, from, vickers);
        const auto end = middle ? lookUp(*second, *middle, vickers, to) : std::nullopt;
        if (!end)
            continue;
        Converted result = told(*end, *second);
        result.table = first->name + ", then " + second->name;
        result.remarks[0].text = "The number is converted by \"" + result.table + "\", not measured.";
        result.remarks.push_back(note("converted-twice", Severity::Caution,
                                      fmt::format("It goes by way of {}, through two tables that do not quite agree.",
                                                  numberOn(*middle, vickers)),
                                      "Measure on the scale that is asked for."));
        return result;
    }
    return {};
}

/// What no table may be asked.
Expected<Done> askable(double value, const HardnessScale& from, const HardnessScale& to)
{
    if (&from == &to)
        return Problem{"to", std::string(to.name), "another scale than the one it was read on", {}};
    if (!std::isfinite(value) || !(value > 0))
        return Problem{"from", formatSignificant(value, 4), "a hardness above zero", {}};
    if (from.highest > 0 && (value < from.lowest || value > from.highest))
        return Problem{"from", numberOn(value, from),
                       fmt::format("a number inside the band of the scale, {:g} to {:g}", from.lowest, from.highest),
                       "A reading out of its band is not converted."};
    return Done{};
}

Problem refused(double value, const HardnessScale& from, const HardnessScale& to)
{
    std::string held;
    for (const ConversionTable& table : conversionTables()) {
        const auto a = columnOf(table, from);
        const auto b = columnOf(table, to);
        if (!a || !b)
            continue;
        const auto both = [&](const auto& row) { return row[*a] && row[*b]; };
        const auto top = std::ranges::find_if(table.rows, both);
        const auto last = std::find_if(table.rows.rbegin(), table.rows.rend(), both);
        if (top != table.rows.end())
            held += fmt::format("{}{:g} to {:g} by \"{}\"", held.empty() ? "" : ", ", *(*last)[*a], *(*top)[*a],
                                table.name);
    }
    return {std::string(from.name) + " to " + std::string(to.name), numberOn(value, from),
            held.empty() ? "two scales that stand in one table, or a number whose HV both tables hold" : held,
            "Nothing is converted beyond a table; measure on the scale that is asked for."};
}

} // namespace

const std::vector<ConversionTable>& conversionTables()
{
    static const std::vector<ConversionTable> tables = [] {
        std::vector<ConversionTable> made;
        const auto scale = [](std::string_view name) { return std::string(findHardnessScale(name)->name); };
        ConversionTable& high =
            made.emplace_back(ConversionTable{"non-austenitic steels, hard range", "steel", {}, {}});
        high.scales = {scale("HRC"), scale("HV"), scale("HBW"), scale("HRA")};
        for (const auto& row : hardnessRows(HardnessRange::Hard)) {
            high.rows.push_back({row[0], row[1], row[2], row[3]});
            // The ball gives way over 650.
            if (auto& ball = high.rows.back()[2]; ball && *ball > findHardnessScale("HBW")->highest)
                ball.reset();
        }
        ConversionTable& low = made.emplace_back(ConversionTable{"non-austenitic steels, soft range", "steel", {}, {}});
        low.scales = {scale("HRB"), scale("HV"), scale("HBW")};
        for (const auto& row : hardnessRows(HardnessRange::Soft))
            low.rows.push_back({row[0], row[1], row[2]});
        return made;
    }();
    return tables;
}

std::span<const StrengthFactor> strengthFactors()
{
    static constexpr std::array factors{StrengthFactor{"Rm_from_HBW", "HBW", 3.45, "3.45"},
                                        StrengthFactor{"Rm_from_HV", "HV", 9.80665 / 3, "9.80665/3"}};
    return factors;
}

Expected<Converted> convertByTable(double value, const HardnessScale& from, const HardnessScale& to,
                                   const ConversionTable& table)
{
    if (auto ok = askable(value, from, to); !ok)
        return ok.problem();
    if (const auto found = lookUp(table, value, from, to))
        return told(*found, table);
    return Problem{std::string(from.name) + " to " + std::string(to.name), numberOn(value, from),
                   "a number that \"" + table.name + "\" holds on both scales",
                   "Nothing is converted beyond a table; measure on the scale that is asked for."};
}

Expected<Converted> convertHardness(double value, const HardnessScale& from, const HardnessScale& to,
                                    std::string_view material)
{
    if (material != "steel")
        return Problem{"material", '"' + std::string(material) + '"', "steel (not austenitic)",
                       "The tables that are here hold for no other material."};
    if (auto ok = askable(value, from, to); !ok)
        return ok.problem();
    if (auto direct = between(value, from, to))
        return std::move(*direct);
    if (auto twice = byWayOfVickers(value, from, to))
        return std::move(*twice);
    return refused(value, from, to);
}

} // namespace fortitor
