// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/uncertainty.h"

#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <functional>

namespace fortitor {
namespace {

/// ∂node/∂arg k.
double partial(const Term::Node& node, size_t k)
{
    const auto arg = [&](size_t i) { return node.args[i].value(); };
    switch (node.op) {
    case Term::Op::Named:
    case Term::Op::Add: return 1;
    case Term::Op::Subtract: return k == 0 ? 1 : -1;
    case Term::Op::Multiply: return arg(1 - k);
    case Term::Op::Divide: return k == 0 ? 1 / arg(1) : -arg(0) / (arg(1) * arg(1));
    case Term::Op::Square: return 2 * arg(0);
    case Term::Op::Root: return 0.5 / node.value;
    case Term::Op::Log: return 1 / arg(0);
    case Term::Op::Mean: return 1 / static_cast<double>(node.args.size());
    case Term::Op::Least: return arg(k) == node.value ? 1 : 0;
    case Term::Op::Leaf:
    case Term::Op::Constant: return 0;
    }
    return 0;
}

/// What would lessen an uncertainty of that kind.
std::string remedy(const UncertaintySource& source)
{
    switch (source.kind) {
    case SourceKind::LengthTool: return "a finer length tool, such as a micrometer";
    case SourceKind::Extensometer: return "an extensometer of better class or longer gauge length";
    case SourceKind::Crosshead: return "an extensometer on the specimen";
    case SourceKind::Gauges: return "better gauges: balanced, longer, of a certified factor";
    case SourceKind::Digits: return "readings to one more digit";
    case SourceKind::Dial: return "a dial with finer divisions";
    case SourceKind::Fit: return "more readings, or a quieter channel, on the straight part";
    case SourceKind::Noise: return "a quieter force channel or a smaller cell";
    case SourceKind::Cell: return "a cell of better class, or a smaller one";
    case SourceKind::Steps: return "smaller steps there";
    case SourceKind::Pieces: return "more pieces";
    case SourceKind::Rate: return "more readings a second there";
    case SourceKind::Other: break;
    }
    return "a better instrument for " + source.words;
}

} // namespace

Budget uncertaintyBudget(const Term& term)
{
    const TermOrder order(term);
    const auto& nodes = order.nodes();
    std::vector<double> weight(nodes.size(), 0.0);
    weight.back() = 1;
    for (size_t i = nodes.size(); i-- > 0;)
        for (size_t k = 0; k < nodes[i]->args.size(); ++k)
            weight[order.place(nodes[i]->args[k])] += weight[i] * partial(*nodes[i], k);
    Budget budget;
    double variance = 0;
    for (size_t i = 0; i < nodes.size(); ++i) {
        const Term::Node* node = nodes[i];
        const double part = std::abs(weight[i]) * node->standardUncertainty;
        if (!(part > 0) || !std::isfinite(part))
            continue;
        variance += part * part;
        const auto same = std::ranges::find(budget.ranked, node->source.words,
                                            [](const Contribution& c) -> const std::string& { return c.source.words; });
        if (same == budget.ranked.end())
            budget.ranked.push_back({node->symbol, node->source, part, 0});
        else
            same->standard = std::hypot(same->standard, part);
    }
    for (Contribution& c : budget.ranked)
        c.share = c.standard * c.standard / variance;
    std::ranges::sort(budget.ranked, std::greater<>{}, &Contribution::share);
    budget.expanded = 2 * std::sqrt(variance);
    return budget;
}

std::string improveFirst(const Budget& budget, const Unit& unit)
{
    if (budget.ranked.empty() || !(budget.expanded > 0))
        return {};
    const Contribution& first = budget.ranked.front();
    const double left = budget.expanded * std::sqrt(std::max(0.0, 1 - first.share));
    if (first.source.kind == SourceKind::Pieces)
        return "Improve first: " + remedy(first.source) + ".";
    return fmt::format("Improve first: {}. ±{} would be ±{}{}{}.", remedy(first.source),
                       formatSignificant(budget.expanded / unit.factor, 2), formatSignificant(left / unit.factor, 2),
                       unit.symbol == "1" ? "" : " ", unit.symbol == "1" ? "" : unit.symbol);
}

} // namespace fortitor
