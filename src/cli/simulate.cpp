// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"
#include "jobs/job.h"
#include "sim/catalogue.h"

#include <fmt/format.h>

#include <filesystem>

namespace fortitor::cli {
namespace {

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
    specimen["record"] = {{"file", recordName}};
    j["specimens"] = Json::array({specimen});
    const Method& method = *findMethod(entry.method);
    for (const auto& [symbol, value] : run.specimen.truth) {
        const ResultSpec& spec = *method.findResult(symbol);
        const Unit& unit = unitOf(spec);
        j["truth"][symbol] = {{"value", unit.fromBase(value)}, {"unit", spec.unit}};
    }
    return j;
}

} // namespace

int simulate(const std::string& specimen, std::uint64_t seed, const std::string& out, const std::string& jobFile)
{
    if (specimen == "list") {
        for (const CatalogueEntry& e : catalogue())
            fmt::print("{:<22}{:<20}{}\n", e.name, e.method, e.words);
        return done;
    }
    const CatalogueEntry* entry = findCatalogueEntry(specimen);
    if (!entry || !findMethod(entry->method)) {
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
    auto written = writeFileWhole(out, recordCsv(run.record));
    if (written && !jobFile.empty()) {
        namespace fs = std::filesystem;
        const auto relative = fs::absolute(out).lexically_normal().lexically_relative(
            fs::absolute(jobFile).lexically_normal().parent_path());
        written = writeFileWhole(jobFile, jobFor(*entry, run, seed, relative.string()).dump(2) + "\n");
    }
    if (!written) {
        fmt::print(stderr, "fortitor-cli: {}\n", written.problem().text());
        return otherFailure;
    }
    return done;
}

} // namespace fortitor::cli
