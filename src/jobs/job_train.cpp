// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/job_train.h"

#include "jobs/json_at.h"
#include "units/quantity.h"

namespace fortitor {

double toolFigure(const Json& job, const char* tool, const char* key, Kind kind)
{
    const Json one = objectAt(objectAt(job, "instruments"), tool);
    if (!one.is_object() || !one.contains(key) || !one[key].is_string())
        return 0;
    const auto figure = parseQuantity(one[key].get<std::string>(), kind);
    return figure ? figure->base : 0;
}

std::vector<TrainLink> trainOf(const Json& job, const Method& method)
{
    std::vector<TrainLink> train;
    for (const LinkSpec& link : method.train.links) {
        const Json one = objectAt(objectAt(job, "instruments"), link.key.c_str());
        if (!link.none.empty() || one.contains("name"))
            train.push_back({link.kind, textAt(one, "name", link.none.c_str()),
                             toolFigure(job, link.key.c_str(), "capacity", method.train.load),
                             link.form == LinkSpec::Form::Cell ? calibratedFrom : 0});
    }
    return train;
}

} // namespace fortitor
