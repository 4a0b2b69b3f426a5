// SPDX-License-Identifier: GPL-3.0-or-later
// From what was keyed of each indent to its hardness.
#include "methods/hardness/readings.h"

#include "methods/common/figures.h"
#include "methods/hardness/notation.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

using Row = std::optional<Quantity>;

/// What was keyed under a name, indent by indent; nothing where it was not asked.
const std::vector<Row>* listOf(const SpecimenInput& input, const std::string& name)
{
    const auto it = input.readings.find(name);
    return it == input.readings.end() ? nullptr : &it->second;
}

/// One row of several lists; nothing where one of them was missed.
std::optional<std::vector<Quantity>> rowOf(const std::vector<const std::vector<Row>*>& lists, size_t i)
{
    std::vector<Quantity> row;
    for (const auto* list : lists) {
        if (!(*list)[i])
            return std::nullopt;
        row.push_back(*(*list)[i]);
    }
    return row;
}

Remark about(const char* code, Severity severity, std::string text, std::string advice = {})
{
    return {code, severity, {"H"}, std::move(text), std::move(advice), {}};
}

/// A ball pressed in by F to the hardness HBW: the diameter of its indent.
double brinellAcross(double force, double ball, double number)
{
    const double cap = 0.102 * 2 * force / (std::numbers::pi * ball * number); // D − √(D² − d²)
    return cap < ball ? std::sqrt(ball * ball - (ball - cap) * (ball - cap)) : ball;
}

/// A stress in an old record is the plain number in kgf/mm².
void oldStress(const HardnessSetting& setting, const Quantity& read, IndentReading& reading)
{
    reading.remarks.push_back(
        about("unit-mix", Severity::Caution,
              fmt::format("\"{}\" was read as the number {}: a hardness in kgf/mm² is no stress.", read.text,
                          formatSignificant(read.base / findUnit("kgf/mm2", Kind::Stress)->factor, 4)),
              fmt::format("Write {} {}.", formatSignificant(read.base / findUnit("kgf/mm2", Kind::Stress)->factor, 4),
                          setting.unit->symbol)));
}

/// Checks of a number that was read off the machine; one that may not be given is taken out.
void checkNumber(const HardnessSetting& setting, double number, IndentReading& reading)
{
    const HardnessScale& scale = *setting.scale;
    constexpr double byTheDigit = 1e-9;
    constexpr double rounded = 5e-4; // a printed number gives its size to so much of the ball
    if (scale.by == HardnessScale::By::Brinell)
        checkBrinell(reading, number, reading.across / setting.pressed.ball, rounded);
    else if (scale.by != HardnessScale::By::Rockwell)
        checkPyramid(reading);
    else if (number < scale.lowest - byTheDigit || number > scale.highest + byTheDigit)
        reading.remarks.push_back(outOfBand(scale, number));
    if (std::ranges::any_of(reading.remarks, [](const Remark& r) { return r.severity == Severity::Reject; })) {
        reading.read.reset();
        reading.notation.clear();
    }
}

