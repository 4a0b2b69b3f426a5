// SPDX-License-Identifier: GPL-3.0-or-later
// Upper and lower yield, proof strengths.
#include "methods/tension_metal/evaluate_parts.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// A doubt in MPa that adds nothing to the value.
Term stressDoubt(double standard, const UncertaintySource& source)
{
    return Term::leaf("", 0, MPa(), standard, source);
}

/// How much higher a top may be than its highest reading, MPa: as much as the climb gained in one reading before it.
double besideTop(const StressStrain& data, size_t i)
{
    return i < 2 || i + 1 >= data.end
        ? 0
        : std::max(0.0,
                   std::max(data.stress[i] - data.stress[i - 1], data.stress[i - 1] - data.stress[i - 2])
                       - 4 * data.noise);
}

/// Proof strength with the doubt that line and strain scale bring in: h = Et·E/(E−Et).
Term proofTerm(const MetalFigures& f, const StressStrain& data, const CurvePoint& p, double offset,
               const SharedDoubts& doubts, const std::string& symbol, const std::string& formula)
{
    const StraightPart& s = f.reading->straight;
    const double E = s.slope();
    const double tangent = std::clamp(p.tangent, 0.0, 0.9 * E);
    const double h = E * tangent / (E - tangent);
    const double scale = h * offset * relativeStrainError(f.input, data, p.strain - f.reading->origin) / rectangle;
    const double slopeError = h * (p.stress / E) * s.line.relativeSlopeError();
    const Term force = forceAt(p.stress, f.section->value(), doubts, "Fp", formula, data.noise / 3);
    const Term stress = force / *f.section + stressDoubt(scale, extensionSource(f.input))
        + stressDoubt(slopeError, {"fit of the straight part", SourceKind::Fit});
    return stress
        .named(symbol, MPa(), formula, "linear between readings; local least-squares line where noise would hide it")
        .on(fmt::format("between readings {} and {}", p.before + 1, p.after + 1));
}

/// Upper and lower yield and the yield-point extension of a curve that drops.
void dropFigures(MetalFigures& f, const StressStrain& data, const SharedDoubts& doubts)
{
    const YieldDrop& drop = *f.reading->drop;
    // Between two readings of a sharp top the true one may hide.
    const double between = besideTop(data, drop.upperIndex);
    const auto stress = [&](double value, const std::string& force, const std::string& words) {
        return forceAt(value, f.section->value(), doubts, force, words, data.noise / 3) / *f.section;
    };
    const std::string upperWords = "first maximum before the drop";
    const Term upper = stress(drop.upper, "FeH", upperWords);
    f.set("ReH",
          (between > 0 ? upper + stressDoubt(between / rectangle, {"readings apart at the top", SourceKind::Rate})
                       : upper)
              .named("ReH", MPa(), upperWords, "ISO 6892-1: drop of 0.5 %, not exceeded in the next 0.05 %")
              .on(fmt::format("reading {}", drop.upperIndex + 1)));
    const bool shortCut = optionOr(f.input, "lower_yield", "full") == "short-cut";
    const std::string lowerWords = shortCut ? "least force within 0.25 % after ReH"
        : drop.transientLeftOut             ? "least force while yielding, first transient left out"
                                            : "least force while yielding";
    f.set("ReL",
          stress(shortCut ? drop.lowerShortCut : drop.lower, "FeL", lowerWords)
              .named("ReL", MPa(), lowerWords, "ISO 6892-1")
              .on(fmt::format("reading {}", drop.lowerIndex + 1)));
    if (!drop.extension)
        return;
    const double scale = relativeStrainError(f.input, data, *drop.extension) * *drop.extension / rectangle;
    const Term extension = Term::leaf("Δε", *drop.extension, percentUnit(), std::hypot(scale, drop.extensionDoubt),
                                      extensionSource(f.input), "strain from ReH to the start of hardening");
    f.set("Ae",
          extension.named("Ae", percentUnit(), "yield-point extension",
                          "the plateau's regression meets the tangent at the start of hardening", 3));
}

