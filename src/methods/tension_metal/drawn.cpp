// SPDX-License-Identifier: GPL-3.0-or-later
// The curve that is drawn, and its marks moved by hand.
#include "methods/tension_metal/evaluate_parts.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {

void drawCurve(MetalFigures& f, StressStrain&& data)
{
    const TensionReading& r = *f.reading;
    std::vector<CurveMark> marks;
    if (f.yieldDrops) {
        marks.push_back({"ReH", "ReH", r.drop->upperStrain, r.drop->upper, "upper_yield_at", true});
        marks.push_back({"ReL", "ReL", data.strain[r.drop->lowerIndex], r.drop->lower, "lower_yield_at", true});
    } else if (r.proof) {
        marks.push_back({f.proofSymbol, f.proofSymbol, r.proof->strain, r.proof->stress, {}, true});
    }
    if (!f.strainLost && f.maximumSeen)
        marks.push_back({"Rm", "Rm", r.maximum.x, r.maximum.value, "maximum_at"});
    if (data.fracture && !f.strainLost)
        marks.push_back({"break",
                         "break",
                         data.strain[data.end - 1],
                         data.stress[data.end - 1],
                         "break_at",
                         false,
                         {},
                         CurveMark::Side::Right});
    const bool broke = data.fracture.has_value() && !f.strainLost;
    const double last = data.strain[data.end - 1] - r.origin;
    CurveView view = curveFrom(std::move(data), r.straight, r.origin, f.section->value(), std::move(marks));
    view.straight = {"slope", "manual ", false};
    view.offset = f.offset;
    view.uniform = f.strainLost || !f.maximumSeen ? 0 : r.maximum.x - r.origin;
    if (f.has("Ur"))
        view.areas.push_back({"Ur", 0, f.yieldDrops ? r.drop->upperStrain - r.origin : r.proof->strain - r.origin});
    if (broke && f.has("Ut"))
        view.areas.push_back({"Ut", 0, last});
    f.outcome.views.emplace_back(std::move(view));
}

Expected<Done> moveMarks(MetalFigures& f, StressStrain& data, TensionReading& reading)
{
    const auto x = std::span(data.strain);
    const auto told = [&](std::vector<std::string> symbols, const std::string& what, double strain) {
        f.remark("moved-by-hand", Severity::Note, std::move(symbols),
                 fmt::format("{} was set by hand at {} % strain.", what, formatFixed(strain * 100, 3)),
                 "R on Read goes back to automatic.");
    };
    const auto at = [&](double strain, size_t from) {
        return indexAtStrain(data, reading.origin + strain, from, data.end);
    };
    const auto broken = optionQuantity(f.input, "break_at", Kind::Strain);
    const auto top = optionQuantity(f.input, "maximum_at", Kind::Strain);
    const auto upper = optionQuantity(f.input, "upper_yield_at", Kind::Strain);
    const auto lower = optionQuantity(f.input, "lower_yield_at", Kind::Strain);
    for (const auto* place : {&broken, &top, &upper, &lower})
        if (!*place)
            return place->problem();
    if (*broken) {
        const size_t last = indexAtStrain(data, reading.origin + **broken, reading.straight.end, data.strain.size());
        data.end = data.forceEnd = last + 1;
        data.fracture = Fracture{last};
        auto again = readTensionCurve(f.input, data, f.offset, f.alsoProofs);
        if (!again)
            return again.problem();
        reading = *again;
        told({"At", "A_ext", "Ut"}, "The break", **broken);
    }
    if (*upper && reading.drop) {
        reading.drop->upperIndex = at(**upper, reading.straight.begin);
        reading.drop->upperStrain = x[reading.drop->upperIndex];
        reading.drop->upper = valueAround(data.stress, reading.drop->upperIndex);
        told({"ReH", "Ae"}, "ReH", **upper);
    }
    if (*lower && reading.drop) {
        reading.drop->lowerIndex = at(**lower, reading.straight.begin);
        reading.drop->lower = valueAround(data.stress, reading.drop->lowerIndex);
        told({"ReL"}, "ReL", **lower);
    }
    if (*top) {
        const size_t i = at(**top, reading.straight.begin);
        reading.maximum = {};
        reading.maximum.index = i;
        reading.maximum.x = x[i];
        reading.maximum.raw = data.stress[i];
        reading.maximum.value = valueAround(data.stress, i);
        told({"Rm", "Agt", "Ag"}, "The maximum", **top);
    }
    return Done{};
}

} // namespace fortitor
