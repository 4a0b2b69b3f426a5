// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/first_climb.h"

#include "curve/first_knee.h"

namespace fortitor {

size_t firstClimbEnds(const StressStrain& data)
{
    const auto x = std::span(data.strain).subspan(data.onset, data.end - data.onset);
    const auto y = std::span(data.stress).subspan(data.onset, data.end - data.onset);
    return data.onset + firstKnee(x, y, data.noise);
}

size_t firstClearOfNoise(const StressStrain& data)
{
    size_t first = data.onset;
    while (first > 0 && data.stress[first - 1] > 3 * data.noise)
        --first;
    return first;
}

bool climbsLate(const StraightPart& part, const StressStrain& data)
{
    constexpr double seating = 0.02;
    constexpr double far = 0.1;
    const double top = extremesOf(std::span(data.stress).first(data.end)).greatest;
    return part.origin() - data.strain[data.onset] > seating && part.line.at(data.strain[part.begin]) > far * top;
}

} // namespace fortitor
