// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/drop_weight/drop_weight.h"

#include "curve/signal.h"
#include "methods/common/section.h"
#include "methods/drop_weight/figures.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double dialStep = 0.01; // mm

/// The dent, and what a rest makes of it.
void dent(Figures& f)
{
    const auto depth = lengthTerm(f.input, "dent_depth", "dent", "depth of the dent at once");
    if (!depth) {
        if (f.input.record)
            f.sayMissing({"dent"}, "missing-dimension", "The dent is not measured.",
                         "Measure it by dial at once after the blow.", "dent_depth");
        return;
    }
    f.set("dent", depth->named("dent", baseUnit(Kind::Length), "depth of the dent, at once", "ASTM D7136", 3));
    const double relaxed = meanLength(f.input, "dent_depth_relaxed");
    if (!f.input.dimensions.contains("dent_depth_relaxed"))
        return;
    if (relaxed > depth->value() + dialStep)
        f.remark("dent-grew", Severity::Caution, {"dent"},
                 fmt::format("The dent is {:.2f} mm after the rest, deeper than the {:.2f} mm at once.", relaxed,
                             depth->value()),
                 "Are the two readings exchanged?", "dent_depth_relaxed");
    else
        f.remark("dent-relaxed", Severity::Note, {"dent"},
                 fmt::format("After the rest {:.2f} mm of the {:.2f} mm are left.", relaxed, depth->value()));
}

/// Damage that reaches the clamped edge is no longer that of the blow alone (ASTM D7136).
void damage(Figures& f)
{
    const double length = meanLength(f.input, "damage_length"), width = meanLength(f.input, "damage_width");
    const double plate = meanLength(f.input, "width");
    constexpr double free = 75; // mm, of the cut-out's short side
    const double most = 0.5 * (plate > 0 ? std::min(plate, free) : free);
    if (std::max(length, width) > most)
        f.remark("damage-large", Severity::Caution, {},
                 fmt::format("The damage is {:.0f} mm across; up to {:.1f} mm, half of the free width, the edges have "
                             "no hand in it.",
                             std::max(length, width), most),
                 "Use less energy, or a larger plate.", length >= width ? "damage_length" : "damage_width");
}

} // namespace

bool isPressed(const Record& record)
{
    if (!record.find("displacement"))
        return false;
    const Channel* time = record.find("time");
    if (!time || time->values.size() < 2)
        return true;
    constexpr double longestBlow = 0.2; // s
    return !(time->values.back() - time->values[0] < longestBlow);
}

const std::vector<std::string>& forceResults()
{
    static const std::vector<std::string> symbols{"E_i", "F_1", "F_max", "d_at_max", "E_at_max", "E_a", "t_contact"};
    return symbols;
}

void remarkZero(Figures& f, double level, double top, const std::string& before)
{
    constexpr double told = 0.0005, large = 0.005; // of the greatest force
    if (std::abs(level) > told * top)
        f.remark("zero-offset", std::abs(level) > large * top ? Severity::Caution : Severity::Note, forceResults(),
                 fmt::format("{} before {} was taken off.", formatQuantity(level, baseUnit(Kind::Force), 3), before),
                 "", "force_zero");
}

Expected<Outcome> evaluateDropWeight(const SpecimenInput& input)
{
    static const Method method = dropWeight();
    if (auto ok = checkOptions(input, method); !ok)
        return ok.problem();
    const auto plan = dropPlan(input);
    if (!plan)
        return plan.problem();
    Figures f{input};
    f.begin(method);
    f.outcome.remarks = checkDimensions(input, {"thickness"});
    nominalEnergy(f, *plan);
    if (input.record) {
        auto ok = isPressed(*input.record) ? readPress(f) : readBlow(f, *plan);
        if (!ok)
            return ok.problem();
    } else {
        const auto speed = contactSpeed(f, *plan, std::nullopt);
        if (!speed)
            return speed.problem();
    }
    dent(f);
    damage(f);
    f.sayRest();
    return std::move(f.outcome);
}

} // namespace fortitor
