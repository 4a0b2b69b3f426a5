// SPDX-License-Identifier: GPL-3.0-or-later
#include "plan/step_plan.h"

#include "plan/load_train.h"

namespace fortitor {

Expected<StepPlan> stepPlan(const Method& method, const SpecimenInput& input, const Unit& unit)
{
    const OptionSpec* option = method.optionOf(OptionSpec::Role::Steps);
    const auto stated = option ? input.options.find(option->key) : input.options.end();
    if (stated != input.options.end() && !stated->second.empty()) {
        auto plan = parseSteps(stated->second, unit.kind, unit);
        if (plan)
            plan->returns = method.intake.returns;
        return plan;
    }
    if (!method.proposeSteps)
        return Problem{"steps", "a method that is not read in steps", "one read step by step", {}};
    return method.proposeSteps(input, expectedLoad(method, input), unit);
}

} // namespace fortitor
