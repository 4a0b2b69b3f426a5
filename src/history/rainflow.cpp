// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/rainflow.h"

namespace fortitor {

std::vector<double> repeated(std::span<const double> residue)
{
    std::vector<double> twice(residue.begin(), residue.end());
    for (const double value : residue) {
        const size_t n = twice.size();
        const double step = value - twice.back();
        if (step == 0)
            continue;
        if (n >= 2 && (twice[n - 1] - twice[n - 2]) * step > 0)
            twice.back() = value; // it goes on the same way
        else
            twice.push_back(value);
    }
    return twice;
}

} // namespace fortitor
