// SPDX-License-Identifier: GPL-3.0-or-later
// What the page of the blow shows.
#include "methods/impact/impact.h"

#include "methods/common/figures.h"
#include "methods/impact/swing.h"

#include <fmt/format.h>

#include <cmath>
#include <map>

namespace fortitor {

std::string_view unitOfNote(std::string_view key)
{
    static const std::map<std::string_view, std::string_view> units{
        {impactKeys::temperature, "°C"}, {"bath_time", "min"},        {impactKeys::way, "s"},
        {impactKeys::shear, "%"},        {"lateral_expansion", "mm"}, {"halves_angle", "°"}};
    const auto it = units.find(key);
    return it == units.end() ? std::string_view() : it->second;
}

StrikeDesk strikeDesk(const SpecimenInput& input)
{
    StrikeDesk desk;
    desk.geometry = geometryOf(input);
    if (!desk.geometry) {
        desk.trouble = "Choose the geometry on Plan.";
        return desk;
    }
    const double width = meanLength(input, "width"), ligament = meanLength(input, "ligament");
    desk.sectionWords = width > 0 && ligament > 0
        ? fmt::format("{} × {} mm, {} mm²", formatSignificant(width, 4), formatSignificant(ligament, 4),
                      formatSignificant(width * ligament, 3))
        : "not measured yet";
    const auto pendulum = pendulumOf(input, *desk.geometry);
    if (!pendulum) {
        desk.trouble = pendulum.problem().text() + ". " + pendulum.problem().advice;
        return desk;
    }
    desk.pendulum = pendulum->energy;
    desk.release = pendulum->release;
    desk.lossWords = !pendulum->loss
        ? "not taken"
        : fmt::format("loss {:.3g} J, {:.2f} % of {:g} J{}", *pendulum->loss, 100 * *pendulum->loss / pendulum->energy,
                      pendulum->energy,
                      pendulum->subtract                                    ? ", taken off"
                          : *pendulum->loss <= lossShare * pendulum->energy ? ": good"
                                                                            : ": too much");
    if (pendulum->resolution > 0)
        desk.resolutionWords = fmt::format("dial reads to {:g} J", pendulum->resolution);
    const std::string bath = noteOf(input, "bath"), time = noteOf(input, "bath_time");
    desk.bathWords = (bath.empty() ? "not noted" : bath) + (time.empty() ? "" : ", " + time)
        + (bath == "gas"      ? " (wanted 30 min)"
               : bath.empty() ? ""
                              : " (wanted 5 min)");
    return desk;
}

double leastBath(const SpecimenInput& input)
{
    constexpr double liquid = 5 * 60, gas = 30 * 60; // s
    return noteOf(input, "bath") == "gas" ? gas : liquid;
}

Expected<Outcome> tryBlow(const SpecimenInput& input, const std::string& name, const std::string& text)
{
    const bool angle = name == "rise_angle";
    const Unit* assumed = angle ? findUnit("°", Kind::Angle) : findUnit("J", Kind::Energy);
    auto read = parseQuantity(text, angle ? Kind::Angle : Kind::Energy, assumed);
    if (!read)
        return read.problem();
    SpecimenInput tried = input;
    tried.readings = {{name, {*read}}};
    return evaluateImpact(tried);
}

std::optional<double> riseOf(const SpecimenInput& input)
{
    const ImpactGeometry* geometry = geometryOf(input);
    const auto pendulum = geometry ? pendulumOf(input, *geometry) : Expected<Pendulum>(Problem{});
    if (!pendulum)
        return std::nullopt;
    for (const auto& [name, list] : input.readings)
        if (!list.empty() && list.front())
            return name == "rise_angle" ? std::optional(list.front()->base) : pendulum->riseAfter(list.front()->base);
    return std::nullopt;
}

Expected<double> shearShare(double width, double ligament, double patchWidth, double patchHeight)
{
    if (!(width > 0) || !(ligament > 0))
        return Problem{"section under the notch", "not measured", "width and height", "Enter them on Measure."};
    if (patchWidth < 0 || patchHeight < 0 || patchWidth > width || patchHeight > ligament)
        return Problem{"bright patch",
                       fmt::format("{:g} × {:g} mm", patchWidth, patchHeight),
                       fmt::format("sides within {:g} × {:g} mm", width, ligament),
                       {}};
    return 1 - patchWidth * patchHeight / (width * ligament);
}

} // namespace fortitor
