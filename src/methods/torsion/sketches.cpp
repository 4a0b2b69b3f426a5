// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/torsion/sketches.h"

#include "methods/common/sketches.h"

namespace fortitor {

using namespace sketches;

std::map<std::string, Sketch> torsionBreakSketches()
{
    return {
        {"flat across", broken({{13, 20}, {27, 20}})},
        {"helix at 45°", broken({{13, 12}, {16, 17}, {20, 19}, {24, 21}, {27, 26}})},
        {"at the chuck",
         {{{{6, 2}, {12, 2}, {12, 14}, {6, 14}, {6, 2}},
           {{28, 2}, {34, 2}, {34, 14}, {28, 14}, {28, 2}},
           side(13, 17, 38),
           side(27, 17, 38),
           {{13, 17}, {27, 17}}}}},
    };
}

} // namespace fortitor
