// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/hardness/desk.h"

#include "judge/statistics.h"
#include "methods/common/figures.h"
#include "methods/hardness/hardness.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// The size by a number that is stated; 0 where it does not read.
double acrossBy(const Desk& desk, const std::string& text)
{
    const auto stated = parseQuantity(text, Kind::Hardness, desk.setting.unit);
    if (text.empty() || !stated || !(stated->base > 0))
        return 0;
    IndentReading sized;
    estimateSize(desk.setting, stated->base, sized);
    return sized.across;
}

/// The size of an indent that is not made yet: of those made, or by the number on the block, or the one expected.
double likelyAcross(const Desk& desk, const SpecimenInput& input)
{
    double sum = 0;
    size_t count = 0;
    for (const PieceIndent& one : desk.indents)
        if (one.reading.across > 0) {
            sum += one.reading.across;
            ++count;
        }
    if (count > 0)
        return sum / static_cast<double>(count);
    const std::string block = noteOf(input, "block");
    return acrossBy(desk, block.empty() ? optionOr(input, "expected", "") : block);
}

std::string mmWords(double value)
{
    return formatSignificant(value, 3) + " mm";
}

} // namespace

std::vector<Spot> planTraverse(double first, double step, size_t count, double apart)
{
    std::vector<Spot> places;
    if (!(step > 0) || !(first > 0))
        return places;
    const auto rows = static_cast<size_t>(std::max(1.0, std::ceil(apart / step - 1e-9)));
    const double aside = rows > 1 ? std::sqrt(std::max(0.0, apart * apart - step * step)) * 1.0001 : 0;
    for (size_t i = 0; i < count; ++i) {
        const double depth = first + static_cast<double>(i) * step;
        const double row = static_cast<double>(i % rows) - static_cast<double>(rows - 1) / 2;
        places.push_back({.x = row * aside, .y = depth, .depth = depth});
    }
    return places;
}

std::vector<Spot> planGrid(double x, double y, size_t columns, size_t rows, double pitch)
{
    std::vector<Spot> places;
    for (size_t r = 0; r < rows; ++r)
        for (size_t c = 0; c < columns; ++c)
            places.push_back({.x = x + (static_cast<double>(c) - static_cast<double>(columns - 1) / 2) * pitch,
                              .y = y + (static_cast<double>(r) - static_cast<double>(rows - 1) / 2) * pitch});
    return places;
}

std::optional<Spot> Desk::next() const
{
    return indents.size() < places.size() ? std::optional(places[indents.size()]) : std::nullopt;
}

Expected<Desk> deskOf(const SpecimenInput& input)
{
    auto setting = settingOf(input);
    if (!setting)
        return setting.problem();
    auto indents = indentsOf(input, *setting);
    if (!indents)
        return indents.problem();
    Desk desk{*setting, std::move(*indents), input.places, pieceSizeOf(input)};
    setSeatingAside(input, desk.setting, desk.indents);
    checkPlaces(desk.setting, desk.size, desk.indents);
    desk.across = likelyAcross(desk, input);
    desk.traverse = std::ranges::any_of(desk.places, [](const Spot& p) { return p.depth.has_value(); })
        || std::ranges::any_of(desk.indents, [](const PieceIndent& one) { return one.fromSurface.has_value(); });
    return desk;
}

