// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"
#include "jobs/job.h"
#include "jobs/single_readings.h"
#include "methods/hardness/desk.h"
#include "methods/hardness/hardness.h"
#include "sim/catalogue.h"
#include "sim/indented_piece.h"
#include "sim/load_history.h"
#include "jobs/dropped_job.h"
#include "jobs/fatigue_job.h"
#include "jobs/struck_job.h"
#include "methods/drop_weight/drop_weight.h"
#include "methods/fatigue_sn/fatigue_sn.h"
#include "methods/impact/impact.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <map>

namespace fortitor::cli {
namespace {

/// Where a record lies as seen from a job file.
std::string besideJob(const std::string& record, const std::string& jobFile)
{
    namespace fs = std::filesystem;
    return fs::absolute(record)
        .lexically_normal()
        .lexically_relative(fs::absolute(jobFile).lexically_normal().parent_path())
        .string();
}

int written(const Expected<Done>& done_)
{
    if (done_)
        return done;
    fmt::print(stderr, "fortitor-cli: {}\n", done_.problem().text());
    return otherFailure;
}

Json truthOf(const Method& method, const std::map<std::string, double>& truth)
{
    Json j;
    for (const auto& [symbol, value] : truth) {
        const ResultSpec& spec = *method.findResult(symbol);
        j[symbol] = {{"value", unitOf(spec).fromBase(value)}, {"unit", spec.unit}};
    }
    return j;
}

Json jobFor(const CatalogueEntry& entry, const SimulatedRun& run, std::uint64_t seed, const std::string& recordName)
{
    Json j;
    j["fortitor_job"] = 1;
    j["job"] = {{"number", fmt::format("SIM-{}", seed)}, {"title", entry.words}};
    j["method"] = entry.method;
    j["material"] = {{"name", entry.material}};
    Json specimen;
    specimen["label"] = fmt::format("{}-{}", entry.name, seed);
    Json& d = specimen["dimensions"];
    d["shape"] = entry.shape;
    for (const auto& [key, values] : run.specimen.dimensions)
        d[key] = values.size() == 1 ? Json(values.front()) : Json(values);
    for (const auto& [key, value] : entry.options)
        j["options"][key] = value;
    for (const auto& [key, value] : run.specimen.notes)
        specimen["notes"][key] = value;
    specimen["record"] = {{"file", recordName}};
    j["specimens"] = Json::array({specimen});
    const Method& method = *findMethod(entry.method);
    if (!run.specimen.truth.empty())
        j["truth"] = truthOf(method, run.specimen.truth);
    return j;
}

/// The readings of a simulated tester, as a job's specimen has them.
Json indentsOf(const IndentedKind& kind, const IndentedPiece& piece, const std::map<std::string, std::string>& options)
{
    SpecimenInput input;
    input.options = options;
    const HardnessSetting setting = *settingOf(input);
    const auto ways = entryWays(setting.scale->by);
    const EntryWay& way = *std::ranges::find(ways, std::string(kind.way), &EntryWay::words);
    IndentReading sized;
    estimateSize(setting, piece.core, sized); // where indents are largest
    const auto places = kind.step > 0
        ? planTraverse(kind.first, kind.step, kind.count, leastApart(setting, sized.across) * 1.4)
        : std::vector<Spot>();
    Json lists;
    for (size_t i = 0; i < kind.count; ++i) {
        const auto depth = i < places.size() ? places[i].depth : std::nullopt;
        for (const auto& [name, text] : readingsOf(setting, way, indentedNumber(piece, i, depth)))
            lists[name].push_back(withUnit(*findMethod(hardness().id, options)->intake.find(name), text));
        if (i >= places.size())
            continue;
        for (const PadChannel& column : findMethod(hardness().id, options)->intake.columns) {
            const auto put = [&](double mm) { lists[column.name].push_back(fmt::format("{:.4f} mm", mm)); };
            if (column.role == PadChannel::Role::X)
                put(places[i].x);
            if (column.role == PadChannel::Role::Y)
                put(places[i].y);
            if (column.role == PadChannel::Role::Depth)
                put(*places[i].depth);
        }
    }
    return lists;
}

/// A line an indent.
std::string indentsCsv(const Json& lists)
{
    std::string text = "indent";
    size_t rows = 0;
    for (const auto& [name, list] : lists.items()) {
        text += "," + name;
        rows = std::max(rows, list.size());
    }
    for (size_t i = 0; i < rows; ++i) {
        text += fmt::format("\n{}", i + 1);
        for (const auto& [name, list] : lists.items())
            text += "," + list[i].get<std::string>();
    }
    return text + "\n";
}

int simulateIndents(const IndentedKind& kind, std::uint64_t seed, const std::string& out, const std::string& jobFile)
{
    const IndentedPiece piece = drawPiece(kind, seed);
    std::map<std::string, std::string> options;
    for (const auto& [key, value] : kind.options)
        if (!key.empty())
            options[std::string(key)] = value;
    const Json lists = indentsOf(kind, piece, options);
    auto ok = writeFileWhole(out, indentsCsv(lists));
    if (ok && !jobFile.empty()) {
        Json j;
        j["fortitor_job"] = 1;
        j["job"] = {{"number", fmt::format("SIM-{}", seed)}, {"title", kind.words}};
        j["method"] = hardness().id;
        j["material"] = {{"name", kind.material}};
        for (const auto& [key, value] : options)
            j["options"][key] = value;
        j["specimens"] = Json::array({Json{{"label", fmt::format("{}-{}", kind.name, seed)},
                                           {"dimensions", {{"shape", kind.shape}}},
                                           {"readings", lists}}});
        const Method& method = *findMethod(hardness().id, options);
        const std::string symbol(kind.truth);
        const auto truth = kind.depthAt > 0 ? trueDepthAt(piece, kind.depthAt) : std::optional(piece.core);
        if (truth)
            j["truth"][symbol] = {{"value", *truth}, {"unit", unitOf(*method.findResult(symbol)).symbol}};
        ok = writeFileWhole(jobFile, j.dump(2) + "\n");
    }
    return written(ok);
}

/// A line a blow: at what temperature, and what the dial shows.
int simulateBlows(const StruckKind& kind, std::uint64_t seed, const std::string& out, const std::string& jobFile)
{
    Json job = struckJob(kind, fmt::format("SIM-{}", seed), std::string(kind.words));
    std::string csv = "blow,temperature,energy\n";
    constexpr size_t each = 3;
    const size_t places = kind.plastic ? 3 : 6;
    for (size_t i = 0; i < each * places; ++i) {
        const double temperature = kind.first + kind.apart * static_cast<double>(i / each);
        const StruckPiece piece = strike(kind, temperature, 100 * seed + i);
        csv += fmt::format("{},{:g} °C,{:g} J\n", i + 1, temperature, piece.energy);
        job["specimens"].push_back(
            struckSpecimen(kind, fmt::format("{}-{}", kind.name, i + 1), temperature, 100 * seed + i));
    }
    const Method& method = *findMethod(impact().id, {{impactKeys::geometry, std::string(kind.geometry)}});
    const double level = 27; // J, the method's own
    if (kind.lower < level && level < kind.upper) {
        double low = -200, high = 200; // it rises all along
        for (int step = 0; step < 60; ++step) {
            const double half = (low + high) / 2;
            (trueEnergy(kind, half) < level ? low : high) = half;
        }
        const auto spec = std::ranges::find(method.results, ResultSpec::Of::Set, &ResultSpec::of);
        job["truth"][spec->symbol] = {{"value", low}, {"unit", spec->unit}};
    }
    auto ok = writeFileWhole(out, csv);
    if (ok && !jobFile.empty())
        ok = writeFileWhole(jobFile, job.dump(2) + "\n");
    return written(ok);
}

/// One plate, struck from where its energy needs.
int simulateDrop(const DroppedKind& kind, std::uint64_t seed, const std::string& out, const std::string& jobFile)
{
    constexpr double height = 522; // mm
    const DroppedPlate plate = dropOn(kind, height, seed);
    auto ok = writeFileWhole(out, recordCsv(plate.record));
    if (!ok || jobFile.empty())
        return written(ok);
    Json job = droppedJob(kind, fmt::format("SIM-{}", seed), std::string(kind.words));
    Json one = droppedSpecimen(fmt::format("{}-{}", kind.name, seed), plate, height);
    one["record"] = {{"file", besideJob(out, jobFile)}};
    job["specimens"].push_back(std::move(one));
    job["truth"] = truthOf(dropWeight(), plate.truth);
    return written(writeFileWhole(jobFile, job.dump(2) + "\n"));
}

/// A line a piece: its range, how long it stood, how it ended; two on each of seven levels.
int simulateRuns(const FatigueKind& kind, std::uint64_t seed, const std::string& out, const std::string& jobFile)
{
    Json job = fatigueJob(kind, fmt::format("SIM-{}", seed), std::string(kind.words));
    std::string csv = "piece,range,cycles,outcome\n";
    constexpr size_t levels = 7, each = 2;
    constexpr double runOut = 1e7, first = 5e4; // mean life on the highest level
    const double top = std::round(std::pow(10, (kind.logA - std::log10(first)) / kind.slope));
    for (size_t i = 0; i < levels * each; ++i) {
        const double range = std::round(top * std::pow(0.82, static_cast<double>(i / each)));
        const std::uint64_t own = 1000 * seed + i;
        Json one = fatigueSpecimen(kind, fmt::format("{}-{}", kind.name, i + 1), range, own);
        runFatigueSpecimen(kind, one, range, runOut, own);
        csv +=
            fmt::format("{},{:g} MPa,{},{}\n", i + 1, range, one["readings"][fatigueKeys::cycles][0].get<std::string>(),
                        one["notes"][fatigueKeys::outcome].get<std::string>());
        job["specimens"].push_back(std::move(one));
    }
    const Method method = fatigueSn();
    const auto slope = std::ranges::find(method.results, ResultSpec::Of::Set, &ResultSpec::of);
    job["truth"][slope->symbol] = {{"value", kind.slope}, {"unit", slope->unit}};
    auto ok = writeFileWhole(out, csv);
    if (ok && !jobFile.empty())
        ok = writeFileWhole(jobFile, job.dump(2) + "\n");
    return written(ok);
}

/// Raw readings, written as they come: a history of weeks needs no more memory than one of minutes.
int simulateHistory(const HistoryKind& kind, std::uint64_t seed, double hours, const std::string& out)
{
    std::ofstream file(out, std::ios::binary | std::ios::trunc);
    LoadHistory history(kind, seed);
    std::vector<float> values(1 << 16);
    for (auto left = static_cast<std::uint64_t>(hours * 3600 * kind.rate); left > 0;) {
        const auto count = static_cast<size_t>(std::min<std::uint64_t>(left, values.size()));
        history.next(std::span(values).first(count));
        file.write(reinterpret_cast<const char*>(values.data()), static_cast<std::streamsize>(count * sizeof(float)));
        left -= count;
    }
    file.close();
    if (file)
        return done;
    fmt::print(stderr, "fortitor-cli: {}: found no room, wanted {:.0f} MB\n", out, hours * 3600 * kind.rate * 4 / 1e6);
    return otherFailure;
}

} // namespace

int simulate(const std::string& specimen, std::uint64_t seed, const std::string& out, const std::string& jobFile,
             double hours)
{
    if (specimen == "list") {
        for (const CatalogueEntry& e : catalogue())
            fmt::print("{:<22}{:<20}{}\n", e.name, e.method, e.words);
        for (const IndentedKind& e : indentedKinds())
            fmt::print("{:<22}{:<20}{}\n", e.name, hardness().id, e.words);
        for (const StruckKind& e : struckKinds())
            fmt::print("{:<22}{:<20}{}\n", e.name, impact().id, e.words);
        for (const FatigueKind& e : fatigueKinds())
            fmt::print("{:<22}{:<20}{}\n", e.name, fatigueSn().id, e.words);
        for (const HistoryKind& e : historyKinds())
            fmt::print("{:<22}{:<20}{}\n", e.name, "spectrum", e.words);
        const DroppedKind plate;
        fmt::print("{:<22}{:<20}{}\n", plate.name, dropWeight().id, plate.words);
        return done;
    }
    const CatalogueEntry* entry = findCatalogueEntry(specimen);
    const auto indented = std::ranges::find(indentedKinds(), specimen, &IndentedKind::name);
    if (indented != indentedKinds().end() && !out.empty())
        return simulateIndents(*indented, seed, out, jobFile);
    const auto struck = std::ranges::find(struckKinds(), specimen, &StruckKind::name);
    if (struck != struckKinds().end() && !out.empty())
        return simulateBlows(*struck, seed, out, jobFile);
    const FatigueKind* cycled = findFatigueKind(specimen);
    if (cycled && !out.empty())
        return simulateRuns(*cycled, seed, out, jobFile);
    const HistoryKind* history = findHistoryKind(specimen);
    if (history && !out.empty())
        return simulateHistory(*history, seed, hours, out);
    const bool dropped = specimen == DroppedKind{}.name;
    if (dropped && !out.empty())
        return simulateDrop(DroppedKind{}, seed, out, jobFile);
    if (indented == indentedKinds().end() && struck == struckKinds().end() && !cycled && !history && !dropped
        && !entry) {
        fmt::print(stderr,
                   "fortitor-cli: --specimen: found \"{}\", wanted a name of the catalogue. See --specimen list\n",
                   specimen);
        return wrongInput;
    }
    if (out.empty()) {
        fmt::print(stderr, "fortitor-cli: --out is needed: where to write the record\n");
        return wrongCommand;
    }
    const SimulatedRun run = simulateRun(*entry, seed);
    auto ok = writeFileWhole(out, recordCsv(run.record));
    if (ok && !jobFile.empty())
        ok = writeFileWhole(jobFile, jobFor(*entry, run, seed, besideJob(out, jobFile)).dump(2) + "\n");
    return written(ok);
}

} // namespace fortitor::cli
