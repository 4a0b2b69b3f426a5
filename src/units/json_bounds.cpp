// SPDX-License-Identifier: GPL-3.0-or-later
#include "units/json_bounds.h"

namespace fortitor {

std::optional<Problem> jsonBeyondBounds(std::string_view text, const std::string& place, std::size_t deepest)
{
    if (text.size() > longestJson)
        return Problem{place, std::to_string(text.size() >> 20) + " MB",
                       "at most " + std::to_string(longestJson >> 20) + " MB of JSON",
                       "Records belong in files of their own."};
    std::size_t depth = 0;
    std::size_t line = 1;
    bool quoted = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (c == '\n')
            ++line;
        if (quoted) {
            if (c == '\\')
                ++i;
            else if (c == '"')
                quoted = false;
        } else if (c == '"') {
            quoted = true;
        } else if (c == '[' || c == '{') {
            if (++depth > deepest)
                return Problem{place + ", line " + std::to_string(line),
                               "brackets nested deeper than " + std::to_string(deepest),
                               "at most " + std::to_string(deepest) + " levels", "No job and no message is that deep."};
        } else if ((c == ']' || c == '}') && depth > 0) {
            --depth;
        }
    }
    return std::nullopt;
}

} // namespace fortitor
