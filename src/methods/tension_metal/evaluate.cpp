// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/tension_metal/evaluate_parts.h"

#include "methods/tension_metal/proof_symbol.h"
#include "methods/common/section.h"
#include "methods/tension_metal/tension_metal.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

const PrepareRules& metalRules()
{
    static const PrepareRules rules{{"E", "ReH", "ReL", "Rp0.2", "Rt0.5", "Rm"},
                                    {"E", "Rp0.2", "Rt0.5", "Agt", "Ag", "At", "A_ext"},
                                    {"Agt", "Ag", "At", "A_ext", "Ut"},
                                    {"At", "A_ext", "Ut"},
                                    false,
                                    true};
    return rules;
}

/// "0.2" for 0.002.
std::string percentName(double strain)
{
    return fmt::format("{:g}", roundToStep(strain * 100, 0.0001));
}

} // namespace

Expected<Outcome> evaluateTensionMetal(const SpecimenInput& input)
{
    static const Method method = tensionMetal();
    if (auto ok = checkOptions(input, method); !ok)
        return ok.problem();
    auto offset = optionQuantity(input, "yield_offset", Kind::Strain);
    if (!offset)
        return offset.problem();
    MetalFigures figures{input};
    figures.offset = offset->value_or(0.002);
    if (!(figures.offset > 0) || figures.offset > 0.05)
        return Problem{"options.yield_offset",
                       formatSignificant(figures.offset * 100, 4) + " %",
                       "an offset above 0 and up to 5 %",
                       {}};
    figures.proofSymbol = "Rp" + percentName(figures.offset);
    figures.begin(method);
    if (figures.proofSymbol != "Rp0.2") {
        auto& results = figures.outcome.results;
        results.insert(std::ranges::find(results, "Rp0.2", &Result::symbol) + 1,
                       {figures.proofSymbol, &MPa(), {}, {}, {}, {}});
    }
    for (const std::string& symbol : input.alsoWanted)
        if (const auto other = proofOffset(symbol); other && !figures.outcome.find(symbol)) {
            figures.alsoProofs.emplace_back(symbol, *other);
            figures.outcome.results.push_back({symbol, &MPa(), {}, {}, {}, {}});
        }
    if (!optionOr(input, "convert_gauge_length", "").empty())
        figures.outcome.results.push_back({"A_converted", findUnit("%", Kind::Strain), {}, {}, {}, {}});
    auto section = sectionTerm(input, "", "So");
    if (!section)
        return section.problem();
    figures.section = *section;
    figures.outcome.remarks = checkReadings(input);

    if (auto ok = elongationByHand(figures); !ok)
        return ok.problem();
    if (!figures.section) {
        figures.remark("missing-dimension", Severity::Reject,
                       {"E", "ReH", "ReL", "Rp0.2", "Rt0.5", "Rm", "K", "Ur", "Ut", "Z"},
                       "The section is not measured; no stress can be given.", "Enter the readings on Measure.",
                       input.shape == "rectangular" ? "width"
                           : input.shape == "tube"  ? "outer_diameter"
                                                    : "diameter");
    } else if (!input.record) {
        figures.remark("no-record", Severity::Caution, {"E", "ReH", "ReL", "Rp0.2", "Rt0.5", "Rm"},
                       "There is no record of the test yet.", "Run it on Load, or drop a text record on the window.");
    } else {
        auto data = prepareStressStrain(input, figures.section->value(), metalRules(), figures.outcome.remarks);
        if (!data)
            return data.problem();
        if (auto ok = figuresFromCurve(figures, std::move(*data)); !ok)
            return ok.problem();
    }
    if (auto ok = convertElongation(figures); !ok)
        return ok.problem();
    checkMetal(figures);
    nameMissing(figures);
    return std::move(figures.outcome);
}

} // namespace fortitor
