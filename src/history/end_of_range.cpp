// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/end_of_range.h"

#include "curve/wide.h"

namespace fortitor {

FORTITOR_WIDE bool anyAtLeast(std::span<const double> values, double sign, double least)
{
    const Four signs{sign, sign, sign, sign}, leasts{least, least, least, least};
    auto any = signs < signs;
    size_t i = 0;
    for (; i + 4 <= values.size(); i += 4) {
        Four v;
        loadFour(v, values.data() + i);
        any |= v * signs >= leasts;
    }
    bool found = (any[0] | any[1] | any[2] | any[3]) != 0;
    for (; i < values.size(); ++i)
        found |= values[i] * sign >= least;
    return found;
}

} // namespace fortitor
