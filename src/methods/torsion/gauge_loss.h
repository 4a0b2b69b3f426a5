// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <optional>
#include <span>

namespace fortitor {

/// The first reading at which a strain gauge on a twisted bar is gone for good: it has no reading any more,
/// stands still, runs away or comes back while the bar goes on. `gauge` and `twist` are shear strains of the
/// surface (twist NaN where it was not read), `torque` in N·mm; all of one length. A single odd reading with
/// good ones behind it is none. Nothing when the gauge lives to the end or never read.
std::optional<std::size_t> gaugeLost(std::span<const double> gauge, std::span<const double> twist,
                                     std::span<const double> torque);

} // namespace fortitor
