// SPDX-License-Identifier: GPL-3.0-or-later
// A straight line through values of which some are only lower bounds.
#pragma once

#include <Eigen/Core>

#include <optional>
#include <span>

namespace fortitor {

/// y = x·b + sigma·z with a standard normal z.
struct CensoredLine {
    Eigen::VectorXd coefficients; ///< b, as many as x has columns
    double sigma = 0; ///< as the likelihood has it: no degrees of freedom are taken off
    Eigen::MatrixXd covariance; ///< of b, and of sigma in the last row and column; by the observed information
    double logLikelihood = 0;
};

/// By maximum likelihood; `x` has a row a value, `open[i]` says that y[i] is a lower bound. The likelihood has one top
/// (Olsen 1978), found to about 1e-12. Nothing where it has none: the exact values don't tell the coefficients, or
/// lie on the line without any scatter.
std::optional<CensoredLine> fitCensoredLine(const Eigen::MatrixXd& x, const Eigen::VectorXd& y,
                                            std::span<const char> open);

} // namespace fortitor
