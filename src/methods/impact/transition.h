// SPDX-License-Identifier: GPL-3.0-or-later
// Energy over temperature: K(T) = A + B·tanh((T − T0)/C), lower shelf A − B, upper shelf A + B.
#pragma once

#include "units/expected.h"

#include <array>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace fortitor {

/// A blow that counts in the fit: °C and J.
struct Blow {
    double temperature = 0, energy = 0;
};

struct Transition {
    double lower = 0, upper = 0; ///< shelves, J; lower is never below 0
    double middle = 0; ///< T0, half-way between the shelves, °C
    double width = 0; ///< C, K
    double squares = 0; ///< sum of squared residuals, J²
    size_t blows = 0;
    std::array<std::array<double, 4>, 4> spread{}; ///< of lower, upper, middle, ln width: covariance

    [[nodiscard]] double at(double temperature) const;
    /// °C where the curve has that energy; nothing outside the shelves.
    [[nodiscard]] std::optional<double> temperatureAt(double energy) const;
    [[nodiscard]] double degrees() const { return static_cast<double>(blows) - 4; } ///< of freedom
    /// Standard deviation of a blow about the curve, J.
    [[nodiscard]] double scatter() const;
    /// How the curve at a temperature changes with lower, upper, middle, ln width.
    [[nodiscard]] std::array<double, 4> slopesAt(double temperature) const;
    /// Standard uncertainty of the energy at a temperature, and of the temperature at an energy.
    [[nodiscard]] double doubtAt(double temperature) const;
    [[nodiscard]] double doubtOfTemperatureAt(double energy) const;
};

/// Least squares with bounds: lower ≥ 0, upper > lower, and a width between a fifth of the least step of
/// temperature and
/// four times their range. The covariance lets the scatter differ along the curve (residuals over one minus their
/// leverage, squared). Refused: fewer than five blows, fewer than four temperatures, no rise, and a shelf that no blow
/// holds. `shelves` off: without that last.
Expected<Transition> fitTransition(std::span<const Blow> blows, bool shelves = true);

/// Interval of 95 % by the profile of the squares, scaled by the covariance so that it may lean to one side. Nothing
/// where it does not end within the temperatures and their range to both sides.
using TemperatureInterval = std::optional<std::pair<double, double>>;
TemperatureInterval intervalOfTemperature(const Transition& fit, std::span<const Blow> blows, double energy);
/// The same of the energy at a temperature.
std::optional<std::pair<double, double>> intervalOfEnergy(const Transition& fit, std::span<const Blow> blows,
                                                          double temperature);

/// Half width of the interval at that energy if `more` blows were struck at `temperature`, K; the scatter there is
/// taken
/// from the neighbours' residuals.
double halfWidthWith(const Transition& fit, std::span<const Blow> blows, double energy, double temperature, int more);

/// Two-sided 95 % of Student's distribution.
double studentAt95(double degrees);

/// A difference of two temperatures with its interval of 95 %.
struct TemperatureDifference {
    double value = 0; ///< second less first, K
    double low = 0, high = 0;
    [[nodiscard]] bool told() const { return low > 0 || high < 0; } ///< zero lies outside
};
/// Each side from the sides of both intervals, as two that know nothing of each other (Zou and Donner 2008).
TemperatureDifference differenceOf(double first, const std::pair<double, double>& firstInterval, double second,
                                   const std::pair<double, double>& secondInterval);

} // namespace fortitor
