// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/impact/swing.h"

#include "methods/common/figures.h"
#include "units/gravity.h"

#include <fmt/format.h>

#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

constexpr double scaleError = 0.01; // of the energy, half width

Problem option(const std::string& key, const std::string& found, const std::string& wanted,
               const std::string& advice = {})
{
    return {"options." + key, found, wanted, advice};
}

double degrees(double radians)
{
    return radians * 180 / std::numbers::pi;
}

Term scaleDoubt()
{
    return factorDoubt(scaleError, "pendulum, verified within 1 % (assumed)");
}

const Unit& joule()
{
    return baseUnit(Kind::Energy);
}

/// What the loss takes on the way down and up, by angle.
Expected<Term> withoutLoss(const Pendulum& p, const Term& read, std::optional<double> rise)
{
    if (!p.subtract || !p.loss)
        return read;
    if (!p.release || !rise)
        return Problem{"options.release_angle", "none", "the angle of release: the loss is shared by angle",
                       "State the release angle, or mass and arm."};
    const double share = (*p.release + *rise) / (2 * *p.release);
    const Term loss = Term::leaf("p", *p.loss, joule(), 0, {}, "loss of a full swing");
    const Term part = Term::constant(
        share, fmt::format("({:.1f} + {:.1f})/(2·{:.1f})", degrees(*p.release), degrees(*rise), degrees(*p.release)));
    return (read - loss * part).named("K", joule(), "absorbed, without the loss by angle", "ISO 179-1, ASTM D256", 4);
}

} // namespace

std::optional<double> Pendulum::available() const
{
    if (!moment || !release || !(mass > 0))
        return std::nullopt;
    return *moment * (1 - std::cos(*release));
}

std::optional<double> Pendulum::riseAfter(double lost) const
{
    if (!moment || !release)
        return std::nullopt;
    const double cosine = std::cos(*release) + lost / *moment;
    return cosine < -1 || cosine > 1 ? std::nullopt : std::optional(std::acos(cosine));
}

Expected<Pendulum> pendulumOf(const SpecimenInput& input, const ImpactGeometry& geometry)
{
    Pendulum p;
    const auto figure = [&](const char* key, Kind kind) { return optionQuantity(input, key, kind); };
    const auto energy = figure("pendulum", Kind::Energy), loss = figure("loss", Kind::Energy),
               step = figure("resolution", Kind::Energy), release = figure("release_angle", Kind::Angle),
               mass = figure("mass", Kind::Mass), arm = figure("arm", Kind::Length);
    for (const auto* one : {&energy, &loss, &step, &release, &mass, &arm})
        if (!*one)
            return one->problem();
    if (!*energy)
        return option("pendulum", "none", "its energy, such as 300 J", "State on Plan which pendulum is used.");
    for (const auto& [key, value] : {std::pair("pendulum", *energy),
                                     {"release_angle", *release},
                                     {"mass", *mass},
                                     {"arm", *arm},
                                     {"resolution", *step}})
        if (value && !(*value > 0))
            return option(key, formatSignificant(*value, 4), "above zero");
    if (*loss && **loss < 0)
        return option("loss", formatSignificant(**loss, 4) + " J", "zero or above");
    if (*release && **release > std::numbers::pi)
        return option("release_angle", fmt::format("{:.1f}°", degrees(**release)), "180° at most");
    p.energy = **energy;
    p.loss = *loss;
    p.resolution = step->value_or(0);
    p.release = *release;
    p.mass = mass->value_or(0);
    p.arm = arm->value_or(0);
    if (*mass && *arm)
        p.moment = **mass * standardGravity * **arm / 1000;
    if (!p.release && p.moment && p.energy < 2 * *p.moment)
        p.release = std::acos(1 - p.energy / *p.moment);
    if (!p.moment && p.release)
        p.moment = p.energy / (1 - std::cos(*p.release));
    const std::string rule = optionOr(input, "loss_rule", "");
    p.subtract = rule.empty() ? geometry.plastic : rule == "subtract";
    return p;
}

Expected<SwingEnergy> energyFromDial(const Pendulum& p, double reading)
{
    const Term dial = Term::leaf("K_read", reading, joule(), p.resolution / 2 / rectangle,
                                 {"step of the scale", SourceKind::Digits}, "energy on the dial");
    const Term read = (dial * scaleDoubt()).named("K_read", joule(), "energy on the dial");
    const auto rise = p.riseAfter(reading);
    auto absorbed = withoutLoss(p, read, rise);
    if (!absorbed)
        return absorbed.problem();
    return SwingEnergy{read, *absorbed, rise};
}

Expected<SwingEnergy> energyFromRise(const Pendulum& p, double rise, double step)
{
    if (!p.release || !p.moment)
        return Problem{"options.release_angle", "none", "the angle of release, for a rise angle to be read",
                       "State the release angle; mass and arm as well, where they are known."};
    if (rise > *p.release)
        return Problem{"readings.rise_angle", fmt::format("{:.1f}°", degrees(rise)),
                       fmt::format("at most the release angle, {:.1f}°", degrees(*p.release)),
                       "A pendulum does not rise above where it was released."};
    if (rise < 0)
        return Problem{"readings.rise_angle", fmt::format("{:.1f}°", degrees(rise)), "zero or above", {}};
    const double doubt = std::sin(rise) * step / 2 / rectangle;
    const Term moment = Term::leaf("m·g·l", *p.moment, joule(), 0, {}, "moment of the hammer");
    const Term up = Term::leaf("cosβ", std::cos(rise), baseUnit(Kind::Number), doubt,
                               {"step of the angle", SourceKind::Digits}, "of the rise angle");
    const Term down = Term::constant(std::cos(*p.release), "cosα");
    const Term read =
        (moment * (up - down) * scaleDoubt()).named("K_read", joule(), "energy from the angles", "m·g·l·(cosβ − cosα)");
    auto absorbed = withoutLoss(p, read, rise);
    if (!absorbed)
        return absorbed.problem();
    return SwingEnergy{read, *absorbed, rise};
}

} // namespace fortitor
