// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/demo.h"

#include "app/model/demo_hardness.h"
#include "app/model/demo_impact.h"
#include "app/model/demo_fatigue.h"
#include "app/model/demo_parts.h"
#include "app/model/demo_plates.h"
#include "app/model/own_tables.h"
#include "app/model/session.h"
#include "jobs/edits.h"
#include "methods/cai/cai.h"
#include "methods/proof_load/proof_load.h"
#include "sim/catalogue.h"
#include "units/quantity.h"

#include <numbers>

#include <QDate>
#include <QDateTime>

namespace fortitor {
namespace {

const QString operatorA = "operator A";

Json instrumentJson(const char* name, std::initializer_list<std::pair<const char*, const char*>> values)
{
    Json json{{"name", name}};
    for (const auto& [key, value] : values)
        json[key] = value;
    return json;
}

Json toolsFor(const std::vector<InstrumentRow>& rows, const QString& cell, const Method& method)
{
    Json tools;
    for (const InstrumentRow& row : rows) {
        if (row.kind == "cell" && row.name == cell)
            tools["force"] = row.body;
        const auto& links = method.train.links;
        for (const char* kind : {"grips", "platens", "extensometer", "calliper"}) {
            const bool linked = std::ranges::find(links, kind, &LinkSpec::kind) != links.end();
            const bool wanted =
                linked || row.kind == "calliper" || (row.kind == "extensometer" && !method.train.extensometer.empty());
            if (row.kind == kind && wanted && !tools.contains(kind))
                tools[kind] = row.body;
        }
    }
    return tools;
}

/// One specimen of a lot: how far it has come and what went wrong with it.
struct Making {
    std::uint64_t seed = 1;
    bool measured = true;
    bool tested = true;
    bool nominalKeyed = false; ///< the nominal size was keyed instead of the measured one
    bool slipped = false; ///< the extensometer slipped on the straight part
    bool inch = false; ///< read on scales in inch and pound
    bool mistyped = false; ///< a decimal mark slipped in one reading
    double dent = 1; ///< share of the peak that a dented shell keeps
    const char* entry = nullptr; ///< another kind than the lot's
    std::map<std::string, std::string> notes{};
};

struct Lot {
    const char* number;
    const char* title;
    const char* material;
    const char* entry;
    const char* prefix;
    QString cell;
    Json requirements;
    std::vector<Making> specimens;
    std::map<std::string, std::string> options;
    std::map<std::string, std::string> materialNotes;
};

/// Sizes as keyed, with what went wrong in keying.
Json keyedSizes(const CatalogueEntry& entry, const SimulatedSpecimen& drawn, const Making& making)
{
    Json sizes;
    sizes["shape"] = entry.shape;
    for (const auto& [key, values] : drawn.dimensions) {
        const bool after = key.starts_with("final_");
        const bool section = key == "diameter" || key == "width" || key == "thickness" || key == "depth"
            || key == "length" || key == "height";
        if ((after && !making.tested) || (section && !making.measured))
            continue;
        sizes[key] = values.size() == 1 ? Json(values.front()) : Json(values);
    }
    const char* across = sizes.contains("diameter") ? "diameter" : "width";
    if (making.nominalKeyed && sizes.contains(across) && sizes[across].is_array())
        for (Json& reading : sizes[across])
            reading = formatFixed(entry.diameter > 0 ? entry.diameter : entry.width, 2) + " mm";
    if (making.mistyped && sizes.contains(across) && sizes[across].is_array())
        sizes[across][1] =
            formatFixed(parseQuantity(sizes[across][1].get<std::string>(), Kind::Length)->base * 10, 1) + " mm";
    return sizes;
}

/// As it is written on a sheet, no finer than its instrument.
std::string keyedReading(Kind kind, double value, bool inch)
{
    if (inch && kind == Kind::Length)
        return formatFixed(value / 25.4, 3) + " in";
    if (inch && kind == Kind::Force)
        return formatFixed(findUnit("lbf")->fromBase(value), 0) + " lbf";
    switch (kind) {
    case Kind::Length: return formatFixed(value, 2) + " mm";
    case Kind::Force: return formatFixed(value / 1000, 2) + " kN";
    case Kind::Torque: return formatFixed(value / 1000, 1) + " Nm";
    case Kind::Angle: return formatFixed(value * 180 / std::numbers::pi, 1) + " deg";
    default: return formatFixed(value * 1e6, 0) + " ue";
    }
}

Expected<Done> makeLot(Logbook& logbook, const Lot& lot)
{
    const Method& method = *findMethod(findCatalogueEntry(lot.entry)->method);
    Json job = edits::newJob(lot.number, lot.title, method, 0);
    job["material"] = {{"name", lot.material}};
    for (const auto& [key, value] : lot.materialNotes)
        job["material"][key] = value;
    job["instruments"] = toolsFor(demoInstruments(), lot.cell, method);
    job["requirements"] = lot.requirements;
    for (const auto& [key, value] : lot.options)
        job["options"][key] = value;
    std::vector<std::optional<SimulatedRun>> runs;
    int number = 0;
    for (const Making& making : lot.specimens) {
        const CatalogueEntry& entry = *findCatalogueEntry(making.entry ? making.entry : lot.entry);
        SimulatedSpecimen drawn = drawSpecimen(entry, making.seed);
        if (making.slipped) {
            drawn.conditions.slipAtStrain = 0.0006;
            drawn.conditions.slipStep = 0.008;
        }
        if (auto* shell = std::get_if<ShellModel>(&drawn.model); shell && making.dent < 1) {
            shell->peak *= making.dent;
            shell->peakTravel *= 1.6;
            settleTruth(drawn, entry);
        }
        Json specimen{{"label", lot.prefix + std::to_string(++number)}};
        specimen["dimensions"] = keyedSizes(entry, drawn, making);
        for (const auto& [key, value] : making.notes)
            specimen["notes"][key] = value;
        if (making.entry)
            for (const auto& [key, value] : entry.options)
                if (key != "steps")
                    specimen["options"][key] = value;
        if (making.inch)
            specimen["options"]["dial_division"] = "0.001 in";
        if (entry.steps > 0 && making.tested) {
            // Read at the steps and keyed, as a sheet of paper would have it.
            const SimulatedRun run = simulateRun(entry, drawn, making.seed);
            for (const Channel& channel : run.record.channels)
                for (size_t i = 0; i < channel.values.size(); ++i)
                    specimen["readings"][channel.name].push_back(
                        keyedReading(findChannelName(channel.name)->kind, channel.values[i], making.inch));
            job["specimens"].push_back(specimen);
            runs.push_back(std::nullopt);
            continue;
        }
        job["specimens"].push_back(specimen);
        runs.push_back(making.tested ? std::optional(simulateRun(entry, drawn, making.seed)) : std::nullopt);
    }
    auto id = logbook.addJob(job, operatorA, QString("job %1 imported").arg(lot.number));
    if (!id)
        return id.problem();
    Session session(logbook);
    if (auto ok = session.open(*id); !ok)
        return ok;
    for (size_t i = 0; i < runs.size(); ++i)
        if (runs[i] && !session.attach(i, runs[i]->record))
            return Problem{lot.number, "a record that could not be kept", "", {}};
    return Done{};
}

} // namespace

std::vector<InstrumentRow> demoInstruments()
{
    const auto due = [](int days) { return QDate::currentDate().addDays(days).toString(Qt::ISODate); };
    const auto row = [&](const char* kind, Json body, int days) {
        return InstrumentRow{QString::fromStdString(body["name"].get<std::string>()), kind, std::move(body), due(days)};
    };
    return {
        row("objective", instrumentJson("40×", {{"pixel", "0.1736 um"}, {"error", "0.0006 um"}}), 210),
        row("objective", instrumentJson("Brinell lens 2×", {{"pixel", "6.04 um"}, {"error", "0.02 um"}}), 64),
        row("hardness tester", instrumentJson("tester R-2", {}), 148),
        row("hardness tester", instrumentJson("tester H-3", {}), 201),
        row("hardness tester", instrumentJson("tester M-1", {}), 77),
        row("calliper", instrumentJson("calliper C-07", {{"error", "0.02 mm"}, {"resolution", "0.01 mm"}}), 120),
        row("cell", instrumentJson("cell K-50", {{"capacity", "50 kN"}, {"class", "1"}}), 214),
        row("cell",
            instrumentJson("cell K-100", {{"capacity", "100 kN"}, {"class", "1"}, {"simulated_error", "1.3 %"}}), 9),
        row("cell", instrumentJson("cell K-5", {{"capacity", "5 kN"}, {"class", "0.5"}}), 160),
        row("extensometer", instrumentJson("extensometer X-50", {{"class", "1"}, {"travel", "25 mm"}}), 83),
        row("cell", instrumentJson("cell K-10", {{"capacity", "10 kN"}, {"class", "0.5"}}), 188),
        row("cell", instrumentJson("torque cell Q-200", {{"capacity", "200 Nm"}, {"class", "1"}}), 141),
        row("grips", instrumentJson("wedge grips G-40", {{"capacity", "40 kN"}}), 300),
        row("platens", instrumentJson("platens P-100", {{"capacity", "100 kN"}}), 300),
        row("fixture", instrumentJson("block yokes Y-12", {{"capacity", "12 kN"}}), 300),
        row("fixture", instrumentJson("pins and yokes Y-45", {{"capacity", "45 kN"}}), 300),
        row("adhesive", instrumentJson("adhesive B-12", {{"strength", "14 MPa"}, {"cure", "24 h"}}), 96),
        row("adhesive", instrumentJson("adhesive F-2, quick", {{"strength", "6 MPa"}, {"cure", "2 h"}}), 40),
    };
}

Expected<Done> fillDemo(Logbook& logbook)
{
    for (const InstrumentRow& row : demoInstruments())
        if (auto ok = logbook.keepInstrument(row, operatorA); !ok)
            return ok;
    const auto atLeast = [](const char* symbol, const char* min) { return Json{{"symbol", symbol}, {"min", min}}; };
    const auto broke = [](const char* how) { return std::map<std::string, std::string>{{"fracture", how}}; };
    const auto cup = broke("cup and cone");
    const auto batten = [](const char* how) {
        return std::map<std::string, std::string>{{"rings", "flat"}, {"grain", "1 in 20"}, {"failure", how}};
    };
    const auto printed = [](const char* direction, const char* how) {
        return std::map<std::string, std::string>{
            {"direction", direction}, {"made", "printing"}, {"layer", "0.2 mm"}, {"fracture", how}};
    };
    const auto coded = [](const char* kind, const char* area, const char* place) {
        return std::map<std::string, std::string>{
            {"failure_kind", kind}, {"failure_area", area}, {"failure_place", place}};
    };
    const auto bonded = [](int hoursAgo, const char* place, bool tested) {
        const QDateTime at = QDateTime::currentDateTime().addSecs(-3600LL * hoursAgo);
        std::map<std::string, std::string> notes{
            {"adhesive", "adhesive B-12"}, {"cure", "24 h"}, {"bonded", at.toString("yyyy-MM-dd HH:mm").toStdString()}};
        if (*place)
            notes["failure_place"] = place;
        if (tested)
            notes["tested"] = at.addSecs(26 * 3600).toString("yyyy-MM-dd HH:mm").toStdString();
        return notes;
    };
    std::vector<Making> canisters;
    for (std::uint64_t i = 0; i < 20; ++i) {
        Making one{.seed = 301 + i};
        one.notes = {{"operator", i % 2 == 0 ? "operator A" : "operator B"},
                     {"batch", i < 10 ? "batch 1" : "batch 2"},
                     {"condition", "sound"},
                     {"folds", "several folds"}};
        if (i == 12) {
            one.dent = 0.55;
            one.notes["condition"] = "dented";
            one.notes["folds"] = "tilted";
        }
        if (i >= 18) {
            one.tested = false;
            one.notes.erase("folds");
        }
        canisters.push_back(one);
    }
    const auto twisted = [&](const char* how) { return broke(how); };
    const std::vector<Lot> lots{
        {"J-0111",
         "Sill pin and hollow shaft, torsion",
         "6082-T6",
         "sill-pin",
         "X",
         "torque cell Q-200",
         Json::array({atLeast("tau_p", "140 MPa")}),
         {{.seed = 111, .notes = twisted("flat across")},
          {.seed = 112, .notes = twisted("flat across")},
          {.seed = 113, .entry = "hollow-shaft", .notes = twisted("flat across")},
          {.seed = 114, .tested = false, .entry = "hollow-shaft"}},
         {},
         {{"direction", "along"}}},
        {"J-0110",
         "Spruce loom battens, bending",
         "spruce",
         "loom-batten",
         "B",
         "cell K-5",
         Json::array(
             {Json{{"symbol", "MOR"}, {"min", "55 MPa"}, {"mean_min", "62 MPa"}, {"lower_bound_min", "50 MPa"}}}),
         {{.seed = 101, .notes = batten("simple tension")},
          {.seed = 102, .notes = batten("splintering tension")},
          {.seed = 103, .notes = batten("simple tension")},
          {.seed = 104, .notes = batten("cross-grain tension")},
          {.seed = 105, .notes = batten("simple tension")},
          {.seed = 106, .inch = true, .entry = "loom-batten-third", .notes = batten("compression")},
          {.seed = 107, .inch = true, .entry = "loom-batten-third", .notes = batten("simple tension")},
          {.seed = 108, .tested = false, .inch = true, .entry = "loom-batten-third", .notes = {{"rings", "upright"}}}},
         {},
         {{"moisture", "12 %"}}},
        {"J-0109",
         "Rigger strip, Poisson's ratio",
         "6082-T6",
         "rigger-strip",
         "R",
         "cell K-50",
         Json::array(),
         {{.seed = 91}, {.seed = 92}, {.seed = 93, .tested = false}},
         {{"gauge_factor", "2.07"}, {"gauge_factor_set", "2.07"}},
         {{"direction", "along"}}},
        {"J-0108",
         "Buoyancy canisters, crush",
         "aluminium canister",
         "canister",
         "C",
         "cell K-5",
         Json::array({atLeast("F_peak", "750 N")}),
         canisters,
         {{"crush_to", "40 mm"}, {"expected_force", "1000 N"}},
         {}},
        {"J-0107",
         "Sill blocks, compression",
         "6082-T6",
         "sill-block",
         "K",
         "cell K-50",
         Json::array({atLeast("Rp0.2", "240 MPa")}),
         {{.seed = 71, .notes = {{"shape_after", "barrelled"}}},
          {.seed = 72, .notes = {{"shape_after", "barrelled"}}},
          {.seed = 73, .notes = {{"shape_after", "barrelled"}}}},
         {{"stated_strain", "10 %"}},
         {}},
        {"J-0106",
         "Shell sandwich, foam core, flatwise",
         "shell sandwich, foam core",
         "shell-sandwich",
         "W",
         "cell K-10",
         Json::array({atLeast("Fz_tu", "1.6 MPa")}),
         {{.seed = 61, .notes = bonded(80, "core", true)},
          {.seed = 62, .notes = bonded(80, "core", true)},
          {.seed = 63, .notes = bonded(79, "block adhesive", true)},
          {.seed = 64, .notes = bonded(78, "core-to-skin bond", true)},
          {.seed = 65, .notes = bonded(78, "core", true)},
          {.seed = 66, .tested = false, .notes = bonded(6, "", false)}},
         {{"expected_force", "5 kN"}},
         {}},
        {"J-0105",
         "Foot-plate bars, three print directions",
         "PLA",
         "footplate-along",
         "P",
         "cell K-5",
         Json::array({atLeast("sigma_m", "35 MPa")}),
         {{.seed = 51, .notes = printed("along 0°", "brittle")},
          {.seed = 52, .notes = printed("along 0°", "brittle")},
          {.seed = 53, .notes = printed("along 0°", "brittle")},
          {.seed = 54, .entry = "footplate-crossed", .notes = printed("crossed ±45°", "yield, then break")},
          {.seed = 55,
           .mistyped = true,
           .entry = "footplate-crossed",
           .notes = printed("crossed ±45°", "yield, then break")},
          {.seed = 56, .entry = "footplate-crossed", .notes = printed("crossed ±45°", "yield, then break")},
          {.seed = 57, .entry = "footplate-across", .notes = printed("across 90°", "between layers")},
          {.seed = 58, .entry = "footplate-across", .notes = printed("across 90°", "between layers")},
          {.seed = 59, .entry = "footplate-across", .notes = printed("across 90°", "at the grip")}},
         {},
         {{"conditioning", "23 °C, 50 %, 40 h"}}},
        {"J-0104",
         "Shell skin, incoming panel",
         "carbon/epoxy fabric",
         "shell-skin",
         "L",
         "cell K-50",
         Json::array({atLeast("sigma_max", "550 MPa"), atLeast("E_chord", "55 GPa")}),
         {{.seed = 41, .notes = coded("L lateral", "G gauge length", "M middle")},
          {.seed = 42, .notes = coded("L lateral", "G gauge length", "T top")},
          {.seed = 43, .notes = coded("A angled", "W within one width", "B bottom")},
          {.seed = 44, .notes = coded("G at grip or tab", "A at the grip", "T top")},
          {.seed = 45, .notes = coded("L lateral", "G gauge length", "M middle")},
          {.seed = 46, .notes = coded("X explosive", "G gauge length", "M middle")}},
         {},
         {{"layup", "[0/90]4s"}}},
        {"J-0103",
         "Backstay bar, carbon-steel twin",
         "steel S355 hot rolled",
         "backstay-twin",
         "T",
         "cell K-50",
         Json::array({atLeast("ReH", "355 MPa"), atLeast("Rm", "470 MPa"), atLeast("A", "22 %")}),
         {{.seed = 21, .notes = cup},
          {.seed = 22, .notes = cup},
          {.seed = 23, .notes = cup},
          {.seed = 24, .notes = cup},
          {.seed = 25, .notes = cup}},
         {},
         {{"direction", "along, at mid length"}}},
        {"J-0102",
         "Stainless backstay bar",
         "stainless 1.4301 annealed",
         "backstay-bar",
         "S",
         "cell K-50",
         Json::array({atLeast("Rp0.2", "210 MPa"), atLeast("Rm", "520 MPa"), atLeast("A", "45 %")}),
         {{.seed = 11, .notes = cup},
          {.seed = 12, .notes = cup},
          {.seed = 13, .slipped = true, .notes = cup},
          {.seed = 14, .notes = cup},
          {.seed = 15, .notes = cup}},
         {},
         {{"direction", "along, at mid length"}}},
        {"J-0101",
         "Rigger tube, incoming lot",
         "6082-T6",
         "rigger-tube",
         "A",
         "cell K-50",
         Json::array({atLeast("Rm", "290 MPa"), atLeast("A", "8 %")}),
         {{.seed = 1, .notes = cup},
          {.seed = 2, .nominalKeyed = true, .notes = cup},
          {.seed = 3, .notes = cup},
          {.seed = 4, .tested = false},
          {.seed = 5, .measured = false, .tested = false}},
         {},
         {{"direction", "along, at mid length"}}},
    };
    const HardnessDemo hardness = demoHardness();
    for (const auto& [name, bytes] : hardness.pictures)
        if (auto ok = logbook.keepPicture(0, name, bytes, operatorA); !ok)
            return ok;
    std::vector<DemoJob> recorded = demoPlates(toolsFor(demoInstruments(), "cell K-100", compressionAfterImpact()));
    Json pinned = toolsFor(demoInstruments(), "cell K-100", proofLoad());
    pinned["fixture"] = instrumentJson("pins and yokes Y-45", {{"capacity", "45 kN"}});
    for (DemoJob& job : demoParts(pinned))
        recorded.push_back(std::move(job));
    if (auto ok = logbook.keepInstrument(ownRulesRow(demoRules()), operatorA); !ok)
        return ok;
    for (const DemoJob& job : recorded) {
        const auto id =
            logbook.addJob(job.job, operatorA,
                           QString("job %1 imported").arg(job.job["job"]["number"].get<std::string>().c_str()));
        if (!id)
            return id.problem();
        Session session(logbook);
        if (auto ok = session.open(*id); !ok)
            return ok;
        for (size_t i = 0; i < job.records.size(); ++i)
            if (job.records[i] && !session.attach(i, *job.records[i]))
                return Problem{"demo", "a record that could not be kept", "", {}};
    }
    std::vector<Json> desks = demoFatigue();
    auto histories = demoHistories(logbook.file());
    if (!histories)
        return histories.problem();
    desks.push_back(std::move(*histories));
    for (Json& job : demoImpact())
        desks.push_back(std::move(job));
    desks.insert(desks.end(), hardness.jobs.begin(), hardness.jobs.end());
    for (const Json& job : desks) {
        const std::string number = job["job"]["number"];
        const auto id = logbook.addJob(job, operatorA, QString("job %1 imported").arg(number.c_str()));
        if (!id)
            return id.problem();
        Session session(logbook);
        if (auto ok = session.open(*id); !ok)
            return ok;
        if (&job == &desks.front() && !session.attach(demoWatched, demoCrack(job)))
            return Problem{"demo", "a record that could not be kept", "", {}};
    }
    for (const Lot& lot : lots)
        if (auto ok = makeLot(logbook, lot); !ok)
            return ok;
    return Done{};
}

} // namespace fortitor
