// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/tension_plastic/sketches.h"

#include "methods/common/sketches.h"

namespace fortitor {

using namespace sketches;

std::map<std::string, Sketch> plasticBreakSketches()
{
    return {
        {"brittle", broken({{13, 18}, {27, 18}})},
        {"yield, then break", necked({{15, 18}, {25, 18}})},
        {"neck and draw",
         {{{{11, 2}, {11, 8}, {17, 13}, {17, 20}, {23, 20}, {23, 13}, {29, 8}, {29, 2}},
           {{17, 24}, {17, 30}, {11, 35}, {11, 38}},
           {{17, 24}, {23, 24}},
           {{23, 24}, {23, 30}, {29, 35}, {29, 38}}}}},
        {"at the grip",
         {{{{9, 2}, {31, 2}, {31, 12}, {9, 12}, {9, 2}}, side(13, 16, 38), side(27, 16, 38), {{13, 16}, {27, 16}}}}},
        {"between layers", broken({{13, 14}, {17, 14}, {17, 18}, {22, 18}, {22, 22}, {27, 22}})},
    };
}

} // namespace fortitor
