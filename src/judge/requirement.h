// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "judge/remark.h"
#include "units/unit.h"

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace fortitor {

enum class Verdict { Open, Pass, Fail };

std::string_view verdictName(Verdict verdict);

/// "Rm at least 290 MPa": limits in base units of the result.
struct Requirement {
    std::string symbol;
    std::optional<double> min{};
    std::optional<double> max{};
    std::optional<double> meanMin{}; ///< of the lot: its mean is to be at least this
    std::optional<double> boundMin{}; ///< of the lot: 90 % of all are to lie above this, with 95 % confidence
    const Unit* unit = nullptr; ///< of the result; a number of hardness is held against its own scale only

    [[nodiscard]] bool ofSpecimen() const { return min || max; }
};

/// One requirement against one value.
struct Check {
    Requirement requirement;
    std::optional<double> value;
    Verdict verdict = Verdict::Open;
};

/// A requirement on the lot against its figure.
struct LotCheck {
    std::string symbol;
    bool bound = false; ///< the lower bound, else the mean
    double limit = 0; ///< base unit
    std::optional<double> value; ///< base unit
    Verdict verdict = Verdict::Open;
    std::string why; ///< why it is open
};

/// A value that is missing leaves the check open; a limit met exactly passes.
Check checkRequirement(const Requirement& requirement, std::optional<double> value);

/// Fail if any check failed on a valid result; open without requirements, with an unanswered one,
/// or while a reject stands; else pass.
Verdict verdictOf(std::span<const Check> checks, std::span<const Remark> openRemarks);

} // namespace fortitor
