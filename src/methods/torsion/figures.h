// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "curve/step_limit.h"
#include "methods/common/figures.h"

#include <limits>
#include <optional>
#include <vector>

namespace fortitor {

constexpr double unread = std::numeric_limits<double>::quiet_NaN(); ///< a reading that was missed

/// The bar's sizes as terms.
struct TorsionBar {
    Term outer; ///< mm
    std::optional<Term> inner; ///< of a tube
    Term modulus; ///< polar section modulus, mm³
    Term plastic; ///< torque a unit of stress over the whole section carries, mm³
    std::optional<Term> length; ///< mm
};

/// One step.
struct TorsionRow {
    size_t number = 0; ///< as a person counts, from 1
    double torque = std::numeric_limits<double>::quiet_NaN();
    double gauge = std::numeric_limits<double>::quiet_NaN(); ///< shear strain by the gauge
    double twist = std::numeric_limits<double>::quiet_NaN(); ///< rad
};

/// The straight part by one of the two ways to the shear strain.
struct TorsionLine {
    StepLimit limit;
    std::vector<size_t> rows;
    double modulus = 0; ///< MPa
    double origin = 0; ///< shear strain where it meets zero stress
    double last = 0; ///< MPa, at the last reading on it
};

/// Everything known of a twisted bar while its figures are worked out.
struct TorsionFigures : Figures {
    using Figures::Figures;
    std::optional<TorsionBar> bar;
    std::vector<TorsionRow> rows; ///< with a torque
    size_t top = 0; ///< row of the greatest torque
    std::optional<size_t> lost; ///< row from which the gauge is gone
    std::optional<TorsionLine> byGauge, byTwist;
    Term doubt = Term::constant(1);
    bool twistGauge = false;

    [[nodiscard]] double stress(double torque) const { return torque / bar->modulus.value(); }
    /// rθ/L; NaN without a length.
    [[nodiscard]] double shear(double twist) const
    {
        return bar->length ? 0.5 * bar->outer.value() * twist / bar->length->value()
                           : std::numeric_limits<double>::quiet_NaN();
    }
};

/// Results by what they need: all, those of the straight part.
extern const std::vector<std::string> allOfTorsion;
extern const std::vector<std::string> ofTorsionLine;
constexpr double degreesOfRadian = 57.29577951308232;

/// The sizes; a remark where one is missing. Refuses what can't be a bar.
Expected<Done> readTorsionBar(TorsionFigures& figures);
/// The steps, with signs and slips of the unit put right or named.
Expected<Done> readTorsionRows(TorsionFigures& figures);
/// The straight parts by gauge and by twist, after slips of the twist and the loss of the gauge; then the order
/// of the steps.
void findTorsionLines(TorsionFigures& figures, double twistDivision);
/// G by the gauge and by the twist, and what speaks against them.
void moduli(TorsionFigures& figures);
/// What the modulus should be near: the published one, or that of E.
std::optional<double> expectedShearModulus(const SpecimenInput& input);

} // namespace fortitor
