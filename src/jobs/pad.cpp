// SPDX-License-Identifier: GPL-3.0-or-later
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

constexpr double nan = std::numeric_limits<double>::quiet_NaN();
constexpr double usualDivision = 1e-3; // of the greatest reading, where a scale states none

std::string readingsPath(size_t index)
{
    return fmt::format("/specimens/{}/readings", index);
}

const Json* readingsOf(const JobDocument& document, size_t index)
{
    const Json& specimen = document.json()["specimens"][index];
    const auto it = specimen.find("readings");
    return it != specimen.end() && it->is_object() ? &*it : nullptr;
}

double divisionOf(const ReadingScale& scale, const std::vector<double>& values)
{
    if (scale.division > 0)
        return scale.division;
    if (scale.kind == Kind::Strain)
        return 1e-6;
    double most = 0;
    for (const double v : values)
        most = std::max(most, std::isnan(v) ? 0 : std::abs(v));
    return usualDivision * most;
}

/// The readings of a specimen as they are to be, as changes of the single cells that differ: the journal grows
/// with what was keyed, not with what stands there already.
Command changedCells(const JobDocument& document, size_t index, const Json& readings, const std::string& words,
                     const std::string& why)
{
    CommandBuilder builder(document, words, why);
    const Json* now = readingsOf(document, index);
    if (!now)
        return builder.set(readingsPath(index), readings).take();
    for (const auto& [name, list] : readings.items()) {
        const std::string path = readingsPath(index) + "/" + name;
        const auto before = now->find(name);
        if (before == now->end() || !before->is_array() || list.size() < before->size()) {
            builder.set(path, list);
            continue;
        }
        for (size_t row = 0; row < list.size(); ++row)
            if (row >= before->size() || (*before)[row] != list[row])
                builder.set(path + "/" + std::to_string(row), list[row]);
    }
    for (const auto& [name, list] : now->items())
        if (!readings.contains(name))
            builder.set(readingsPath(index) + "/" + name, std::nullopt);
    return builder.take();
}

/// Writes a table as the readings of a specimen.
Command written(const JobDocument& document, size_t index, const PadTable& table, const std::string& words,
                const std::string& why = {})
{
    Json readings = Json::object();
    // Channels that the pad does not ask for stay, as long as the others.
    if (const Json* now = readingsOf(document, index))
        for (const auto& [name, list] : now->items())
            if (!table.indexOf(name)) {
                readings[name] = list;
                while (readings[name].size() < table.rows)
                    readings[name].push_back(nullptr);
            }
    for (size_t c = 0; c < table.channels.size(); ++c) {
        Json list = Json::array();
        for (const auto& cell : table.cells[c])
            list.push_back(cell ? Json(*cell) : Json(nullptr));
        readings[table.channels[c].name] = std::move(list);
    }
    return changedCells(document, index, readings, words, why);
}

Expected<Done> maybeKeyed(const JobDocument& document, size_t index)
{
    const Specimen& s = document.job().specimens[index];
    if (!s.recordId.empty() || !s.recordFile.empty())
        return Problem{
            s.label, "a record of the frame", "a specimen without one",
            "Readings by hand and a record do not go together; take the record back (Ctrl+Z) or key another specimen."};
    return Done{};
}

} // namespace

std::optional<size_t> PadTable::indexOf(std::string_view channel) const
{
    const auto it = std::ranges::find(channels, channel, &PadChannel::name);
    return it == channels.end() ? std::nullopt : std::optional(static_cast<size_t>(it - channels.begin()));
}

std::vector<double> PadTable::values(std::string_view channel) const
{
    std::vector<double> out;
    const auto c = indexOf(channel);
    if (!c)
        return out;
    const ChannelName* spec = findChannelName(channel);
    for (const auto& cell : cells[*c]) {
        const auto q = cell && spec ? parseQuantity(*cell, spec->kind) : Expected<Quantity>(Problem{});
        out.push_back(q ? q->base : nan);
    }
    return out;
}

PadTable padTable(const JobDocument& document, size_t index, const std::vector<std::string>& also)
{
    PadTable table;
    const Json* readings = readingsOf(document, index);
    for (const PadChannel& channel : document.job().method->intake.columns) {
        const bool has = readings && readings->contains(channel.name);
        // A gauge that the others of the job have is asked for here as well.
        const bool others = std::ranges::any_of(document.job().specimens, [&](const Specimen& s) {
            return s.readings && s.readings->find(channel.name);
        });
        if (channel.optional && !has && !others && std::ranges::find(also, channel.name) == also.end())
            continue;
        table.channels.push_back(channel);
        auto& list = table.cells.emplace_back();
        if (!has)
            continue;
        for (const Json& cell : (*readings)[channel.name])
            list.push_back(cell.is_string() ? std::optional(cell.get<std::string>()) : std::nullopt);
        table.rows = std::max(table.rows, list.size());
    }
    for (auto& list : table.cells)
        list.resize(table.rows);
    return table;
}

ReadingScale padScale(const PadChannel& channel, const SpecimenInput& input, UnitSystem system)
{
    const ChannelName* spec = findChannelName(channel.name);
    ReadingScale scale{spec ? spec->kind : Kind::Number, nullptr, 0, 0};
    scale.unit = findUnit(channel.unit, scale.kind);
    const bool other = system == UnitSystem::InchPound || (system == UnitSystem::Legacy && scale.kind == Kind::Force);
    if (other && scale.kind != Kind::Strain && scale.kind != Kind::Angle)
        scale.unit = &displayUnit(scale.kind, 1, system);
    if (!channel.division.empty()) {
        std::string text;
        if (const auto it = input.options.find(channel.division); it != input.options.end())
            text = it->second;
        if (text.empty())
            text = scale.kind == Kind::Angle ? "0.1 deg" : system == UnitSystem::InchPound ? "0.001 in" : "0.01 mm";
        if (const auto q = parseQuantity(text, scale.kind); q && q->base > 0)
            scale.division = q->base;
    }
    return scale;
}

