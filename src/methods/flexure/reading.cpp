// SPDX-License-Identifier: GPL-3.0-or-later
// The bar and its readings, made ready.
#include "methods/flexure/flexure.h"
#include "methods/flexure/figures.h"

#include "curve/signal.h"
#include "curve/step_limit.h"
#include "curve/unloading.h"
#include "methods/common/section.h"
#include "methods/common/stepped.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {

Expected<Done> readBeam(FlexureFigures& f)
{
    const SpecimenInput& in = f.input;
    const auto b = lengthTerm(in, "width", "b", "mean width");
    const auto h = lengthTerm(in, "depth", "h", "mean depth");
    const auto L = lengthTerm(in, "span", "L", "span");
    for (const auto& [term, key] : {std::pair(b, "width"), {h, "depth"}, {L, "span"}}) {
        if (term && !(term->value() > 0))
            return Problem{in.label + ", " + key, formatSignificant(term->value(), 4), "above zero",
                           "Measure it again."};
        if (!term)
            f.remark("missing-dimension", Severity::Reject, f.all,
                     fmt::format("The {} is not measured; no stress can be given.", key), "Enter it on Measure.", key);
    }
    if (!b || !h || !L)
        return Done{};
    if (L->value() < 2 * h->value()) {
        f.remark("span-short", Severity::Reject, f.all,
                 fmt::format("A span of {} on a depth of {} is no bending.",
                             formatQuantity(L->value(), baseUnit(Kind::Length)),
                             formatQuantity(h->value(), baseUnit(Kind::Length))),
                 "Span and depth exchanged, or a unit slipped?", "span");
        return Done{};
    }
    const bool four = optionOr(in, "loading", "three-point") == "four-point";
    if (!four) {
        f.beam = Beam{*b, *h, *L, (*L / Term::constant(2)).named("a", baseUnit(Kind::Length), "support to load")};
        return Done{};
    }
    const auto loads = lengthTerm(in, "load_span", "Ls", "load span");
    if (!loads) {
        f.remark("missing-dimension", Severity::Reject, f.all,
                 "The load span is not given; with two loads no stress can be given without it.",
                 "Enter it on Measure.", "load_span");
        return Done{};
    }
    if (!(loads->value() >= 0) || loads->value() >= L->value())
        return Problem{
            in.label + ", load_span", formatQuantity(loads->value(), baseUnit(Kind::Length)), "less than the span", {}};
    f.beam =
        Beam{*b, *h, *L, ((*L - *loads) / Term::constant(2)).named("a", baseUnit(Kind::Length), "support to load")};
    return Done{};
}

Expected<Done> readSteps(FlexureFigures& f)
{
    const Record& record = *f.input.record;
    const Channel* force = record.find("force");
    const Channel* way = record.find("deflection");
    if (!way) {
        way = record.find("displacement");
        f.fromCrosshead = way != nullptr;
    }
    if (!force)
        return Problem{f.input.label + ", record", "no force", "force and deflection", {}};
    std::vector<size_t> missed;
    double sign = 1;
    for (size_t i = 0; i < force->values.size(); ++i)
        if (std::abs(force->values[i]) > std::abs(f.greatest)) {
            f.greatest = force->values[i];
            f.greatestNumber = i + 1;
            f.greatestHasDeflection = way && !std::isnan(way->values[i]);
        }
    if (f.greatest < 0) {
        sign = -1;
        f.greatest = -f.greatest;
        f.remark("sign-turned", Severity::Note, {}, "The load was recorded as negative; the sign was turned.");
    }
    for (size_t i = 0; i < force->values.size(); ++i) {
        const double F = sign * force->values[i];
        const double d = way ? way->values[i] : std::nan("");
        if (std::isnan(F) || std::isnan(d)) {
            missed.push_back(i + 1);
            continue;
        }
        f.force.push_back(F);
        f.deflection.push_back(d);
        f.number.push_back(i + 1);
    }
    if (!missed.empty())
        f.remark("reading-missed", Severity::Note, {},
                 fmt::format("Reading {} lacks its load or its deflection.", stepsText(missed)));
    const double most = f.deflection.empty() ? 0 : *std::ranges::max_element(f.deflection);
    const double least = f.deflection.empty() ? 0 : *std::ranges::min_element(f.deflection);
    if (std::abs(least) > most) // a dial that turns the other way
        for (double& d : f.deflection)
            d = -d;
    return Done{};
}

} // namespace fortitor
