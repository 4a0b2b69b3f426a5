// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// Steps from one word to another: letters put in, taken out, replaced or exchanged with their neighbour, case
/// and the choice of '_', '-' and ' ' not counted. Optimal string alignment.
size_t wordDistance(std::string_view a, std::string_view b);

/// The known word that a mistyped one was most likely meant to be; empty where none is near.
std::string nearestName(std::string_view found, const std::vector<std::string>& known);

/// " Is \"min\" meant?" or nothing, to end a message with.
std::string nearestWords(std::string_view found, const std::vector<std::string>& known);

} // namespace fortitor
