// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/hardness/ladder.h"

#include "methods/common/figures.h"
#include "methods/hardness/conversion.h"

#include <algorithm>
#include <array>

namespace fortitor {

std::optional<double> onLadder(double number, const HardnessScale& scale)
{
    const HardnessScale& vickers = *findHardnessScale("HV");
    if (&scale == &vickers)
        return number > 0 ? std::optional(number) : std::nullopt;
    const auto converted = convertHardness(number, scale, vickers);
    return converted ? std::optional(converted->value) : std::nullopt;
}

std::string expectedNumber(const SpecimenInput& input)
{
    return optionOr(input, "expected", "");
}

std::vector<LadderRung> scaleLadder()
{
    struct Steps {
        std::string_view scale;
        double first, step, last;
    };
    constexpr std::array all{Steps{"HV", 50, 50, 900}, Steps{"HBW", 50, 50, 650}, Steps{"HRBW", 20, 10, 100},
                             Steps{"HRA", 20, 5, 95}, Steps{"HRC", 20, 5, 70}};
    std::vector<LadderRung> rungs;
    for (const Steps& steps : all) {
        LadderRung rung{.scale = std::string(steps.scale)};
        for (double n = steps.first; n <= steps.last; n += steps.step)
            if (const auto hv = onLadder(n, *findHardnessScale(steps.scale)))
                rung.numbers.emplace_back(n, *hv);
        if (!rung.numbers.empty())
            rungs.push_back(std::move(rung));
    }
    return rungs;
}

std::vector<std::pair<int, double>> scratchOrder()
{
    return {{2, 40}, {3, 110}, {4, 190}, {5, 500}, {6, 750}, {7, 1100}, {8, 1400}, {9, 2000}};
}

} // namespace fortitor
