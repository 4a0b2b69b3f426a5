// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <Eigen/Core>

#include <cstddef>
#include <map>
#include <optional>
#include <span>
#include <utility>
#include <vector>

namespace fortitor {

/// The striker's own ringing in a force: its period in readings, and how much of it is lost in each reading.
struct Ringing {
    double period = 0;
    double fading = 0; ///< e to minus this, a reading
};

/// How a contact's force is best freed of its ringing.
struct RingingSeen {
    std::optional<Ringing> ringing{}; ///< nothing where none stands out
    size_t window = 0; ///< readings that are fitted at once
};

/// Parabolas with and without a ringing, of all periods and windows, are held against the force of a contact, evenly
/// spaced, in stretches without a step in them; the one counts that says most by the fewest figures (Hurvich and Tsai
/// 1989). `noise`: of one reading, the same unit; `narrowest` window, so that a fall
/// of some readings is not followed by the fit itself.
RingingSeen findRinging(const std::vector<std::span<const double>>& stretches, double noise, size_t narrowest);

/// The force without its ringing: about each reading a parabola and a fading ringing are fitted together, and the
/// parabola counts. So a step beside it does not blur, and a curved top keeps its height.
class WithoutRinging {
public:
    WithoutRinging(std::span<const double> force, const RingingSeen& seen);

    /// The force at reading `i` by readings in [from, to) only; `i` may lie up to a window outside of them.
    [[nodiscard]] double at(size_t i, size_t from, size_t to, size_t widest = 0) const;
    /// Standard doubt of that value by what the fit leaves over.
    [[nodiscard]] double doubtAt(size_t i, size_t from, size_t to) const;
    /// Sum of squares that the fit of `count` readings from `from` on leaves, and the freedom it has.
    [[nodiscard]] std::pair<double, double> left(size_t from, size_t count) const;
    [[nodiscard]] std::span<const double> force() const { return force_; }
    [[nodiscard]] const std::optional<Ringing>& ringing() const { return seen_.ringing; }
    [[nodiscard]] size_t window() const { return seen_.window; }

private:
    /// What a fit of some readings at once needs, worked out once for each number of them.
    struct Fit {
        Eigen::MatrixXd force; ///< weights of the readings for level, slope and bend, a column each
        Eigen::MatrixXd directions; ///< at right angles, spanning all that is fitted
    };
    [[nodiscard]] const Fit& fit(size_t count) const;
    [[nodiscard]] const Eigen::VectorXd& weights(size_t count, std::ptrdiff_t place) const;

    std::span<const double> force_;
    RingingSeen seen_;
    mutable std::map<size_t, Fit> fits_;
    mutable std::map<std::pair<size_t, size_t>, double> left_; ///< the same places are asked for again and again
    mutable std::map<std::pair<size_t, std::ptrdiff_t>, Eigen::VectorXd> weights_;
};

} // namespace fortitor