Expected<StepPlan> padPlan(const Method& method, const SpecimenInput& input, UnitSystem system)
{
    const PadChannel* stepped = method.intake.find(method.intake.stepped);
    if (!stepped)
        return Problem{"steps", "a method without a reading pad", "one read step by step", {}};
    return stepPlan(method, input, *padScale(*stepped, input, system).unit);
}

std::string doubtWords(const PadTable& table, const Method& method, std::string_view channel, size_t row, double value,
                       const std::string& text, const ReadingScale& scale)
{
    if (channel == method.intake.stepped)
        return {};
    auto x = table.values(method.intake.stepped);
    auto y = table.values(channel);
    if (row >= x.size())
        return {};
    const double at = x[row];
    x.resize(row);
    y.resize(row);
    const double division = divisionOf(scale, y);
    const auto doubt = doubtStep(x, y, at, value, division);
    if (!doubt)
        return {};
    const int digits = std::abs(doubt->expected) > 0
        ? std::clamp(static_cast<int>(std::ceil(std::log10(std::abs(doubt->expected) / std::max(division, 1e-12)))), 2,
                     5)
        : 2;
    const std::string would = formatQuantity(doubt->expected, *scale.unit, digits);
    using K = StepDoubt::Kind;
    switch (doubt->kind) {
    case K::Ten: return "A factor of ten off? The readings before it would have about " + would + ".";
    case K::Sign: return "The sign turned? The readings before it would have about " + would + ".";
    case K::Same: return "The same as the step before. They would have about " + would + "; did the reading change?";
    case K::Jump: return "A leap: the last steps would have about " + would + ".";
    case K::Back: return "It goes back: the last steps would have about " + would + ".";
    case K::OffLine: break;
    }
    // Neighbouring digits that changed places are the commonest slip of the pen.
    for (size_t i = 0; i + 1 < text.size(); ++i) {
        std::string other = text;
        std::swap(other[i], other[i + 1]);
        if (other[i] == other[i + 1] || !std::isdigit(static_cast<unsigned char>(other[i]))
            || !std::isdigit(static_cast<unsigned char>(other[i + 1])))
            continue;
        if (const auto q = parseReading(other, scale); q && !doubtStep(x, y, at, q->base, division))
            return "Off the line. Digits exchanged: " + other + "?";
    }
    return "Off the line of the readings before it, which would have about " + would + ". Read it again.";
}

namespace edits {

Expected<Command> padReading(const JobDocument& document, size_t index, const PadTable& table, size_t channel,
                             size_t row, const std::optional<std::string>& text, const std::string& who,
                             const std::string& when, const std::string& why)
{
    if (auto ok = maybeKeyed(document, index); !ok)
        return ok.problem();
    if (channel >= table.channels.size() || row > table.rows)
        return Problem{"reading", fmt::format("step {}", row + 1), fmt::format("a step up to {}", table.rows + 1), {}};
    PadTable next = table;
    if (row == next.rows) {
        ++next.rows;
        for (auto& list : next.cells)
            list.emplace_back();
    }
    const std::optional<std::string> was = next.cells[channel][row];
    next.cells[channel][row] = text;
    const std::string& label = document.job().specimens[index].label;
    const std::string words =
        fmt::format("{} {} of {}: {}", table.channels[channel].label, row + 1, label, text ? *text : "missed");
    Command command = written(document, index, next, was ? words + ", was " + *was : words, why);
    if (!was || was == text)
        return command;
    CommandBuilder kept(document, command.words, why);
    kept.set(command.changes.front().path, command.changes.front().after);
    kept.append(fmt::format("/specimens/{}/corrections", index),
                Json{{"step", row + 1},
                     {"channel", table.channels[channel].name},
                     {"was", *was},
                     {"now", text ? Json(*text) : Json(nullptr)},
                     {"why", why},
                     {"who", who},
                     {"when", when}});
    return kept.take();
}

Expected<Command> padRow(const JobDocument& document, size_t index, const PadTable& table,
                         const std::map<std::string, std::string>& texts, const std::string& words)
{
    if (auto ok = maybeKeyed(document, index); !ok)
        return ok.problem();
    PadTable next = table;
    ++next.rows;
    for (size_t c = 0; c < next.channels.size(); ++c) {
        const auto it = texts.find(next.channels[c].name);
        next.cells[c].push_back(it == texts.end() ? std::nullopt : std::optional(it->second));
    }
    return written(document, index, next, words);
}

Expected<Command> padSheet(const JobDocument& document, size_t index, const PadTable& now, const PadTable& sheet,
                           const std::string& from)
{
    if (auto ok = maybeKeyed(document, index); !ok)
        return ok.problem();
    PadTable next = now;
    next.rows += sheet.rows;
    for (size_t c = 0; c < next.channels.size(); ++c) {
        if (const auto k = sheet.indexOf(next.channels[c].name))
            next.cells[c].insert(next.cells[c].end(), sheet.cells[*k].begin(), sheet.cells[*k].end());
        next.cells[c].resize(next.rows);
    }
    return written(document, index, next,
                   fmt::format("{} readings of {} from {}", sheet.rows, document.job().specimens[index].label, from));
}

} // namespace edits
} // namespace fortitor
