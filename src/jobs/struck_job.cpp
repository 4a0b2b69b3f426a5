// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/struck_job.h"

#include "methods/impact/impact.h"

#include <fmt/format.h>

namespace fortitor {

Json struckJob(const StruckKind& kind, const std::string& number, const std::string& title)
{
    Json job;
    job["fortitor_job"] = 1;
    job["job"] = {{"number", number}, {"title", title}};
    job["method"] = impact().id;
    job["material"] = {{"name", kind.material}};
    job["options"] = {{"geometry", kind.geometry},
                      {"pendulum", fmt::format("{:g} J", kind.pendulum)},
                      {"loss", fmt::format("{:g} J", kind.loss)},
                      {"resolution", fmt::format("{:g} J", kind.step)},
                      {"release_angle", fmt::format("{:g}°", kind.release)}};
    job["specimens"] = Json::array();
    return job;
}

Json struckSpecimen(const StruckKind& kind, const std::string& label, std::optional<double> temperature,
                    std::uint64_t seed)
{
    const double off = 0.01 * (static_cast<double>(seed * 5 % 7) - 3);
    Json one{{"label", label},
             {"dimensions",
              {{"shape", "bar"},
               {"width", fmt::format("{:.2f} mm", kind.sectionWidth + off)},
               {"ligament", fmt::format("{:.2f} mm", kind.ligament - 0.5 * off)}}}};
    if (!temperature)
        return one;
    const StruckPiece blow = strike(kind, *temperature, seed);
    one["readings"] = {{"energy", Json::array({fmt::format("{:g} J", blow.energy)})}};
    constexpr double warm = 15; // °C: above it there is no liquid bath
    Json notes{{"temperature", fmt::format("{:g} °C", *temperature)},
               {"bath", *temperature < warm ? "liquid" : "gas"},
               {"bath_time", *temperature < warm ? "8 min" : "35 min"},
               {"bath_to_blow", fmt::format("{:.1f} s", blow.way)},
               {"break", blow.broken},
               {"look", blow.look}};
    if (kind.plastic) {
        notes["notch_made"] = "cut";
    } else {
        notes["shear_fraction"] = fmt::format("{:.0f} %", 100 * blow.shear);
        notes["lateral_expansion"] = fmt::format("{:.2f} mm", blow.expansion);
    }
    one["notes"] = std::move(notes);
    return one;
}

} // namespace fortitor
