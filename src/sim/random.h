// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cmath>
#include <cstdint>
#include <numbers>

namespace fortitor {

/// A small generator whose numbers depend on the seed alone, not on the library (splitmix64).
class Random {
public:
    explicit Random(std::uint64_t seed) : state_(seed) { }

    /// Evenly in [0, 1).
    double even() { return static_cast<double>(next() >> 11) * 0x1.0p-53; }
    double between(double low, double high) { return low + (high - low) * even(); }
    /// Mean 0, standard deviation 1.
    double normal()
    {
        const double radius = std::sqrt(-2 * std::log(1 - even()));
        return radius * std::cos(2 * std::numbers::pi * even());
    }

private:
    std::uint64_t next()
    {
        std::uint64_t z = (state_ += 0x9E3779B97F4A7C15ULL);
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ULL;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EBULL;
        return z ^ (z >> 31);
    }
    std::uint64_t state_;
};

} // namespace fortitor