std::string refusedAt(const Desk& desk, const Spot& place, std::optional<size_t> but)
{
    const auto away = place.depth ? place.depth : fromEdge(desk.size, place.x, place.y);
    if (away && *away <= 0)
        return "Outside the piece.";
    if (!(desk.across > 0))
        return {};
    const double edge = leastFromEdge(desk.setting, desk.across);
    if (away && *away < edge * (1 - 1e-6))
        return fmt::format("{} from the edge; at least {} is wanted.", mmWords(*away), mmWords(edge));
    const auto clashes = [&](double x, double y) {
        return tooClose(desk.setting, {place.x, place.y, desk.across}, {x, y, desk.across});
    };
    const double apart = leastApart(desk.setting, desk.across);
    for (const PieceIndent& one : desk.indents)
        if (one.x && one.y && clashes(*one.x, *one.y))
            return fmt::format("{} from indent {}; at least {} is wanted.",
                               mmWords(std::hypot(place.x - *one.x, place.y - *one.y)), one.number, mmWords(apart));
    for (const IndentPlace& old : desk.used)
        if (tooClose(desk.setting, {place.x, place.y, desk.across}, old))
            return fmt::format("{} from an indent of an earlier check; at least {} is wanted.",
                               mmWords(std::hypot(place.x - old.x, place.y - old.y)), mmWords(apart));
    for (size_t i = desk.indents.size(); i < desk.places.size(); ++i)
        if (i != but && clashes(desk.places[i].x, desk.places[i].y))
            return fmt::format("{} from planned place {}; at least {} is wanted.",
                               mmWords(std::hypot(place.x - desk.places[i].x, place.y - desk.places[i].y)), i + 1,
                               mmWords(apart));
    return {};
}

std::optional<Spot> nextFree(const Desk& desk)
{
    if (!(desk.across > 0) || desk.traverse)
        return std::nullopt;
    constexpr double unknownHalf = 12; // mm that a face is taken to reach where its size is not known
    constexpr double mostTried = 200; // places to each side
    const PieceSize& size = desk.size;
    const double pitch = leastApart(desk.setting, desk.across) * 1.02;
    const bool round = size.diameter && size.seen == PieceSize::Seen::Face;
    const bool side = size.seen == PieceSize::Seen::Side; // only along its crown does it lie level
    const double halfX = round ? *size.diameter / 2 : size.length ? *size.length / 2 : unknownHalf;
    const double halfY = round ? *size.diameter / 2 : side ? 0 : size.width ? *size.width / 2 : unknownHalf;
    const auto columns = static_cast<int>(std::min(mostTried, halfX / pitch));
    const auto rows = static_cast<int>(std::min(mostTried, halfY / pitch));
    std::vector<Spot> all;
    for (int r = -rows; r <= rows; ++r)
        for (int c = -columns; c <= columns; ++c)
            all.push_back({.x = c * pitch, .y = r * pitch});
    std::ranges::stable_sort(all, {}, [](const Spot& p) { return std::hypot(p.x, p.y); });
    for (const Spot& place : all)
        if (refusedAt(desk, place).empty())
            return place;
    return std::nullopt;
}

TriedIndent tryIndent(const SpecimenInput& input, const EntryWay& way, const std::map<std::string, std::string>& typed,
                      const std::optional<Spot>& place)
{
    TriedIndent tried;
    const Method& method = *findMethod(hardness().id, input.options);
    std::map<std::string, Quantity> read;
    for (const std::string& name : way.names) {
        const auto it = typed.find(name);
        const PadChannel* column = method.intake.find(name);
        if (it == typed.end() || it->second.empty() || !column)
            continue;
        auto quantity = parseQuantity(it->second, column->kind, findUnit(column->unit, column->kind));
        if (!quantity && column->formerly)
            if (auto old = parseQuantity(it->second, *column->formerly))
                quantity = std::move(old);
        if (!quantity) {
            tried.problem = quantity.problem();
            tried.field = name;
            return tried;
        }
        read.emplace(name, *quantity);
    }
    // From the first of two a first number can be told.
    const size_t each = way.filar ? 2 : 1;
    tried.whole = read.size() == way.names.size();
    for (size_t k = 0; k < each && k < way.names.size(); ++k)
        if (!read.contains(way.names[k]))
            return tried;
    SpecimenInput one = input;
    one.readings.clear();
    for (size_t k = 0; k < way.names.size(); ++k) {
        const auto it = read.find(way.names[k]);
        one.readings[way.names[k]] = {it != read.end() ? it->second : read.at(way.names[k % each])};
    }
    auto setting = settingOf(one);
    auto indents = setting ? indentsOf(one, *setting) : Expected<std::vector<PieceIndent>>(setting.problem());
    if (!indents) {
        tried.problem = indents.problem();
        tried.field = way.names.front();
        return tried;
    }
    PieceIndent& made = indents->front();
    auto before = indentsOf(input, *setting);
    if (!before)
        before = std::vector<PieceIndent>();
    made.number = before->size() + 1;
    if (place) {
        made.x = place->x;
        made.y = place->y;
        made.fromSurface = place->depth;
    }
    before->push_back(std::move(made));
    checkPlaces(*setting, pieceSizeOf(input), *before);
    tried.indent = std::move(before->back());
    return tried;
}

