// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/demo_parts.h"

#include "jobs/edits.h"
#include "methods/proof_load/proof_load.h"
#include "sim/catalogue.h"

#include <string>

namespace fortitor {
namespace {

struct Part {
    const char* label;
    const char* entry;
    std::uint64_t seed;
    bool tested;
    const char* marking;
};

DemoJob partsJob(const char* number, const char* title, const char* entry, const char* kind, const Json& tools,
                 const std::vector<Part>& parts)
{
    const CatalogueEntry& first = *findCatalogueEntry(entry);
    DemoJob demo;
    demo.job = edits::newJob(number, title, proofLoad(), 0);
    demo.job["material"] = {{"name", first.material}};
    demo.job["instruments"] = tools;
    for (const auto& [key, value] : first.options)
        demo.job["options"][key] = value;
    for (const Part& part : parts) {
        const CatalogueEntry& own = *findCatalogueEntry(part.entry);
        SimulatedRun run = part.tested ? simulateRun(own, part.seed) : SimulatedRun{{}, drawSpecimen(own, part.seed)};
        Json one{{"label", part.label}};
        one["dimensions"]["shape"] = own.shape;
        for (const auto& [key, values] : run.specimen.dimensions)
            one["dimensions"][key] = values.front();
        one["notes"] = {{"part", kind}, {"operator", "operator A"}};
        if (*part.marking)
            one["notes"]["marking"] = part.marking;
        for (const auto& [key, value] : run.specimen.notes)
            one["notes"][key] = value;
        demo.job["specimens"].push_back(std::move(one));
        demo.records.push_back(part.tested ? std::optional(std::move(run.record)) : std::nullopt);
    }
    return demo;
}

const Json& rule(size_t which)
{
    static const Json rules = demoRules();
    return rules[which];
}

} // namespace

Json demoRules()
{
    return Json::array({{{"name", "hoist rule"},
                         {"source", "Tarnholm Rowing Works, sheet H-4"},
                         {"place", "Tarnholm boat hall"},
                         {"edition", "3"},
                         {"date", "2025-02-01"},
                         {"break_against", "working-load"},
                         {"break_factor_min", "4"},
                         {"proof_factor", "2"},
                         {"cycles", "2"},
                         {"set_max", "0.2 mm"},
                         {"function", "free"}},
                        {{"name", "slipway rule"},
                         {"source", "Skerrow harbour, notice 12"},
                         {"place", "Skerrow slipway"},
                         {"edition", "1"},
                         {"date", "2023-06-15"},
                         {"break_against", "working-load"},
                         {"break_factor_min", "5"}},
                        {{"name", "trestle rule"},
                         {"source", "Tarnholm Rowing Works, sheet T-2"},
                         {"place", "Tarnholm boat hall"},
                         {"edition", "2"},
                         {"date", "2025-02-01"},
                         {"break_against", "gross-mass"},
                         {"gross_mass", "310 kg"},
                         {"break_factor_min", "4"},
                         {"proof_factor", "1.5"},
                         {"cycles", "2"}}});
}

std::vector<DemoJob> demoParts(const Json& tools)
{
    DemoJob eyes = partsJob("J-0118", "Lifting eyes, marked and unmarked", "lifting-eye", "eye", tools,
                            {{"E1", "lifting-eye", 11, true, "0.8 t, lot 7"},
                             {"E2", "lifting-eye", 12, true, "0.8 t, lot 7"},
                             {"U1", "lifting-eye-unmarked", 21, true, ""},
                             {"U2", "lifting-eye-unmarked", 22, true, ""}});
    eyes.job["rules"] = Json::array({rule(0), rule(1)});
    DemoJob straps = partsJob("J-0119", "Trestle straps, boat of 310 kg", "trestle-strap", "strap", tools,
                              {{"T1", "trestle-strap", 31, true, "200 kg"},
                               {"T2", "trestle-strap", 32, true, "200 kg"},
                               {"T3", "trestle-strap", 33, true, "200 kg"},
                               {"T4", "trestle-strap", 34, true, "200 kg"},
                               {"T5", "trestle-strap", 35, true, "200 kg"},
                               {"T6", "trestle-strap", 36, false, "200 kg"}});
    straps.job["rules"] = Json::array({rule(2)});
    std::vector<DemoJob> jobs;
    jobs.push_back(std::move(straps));
    jobs.push_back(std::move(eyes));
    return jobs;
}

} // namespace fortitor
