// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/expected.h"

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>

namespace fortitor {

constexpr std::size_t deepestJson = 64;
constexpr std::size_t longestJson = std::size_t{64} << 20; ///< bytes

/// Why a JSON text from outside is not to be parsed: nested deeper than 64 (parsers and writers that call
/// themselves would run out of stack), or longer than 64 MB. Looks at brackets outside quotes, once, before
/// anything is built; whether it is JSON at all is the parser's to say.
std::optional<Problem> jsonBeyondBounds(std::string_view text, const std::string& place,
                                        std::size_t deepest = deepestJson);

} // namespace fortitor
