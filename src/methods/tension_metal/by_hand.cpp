// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/section.h"
#include "methods/tension_metal/evaluate_parts.h"

#include <fmt/format.h>

namespace fortitor {

void elongationByHand(MetalFigures& figures)
{
    const SpecimenInput& input = figures.input;
    const Unit& percent = *findUnit("%", Kind::Strain);
    const auto marks = lengthTerm(input, "gauge_length", "L0", "gauge length between marks");
    const auto after = lengthTerm(input, "final_gauge_length", "Lu", "between marks, halves fitted");
    if (marks && after && marks->value() > 0) {
        figures.set("A", ((*after - *marks) / *marks).named("A", percent, "elongation after break", "ISO 6892-1, by hand"));
        if (after->value() < marks->value())
            figures.remark("elongation-negative", Severity::Reject, {"A"}, "The length after the break is less than the gauge length.", "Were the two exchanged, or a unit slipped?", "final_gauge_length");
    }
    auto neck = sectionTerm(input, "final_", "Su");
    if (neck && *neck && figures.section) {
        figures.set("Z", ((*figures.section - **neck) / *figures.section).named("Z", percent, "reduction of area", "ISO 6892-1"));
        if ((*neck)->value() > figures.section->value())
            figures.remark("neck-larger", Severity::Reject, {"Z"}, "The section at the neck is larger than the original one.", "Were the readings exchanged, or a unit slipped?", "final_diameter");
    }
    const auto distance = lengthTerm(input, "break_distance", "x", "break to the nearer mark");
    if (!distance || !marks)
        return;
    const bool quarter = input.options.contains("near_mark") && input.options.at("near_mark") == "quarter";
    const double limit = marks->value() * (quarter ? 0.25 : 1.0 / 3);
    if (distance->value() < 0)
        figures.remark("break-outside-gauge", Severity::Caution, {"A"}, "The break lies outside the marks.", "A may be low; it stands if it meets the requirement. Else use the step method with subdivided marks.", "break_distance");
    else if (distance->value() < limit)
        figures.remark("break-near-mark", Severity::Caution, {"A"}, fmt::format("The break lies {} from a mark, nearer than a {} of L0.", formatQuantity(distance->value(), baseUnit(Kind::Length), 3), quarter ? "quarter" : "third"),
                       "A may be low; it stands if it meets the requirement. Else use the step method with subdivided marks.", "break_distance");
}

} // namespace fortitor
