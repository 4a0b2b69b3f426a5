// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/tension_metal/proof_symbol.h"

#include "units/quantity.h"

#include <algorithm>
#include <string>

namespace fortitor {

std::optional<double> proofOffset(std::string_view symbol)
{
    constexpr double most = 5; // %
    if (!symbol.starts_with("Rp"))
        return std::nullopt;
    const std::string_view digits = symbol.substr(2);
    if (digits.empty() || digits.size() > 8
        || !std::ranges::all_of(digits, [](char c) { return (c >= '0' && c <= '9') || c == '.'; }))
        return std::nullopt;
    const auto percent = parseNumber(digits);
    return percent && *percent > 0 && *percent <= most ? std::optional(*percent / 100) : std::nullopt;
}

} // namespace fortitor
