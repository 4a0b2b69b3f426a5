// SPDX-License-Identifier: GPL-3.0-or-later
// What evaluateDropWeight is put together from.
#pragma once

#include "methods/common/figures.h"
#include "methods/common/force_over.h"
#include "methods/drop_weight/energy.h"

#include <vector>

namespace fortitor {

/// Whether a record is a slow press with an indenter: force over displacement, and no blow's clock.
bool isPressed(const Record& record);

/// Force–time of a blow.
Expected<Done> readBlow(Figures& f, const DropPlan& plan);
/// Force–displacement of an indenter.
Expected<Done> readPress(Figures& f);

const std::vector<std::string>& forceResults();

/// What the cell showed with nothing on it, N, was taken off; `top`: the greatest force, `before` what.
void remarkZero(Figures& f, double level, double top, const std::string& before);

} // namespace fortitor
