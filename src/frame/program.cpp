// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/program.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace fortitor {
namespace {

constexpr std::array<std::string_view, 7> names{"hold",     "speed",  "force-rate", "strain-rate",
                                                "position", "cycles", "hold-force"};

} // namespace

std::string_view controlName(Control control)
{
    return names[static_cast<size_t>(control)];
}

std::optional<Control> controlNamed(std::string_view name)
{
    const auto it = std::ranges::find(names, name);
    return it == names.end() ? std::nullopt : std::optional(static_cast<Control>(it - names.begin()));
}

std::optional<Problem> programProblem(const RunProgram& program)
{
    if (program.stages.empty())
        return Problem{"program", "no stage", "at least one", {}};
    for (size_t i = 0; i < program.stages.size(); ++i) {
        const RunStage& s = program.stages[i];
        const std::string place = fmt::format("program, stage {}", i + 1);
        for (const double figure :
             {s.value, s.low, s.high, s.count, s.untilStrain, s.untilForce, s.untilUnder, s.untilTravel, s.untilTime})
            if (!std::isfinite(figure))
                return Problem{place, "a figure that is not a number", "finite figures", {}};
        const bool ends = s.untilStrain > 0 || s.untilForce > 0 || s.untilUnder > 0 || s.untilTravel > 0
            || s.untilTime > 0 || s.control == Control::Position || s.control == Control::Cycles;
        if (!ends && i + 1 < program.stages.size())
            return Problem{place, "no end", "a strain, force, travel or time that ends it",
                           "Only the last stage may run on, to the break."};
        if ((s.control == Control::Hold || s.control == Control::HoldForce) && !(s.untilTime > 0))
            return Problem{place, "a hold without a time", "a time in s", {}};
        if (s.control != Control::Hold && s.value == 0 && s.control != Control::Position)
            return Problem{place, "a rate of zero", "a rate", {}};
        if (s.control == Control::Cycles && (!(s.high > s.low) || !(s.count > 0) || !(s.value > 0)))
            return Problem{
                place, "cycles without a range, a number or a frequency", "low below high, a count and Hz", {}};
    }
    return std::nullopt;
}

} // namespace fortitor