/// A number as the machine shows it.
Expected<PieceIndent> fromNumber(const HardnessSetting& setting, const Quantity& read, const std::string& place)
{
    PieceIndent one;
    const HardnessScale& scale = *setting.scale;
    const bool stress = read.unit->kind == Kind::Stress;
    if (stress && scale.by == HardnessScale::By::Rockwell)
        return Problem{place, '"' + read.text + '"', "a number of " + std::string(scale.name), {}};
    const double number = stress ? read.base / findUnit("kgf/mm2", Kind::Stress)->factor : read.base;
    const double digit = stress ? read.resolution / findUnit("kgf/mm2", Kind::Stress)->factor : read.resolution;
    const bool steel = read.unit == findUnit("HBS", Kind::Hardness) || read.unit == findUnit("HRBS", Kind::Hardness);
    if (steel && read.unit != setting.unit
        && (scale.by == HardnessScale::By::Brinell
            || scale.name == "HRBW")) { // another indenter: never among the others
        one.setAside = true;
        one.reading.remarks.push_back(
            about("unit-mix", Severity::Caution,
                  fmt::format("\"{}\" was made with a ball of steel; it is left out.", read.text),
                  "Numbers of both balls differ; keep old records by themselves."));
        return one;
    }
    if (!stress && read.unit != setting.unit)
        return Problem{place, '"' + read.text + '"', "a number of " + std::string(setting.unit->symbol),
                       "No factor leads from one scale to another; look it up in a table of conversion."};
    if (!std::isfinite(number)
        || (scale.by == HardnessScale::By::Rockwell ? number < 0 || number > scale.full : number <= 0))
        return Problem{place, '"' + read.text + '"',
                       scale.by == HardnessScale::By::Rockwell
                           ? fmt::format("a number from 0 to {:g}, which is no depth at all", scale.full)
                           : "a number above zero",
                       scale.by == HardnessScale::By::Rockwell && scale.ball == 0 && number > scale.full
                           ? "Were the figures of the ball's ring read?"
                           : ""};
    if (stress)
        oldStress(setting, read, one.reading);
    one.reading.read = Term::leaf(std::string(setting.unit->symbol), number, *setting.unit, digit / 2 / rectangle,
                                  {"resolution of the readings", SourceKind::Digits}, "hardness as read");
    one.reading.notation = setting.steelBall
        ? fmt::format("{} HBS {:g}/{:g}", formatFixed(number, number < 99.95 ? 1 : 0), setting.pressed.ball,
                      nominalForce(setting.pressed.force, scale.by))
        : hardnessNotation(scale, number, setting.pressed);
    estimateSize(setting, number, one.reading);
    checkNumber(setting, number, one.reading);
    return one;
}

/// An opening of the filar eyepiece: barrel and drum figures to a length.
Quantity filarLength(const HardnessSetting& setting, const Quantity& barrel, const Quantity& drum)
{
    const double units = barrel.base * setting.barrel + drum.base * setting.drum - setting.zero;
    return {units * setting.filarUnit, &baseUnit(Kind::Length), drum.resolution * setting.drum * setting.filarUnit,
            barrel.text + " + " + drum.text};
}

Expected<IndentReading> fromLengths(const HardnessSetting& setting, const std::vector<Quantity>& lengths)
{
    using enum HardnessScale::By;
    switch (setting.scale->by) {
    case Rockwell: return rockwellIndent(*setting.scale, lengths.front());
    case Brinell: return brinellIndent(setting.pressed, {lengths[0], lengths[1]});
    case Vickers: return vickersIndent(setting.pressed, {lengths[0], lengths[1]});
    case Knoop: break;
    }
    return knoopIndent(setting.pressed, lengths);
}

std::optional<double> placeOf(const std::vector<Row>* list, size_t i)
{
    return list && (*list)[i] ? std::optional((*list)[i]->base) : std::nullopt;
}

} // namespace

std::vector<EntryWay> entryWays(HardnessScale::By by)
{
    using enum HardnessScale::By;
    const EntryWay number{"number", {"value"}};
    switch (by) {
    case Rockwell: return {number, {"depth", {"depth"}}};
    case Brinell: return {{"diameters", {"diameter_1", "diameter_2"}}, number};
    case Vickers:
        return {{"diagonals", {"diagonal_1", "diagonal_2"}},
                {"drum figures", {"barrel_1", "drum_1", "barrel_2", "drum_2"}, true},
                number};
    case Knoop: break;
    }
    return {{"long diagonal", {"long_diagonal"}},
            {"its halves", {"half_1", "half_2"}},
            {"drum figures", {"barrel_1", "drum_1"}, true},
            number};
}

