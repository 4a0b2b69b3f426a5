// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/demo.h"

#include "app/model/session.h"
#include "jobs/edits.h"
#include "sim/catalogue.h"
#include "units/quantity.h"

#include <QDate>

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

Json toolsFor(const std::vector<InstrumentRow>& rows, const QString& cell)
{
    Json tools;
    for (const InstrumentRow& row : rows) {
        if (row.kind == "cell" && row.name == cell)
            tools["force"] = row.body;
        if (row.kind == "grips" && !tools.contains("grips"))
            tools["grips"] = row.body;
        if (row.kind == "extensometer" && !tools.contains("extensometer"))
            tools["extensometer"] = row.body;
        if (row.kind == "calliper" && !tools.contains("calliper"))
            tools["calliper"] = row.body;
    }
    return tools;
}

/// One specimen of a lot: how far it has come and what went wrong with it.
struct Making {
    std::uint64_t seed = 1;
    bool measured = true;
    bool tested = true;
    bool nominalKeyed = false; ///< the nominal size was keyed instead of the measured one
    bool slipped = false;      ///< the extensometer slipped on the straight part
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
};

Expected<Done> makeLot(Logbook& logbook, const Lot& lot)
{
    const CatalogueEntry& entry = *findCatalogueEntry(lot.entry);
    Json job = edits::newJob(lot.number, lot.title, *findMethod(entry.method), 0);
    job["material"] = {{"name", lot.material}, {"direction", "along, at mid length"}};
    job["instruments"] = toolsFor(demoInstruments(), lot.cell);
    job["requirements"] = lot.requirements;
    std::vector<std::optional<SimulatedRun>> runs;
    int number = 0;
    for (const Making& making : lot.specimens) {
        SimulatedSpecimen drawn = drawSpecimen(entry, making.seed);
        if (making.slipped) {
            drawn.conditions.slipAtStrain = 0.0006;
            drawn.conditions.slipStep = 0.008;
        }
        Json specimen{{"label", lot.prefix + std::to_string(++number)}};
        Json& sizes = specimen["dimensions"];
        sizes["shape"] = entry.diameter > 0 ? "round" : "rectangular";
        for (const auto& [key, values] : drawn.dimensions) {
            const bool after = key.starts_with("final_");
            const bool section = key == "diameter" || key == "width" || key == "thickness";
            if ((after && !making.tested) || (section && !making.measured))
                continue;
            sizes[key] = values.size() == 1 ? Json(values.front()) : Json(values);
        }
        if (making.nominalKeyed && sizes.contains("diameter"))
            for (Json& reading : sizes["diameter"])
                reading = formatFixed(entry.diameter, 2) + " mm";
        if (making.tested)
            specimen["notes"]["fracture"] = "cup and cone";
        job["specimens"].push_back(specimen);
        runs.push_back(making.tested ? std::optional(simulateRun(entry, drawn, making.seed)) : std::nullopt);
    }
    auto id = logbook.addJob(job, operatorA, QString("job %1 taken in").arg(lot.number));
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
    const auto row = [&](const char* kind, Json body, int days) { return InstrumentRow{QString::fromStdString(body["name"].get<std::string>()), kind, std::move(body), due(days)}; };
    return {
        row("calliper", instrumentJson("calliper C-07", {{"error", "0.02 mm"}, {"resolution", "0.01 mm"}}), 120),
        row("cell", instrumentJson("cell K-50", {{"capacity", "50 kN"}, {"class", "1"}}), 214),
        row("cell", instrumentJson("cell K-100", {{"capacity", "100 kN"}, {"class", "1"}}), 9),
        row("cell", instrumentJson("cell K-5", {{"capacity", "5 kN"}, {"class", "0.5"}}), 160),
        row("extensometer", instrumentJson("extensometer X-50", {{"class", "1"}, {"travel", "25 mm"}}), 83),
        row("grips", instrumentJson("wedge grips G-40", {{"capacity", "40 kN"}}), 300),
    };
}

Expected<Done> fillDemo(Logbook& logbook)
{
    for (const InstrumentRow& row : demoInstruments())
        if (auto ok = logbook.keepInstrument(row, operatorA); !ok)
            return ok;
    const auto atLeast = [](const char* symbol, const char* min) { return Json{{"symbol", symbol}, {"min", min}}; };
    const Lot lots[] = {
        {"J-0103", "Backstay bar, carbon-steel twin", "steel S355 hot rolled", "backstay-twin", "T", "cell K-50", Json::array({atLeast("ReH", "355 MPa"), atLeast("Rm", "470 MPa"), atLeast("A", "22 %")}), {{21}, {22}, {23}, {24}, {25}}},
        {"J-0102", "Stainless backstay bar", "stainless 1.4301 annealed", "backstay-bar", "S", "cell K-50", Json::array({atLeast("Rp0.2", "210 MPa"), atLeast("Rm", "520 MPa"), atLeast("A", "45 %")}), {{11}, {12}, {.seed = 13, .slipped = true}, {14}, {15}}},
        {"J-0101", "Rigger tube, incoming lot", "6082-T6", "rigger-tube", "A", "cell K-50", Json::array({atLeast("Rm", "290 MPa"), atLeast("A", "8 %")}), {{1}, {.seed = 2, .nominalKeyed = true}, {3}, {.seed = 4, .tested = false}, {.seed = 5, .measured = false, .tested = false}}},
    };
    for (const Lot& lot : lots)
        if (auto ok = makeLot(logbook, lot); !ok)
            return ok;
    return Done{};
}

} // namespace fortitor
