// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/fatigue_job.h"

#include "methods/fatigue_sn/fatigue_sn.h"
#include "sim/random.h"

#include <fmt/format.h>

namespace fortitor {

Json fatigueJob(const FatigueKind& kind, const std::string& number, const std::string& title)
{
    Json j;
    j["fortitor_job"] = 1;
    j["job"] = {{"number", number}, {"title", title}};
    j["method"] = fatigueSn().id;
    j["material"] = {{"name", kind.material}};
    j["specimens"] = Json::array();
    return j;
}

Json fatigueSpecimen(const FatigueKind& kind, const std::string& label, double range, std::uint64_t seed)
{
    Random random(seed + 77);
    Json one{{"label", label}};
    one["dimensions"] = {{"shape", fatigueSn().shapes.front()},
                         {"width", fmt::format("{:.2f} mm", kind.width + 0.05 * random.normal())},
                         {"thickness", fmt::format("{:.2f} mm", kind.thickness + 0.02 * random.normal())}};
    one["notes"] = {{fatigueKeys::planned, fmt::format("{:g} MPa", range)},
                    {fatigueKeys::ratio, fmt::format("{:g}", kind.ratio)},
                    {fatigueKeys::frequency, fmt::format("{:g} Hz", kind.frequency)}};
    return one;
}

void runFatigueSpecimen(const FatigueKind& kind, Json& specimen, double range, double runOut, std::uint64_t seed)
{
    constexpr double usualStop = 0.1; // of the stiffness, as the job has it by itself
    const FatigueEnd end = runToEnd(drawFatiguePiece(kind, seed), range, runOut, usualStop);
    specimen["readings"] = {{fatigueKeys::range, Json::array({fmt::format("{:g} MPa", range)})},
                            {fatigueKeys::cycles, Json::array({fmt::format("{:.0f}", end.cycles)})}};
    specimen["notes"][fatigueKeys::outcome] = end.outcome;
    specimen["notes"][fatigueKeys::stopped] =
        end.outcome == fatigueKeys::runOut ? "run-out reached" : "the stiffness fell by what was set";
}

} // namespace fortitor
