// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <string_view>

namespace fortitor {

/// A detail under cyclic load: its line, and what scatters about it.
struct FatigueKind {
    std::string_view name, words; ///< on the shelf
    std::string_view material;
    double slope = 3, logA = 12.3; ///< log N = log a − m·log Δσ
    double scatter = 0.2; ///< of log N
    double knee = 0; ///< MPa below which it does not break; 0: none
    double elsewhere = 0.04; ///< share that break at a clamp
    double stiffness = 90e3; ///< N/mm of piece and grips
    double warming = 2e-4; ///< °C for each Hz and MPa²/100
    double ratio = 0.1, frequency = 8; ///< as it is usually run
    double width = 40, thickness = 8; ///< mm
};
std::span<const FatigueKind> fatigueKinds();
/// By the words of a material; nullptr where the shelf has nothing like it.
const FatigueKind* fatigueKind(std::string_view material);
/// The same; a steel detail stands in where the shelf has nothing like it.
const FatigueKind& fatigueLike(std::string_view material);
const FatigueKind* findFatigueKind(std::string_view name);

/// One piece of it. It knows its life at every range: the same luck all along its line.
struct FatiguePiece {
    const FatigueKind* kind = nullptr;
    double luck = 0; ///< standard deviations of log N
    bool elsewhere = false;
    double early = 1; ///< share of its life after which it breaks at the clamp

    /// Cycles to its rupture; infinite below the knee.
    [[nodiscard]] double life(double range) const;
    /// Of the first cycles' stiffness after a share of the life: it falls slowly, then with the crack.
    [[nodiscard]] static double stiffnessAt(double share);
};
FatiguePiece drawFatiguePiece(const FatigueKind& kind, std::uint64_t seed);

/// How it ends at a range under a stop for lost stiffness, without a machine: what the rig comes to as well.
struct FatigueEnd {
    double cycles = 0;
    std::string outcome{}; ///< as the notes hold it
};
FatigueEnd runToEnd(const FatiguePiece& piece, double range, double runOut, double stiffnessStop);

} // namespace fortitor
