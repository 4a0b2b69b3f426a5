// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace fortitor {

/// "19.6 kN · 2.00 t · 2.50 ×": a load in N as force, as the mass of that weight, and over the load that the part is
/// rated for (N; 0: not known).
std::string loadSaid(double load, double rated);

} // namespace fortitor