/// One proof strength, or why there is none.
void proofFigure(MetalFigures& f, const StressStrain& data, const SharedDoubts& doubts,
                 const std::optional<CurvePoint>& point, const std::string& symbol, double offset,
                 const std::string& advice)
{
    if (point)
        f.set(symbol,
              proofTerm(f, data, *point, offset, doubts, symbol,
                        fmt::format("force where the curve meets the modulus line moved by {:g} %", offset * 100)));
    else
        f.remark("yield-not-reached", Severity::Caution, {symbol},
                 fmt::format("The curve ends before it meets the line at {:g} % offset.", offset * 100), advice);
}

/// Which of the yield figures do not belong to this curve, or to the option chosen.
void sayWhichYield(MetalFigures& f, const std::string& convention, bool offsetToo)
{
    const bool drops = f.reading->drop.has_value();
    const auto notApplicable = [&](std::vector<std::string> symbols, const std::string& why) {
        f.remark("not-applicable", Severity::Note, std::move(symbols), why);
    };
    if (!drops && convention != "offset")
        notApplicable({"ReH", "ReL", "Ae"}, "The curve yields without a drop: there is no upper and lower yield.");
    else if (convention == "offset")
        notApplicable({"ReH", "ReL", "Ae"},
                      drops ? "The curve drops at yield; the chosen option reports the offset."
                            : "The curve yields without a drop, and the chosen option reports the offset.");
    if (!offsetToo)
        notApplicable(f.proofSymbol == "Rp0.2" ? std::vector<std::string>{"Rp0.2"}
                                               : std::vector<std::string>{"Rp0.2", f.proofSymbol},
                      drops ? "Yield drops; ReH and ReL take the place of the proof strength."
                            : "The chosen option asks for upper and lower yield only.");
}

} // namespace

void yields(MetalFigures& f, const StressStrain& data, const SharedDoubts& doubts)
{
    const TensionReading& r = *f.reading;
    const std::string convention = optionOr(f.input, "yield", "auto");
    f.yieldDrops = r.drop.has_value() && convention != "offset";
    if (f.yieldDrops)
        dropFigures(f, data, doubts);
    const bool offsetToo = convention == "offset" || (!r.drop && convention != "upper-lower");
    for (size_t i = 0; i < f.alsoProofs.size() && i < r.also.size(); ++i)
        proofFigure(f, data, doubts, r.also[i], f.alsoProofs[i].first, f.alsoProofs[i].second, "");
    if (r.underLoad)
        f.set("Rt0.5", proofTerm(f, data, *r.underLoad, 0.005, doubts, "Rt0.5", "force at 0.5 % total strain"));
    sayWhichYield(f, convention, offsetToo);
    if (offsetToo)
        proofFigure(f, data, doubts, r.proof02, "Rp0.2", 0.002,
                    "Was the record stopped, or did the bar break, before yield?");
    if (offsetToo && f.proofSymbol != "Rp0.2")
        proofFigure(f, data, doubts, r.proof, f.proofSymbol, f.offset, "");
}

void remarkSampling(MetalFigures& f, const StressStrain& data)
{
    const TensionReading& r = *f.reading;
    if (f.yieldDrops) {
        const double step = besideTop(data, r.drop->upperIndex);
        if (step > 0.02 * r.drop->upper)
            f.remark("sampling-coarse", Severity::Caution, {"ReH", "yield_ratio"},
                     fmt::format("The readings next to ReH differ from it by {} %: the true top may lie between them.",
                                 formatFixed(100 * step / r.drop->upper, 1)),
                     "Record faster, or run slower to yield.");
    }
    if (!data.fracture || data.end < 3 || data.forceEnd > data.end)
        return;
    const double last = data.strain[data.end - 1] - data.strain[data.end - 2];
    if (last > 0.02 * (data.strain[data.end - 1] - r.origin))
        f.remark(
            "sampling-coarse", Severity::Caution, {"At", "A_ext", "Ut"},
            fmt::format("The last two readings before the break are {} % strain apart: it may have stretched further.",
                        formatSignificant(100 * last, 2)),
            "Record faster after yield.");
}

} // namespace fortitor
