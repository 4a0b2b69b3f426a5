// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "curve/maximum.h"

#include <optional>
#include <span>

namespace fortitor {

struct FirstMaximum {
    PeakFit peak;
    double flatFrom = 0, flatTo = 0; ///< x over which the values stay within 0.1 % of the top (and the noise)
    bool level = false; ///< the stress stays level after it instead of falling
};

/// The first maximum of y over x with falling or level values after it: a fall of 0.3 % (and clear of
/// the noise) before it is exceeded, or no rise of more than 0.1 % over a further 1 % of x (and a third
/// of the way there). A flat top that falls in the end is a maximum, not a level stretch. Noise is taken out by a
/// centred mean first. Nothing on a curve that climbs to its
/// end. Looks at [from, x.size()); maxima below a tenth of the greatest value are left out.
std::optional<FirstMaximum> findFirstMaximum(std::span<const double> x, std::span<const double> y, size_t from,
                                             double noise);

} // namespace fortitor
