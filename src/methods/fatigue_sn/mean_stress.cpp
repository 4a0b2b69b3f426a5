// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/fatigue_sn/mean_stress.h"

#include <fmt/format.h>

#include <cmath>

namespace fortitor {

MeanStress meanStressNamed(std::string_view name)
{
    return name == "goodman" ? MeanStress::Goodman
        : name == "gerber"   ? MeanStress::Gerber
        : name == "swt"      ? MeanStress::SmithWatsonTopper
                             : MeanStress::None;
}

double meanStressOf(double range, double ratio)
{
    return 0.5 * range * (1 + ratio) / (1 - ratio);
}

Expected<double> rangeWithoutMean(MeanStress rule, double range, double ratio, double strength)
{
    if (rule == MeanStress::None)
        return range;
    if (!(ratio < 1) || !std::isfinite(ratio))
        return Problem{"notes.ratio", fmt::format("R = {:g}", ratio), "below 1: least over greatest stress",
                       "Where all is compression R is above 1; mean-stress rules say nothing of that."};
    if (rule == MeanStress::SmithWatsonTopper)
        return range * std::sqrt(2 / (1 - ratio)); // √(σmax·σa), twice
    const double mean = meanStressOf(range, ratio);
    if (!(strength > 0))
        return Problem{"material.published.Rm", "no Rm", "the tensile strength of the material",
                       "Give Rm on Plan: the rule goes by it."};
    if (!(mean < strength))
        return Problem{"notes.ratio", fmt::format("a mean stress of {:.4g} MPa", mean),
                       fmt::format("below Rm, {:.4g} MPa", strength), "Look at the range, R and Rm."};
    const double share = mean / strength;
    return range / (1 - (rule == MeanStress::Goodman ? share : share * share));
}

} // namespace fortitor
