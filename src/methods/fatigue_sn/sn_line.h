// SPDX-License-Identifier: GPL-3.0-or-later
// The S–N line: log N = log a − m·log Δσ, logarithms to ten.
#pragma once

#include "units/expected.h"

#include <optional>
#include <span>
#include <vector>

namespace fortitor {

/// A piece: its stress range, and how many cycles it stood.
struct SnPiece {
    double range = 0; ///< MPa, above zero
    double cycles = 0; ///< above zero
    bool open = false; ///< it would have stood more: a run-out, or broken elsewhere
};

struct SnRule {
    std::optional<double> slope{}; ///< fixed; nothing: free
    bool runOuts = true; ///< they count as lower bounds; false: they are left out
};

struct SnLine {
    double slope = 0, logA = 0; ///< m, log a
    double scatter = 0; ///< s of log N, with the degrees of freedom taken off
    double likelihoodScatter = 0; ///< the likelihood's own; of broken pieces alone √(SSR/n)
    size_t broken = 0, open = 0; ///< pieces that it rests on
    int parameters = 2; ///< of the line: 2, with a fixed slope 1
    double middle = 0, spread = 0; ///< x̄ and Sxx of log Δσ of the broken
    double logLikelihood = 0;
    double slopeDoubt = 0; ///< standard uncertainty of m; 0 where it is fixed
    double logADoubt = 0, together = 0; ///< of log a; covariance of log a and m

    [[nodiscard]] double freedom() const { return static_cast<double>(broken) - parameters; }
    [[nodiscard]] double logLifeAt(double range) const;
    /// MPa where half of the pieces stand that many cycles.
    [[nodiscard]] double rangeAt(double cycles) const;
    /// Standard uncertainty of that range, MPa.
    [[nodiscard]] double rangeDoubt(double cycles) const;
    /// 1/n + (x − x̄)²/Sxx.
    [[nodiscard]] double leverageAt(double logRange) const;
};

/// By least squares of log N where all are broken or run-outs are left out, else by maximum likelihood. Refuses pieces
/// that don't tell a line: at least one more broken piece than it has numbers, on two levels where the slope is free.
Expected<SnLine> fitSn(std::span<const SnPiece> pieces, const SnRule& rule);

/// Below the mean line: by how many s, at a place.
struct SnBound {
    enum class By { Prediction, Tolerance } by = By::Prediction;
    double confidence = 0.95;
    double survival = 0.95; ///< of a tolerance bound

    /// t·√(1 + h) one-sided, or k = t′(confidence; n − p, z_survival/√h)·√h.
    [[nodiscard]] double factor(const SnLine& line, double logRange) const;
    [[nodiscard]] double logLifeAt(const SnLine& line, double range) const;
    /// MPa at which the bound has that many cycles; nothing where it never has.
    [[nodiscard]] std::optional<double> rangeAt(const SnLine& line, double cycles) const;
};

} // namespace fortitor
