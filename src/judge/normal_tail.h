// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace fortitor {

/// ln of the chance that a standard normal lies above z, to about 1e-13 of itself at any z.
double logAbove(double z);
/// The density over that chance.
double hazard(double z);

} // namespace fortitor
