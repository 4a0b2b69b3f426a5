// SPDX-License-Identifier: GPL-3.0-or-later
// Pieces on the shelf of the simulated laboratory that are indented, and how each is tested.
#include "sim/indented_piece.h"

#include <array>

namespace fortitor {
namespace {

constexpr std::array kinds{
    IndentedKind{"case-pin",
                 "16MnCr5",
                 "HV",
                 {.core = 335, .surface = 742, .caseDepth = 0.88, .caseWidth = 0.09, .scatter = 0.008},
                 0.015,
                 "case-hardened pin, traverse",
                 "mounted piece",
                 "diagonals",
                 {{{"scale", "HV"}, {"force", "9.807 N"}, {"case_limit", "550 HV"}}},
                 14,
                 0.15,
                 0.1,
                 "CHD",
                 550},
    IndentedKind{"cast-bush",
                 "grey iron",
                 "HBW",
                 {.core = 205, .surface = 205, .scatter = 0.02},
                 0.03,
                 "cast bush, under the lens",
                 "disc",
                 "diameters",
                 {{{"scale", "HBW"}, {"force", "7355 N"}, {"ball", "5 mm"}}},
                 3,
                 0,
                 0,
                 "H"},
    IndentedKind{"stainless-bar",
                 "X20Cr13",
                 "HRBW",
                 {.core = 97.5, .surface = 97.5, .scatter = 0.006},
                 0.02,
                 "martensitic bar, annealed",
                 "bar",
                 "number",
                 {{{"scale", "HRB"}, {"seating", "0"}}},
                 5,
                 0,
                 0,
                 "H"},
    IndentedKind{"stainless-bar-hard",
                 "X20Cr13",
                 "HRC",
                 {.core = 24, .surface = 24, .scatter = 0.02},
                 0.05,
                 "the same bar on the cone",
                 "bar",
                 "depth",
                 {{{"scale", "HRC"}, {"seating", "0"}}},
                 5,
                 0,
                 0,
                 "H"},
};

} // namespace

std::span<const IndentedKind> indentedKinds()
{
    return kinds;
}

} // namespace fortitor
