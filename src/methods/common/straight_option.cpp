// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/stress_strain.h"

#include "curve/signal.h"

#include <algorithm>
#include <sstream>

namespace fortitor {
namespace {

/// "secant 40 MPa 200 MPa" → the two quantities behind the word.
Expected<std::pair<Quantity, Quantity>> twoQuantities(const std::string& option, const std::string& word, Kind kind)
{
    std::istringstream in(option.substr(word.size()));
    std::vector<std::string> parts;
    for (std::string part; in >> part;)
        parts.push_back(part);
    const Problem wrong{"options.slope",
                        '"' + option + '"',
                        word + " and two " + std::string(kindName(kind)) + " values with units, such as \"" + word
                            + (kind == Kind::Strain ? " 0.05 % 0.25 %\"" : " 40 MPa 200 MPa\""),
                        {}};
    if (parts.size() == 2 && !parts[0].empty()) // "0.05% 0.25%"
        parts = {parts[0], "", parts[1], ""};
    if (parts.size() != 4)
        return wrong;
    auto a = parseQuantity(parts[0] + " " + parts[1], kind);
    auto b = parseQuantity(parts[2] + " " + parts[3], kind);
    if (!a || !b || !(b->base > a->base))
        return wrong;
    return std::pair{*a, *b};
}

StraightPart shifted(StraightPart part, size_t by)
{
    part.begin += by;
    part.end += by;
    return part;
}

} // namespace

Expected<Done> checkSlopeOption(const std::string& option)
{
    if (option.empty() || option == "auto")
        return Done{};
    for (const char* word : {"chord", "secant", "manual"}) {
        if (!option.starts_with(word))
            continue;
        const bool strains = option.find('%') != std::string::npos || option.find("mm/mm") != std::string::npos;
        const bool ofStrain = word[0] == 'c' || (word[0] == 'm' && strains);
        auto ends = twoQuantities(option, word, ofStrain ? Kind::Strain : Kind::Stress);
        return ends ? Expected<Done>(Done{}) : ends.problem();
    }
    return Problem{"options.slope", '"' + option + '"', "auto, chord A B, secant A B or manual A B", {}};
}

Expected<StraightPart> straightPartByOption(const SpecimenInput& input, const StressStrain& data, size_t before)
{
    const size_t topAt = data.topAt >= data.onset && data.topAt < data.end
        ? data.topAt
        : data.onset + indexOfGreatest(std::span(data.stress).subspan(data.onset, data.end - data.onset));
    const size_t limit = std::min({topAt + 1, data.removedAt ? *data.removedAt + 1 : data.end, before});
    const size_t first = std::min(data.onset, limit);
    const auto x = std::span(data.strain).subspan(first, limit - first);
    const auto y = std::span(data.stress).subspan(first, limit - first);
    const double top = limit == topAt + 1 ? data.stress[topAt] : extremesOf(y).greatest;
    const std::string option = optionOr(input, "slope", "auto");
    const auto moved = [&](Expected<StraightPart> part) -> Expected<StraightPart> {
        if (!part)
            return part;
        return shifted(*part, first);
    };
    if (option == "auto")
        return moved(findStraightPart(x, y, data.noise, top));
    if (option.starts_with("secant")
        || (option.starts_with("manual") && option.find('%') == std::string::npos
            && option.find("mm/mm") == std::string::npos)) {
        const std::string word = option.substr(0, 6);
        auto ends = twoQuantities(option, word, Kind::Stress);
        if (!ends)
            return ends.problem();
        if (word == "manual")
            return moved(straightPartBetweenStresses(x, y, ends->first.base, ends->second.base));
        // A secant joins the two points where the climb first has these stresses.
        const auto at = [&](double stress) {
            return static_cast<size_t>(std::ranges::find_if(y, [&](double v) { return v >= stress; }) - y.begin());
        };
        const size_t a = at(ends->first.base);
        const size_t b = at(ends->second.base);
        if (b >= y.size() || a >= b)
            return Problem{"slope", '"' + option + '"', "two stresses that the climb reaches", {}};
        return moved(chordBetweenStrains(x, y, x[a], x[b]));
    }
    const bool chord = option.starts_with("chord");
    if (!chord && !option.starts_with("manual"))
        return Problem{"options.slope", '"' + option + '"', "auto, chord A B, secant A B or manual A B", {}};
    auto ends = twoQuantities(option, option.substr(0, chord ? 5 : 6), Kind::Strain);
    if (!ends)
        return ends.problem();
    // Strains of a rule count from the corrected origin: two rounds settle it.
    auto part = findStraightPart(x, y, data.noise, top);
    for (int round = 0; part && round < 3; ++round) {
        const double origin = part->origin();
        if (chord) {
            part = chordBetweenStrains(x, y, origin + ends->first.base, origin + ends->second.base);
        } else {
            const auto a = static_cast<size_t>(
                std::ranges::find_if(x, [&](double v) { return v >= origin + ends->first.base; }) - x.begin());
            const auto b = static_cast<size_t>(
                std::ranges::find_if(x, [&](double v) { return v > origin + ends->second.base; }) - x.begin());
            if (b < a + 3)
                return Problem{"slope", '"' + option + '"', "strains with at least three points between them", {}};
            part = fitStraightPart(x, y, a, b);
        }
    }
    return moved(part);
}

} // namespace fortitor
