// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/tension_composite/sketches.h"

#include "methods/common/sketches.h"

namespace fortitor {

using namespace sketches;

std::map<std::string, Sketch> failureKindSketches()
{
    return {
        {"A angled", broken({{13, 24}, {27, 12}})},
        {"D edge delamination",
         {{side(13, 2, 38), side(27, 2, 38), {{15, 10}, {17, 20}, {15, 30}}, {{25, 10}, {23, 20}, {25, 30}}}}},
        {"G at grip or tab",
         {{{{9, 2}, {31, 2}, {31, 12}, {9, 12}, {9, 2}}, side(13, 15, 38), side(27, 15, 38), {{13, 15}, {27, 15}}}}},
        {"L lateral", broken({{13, 18}, {27, 18}})},
        {"M several kinds", broken({{13, 14}, {18, 22}, {21, 15}, {27, 23}})},
        {"S long splits", {{side(13, 2, 38), side(27, 2, 38), side(17, 6, 34), side(20, 4, 30), side(23, 9, 36)}}},
        {"X explosive",
         {{side(13, 2, 12),
           side(27, 2, 12),
           side(13, 28, 38),
           side(27, 28, 38),
           {{13, 12}, {16, 18}, {18, 13}, {20, 19}, {22, 13}, {24, 18}, {27, 12}},
           {{13, 28}, {16, 22}, {18, 27}, {20, 21}, {22, 27}, {24, 22}, {27, 28}},
           {{7, 18}, {10, 20}},
           {{33, 20}, {30, 21}}}}},
    };
}

std::map<std::string, Sketch> failureAreaSketches()
{
    return {
        {"I inside the grip", onStrip(13, 3, 14, 7)},   {"A at the grip", onStrip(13, 9, 14, 3)},
        {"W within one width", onStrip(13, 11, 14, 7)}, {"G gauge length", onStrip(13, 15, 14, 10)},
        {"M several places", onStrip(13, 6, 14, 28)},   {"V various", onStrip(13, 3, 14, 34)},
    };
}

std::map<std::string, Sketch> failurePlaceSketches()
{
    return {
        {"T top", onStrip(13, 5, 14, 9)},  {"M middle", onStrip(13, 16, 14, 8)}, {"B bottom", onStrip(13, 26, 14, 9)},
        {"L left", onStrip(13, 5, 5, 30)}, {"R right", onStrip(22, 5, 5, 30)},   {"V various", onStrip(13, 3, 14, 34)},
    };
}

} // namespace fortitor
