// SPDX-License-Identifier: GPL-3.0-or-later
// What is said of a section before anything is worked out of it.
#include "methods/common/figures.h"
#include "methods/common/section.h"

#include <algorithm>
#include <array>

namespace fortitor {
namespace {

std::vector<Quantity> list(const SpecimenInput& input, const std::string& key)
{
    const auto it = input.dimensions.find(key);
    return it == input.dimensions.end() ? std::vector<Quantity>() : it->second;
}

} // namespace

std::optional<double> sectionArea(const SpecimenInput& input)
{
    const auto section = sectionTerm(input, "", "So");
    return section && *section ? std::optional((*section)->value()) : std::nullopt;
}

Expected<SectionShown> shownSection(const SpecimenInput& input, bool afterBreak)
{
    const auto section = sectionTerm(input, afterBreak ? "final_" : "", "So");
    if (!section)
        return section.problem();
    SectionShown shown;
    if (*section)
        shown.area = (*section)->value();
    if (afterBreak) {
        shown.title = "section at the neck";
        return shown;
    }
    const std::string which = optionOr(input, "area_from", "mean") == "least" ? "least" : "mean";
    shown.how = which + " of the places";
    shown.words = "mean or least of the places: chosen on Plan";
    return shown;
}

Expected<SectionShown> noSection(const SpecimenInput&, bool)
{
    return SectionShown{.title = {}};
}

bool isFlat(std::string_view shape)
{
    return shape == "rectangular";
}

std::string impliedShape(const SpecimenInput& input, const std::vector<std::string>& shapes)
{
    if (shapes.size() == 1)
        return shapes.front();
    static constexpr std::array telling{std::pair{"diameter", "round"}, std::pair{"width", "rectangular"},
                                        std::pair{"outer_diameter", "tube"}};
    for (const auto& [key, shape] : telling)
        if (input.dimensions.contains(key) && std::ranges::find(shapes, shape) != shapes.end())
            return shape;
    return {};
}

bool isSectionKey(std::string_view key)
{
    static constexpr std::array<std::string_view, 5> keys{"inner_diameter", "final_wall", "final_outer_diameter",
                                                          "area", "final_area"};
    return std::ranges::find(keys, key) != keys.end();
}

std::optional<Problem> impossibleSection(const SpecimenInput& input)
{
    for (const std::string prefix : {"", "final_"}) {
        const auto outer = list(input, prefix + "outer_diameter");
        const auto wall = list(input, prefix + "wall");
        for (size_t i = 0; i < wall.size() && !outer.empty(); ++i)
            if (const Quantity& d = outer[std::min(i, outer.size() - 1)]; 2 * wall[i].base > d.base * (1 + 1e-9))
                return Problem{input.label + ", dimensions." + prefix + "wall",
                               '"' + wall[i].text + "\" in a tube of " + d.text, "at most half of the outer diameter",
                               "Is it the inner diameter?"};
    }
    return std::nullopt;
}

} // namespace fortitor
