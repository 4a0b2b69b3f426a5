// SPDX-License-Identifier: GPL-3.0-or-later
// Four gauges on a plate, two a face, 25 mm in from the top corners.
#pragma once

#include <array>
#include <cstddef>
#include <limits>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// In the order of the channels strain, strain_2, strain_3, strain_4.
enum class Corner { FrontLeft, BackLeft, FrontRight, BackRight };
inline constexpr std::array<std::string_view, 4> cornerWords{"front left", "back left", "front right", "back right"};
inline constexpr std::array<std::string_view, 4> cornerChannels{"strain", "strain_2", "strain_3", "strain_4"};

/// Strains at one moment, shortening positive; NaN where a gauge tells nothing.
using FourStrains = std::array<double, 4>;

/// Means of the faces and of the sides; NaN where no gauge of it is left.
struct PlateStrains {
    double front = 0, back = 0, left = 0, right = 0;
    double mean = 0; ///< of the two faces
    double bending = 0; ///< (front − back)/(front + back), signed
    double leftBending = 0, rightBending = 0; ///< the same of one side's pair
    double sideways = 0; ///< (left − right)/(left + right)
};
PlateStrains plateStrains(const FourStrains& at);

/// What the fixture's screws can do about it, while it is aligned under a small load.
struct Balance {
    FourStrains share{}; ///< of the mean, 1 where all carry alike
    double bending = 0, sideways = 0;
    std::optional<Corner> most{}; ///< carries the most
    std::string words{}; ///< "Ease the front left corner."; "Even within 10 %."
    bool even = false;
};
/// `least`: the mean strain below which nothing is said.
Balance balanceOf(const FourStrains& at, double least = 50e-6);

/// How long a gauge can be believed: the first reading that it is lost at; the size where it holds. `force` rising.
struct GaugeLife {
    size_t until = 0;
    std::string why{}; ///< "leaps by 812 µε", "stands still"; empty: it holds
};
GaugeLife gaugeLife(std::span<const double> strain, std::span<const double> force, size_t onset, size_t top);

} // namespace fortitor
