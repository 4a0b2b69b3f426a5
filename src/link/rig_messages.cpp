// SPDX-License-Identifier: GPL-3.0-or-later
// What is told of the frame for fatigue runs.
#include "link/messages.h"

#include <array>
#include <algorithm>
#include <cmath>
#include <string_view>

namespace fortitor {
namespace {

constexpr std::array<std::string_view, 4> rigStates{"empty", "ready", "running", "stopped"};
constexpr std::array<std::string_view, 8> rigStops{"none",   "hand",  "run-out",     "stiffness",
                                                   "travel", "force", "temperature", "guard"};

} // namespace

LinkJson rigJson(const RigStatus& status)
{
    return {{"kind", "rig-state"},
            {"state", rigStates[static_cast<size_t>(status.state)]},
            {"stop", rigStops[static_cast<size_t>(status.stop)]},
            {"label", status.label},
            {"cycles", status.cycles},
            {"least", status.least},
            {"greatest", status.greatest},
            {"travel", status.travel},
            {"stiffness", status.stiffness},
            {"temperature", status.temperature},
            {"frequency", status.frequency},
            {"pace", status.pace},
            {"guard", status.guard}};
}

Expected<RigStatus> rigFrom(const LinkJson& json)
{
    const auto state = std::ranges::find(rigStates, textOf(json, "state"));
    const auto stop = std::ranges::find(rigStops, textOf(json, "stop"));
    if (state == rigStates.end() || stop == rigStops.end())
        return Problem{"rig-state",
                       textOf(json, "state", "nothing") + ", " + textOf(json, "stop", "nothing"),
                       "a state and a stop that the link knows",
                       {}};
    RigStatus status;
    status.state = static_cast<RigStatus::State>(state - rigStates.begin());
    status.stop = static_cast<RigStatus::Stop>(stop - rigStops.begin());
    status.label = textOf(json, "label");
    for (const auto& [key, figure] : {std::pair("cycles", &status.cycles),
                                      {"least", &status.least},
                                      {"greatest", &status.greatest},
                                      {"travel", &status.travel},
                                      {"stiffness", &status.stiffness},
                                      {"temperature", &status.temperature},
                                      {"frequency", &status.frequency},
                                      {"pace", &status.pace}}) {
        *figure = figureOf(json, key, std::nan(""));
        if (!std::isfinite(*figure))
            return Problem{std::string("rig-state, ") + key, "no figure", "a number", {}};
    }
    status.guard = flagOf(json, "guard");
    return status;
}

LinkJson rigOrderJson(const RigOrder& order)
{
    return {{"label", order.label},
            {"least", order.least},
            {"greatest", order.greatest},
            {"frequency", order.frequency},
            {"before", order.before},
            {"run_out", order.runOut},
            {"travel_stop", order.travelStop},
            {"stiffness_stop", order.stiffnessStop},
            {"force_stop", order.forceStop},
            {"temperature_stop", order.temperatureStop}};
}

Expected<RigOrder> rigOrderFrom(const LinkJson& json)
{
    RigOrder order;
    order.label = textOf(json, "label");
    for (const auto& [key, figure] : {std::pair("least", &order.least),
                                      {"greatest", &order.greatest},
                                      {"frequency", &order.frequency},
                                      {"before", &order.before},
                                      {"run_out", &order.runOut},
                                      {"travel_stop", &order.travelStop},
                                      {"stiffness_stop", &order.stiffnessStop},
                                      {"force_stop", &order.forceStop},
                                      {"temperature_stop", &order.temperatureStop}}) {
        *figure = figureOf(json, key, std::nan(""));
        if (!std::isfinite(*figure))
            return Problem{std::string("order, ") + key, "no figure", "a number", {}};
    }
    return order;
}

} // namespace fortitor
