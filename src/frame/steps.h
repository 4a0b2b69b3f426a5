// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/expected.h"
#include "units/quantity.h"

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// So many steps of one size.
struct StepRun {
    double size = 0; ///< base unit of the stepped channel
    int count = 0; ///< 0: on, to the end
};

/// What the stepped channel is brought to, one reading after the other.
struct StepPlan {
    std::vector<StepRun> runs;
    bool returns = false; ///< the zero is read again after the last step
    const Unit* unit = nullptr;
    std::string words; ///< "5° to 40°, then 20°" with where it comes from

    /// The target of reading `index` (0: the unloaded state); nothing after the last one.
    [[nodiscard]] std::optional<double> target(size_t index) const;
    /// How many readings it has; nothing when it goes on to the end.
    [[nodiscard]] std::optional<size_t> readings() const;
    /// The next target after the readings `taken` of the stepped channel (NaN: missed): the first one beyond
    /// the greatest of them, so that a target that was overshot is not asked for again.
    [[nodiscard]] std::optional<double> next(const std::vector<double>& taken) const;
};

/// "5 deg x 8, 20 deg x 5, 50 deg" or "100 N": sizes with counts, the last one without goes on. Refuses
/// units of another kind, sizes that are not above zero, and a size without a count that is not the last.
Expected<StepPlan> parseSteps(std::string_view text, Kind kind, const Unit& unit);
std::string planText(const StepPlan& plan);

/// The greatest of 1, 2 and 5 times a power of ten that is not above a value; 1 for what is not above zero.
double roundStep(double value);

} // namespace fortitor
