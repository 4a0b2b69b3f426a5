// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/schools.h"

namespace fortitor::schools {

OptionSpec strainFrom(const std::string& help)
{
    return {"strain_from", "Strain from", {"extensometer", "crosshead"}, "extensometer", Kind::Number, help};
}

OptionSpec compliance(const std::string& help)
{
    return {"compliance", "Machine compliance", {}, "", Kind::Compliance, help};
}

OptionSpec areaFrom(const std::string& help)
{
    return {"area_from", "Section from", {"mean", "least"}, "mean", Kind::Number, help};
}

OptionSpec forceZero()
{
    return {"force_zero", "Force at the start", {"auto", "start", "none"}, "auto", Kind::Number, "Whether the force of the quiet start is taken off."};
}

OptionSpec peak()
{
    return {"peak", "Top of the force", {"smooth", "raw"}, "smooth", Kind::Number, "Without its noise, or the single highest reading."};
}

OptionSpec firstGrip(const std::string& help)
{
    return {"first_grip", "Grip first", {"top", "lower"}, "top", Kind::Number, help};
}

OptionSpec expectedForce(const std::string& help)
{
    return {"expected_force", "Expected force", {}, "", Kind::Force, help};
}

} // namespace fortitor::schools
