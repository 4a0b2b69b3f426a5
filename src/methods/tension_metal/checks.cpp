// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/tension_metal/evaluate_parts.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

void yieldRatio(MetalFigures& f)
{
    const Result* strength = f.outcome.find("Rm");
    const bool underLoad = optionOr(f.input, "yield", "auto") == "under-load";
    for (const std::string& symbol : {std::string(underLoad ? "Rt0.5" : "ReH"), std::string("Rp0.2"), f.proofSymbol}) {
        const Result* yield = f.outcome.find(symbol);
        if (!yield || !yield->derivation || !strength->derivation)
            continue;
        f.set("yield_ratio",
              (*yield->derivation / *strength->derivation)
                  .named("yield_ratio", *findUnit("1"), symbol + " over Rm", "", 3));
        const double ratio = *f.outcome.find("yield_ratio")->value;
        if (ratio < 0.3 || ratio > 0.99)
            f.remark("ratio-unusual", Severity::Caution, {symbol, "Rm", "yield_ratio"},
                     fmt::format("{} over Rm is {:.2f}.", symbol, ratio),
                     "Outside 0.30 to 0.99: look at the straight part and at the zero.");
        return;
    }
}

void checkGeometry(MetalFigures& f)
{
    const double Lo = firstLength(f.input, "gauge_length");
    const double Lc = firstLength(f.input, "parallel_length");
    const double Le = firstLength(f.input, "extensometer_gauge_length");
    const double d = f.input.shape == "round" ? firstLength(f.input, "diameter") : 0;
    std::string wrong;
    if (Lo > 0 && Lo < 20)
        wrong += fmt::format("L0 {} mm is under 20 mm. ", formatSignificant(Lo, 3));
    if (Lo > 0 && Lc > 0 && d > 0 && Lc < Lo + d / 2 - 1e-9)
        wrong += fmt::format("Parallel length {} mm is under L0 + d/2 = {} mm. ", formatSignificant(Lc, 3),
                             formatSignificant(Lo + d / 2, 3));
    if (Lo > 0 && Le > 0 && Le < Lo / 2)
        wrong += fmt::format("Le {} mm is under half of L0. ", formatSignificant(Le, 3));
    if (!wrong.empty())
        f.remark("geometry", Severity::Note, {}, wrong.substr(0, wrong.size() - 1),
                 "Allowed by some product standards; say so in the report.", "gauge_length");
}

} // namespace

void checkMetal(MetalFigures& f)
{
    if (f.reading)
        yieldRatio(f);
    againstPublished(f, "E", {"E", "Rp0.2"});
    checkGeometry(f);
    const auto A = f.value("A");
    const auto Aext = f.value("A_ext");
    if (A && Aext && std::abs(*A - *Aext) > 0.03)
        f.remark("elongation-disagrees", Severity::Caution, {"A", "A_ext"},
                 fmt::format("A by hand ({:.1f} %) and by extensometer ({:.1f} %) differ by over 3 points.", *A * 100,
                             *Aext * 100),
                 "A neck outside the extensometer, a different gauge length, or a misread mark.");
    const auto measured = A ? A : Aext;
    if (measured && *measured < 0.05)
        f.remark("brittle-break", Severity::Note, {},
                 fmt::format("The bar broke with {:.1f} % elongation.", *measured * 100),
                 "Look at the fracture: flat or granular?");
    const auto fracture = f.input.notes.find("fracture");
    if (fracture != f.input.notes.end() && fracture->second == "at grip")
        f.remark("break-at-grip", Severity::Caution, {"A", "A_ext", "Rm"}, "The bar broke at a grip.",
                 "The strength is a lower bound; look at alignment and grip force.");
}

void nameMissing(MetalFigures& f)
{
    if (firstLength(f.input, "gauge_length") <= 0)
        f.sayMissing({"A"}, "missing-dimension", "The gauge length between marks is not given; A can't be worked out.",
                     "Enter it on Measure.", "gauge_length");
    f.sayMissing({"A"}, "missing-dimension",
                 "The length between marks after the break is not given; A can't be worked out.",
                 "Fit the halves and measure Lu.", "final_gauge_length");
    f.sayMissing({"Z"}, "missing-dimension", "The section at the neck is not given; Z can't be worked out.",
                 "Measure the neck, two across.", f.input.shape == "rectangular" ? "final_width" : "final_diameter");
    if (f.reading) {
        f.sayMissing({"At", "A_ext", "Ut"}, "no-break-strain",
                     "The record shows no break; strain at break can't be given.", "");
        f.sayMissing({"Ae"}, "no-hardening-seen",
                     "The start of even hardening is not in the record; Ae can't be given.", "");
        f.sayMissing({"Ag"}, "yield-not-reached", "The bar did not yield; there is no plastic strain at the maximum.",
                     "");
        f.sayMissing({"yield_ratio", "Ur"}, "no-yield", "Without a yield value there is no ratio and no resilience.",
                     "");
    }
    f.sayRest();
}

} // namespace fortitor
