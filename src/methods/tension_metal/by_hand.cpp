// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/section.h"
#include "methods/tension_metal/evaluate_parts.h"

#include "methods/common/stress_strain.h"

#include <fmt/format.h>

#include <cmath>

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

Expected<Done> convertElongation(MetalFigures& f)
{
    auto wanted = optionQuantity(f.input, "convert_gauge_length", Kind::Length);
    if (!wanted)
        return wanted.problem();
    const Result* A = f.outcome.find("A");
    const Result* Rm = f.outcome.find("Rm");
    if (!*wanted || !A->derivation)
        return Done{};
    if (!(**wanted > 0))
        return Problem{"options.convert_gauge_length", "a length of zero", "a gauge length above zero", {}};
    // Exponents hold inside these bands of strength only.
    struct Family {
        const char* name;
        double exponent, lowest, highest;
        const char* rule;
    };
    static constexpr Family families[] = {{"plain steel", 0.4, 300, 700, "ISO 2566-1"}, {"austenitic", 0.127, 450, 750, "ISO 2566-2"}};
    const std::string name = optionOr(f.input, "convert_family", "none");
    for (const Family& family : families) {
        if (name != family.name)
            continue;
        if (!Rm->value || *Rm->value < family.lowest || *Rm->value > family.highest) {
            f.remark("conversion-refused", Severity::Caution, {"A_converted"}, fmt::format("A is converted for {} of {:.0f} to {:.0f} MPa only; Rm is {}.", family.name, family.lowest, family.highest, Rm->value ? formatQuantity(*Rm->value, MPa(), 3) : "not known"), family.rule, "convert_family");
            return Done{};
        }
        const auto marks = lengthTerm(f.input, "gauge_length", "L0", "gauge length between marks");
        const double factor = std::pow(marks->value() / **wanted, family.exponent);
        f.set("A_converted", (*A->derivation * Term::constant(factor, fmt::format("(L0 / {} mm)^{:g}", formatSignificant(**wanted, 4), family.exponent))).named("A_converted", *findUnit("%", Kind::Strain), "elongation converted to another gauge length, same section", family.rule));
        f.remark("converted", Severity::Note, {"A_converted"}, fmt::format("A_converted is not measured: it is A carried over to a gauge length of {} by {}.", formatQuantity(**wanted, baseUnit(Kind::Length), 4), family.rule));
        return Done{};
    }
    f.remark("conversion-refused", Severity::Caution, {"A_converted"}, "Conversion is known for plain and low-alloy steels and for austenitic ones only.", "Choose the family on Plan, or measure at that gauge length.", "convert_family");
    return Done{};
}

} // namespace fortitor
