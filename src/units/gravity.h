// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace fortitor {

constexpr double standardGravity = 9.80665; ///< m/s²: N that a kilogram weighs (CGPM 1901)

} // namespace fortitor
