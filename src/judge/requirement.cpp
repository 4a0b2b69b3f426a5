// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/requirement.h"

#include <algorithm>
#include <cmath>

namespace fortitor {

std::string_view severityName(Severity severity)
{
    return severity == Severity::Note ? "note" : severity == Severity::Caution ? "caution" : "reject";
}

std::string_view verdictName(Verdict verdict)
{
    return verdict == Verdict::Open ? "open" : verdict == Verdict::Pass ? "pass" : "fail";
}

Check checkRequirement(const Requirement& requirement, std::optional<double> value)
{
    Check check{requirement, value, Verdict::Open};
    if (!value || !std::isfinite(*value))
        return check;
    const bool low = requirement.min && *value < *requirement.min;
    const bool high = requirement.max && *value > *requirement.max;
    check.verdict = low || high ? Verdict::Fail : Verdict::Pass;
    return check;
}

Verdict verdictOf(std::span<const Check> checks, std::span<const Remark> openRemarks)
{
    if (std::ranges::any_of(openRemarks, [](const Remark& r) { return r.severity == Severity::Reject; }))
        return Verdict::Open;
    if (std::ranges::any_of(checks, [](const Check& c) { return c.verdict == Verdict::Fail; }))
        return Verdict::Fail;
    const bool answered =
        !checks.empty() && std::ranges::all_of(checks, [](const Check& c) { return c.verdict == Verdict::Pass; });
    return answered ? Verdict::Pass : Verdict::Open;
}

} // namespace fortitor
