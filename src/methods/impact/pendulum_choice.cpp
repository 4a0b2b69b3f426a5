// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/impact/pendulum_choice.h"

#include "methods/common/figures.h"
#include "methods/impact/impact.h"
#include "reference/tables.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace fortitor {
namespace {

// As testers are commonly made: ISO 148-2, ISO 13802.
constexpr std::array metalPendulums{50.0, 150.0, 165.0, 300.0, 450.0, 750.0};
constexpr std::array charpyPendulums{0.5, 1.0, 2.0, 4.0, 5.0, 7.5, 15.0, 25.0, 50.0};
constexpr std::array izodPendulums{1.0, 2.75, 5.5, 11.0, 22.0};
constexpr double mostOfIt = 0.8, leastOfIt = 0.1, leastSteps = 25;

struct EnergyRange {
    double low = 0, high = 0; ///< J
    std::string from{};
};

/// Nothing where neither is known.
Expected<std::optional<EnergyRange>> expectedOf(const SpecimenInput& input, const ImpactGeometry& geometry)
{
    const std::string text = optionOr(input, "expected", "");
    if (text.empty()) {
        const PlasticRange* range = geometry.perWidth ? findPlasticRange(input.material) : nullptr;
        const double width = meanLength(input, impactKeys::width);
        if (range && width > 0)
            return std::optional(
                EnergyRange{range->low * width / 1000, range->high * width / 1000,
                            fmt::format("{} of this width, as commonly quoted at 23 °C", range->name)});
        return std::optional<EnergyRange>();
    }
    EnergyRange range{1e300, 0, "as stated"};
    for (size_t from = 0; from <= text.size();) {
        const size_t to = std::min(text.find(';', from), text.size());
        const auto one = parseQuantity(text.substr(from, to - from), Kind::Energy, findUnit("J", Kind::Energy));
        from = to + 1;
        if (!one || !(one->base > 0))
            return Problem{"options.expected", '"' + text + '"',
                           "an energy above zero, or the least and the greatest with a semicolon between",
                           "Such as 60 J, or 5 J; 110 J."};
        range.low = std::min(range.low, one->base);
        range.high = std::max(range.high, one->base);
    }
    return std::optional(range);
}

std::span<const double> sizesFor(const ImpactGeometry& geometry)
{
    if (!geometry.plastic)
        return metalPendulums;
    return geometry.hit == ImpactGeometry::Hit::Cantilever ? std::span<const double>(izodPendulums) : charpyPendulums;
}

Proposal against(double pendulum, const ImpactGeometry& geometry, const EnergyRange& expected)
{
    const double low = expected.low / pendulum, high = expected.high / pendulum;
    Proposal one{.name = fmt::format("{:g} J", pendulum), .options = {{"pendulum", fmt::format("{:g} J", pendulum)}}};
    const auto share = [](double part) { return fmt::format("{:.{}f}", 100 * part, part < 0.1 ? 1 : 0); };
    const std::string of = high > 1.001 * low ? share(low) + " to " + share(high) : share(high);
    if (pendulum == geometry.pendulum)
        one.name += ", usual";
    one.figures = {{"of it", of + " %"},
                   {"step of its scale",
                    geometry.plastic ? "–" : fmt::format("up to {:.2g} J", expected.low / leastSteps)}};
    if (high > mostOfIt)
        one.why = "over 80 % of it";
    else if (geometry.plastic && low < leastOfIt)
        one.why = "under 10 % of it";
    one.fits = one.why.empty();
    one.more = geometry.plastic ? "10 to 80 % of it are sound."
                                : "A metal is to take 80 % at most, and 25 steps of the scale at least.";
    return one;
}

} // namespace

std::vector<Proposal> proposePendulum(const SpecimenInput& input)
{
    const ImpactGeometry* geometry = geometryOf(input);
    if (!geometry)
        return {};
    const auto expected = expectedOf(input, *geometry);
    if (!expected)
        return {{.why = expected.problem().text() + "."}};
    if (!*expected)
        return {{.why = "What the pieces will take is not known."}};
    std::vector<Proposal> all;
    for (const double pendulum : sizesFor(*geometry))
        all.push_back(against(pendulum, *geometry, **expected));
    // Of those that fit the usual one, then the smallest: its scale is the finest.
    std::ranges::stable_sort(all, [&](const Proposal& a, const Proposal& b) {
        const auto rank = [](const Proposal& p) { return std::pair(!p.fits, !p.name.ends_with("usual")); };
        return rank(a) < rank(b);
    });
    // Where none spans what is expected, the brittle and the tough want one each.
    if (std::ranges::none_of(all, &Proposal::fits))
        for (Proposal& one : all)
            one.more = "None suits all of them: strike the brittle and the tough with one each.";
    return all;
}

std::string bathsInWords(const SpecimenInput& input, std::span<const SpreadGroup> groups)
{
    if (groups.empty())
        return {};
    const size_t temperatures = groups.size();
    size_t pieces = 0;
    for (const SpreadGroup& group : groups)
        pieces += group.pieces;
    const double least = leastBath(input) / 60;
    return fmt::format("{} piece{} at {} temperature{}: {:g} min of bath at least, {:g} min at each", pieces,
                       pieces == 1 ? "" : "s", temperatures, temperatures == 1 ? "" : "s",
                       least * static_cast<double>(temperatures), least);
}

} // namespace fortitor
