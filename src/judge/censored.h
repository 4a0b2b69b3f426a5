// SPDX-License-Identifier: GPL-3.0-or-later
// A set of which some values are only lower bounds: parts that did not break.
#pragma once

#include <optional>
#include <span>
#include <string>

namespace fortitor {

struct CensoredFit {
    enum class Law { Normal, Weibull } law = Law::Normal;
    double mean = 0;
    double sd = 0; ///< of the normal law with n/(n−1), so that it is the usual s where nothing is a bound
    double logLikelihood = 0;
    double shape = 0, scale = 0; ///< of the Weibull law
};

/// A law by maximum likelihood, `open` values being lower bounds (their share is the chance to lie above). Nothing
/// with fewer than two differing values that are none, or where the law knows no such values. Means to about 1e-9 of
/// the scatter..
std::optional<CensoredFit> fitNormal(std::span<const double> values, std::span<const char> open);
std::optional<CensoredFit> fitWeibull(std::span<const double> values, std::span<const char> open);

/// Whichever of both makes the values more likely.
std::optional<CensoredFit> fitCensored(std::span<const double> values, std::span<const char> open);

/// "normal", "Weibull".
std::string lawName(CensoredFit::Law law);

} // namespace fortitor
