// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <string_view>

namespace fortitor {

/// The text without blanks, tabs and returns at its ends.
inline std::string trimmed(std::string_view text)
{
    constexpr std::string_view blanks = " \t\r";
    const size_t from = text.find_first_not_of(blanks);
    if (from == std::string_view::npos)
        return {};
    return std::string(text.substr(from, text.find_last_not_of(blanks) - from + 1));
}

} // namespace fortitor
