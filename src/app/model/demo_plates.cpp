// SPDX-License-Identifier: GPL-3.0-or-later
// The demo's chain: shell plates under the drop weight, and the same plates under compression.
#include "app/model/demo_plates.h"

#include "jobs/chained.h"
#include "jobs/dropped_job.h"
#include "methods/cai/cai.h"
#include "sim/catalogue.h"

#include <fmt/format.h>

#include <array>

namespace fortitor {
namespace {

constexpr std::array heights{250.0, 360.0, 522.0, 522.0, 640.0}; // mm
constexpr double undamaged = 304; // MPa

} // namespace

std::vector<DemoJob> demoPlates(const Json& tools)
{
    const DroppedKind kind;
    DemoJob struck{droppedJob(kind, "J-0117", "Shell plates, drop weight"), {}};
    struck.job["material"]["direction"] = "crossed ±45°";
    DemoJob pressed;
    std::vector<BlowOf> blows;
    const CatalogueEntry& entry = *findCatalogueEntry("shell-plate");
    for (size_t i = 0; i < heights.size(); ++i) {
        const std::uint64_t seed = i + 3;
        DroppedPlate plate = dropOn(kind, heights[i], seed);
        const std::string label = fmt::format("S{}", i + 1);
        Json one = droppedSpecimen(label, plate, heights[i]);
        one["notes"] = {{"operator", i % 2 == 0 ? "operator A" : "operator B"},
                        {"damage_front", plate.truth.at("E_i") > 30 ? "crack" : "dent"},
                        {"damage_back", plate.truth.at("E_i") > 16 ? "splits" : "none"}};
        struck.job["specimens"].push_back(std::move(one));
        const double energy = plate.truth.at("E_i");
        blows.push_back({label, energy, plate.dent, {}});
        struck.records.emplace_back(std::move(plate.record));
        // The same plate later: what the blow left of it.
        SimulatedSpecimen drawn = drawSpecimen(entry, seed);
        auto& model = std::get<LaminateModel>(drawn.model);
        model.strength *= undamaged * leftAfter(energy) / 172;
        model.bending = i == 2 ? 0.117 : model.bending;
        settleTruth(drawn, entry);
        drawn.bar.bending = model.bending;
        const bool waits = i + 1 == heights.size();
        pressed.records.push_back(waits ? std::optional<Record>()
                                        : std::optional(simulateRun(entry, std::move(drawn), seed).record));
    }
    pressed.job = compressionOf(struck.job, blows, "J-0117C");
    pressed.job["job"]["title"] = "Shell plates, compression after impact";
    pressed.job["options"] = {{"undamaged", fmt::format("{:g} MPa", undamaged)}, {"expected_force", "90 kN"}};
    pressed.job["requirements"] = Json::array({Json{{"symbol", "left_over"}, {"min", "45 %"}}});
    pressed.job["instruments"] = tools;
    for (size_t i = 0; i + 1 < heights.size(); ++i)
        pressed.job["specimens"][i]["notes"]["failure"] = "through";
    return {std::move(pressed), std::move(struck)};
}

} // namespace fortitor
