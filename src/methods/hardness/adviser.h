// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

namespace fortitor {

/// Which scale a piece may be tested on: by what is expected of it, its thickness, layer and finish, whether it may be
/// marked, and its material. The scale that is asked first, then the largest indents, which average most; behind them
/// those that fall away, each with the reason. Without an expected hardness: HRA, and on by its reading.
std::vector<Proposal> adviseScale(const SpecimenInput& input);

} // namespace fortitor
