// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/flexure/sketches.h"

#include "methods/common/sketches.h"

namespace fortitor {

using namespace sketches;

std::map<std::string, Sketch> beamFailureSketches()
{
    return {
        {"simple tension",
         {{{{2, 13}, {38, 13}, {38, 27}, {22, 27}},
           {{2, 13}, {2, 27}, {19, 27}},
           {{19, 27}, {20, 23}, {18, 20}, {20, 17}},
           {{22, 27}, {21, 23}}}}},
        {"cross-grain tension",
         {{{{2, 13}, {38, 13}, {38, 27}, {16, 27}},
           {{2, 13}, {2, 27}, {13, 27}},
           {{13, 27}, {30, 15}},
           {{16, 27}, {31, 17}}}}},
        {"splintering tension",
         {{{{2, 13}, {38, 13}, {38, 27}, {29, 27}},
           {{2, 13}, {2, 27}, {11, 27}},
           {{11, 27}, {19, 24}, {14, 23}, {24, 21}, {17, 19}, {27, 18}},
           {{29, 27}, {20, 25}, {30, 23}, {22, 21}}}}},
        {"brash tension",
         {{{{2, 13}, {19, 13}},
           {{21, 13}, {38, 13}, {38, 27}, {21, 27}},
           {{2, 13}, {2, 27}, {19, 27}},
           {{19, 27}, {19, 14}},
           {{21, 27}, {21, 14}}}}},
        {"compression",
         {{{{2, 27}, {38, 27}, {38, 13}, {24, 13}},
           {{2, 27}, {2, 13}, {16, 13}},
           {{16, 13}, {18, 16}, {20, 13}, {22, 16}, {24, 13}},
           {{17, 18}, {20, 21}, {23, 18}}}}},
        {"horizontal shear",
         {{{{2, 13}, {36, 13}, {36, 20}, {2, 20}, {2, 13}}, {{4, 21}, {38, 21}, {38, 28}, {4, 28}, {4, 21}}}}},
    };
}

} // namespace fortitor
