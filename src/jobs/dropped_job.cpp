// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/dropped_job.h"

#include "methods/drop_weight/drop_weight.h"

#include <fmt/format.h>

namespace fortitor {

Json droppedJob(const DroppedKind& kind, const std::string& number, const std::string& title)
{
    Json job;
    job["fortitor_job"] = 1;
    job["job"] = {{"number", number}, {"title", title}};
    job["method"] = dropWeight().id;
    job["material"] = {{"name", kind.material}};
    job["options"] = {{dropKeys::mass, fmt::format("{:g} kg", kind.mass)}};
    job["specimens"] = Json::array();
    return job;
}

Json droppedSpecimen(const std::string& label, const DroppedPlate& plate, double height)
{
    const double h = plate.thickness;
    const auto mm = [](double value, int digits) { return fmt::format("{:.{}f} mm", value, digits); };
    return Json{{"label", label},
                {"dimensions",
                 {{"shape", dropKeys::shape},
                  {dropKeys::length, "150.1 mm"},
                  {dropKeys::width, "100.1 mm"},
                  {dropKeys::thickness, Json::array({mm(h - 0.01, 2), mm(h, 2), mm(h + 0.01, 2)})},
                  {dropKeys::dent, mm(plate.dent, 2)},
                  {dropKeys::dentRelaxed, mm(plate.dentRelaxed, 2)},
                  {dropKeys::damageLength, mm(plate.damageLength, 0)},
                  {dropKeys::damageWidth, mm(plate.damageWidth, 0)}}},
                {"options",
                 {{dropKeys::height, mm(height, 0)}, {dropKeys::speed, fmt::format("{:.3f} m/s", plate.speed)}}}};
}

} // namespace fortitor