std::map<std::string, std::string> readingsOf(const HardnessSetting& setting, const EntryWay& way, double number,
                                              double uneven)
{
    std::map<std::string, std::string> texts;
    const bool rockwell = setting.scale->by == HardnessScale::By::Rockwell;
    IndentReading sized;
    estimateSize(setting, number, sized);
    const double two[] = {sized.across * (1 + uneven / 2), sized.across * (1 - uneven / 2)};
    if (way.filar) {
        if (!(setting.filarUnit > 0) || !(setting.barrel > 0))
            return texts;
        for (size_t k = 0; k + 1 < way.names.size(); k += 2) {
            const double units = two[k / 2] / setting.filarUnit + setting.zero;
            const double barrel = std::floor(units / setting.barrel);
            texts[way.names[k]] = formatFixed(barrel, 0);
            texts[way.names[k + 1]] = formatFixed((units - barrel * setting.barrel) / setting.drum, 1);
        }
        return texts;
    }
    if (way.names.front() == "value")
        return {{"value", formatFixed(number, rockwell ? 1 : 0) + " " + std::string(setting.unit->symbol)}};
    if (rockwell)
        return {{way.names.front(), formatFixed(sized.depth, 4) + " mm"}};
    const bool brinell = setting.scale->by == HardnessScale::By::Brinell;
    const double share = way.names.size() == 2 && setting.scale->by == HardnessScale::By::Knoop ? 0.5 : 1;
    for (size_t k = 0; k < way.names.size(); ++k) {
        const double length = two[k] * share;
        texts[way.names[k]] = brinell ? formatFixed(length, 2) + " mm" : formatFixed(length * 1000, 1) + " um";
    }
    return texts;
}

std::string dialDoubt(const Desk& desk, const PieceIndent& made)
{
    constexpr double rings = 30;
    if (desk.setting.scale->by != HardnessScale::By::Rockwell || !made.value())
        return {};
    const RunningMean before = runningMean(desk.indents);
    if (before.count == 0)
        return {};
    const double near = std::max(3.0, 3 * before.sd);
    const double off = *made.value() - before.mean;
    if (std::abs(std::abs(off) - rings) > near)
        return {};
    return fmt::format("The others are about {}. Were the figures of the other ring read? Then it is {}.",
                       formatFixed(before.mean, 1), formatFixed(*made.value() - std::copysign(rings, off), 1));
}

RunningMean runningMean(const std::vector<PieceIndent>& indents)
{
    std::vector<double> values;
    for (const PieceIndent& one : indents)
        if (one.counts() && one.value())
            values.push_back(*one.value());
    if (values.empty())
        return {};
    const SetStatistics s = setStatistics(values);
    return {s.n, s.mean, s.sd, s.ciHalfWidth};
}

std::optional<size_t> readingsFor(const RunningMean& now, double wanted)
{
    if (now.count < 2)
        return std::nullopt;
    const auto all = countForHalfWidth(now.sd, wanted);
    return all ? std::optional(std::max(*all, now.count) - now.count) : std::nullopt;
}

} // namespace fortitor
