// SPDX-License-Identifier: GPL-3.0-or-later
// Hardness over depth.
#include "methods/hardness/traverse.h"

#include "curve/signal.h"
#include "methods/common/figures.h"

#include <algorithm>
#include <cmath>

namespace fortitor {

std::optional<double> limitOf(const CaseLimit& limit, const Traverse& traverse)
{
    if (!limit.aboveCore)
        return limit.number;
    constexpr size_t deepest = 3;
    if (traverse.size() < deepest + 2)
        return std::nullopt;
    double core = 0;
    for (size_t i = traverse.size() - deepest; i < traverse.size(); ++i)
        core += traverse[i].hardness.value() / deepest;
    return core + limit.number;
}

std::optional<Term> caseDepth(const Traverse& traverse, double limit, const Term& tester)
{
    for (size_t i = traverse.size(); i-- > 1;) {
        const TraversePoint& above = traverse[i - 1];
        const TraversePoint& below = traverse[i];
        if (!(above.hardness.value() >= limit && below.hardness.value() < limit) || !(below.depth > above.depth))
            continue;
        const auto at = [](const char* symbol, double depth) {
            constexpr double stage = 0.01; // mm, how well a place is known
            return Term::leaf(symbol, depth, baseUnit(Kind::Length), stage / rectangle,
                              {"place of the indent", SourceKind::Steps}, "depth of an indent beside the limit");
        };
        const Term x1 = at("x1", above.depth);
        const Term x2 = at("x2", below.depth);
        const Unit& unit = *above.hardness.node().unit;
        const Term h1 = (above.hardness * tester).named("H1", unit, "hardness above the limit");
        const Term h2 = (below.hardness * tester).named("H2", unit, "hardness below the limit");
        const Term wanted = Term::leaf("Hlim", limit, unit, 0, {}, "limit of the case");
        return x1 + (x2 - x1) * (h1 - wanted) / (h1 - h2);
    }
    return std::nullopt;
}

std::vector<size_t> oddPoints(const Traverse& traverse)
{
    constexpr double share = 0.06;
    constexpr double widths = 5;
    std::vector<double> off;
    for (size_t i = 1; i + 1 < traverse.size(); ++i) {
        const auto& [n0, x0, h0] = traverse[i - 1];
        const auto& [n1, x1, h1] = traverse[i];
        const auto& [n2, x2, h2] = traverse[i + 1];
        const double along = x2 > x0 ? (x1 - x0) / (x2 - x0) : 0.5;
        off.push_back(h1.value() - (h0.value() + along * (h2.value() - h0.value())));
    }
    if (off.size() < 5)
        return {};
    std::vector<double> sizes;
    for (const double v : off)
        sizes.push_back(std::abs(v));
    const double usual = 1.4826 * medianOf(sizes);
    std::vector<size_t> odd;
    for (size_t i = 0; i < off.size(); ++i) {
        // Its neighbours are off by half as much because of it.
        const bool greatest =
            (i == 0 || sizes[i] >= sizes[i - 1]) && (i + 1 == sizes.size() || sizes[i] >= sizes[i + 1]);
        if (greatest && sizes[i] > share * traverse[i + 1].hardness.value() && sizes[i] > widths * usual)
            odd.push_back(traverse[i + 1].number);
    }
    return odd;
}

} // namespace fortitor
