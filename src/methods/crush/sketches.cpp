// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/crush/sketches.h"

#include "methods/common/sketches.h"

namespace fortitor {

using namespace sketches;

std::map<std::string, Sketch> foldSketches()
{
    return {
        {"one fold",
         {{{{11, 4}, {11, 16}, {5, 20}, {11, 24}, {11, 36}},
           {{29, 4}, {29, 16}, {35, 20}, {29, 24}, {29, 36}},
           {{6, 4}, {34, 4}},
           {{6, 36}, {34, 36}}}}},
        {"several folds",
         {{{{11, 4}, {11, 10}, {6, 13}, {12, 16}, {6, 19}, {12, 22}, {6, 25}, {11, 28}, {11, 36}},
           {{29, 4}, {29, 10}, {34, 13}, {28, 16}, {34, 19}, {28, 22}, {34, 25}, {29, 28}, {29, 36}},
           {{6, 4}, {34, 4}},
           {{6, 36}, {34, 36}}}}},
        {"tilted",
         {{{{11, 6}, {14, 18}, {10, 24}, {11, 36}},
           {{29, 4}, {32, 16}, {27, 22}, {29, 36}},
           {{6, 7}, {34, 3}},
           {{6, 36}, {34, 36}}}}},
        {"burst",
         {{{{11, 4}, {11, 16}, {8, 19}},
           {{29, 4}, {29, 36}},
           {{11, 36}, {11, 26}, {8, 22}},
           {{14, 15}, {17, 20}, {14, 26}},
           {{6, 4}, {34, 4}},
           {{6, 36}, {34, 36}}}}},
    };
}

} // namespace fortitor
