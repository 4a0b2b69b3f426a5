// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/tension_metal/sketches.h"

#include "methods/common/sketches.h"

namespace fortitor {

using namespace sketches;

std::map<std::string, Sketch> metalFractureSketches()
{
    return {
        {"cup and cone", necked({{15, 18}, {18, 21}, {22, 21}, {25, 18}})},
        {"slant", broken({{13, 13}, {27, 23}})},
        {"flat", broken({{13, 18}, {27, 18}})},
        {"granular", broken({{13, 18}, {15, 16}, {17, 19}, {19, 16}, {21, 19}, {23, 17}, {25, 19}, {27, 17}})},
        {"at grip",
         {{{{9, 2}, {31, 2}, {31, 12}, {9, 12}, {9, 2}},
           side(13, 16, 38),
           side(27, 16, 38),
           {{13, 16}, {20, 14}, {27, 16}}}}},
    };
}

} // namespace fortitor
