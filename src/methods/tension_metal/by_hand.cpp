// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/section.h"
#include "methods/tension_metal/evaluate_parts.h"

#include "methods/common/stress_strain.h"

#include <fmt/format.h>

#include <cmath>

namespace fortitor {

namespace {

/// A by subdivided marks (ISO 6892-1, annex on elongation when the break lies near a mark): the long
/// half stands in for the missing intervals of the short one.
Expected<Done> elongationBySteps(MetalFigures& f, const std::optional<Term>& marks)
{
    const auto interval = lengthTerm(f.input, "mark_interval", "i", "between subdividing marks");
    const auto xy = lengthTerm(f.input, "length_xy", "XY", "X to Y, halves fitted");
    const auto between = f.input.dimensions.find("intervals_xy");
    const auto yz = f.input.dimensions.find("length_yz");
    if (!marks || !interval || !xy || between == f.input.dimensions.end() || yz == f.input.dimensions.end()
        || between->second.empty() || yz->second.empty()) {
        f.remark("missing-dimension", Severity::Caution, {"A"},
                 "The step method needs L0, the interval, X to Y with its count, and Y to Z.",
                 "Enter them on Measure, or take A over the marks.", "mark_interval");
        return Done{};
    }
    const double N = std::round(marks->value() / interval->value());
    const double n = between->second.front().base;
    if (!(n >= 1) || n > N || std::abs(N - marks->value() / interval->value()) > 0.02 || n != std::round(n))
        return Problem{f.input.label + ", intervals_xy", formatSignificant(n, 4) + " of " + formatSignificant(N, 4),
                       "a whole number of intervals, no more than L0 has",
                       "Count the intervals between X and Y again."};
    const bool odd = static_cast<long>(N - n) % 2 != 0;
    const std::vector<Quantity>& z = yz->second;
    if (odd && z.size() < 2) {
        f.remark("missing-dimension", Severity::Caution, {"A"},
                 "An odd number of intervals is left: Y to Z is wanted to both neighbouring marks.",
                 "Measure to the two marks either side.", "length_yz");
        return Done{};
    }
    const auto part = [&](const Quantity& q, const char* name) {
        return Term::leaf(name, q.base, baseUnit(Kind::Length), q.resolution / 2 / rectangle,
                          {"resolution of the readings", SourceKind::Digits});
    };
    const Term beyond = odd ? part(z[0], "YZ1") + part(z[1], "YZ2") : Term::constant(2) * part(z[0], "YZ");
    f.set("A",
          ((*xy + beyond - *marks) / *marks)
              .named("A", percentUnit(), "elongation after break, by subdivided marks", "ISO 6892-1, step method"));
    f.remark("step-method", Severity::Note, {"A"},
             fmt::format("A is by subdivided marks: {:.0f} intervals, {:.0f} of them between X and Y.", N, n));
    return Done{};
}

} // namespace

Expected<Done> elongationByHand(MetalFigures& figures)
{
    const SpecimenInput& input = figures.input;
    const Unit& percent = percentUnit();
    const auto marks = lengthTerm(input, "gauge_length", "L0", "gauge length between marks");
    const auto after = lengthTerm(input, "final_gauge_length", "Lu", "between marks, halves fitted");
    const bool bySteps = optionOr(input, "elongation_by", "marks") == "subdivided marks";
    if (bySteps) {
        if (auto ok = elongationBySteps(figures, marks); !ok)
            return ok;
    } else if (marks && after && marks->value() > 0) {
        figures.set("A",
                    ((*after - *marks) / *marks).named("A", percent, "elongation after break", "ISO 6892-1, by hand"));
        if (after->value() < marks->value())
            figures.remark("elongation-negative", Severity::Reject, {"A"},
                           "The length after the break is less than the gauge length.",
                           "Were the two exchanged, or a unit slipped?", "final_gauge_length");
    }
    auto neck = sectionTerm(input, "final_", "Su");
    if (neck && *neck && figures.section) {
        figures.set(
            "Z",
            ((*figures.section - **neck) / *figures.section).named("Z", percent, "reduction of area", "ISO 6892-1"));
        if ((*neck)->value() > figures.section->value())
            figures.remark("neck-larger", Severity::Reject, {"Z"},
                           "The section at the neck is larger than the original one.",
                           "Were the readings exchanged, or a unit slipped?", "final_diameter");
    }
    const auto distance = lengthTerm(input, "break_distance", "x", "break to the nearer mark");
    if (!distance || !marks || bySteps)
        return Done{};
    const bool quarter = input.options.contains("near_mark") && input.options.at("near_mark") == "quarter";
    const double limit = marks->value() * (quarter ? 0.25 : 1.0 / 3);
    if (distance->value() < 0)
        figures.remark(
            "break-outside-gauge", Severity::Caution, {"A"}, "The break lies outside the marks.",
            "A may be low; it stands if it meets the requirement. Else use the step method with subdivided marks.",
            "break_distance");
    else if (distance->value() < limit)
        figures.remark(
            "break-near-mark", Severity::Caution, {"A"},
            fmt::format("The break lies {} from a mark, nearer than a {} of L0.",
                        formatQuantity(distance->value(), baseUnit(Kind::Length), 3), quarter ? "quarter" : "third"),
            "A may be low; it stands if it meets the requirement. Else use the step method with subdivided marks.",
            "break_distance");
    return Done{};
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
    static constexpr Family families[] = {{"plain steel", 0.4, 300, 700, "ISO 2566-1"},
                                          {"austenitic", 0.127, 450, 750, "ISO 2566-2"}};
    const std::string name = optionOr(f.input, "convert_family", "none");
    for (const Family& family : families) {
        if (name != family.name)
            continue;
        if (!Rm->value || *Rm->value < family.lowest || *Rm->value > family.highest) {
            f.remark("conversion-refused", Severity::Caution, {"A_converted"},
                     fmt::format("A is converted for {} of {:.0f} to {:.0f} MPa only; Rm is {}.", family.name,
                                 family.lowest, family.highest,
                                 Rm->value ? formatQuantity(*Rm->value, MPa(), 3) : "not known"),
                     family.rule, "convert_family");
            return Done{};
        }
        const auto marks = lengthTerm(f.input, "gauge_length", "L0", "gauge length between marks");
        const double factor = std::pow(marks->value() / **wanted, family.exponent);
        f.set("A_converted",
              (*A->derivation
               * Term::constant(factor,
                                fmt::format("(L0 / {} mm)^{:g}", formatSignificant(**wanted, 4), family.exponent)))
                  .named("A_converted", *findUnit("%", Kind::Strain),
                         "elongation converted to another gauge length, same section", family.rule));
        f.remark(
            "converted", Severity::Note, {"A_converted"},
            fmt::format("The converted elongation is not measured: it is A carried over to a gauge length of {} by {}.",
                        formatQuantity(**wanted, baseUnit(Kind::Length), 4), family.rule));
        return Done{};
    }
    f.remark("conversion-refused", Severity::Caution, {"A_converted"},
             "Conversion is known for plain and low-alloy steels and for austenitic ones only.",
             "Choose the family on Plan, or measure at that gauge length.", "convert_family");
    return Done{};
}

} // namespace fortitor
