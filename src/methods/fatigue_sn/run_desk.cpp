// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/fatigue_sn/run_desk.h"

#include "methods/common/figures.h"
#include "methods/common/section.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

RunLane::End endOf(const SpecimenInput& input)
{
    const std::string outcome = noteOf(input, fatigueKeys::outcome);
    return outcome == fatigueKeys::broken   ? RunLane::End::Broken
        : outcome == fatigueKeys::runOut    ? RunLane::End::RunOut
        : outcome == fatigueKeys::elsewhere ? RunLane::End::Elsewhere
                                            : RunLane::End::NotNoted;
}

double cyclesOf(const SpecimenInput& input)
{
    const auto it = input.readings.find(fatigueKeys::cycles);
    return it != input.readings.end() && !it->second.empty() && it->second.front() ? it->second.front()->base : 0;
}

RunLane laneOf(const SpecimenInput& input, const std::optional<SnLine>& line)
{
    RunLane lane{.label = input.label, .cycles = cyclesOf(input)};
    const auto plan = runPlanOf(input, line);
    if (!plan)
        return lane;
    lane.range = plan->range;
    lane.expected = plan->expected;
    if (line && line->slope > 0 && lane.expected > 0) {
        const double decades = 1.645 * line->scatter;
        lane.low = lane.expected * std::pow(10, -decades);
        lane.high = lane.expected * std::pow(10, decades);
    }
    if (lane.cycles >= 1)
        lane.end = endOf(input);
    if (plan->frequency > 0)
        lane.seconds = (lane.cycles >= 1 ? lane.cycles : lane.expected) / plan->frequency;
    return lane;
}

} // namespace

RunDesk runDesk(std::span<const SpecimenInput* const> inputs, const std::vector<bool>& counts)
{
    RunDesk desk;
    std::vector<SnPiece> pieces;
    for (size_t i = 0; i < inputs.size(); ++i) {
        const auto outcome = counts[i] ? evaluateFatigue(*inputs[i]) : Expected<Outcome>(Problem{});
        const Result* S = outcome ? outcome->find("S") : nullptr;
        const Result* N = outcome ? outcome->find("N") : nullptr;
        if (S && N && S->value && N->value)
            pieces.push_back({*S->value, *N->value, N->bound == Result::Bound::AtLeast});
    }
    if (!inputs.empty()) {
        const auto settings = snSettings(*inputs.front());
        const auto stops = stopsOf(*inputs.front());
        if (!settings)
            desk.trouble = settings.problem().text();
        else if (!stops)
            desk.trouble = stops.problem().text();
        if (stops)
            desk.stops = *stops;
        if (settings && !settings->staircase)
            if (const auto line = fitSn(pieces, settings->rule); line && line->slope > 0)
                desk.line = *line;
    }
    double low = desk.stops.runOut / 100, high = desk.stops.runOut;
    for (size_t i = 0; i < inputs.size(); ++i) {
        RunLane lane = laneOf(*inputs[i], desk.line);
        lane.left = !counts[i];
        if (const double cycles = lane.cycles >= 1 ? lane.cycles : std::min(lane.expected, desk.stops.runOut);
            cycles >= 1) {
            low = std::min(low, cycles);
            high = std::max(high, cycles);
        }
        desk.lanes.push_back(std::move(lane));
    }
    desk.low = std::pow(10, std::floor(std::log10(std::max(1.0, low / 1.5))));
    desk.high = std::pow(10, std::ceil(std::log10(high * 1.2)));
    return desk;
}

RunWords runWords(const RunPlan& plan)
{
    RunWords words;
    const auto kN = [](double newton) { return fmt::format("{:.3g}", newton / 1000); };
    words.forces = plan.least ? kN(*plan.least) + " to " + kN(*plan.greatest) + " kN"
        : !plan.range         ? "no range yet"
        : !plan.ratio         ? "note R for the forces"
                              : "measure the section for the forces";
    if (!plan.range)
        words.life = {};
    else if (!(plan.expected > 0))
        words.life = "life not known yet: a detail class on Plan, or a line";
    else
        words.life =
            fmt::format("about {} cycles ({}){}", cyclesText(plan.expected), plan.basis,
                        plan.frequency > 0 ? fmt::format(", {} at {:g} Hz", spanText(plan.seconds()), plan.frequency)
                                           : std::string(", note the frequency for the time"));
    return words;
}

Expected<RunOrder> runOrder(const SpecimenInput& input)
{
    const auto plan = runPlanOf(input, {});
    if (!plan)
        return plan.problem();
    const auto stops = stopsOf(input);
    if (!stops)
        return stops.problem();
    const std::string place = input.label;
    if (!plan->range)
        return Problem{place, "no range", "a range, keyed or planned", "Plan its level first."};
    if (!plan->ratio || !(*plan->ratio < 1))
        return Problem{place, "no R", "least over greatest stress, below 1, such as 0.1", "Note R first."};
    if (!(plan->frequency > 0))
        return Problem{place, "no frequency", "Hz", "Note the frequency first."};
    if (!plan->greatest)
        return Problem{place, "no section", "width and thickness, or the area", "Measure it first: forces go by it."};
    const auto area = sectionArea(input);
    return RunOrder{*plan->least, *plan->greatest, plan->frequency, area.value_or(0), *stops};
}

Expected<double> cyclesTyped(const std::string& text)
{
    std::string bare;
    for (size_t i = 0; i < text.size(); ++i)
        if (text.compare(i, 3, "\u202f") == 0)
            i += 2;
        else if (text.compare(i, 2, "\u00a0") == 0)
            ++i;
        else if (text[i] != ' ')
            bare += text[i];
    const auto value = parseNumber(bare);
    if (!value || !(*value >= 1) || !(*value <= 1e12))
        return Problem{"cycles", '"' + text + '"', "a number of cycles of at least 1", {}};
    return *value;
}

} // namespace fortitor