Expected<EntryWay> wayOf(const SpecimenInput& input, const HardnessSetting& setting)
{
    std::vector<EntryWay> keyed;
    std::string asked;
    for (const EntryWay& way : entryWays(setting.scale->by)) {
        const auto has = [&](const std::string& name) { return listOf(input, name) != nullptr; };
        if (std::ranges::all_of(way.names, has))
            keyed.push_back(way);
        asked += (asked.empty() ? "" : ", or ") + fmt::format("{}", fmt::join(way.names, " and "));
    }
    std::string found;
    for (const auto& [name, list] : input.readings)
        if (name != "x" && name != "y" && name != "from_surface")
            found += (found.empty() ? "" : ", ") + name;
    const std::string place = input.label + ", readings";
    if (keyed.size() > 1)
        return Problem{place, found, "one way of reading: " + asked, {}};
    if (keyed.empty())
        return Problem{place, found.empty() ? "none" : found, asked + " for " + std::string(setting.scale->name), {}};
    if (keyed.front().filar && !(setting.filarUnit > 0))
        return Problem{place, "filar figures", "the option filar_factor, such as \"0.25 um\" a drum unit", {}};
    return keyed.front();
}

void estimateSize(const HardnessSetting& setting, double number, IndentReading& reading)
{
    using enum HardnessScale::By;
    const HardnessScale& scale = *setting.scale;
    switch (scale.by) {
    case Rockwell: reading.depth = (scale.full - number) * scale.step; break;
    case Brinell:
        reading.across = brinellAcross(setting.pressed.force, setting.pressed.ball, number);
        reading.depth = 0.102 * setting.pressed.force / (std::numbers::pi * setting.pressed.ball * number);
        reading.leastThickness = 8 * reading.depth;
        return;
    case Vickers:
        reading.across = std::sqrt(0.1891 * setting.pressed.force / number);
        reading.depth = reading.across / 7;
        reading.leastThickness = 1.5 * reading.across;
        return;
    case Knoop:
        reading.across = std::sqrt(1.451 * setting.pressed.force / number);
        reading.depth = reading.across / 30.5;
        reading.leastThickness = reading.across / 3;
        return;
    }
    reading.leastThickness = reading.depth * (scale.ball > 0 ? 15 : 10);
    reading.across = rockwellAcross(scale, reading.depth);
}

Expected<std::vector<PieceIndent>> indentsOf(const SpecimenInput& input, const HardnessSetting& setting)
{
    std::vector<PieceIndent> all;
    if (input.readings.empty())
        return all;
    auto way = wayOf(input, setting);
    if (!way)
        return way.problem();
    std::vector<const std::vector<Row>*> lists;
    for (const std::string& name : way->names)
        lists.push_back(listOf(input, name));
    for (size_t i = 0; i < lists.front()->size(); ++i) {
        const std::string place = fmt::format("{}, readings.{}[{}]", input.label, way->names.front(), i + 1);
        PieceIndent one;
        auto row = rowOf(lists, i);
        if (!row) {
            one.missed = true;
        } else if (way->names.front() == "value") {
            auto read = fromNumber(setting, row->front(), place);
            if (!read)
                return read.problem();
            one = std::move(*read);
        } else {
            if (way->filar) {
                std::vector<Quantity> lengths;
                for (size_t k = 0; k + 1 < row->size(); k += 2)
                    lengths.push_back(filarLength(setting, (*row)[k], (*row)[k + 1]));
                row = std::move(lengths);
            }
            auto read = fromLengths(setting, *row);
            if (!read) {
                Problem p = read.problem();
                p.place = place;
                return p;
            }
            one.reading = std::move(*read);
            if (setting.scale->by == HardnessScale::By::Rockwell)
                one.reading.across = rockwellAcross(*setting.scale, one.reading.depth);
        }
        one.number = i + 1;
        one.x = placeOf(listOf(input, "x"), i);
        one.y = placeOf(listOf(input, "y"), i);
        one.fromSurface = placeOf(listOf(input, "from_surface"), i);
        all.push_back(std::move(one));
    }
    return all;
}

void setSeatingAside(const SpecimenInput& input, const HardnessSetting& setting, std::vector<PieceIndent>& indents)
{
    if (noteOf(input, "after_change") != "yes")
        return;
    const size_t count = std::min(static_cast<size_t>(std::max(0, setting.seating)), indents.size());
    for (size_t i = 0; i < count; ++i) {
        indents[i].setAside = true;
        indents[i].reading.remarks.push_back({"seating-reading",
                                              Severity::Note,
                                              {},
                                              "Set aside; it follows a change of indenter, anvil or weights.",
                                              {},
                                              {}});
    }
}

} // namespace fortitor
