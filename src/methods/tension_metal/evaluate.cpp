// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/tension_metal/evaluate_parts.h"

#include "methods/common/section.h"
#include "methods/tension_metal/tension_metal.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

Expected<Done> checkOptions(const SpecimenInput& input, const Method& method)
{
    for (const OptionSpec& spec : method.options) {
        const auto it = input.options.find(spec.key);
        if (it == input.options.end() || it->second.empty() || spec.choices.empty())
            continue;
        if (std::ranges::find(spec.choices, it->second) == spec.choices.end()) {
            std::string list;
            for (const std::string& c : spec.choices)
                list += (list.empty() ? "" : ", ") + c;
            return Problem{"options." + spec.key, '"' + it->second + '"', "one of: " + list, {}};
        }
    }
    return Done{};
}

/// "0.2" for 0.002.
std::string percentName(double strain)
{
    return fmt::format("{:g}", roundToStep(strain * 100, 0.0001));
}

} // namespace

const Unit& MPa()
{
    return *findUnit("MPa");
}

void MetalFigures::set(const std::string& symbol, const Term& term)
{
    for (Result& r : outcome.results)
        if (r.symbol == symbol) {
            const Term shown = term.node().op == Term::Op::Named ? term : term.named(symbol, *r.unit);
            r.value = term.value();
            r.derivation = shown;
            r.budget = uncertaintyBudget(shown);
        }
}

bool MetalFigures::has(const std::string& symbol) const
{
    const Result* r = outcome.find(symbol);
    return r && r->value;
}

void MetalFigures::remark(const std::string& code, Severity severity, std::vector<std::string> symbols, const std::string& text, const std::string& advice, const std::string& field)
{
    outcome.remarks.push_back({code, severity, std::move(symbols), text, advice, field});
}

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
        return Problem{"options.yield_offset", formatSignificant(figures.offset * 100, 4) + " %", "an offset above 0 and up to 5 %", {}};
    figures.proofSymbol = "Rp" + percentName(figures.offset);
    for (const ResultSpec& spec : method.results) {
        figures.outcome.results.push_back({spec.symbol, findUnit(spec.unit, spec.unit == "%" ? Kind::Strain : Kind::Number), {}, {}, {}, {}});
        if (spec.symbol == "Rp0.2" && figures.proofSymbol != "Rp0.2")
            figures.outcome.results.push_back({figures.proofSymbol, &MPa(), {}, {}, {}, {}});
    }
    if (!optionOr(input, "convert_gauge_length", "").empty())
        figures.outcome.results.push_back({"A_converted", findUnit("%", Kind::Strain), {}, {}, {}, {}});
    auto section = sectionTerm(input, "", "So");
    if (!section)
        return section.problem();
    figures.section = *section;
    figures.outcome.remarks = checkReadings(input);

    elongationByHand(figures);
    if (!figures.section) {
        figures.remark("missing-dimension", Severity::Reject, {"E", "ReH", "ReL", "Rp0.2", "Rt0.5", "Rm", "K", "Ur", "Ut", "Z"}, "The section is not measured; no stress can be given.",
                       "Enter the readings on Measure.", input.shape == "rectangular" ? "width" : input.shape == "tube" ? "outer_diameter" : "diameter");
    } else if (!input.record) {
        figures.remark("no-record", Severity::Caution, {"E", "ReH", "ReL", "Rp0.2", "Rt0.5", "Rm"}, "There is no record of the test yet.", "Run it on Load, or drop a text record on the window.");
    } else {
        auto data = prepareStressStrain(input, figures.section->value(), figures.outcome.remarks);
        if (!data)
            return data.problem();
        figuresFromCurve(figures, std::move(*data));
    }
    if (auto ok = convertElongation(figures); !ok)
        return ok.problem();
    checkMetal(figures);
    nameMissing(figures);
    return std::move(figures.outcome);
}

} // namespace fortitor
