// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <string_view>

namespace fortitor {

/// A material under the pendulum: energies of its shelves, and where it passes from one to the other. J and °C.
struct StruckKind {
    std::string_view name, words; ///< on the shelf
    std::string_view material;
    bool plastic = false;
    double lower = 0, upper = 0, middle = 0, width = 20;
    double scatterOnShelf = 0, scatterBetween = 0; ///< J; the most half-way
    double release = 160; ///< °, of the pendulum that suits it
    double pendulum = 300; ///< J
    double step = 0.5; ///< of its scale, J
    double loss = 0.6; ///< of a full swing, J
    std::string_view geometry{}; ///< of the specimen
    double sectionWidth = 10, ligament = 8; ///< mm
    double first = -60, apart = 20; ///< °C: three pieces each at six temperatures, or at three of a plastic
};
std::span<const StruckKind> struckKinds();
/// By the words of a material; nullptr where the shelf has nothing like it.
const StruckKind* struckKind(std::string_view material);
/// The same; one that stands in for it, a plastic for a plastic, where the shelf has nothing like it.
const StruckKind& struckLike(std::string_view material);

/// What one blow gives.
struct StruckPiece {
    double energy = 0; ///< J, as the dial shows it: with the loss, to its step
    double taken = 0; ///< J that it took
    std::string broken{}, look{}; ///< as the notes hold them
    double shear = 0; ///< share
    double expansion = 0; ///< mm
    double way = 0; ///< s from bath to blow
};
StruckPiece strike(const StruckKind& kind, double temperature, std::uint64_t seed);

/// The energy without scatter, J.
double trueEnergy(const StruckKind& kind, double temperature);

} // namespace fortitor
