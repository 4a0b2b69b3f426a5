// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/tension_metal/evaluate_parts.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

std::optional<double> valueOf(const MetalFigures& f, const std::string& symbol)
{
    const Result* r = f.outcome.find(symbol);
    return r ? r->value : std::nullopt;
}

double lengthOf(const MetalFigures& f, const std::string& key)
{
    const auto it = f.input.dimensions.find(key);
    return it == f.input.dimensions.end() || it->second.empty() ? 0 : it->second.front().base;
}

void yieldRatio(MetalFigures& f)
{
    const Result* strength = f.outcome.find("Rm");
    const bool underLoad = optionOr(f.input, "yield", "auto") == "under-load";
    for (const std::string& symbol : {std::string(underLoad ? "Rt0.5" : "ReH"), std::string("Rp0.2"), f.proofSymbol}) {
        const Result* yield = f.outcome.find(symbol);
        if (!yield || !yield->derivation || !strength->derivation)
            continue;
        f.set("yield_ratio", (*yield->derivation / *strength->derivation).named("yield_ratio", *findUnit("1"), symbol + " over Rm", "", 3));
        const double ratio = *f.outcome.find("yield_ratio")->value;
        if (ratio < 0.3 || ratio > 0.99)
            f.remark("ratio-unusual", Severity::Caution, {symbol, "Rm", "yield_ratio"}, fmt::format("{} over Rm is {:.2f}.", symbol, ratio), "Outside 0.30 to 0.99: look at the straight part and at the zero.");
        return;
    }
}

void againstPublished(MetalFigures& f)
{
    const auto it = f.input.published.find("E");
    const auto E = valueOf(f, "E");
    if (!E || it == f.input.published.end() || !(it->second > 0))
        return;
    const double off = *E / it->second - 1;
    if (std::abs(off) > 0.1)
        f.remark("slope-off-published", Severity::Caution, {"E", "Rp0.2"}, fmt::format("E is {:.0f} % {} the published {} GPa ({}).", std::abs(off) * 100, off > 0 ? "above" : "below", formatSignificant(it->second / 1000, 3), f.input.publishedSource),
                 "Likely, in order: strain from the crosshead, wrong gauge length, wrong unit, wrong section, extensometer slip.");
}

void checkGeometry(MetalFigures& f)
{
    const double Lo = lengthOf(f, "gauge_length");
    const double Lc = lengthOf(f, "parallel_length");
    const double Le = lengthOf(f, "extensometer_gauge_length");
    const double d = f.input.shape == "round" ? lengthOf(f, "diameter") : 0;
    std::string wrong;
    if (Lo > 0 && Lo < 20)
        wrong += fmt::format("L0 {} mm is under 20 mm. ", formatSignificant(Lo, 3));
    if (Lo > 0 && Lc > 0 && d > 0 && Lc < Lo + d / 2 - 1e-9)
        wrong += fmt::format("Parallel length {} mm is under L0 + d/2 = {} mm. ", formatSignificant(Lc, 3), formatSignificant(Lo + d / 2, 3));
    if (Lo > 0 && Le > 0 && Le < Lo / 2)
        wrong += fmt::format("Le {} mm is under half of L0. ", formatSignificant(Le, 3));
    if (!wrong.empty())
        f.remark("geometry", Severity::Note, {}, wrong.substr(0, wrong.size() - 1), "Allowed by some product standards; say so in the report.", "gauge_length");
}

} // namespace

void checkMetal(MetalFigures& f)
{
    if (f.reading)
        yieldRatio(f);
    againstPublished(f);
    checkGeometry(f);
    const auto A = valueOf(f, "A");
    const auto Aext = valueOf(f, "A_ext");
    if (A && Aext && std::abs(*A - *Aext) > 0.03)
        f.remark("elongation-disagrees", Severity::Caution, {"A", "A_ext"}, fmt::format("A by hand ({:.1f} %) and by extensometer ({:.1f} %) differ by over 3 points.", *A * 100, *Aext * 100),
                 "A neck outside the extensometer, a different gauge length, or a misread mark.");
    const auto measured = A ? A : Aext;
    if (measured && *measured < 0.05)
        f.remark("brittle-break", Severity::Note, {}, fmt::format("The bar broke with {:.1f} % elongation.", *measured * 100), "Look at the fracture: flat or granular?");
    const auto fracture = f.input.notes.find("fracture");
    if (fracture != f.input.notes.end() && fracture->second == "at grip")
        f.remark("break-at-grip", Severity::Caution, {"A", "A_ext", "Rm"}, "The bar broke at a grip.", "The strength is a lower bound; look at alignment and grip force.");
}

void nameMissing(MetalFigures& f)
{
    const auto named = [&](const std::string& symbol) {
        return std::ranges::any_of(f.outcome.remarks, [&](const Remark& r) { return std::ranges::find(r.symbols, symbol) != r.symbols.end() && (r.severity != Severity::Note || r.code == "not-applicable"); });
    };
    const auto gather = [&](const std::vector<std::string>& symbols) {
        std::vector<std::string> missing;
        for (const std::string& s : symbols)
            if (!f.has(s) && !named(s) && f.outcome.find(s))
                missing.push_back(s);
        return missing;
    };
    const auto say = [&](const std::vector<std::string>& symbols, const std::string& code, const std::string& text, const std::string& advice, const std::string& field = {}) {
        if (auto missing = gather(symbols); !missing.empty())
            f.remark(code, Severity::Caution, std::move(missing), text, advice, field);
    };
    if (lengthOf(f, "gauge_length") <= 0)
        say({"A"}, "missing-dimension", "The gauge length between marks is not given; A can't be worked out.", "Enter it on Measure.", "gauge_length");
    say({"A"}, "missing-dimension", "The length between marks after the break is not given; A can't be worked out.", "Fit the halves and measure Lu.", "final_gauge_length");
    say({"Z"}, "missing-dimension", "The section at the neck is not given; Z can't be worked out.", "Measure the neck, two across.", f.input.shape == "rectangular" ? "final_width" : "final_diameter");
    if (f.reading) {
        say({"At", "A_ext", "Ut"}, "no-break-strain", "The record shows no break; strain at break can't be given.", "");
        say({"Ae"}, "no-hardening-seen", "The start of even hardening is not in the record; Ae can't be given.", "");
        say({"Ag"}, "yield-not-reached", "The bar did not yield; there is no plastic strain at the maximum.", "");
        say({"yield_ratio", "Ur"}, "no-yield", "Without a yield value there is no ratio and no resilience.", "");
    }
    std::vector<std::string> all;
    for (const Result& r : f.outcome.results)
        all.push_back(r.symbol);
    say(all, f.reading ? "not-read" : "no-record", f.reading ? "These could not be read from this record." : "These need a record of the test.", f.reading ? "" : "Run it on Load, or drop a text record on the window.");
}

} // namespace fortitor
