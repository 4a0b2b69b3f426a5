// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <algorithm>
#include <cstdint>
#include <cstdlib>

namespace fortitor::test {

/// The sanitizers look at the same code ten times more slowly.
#if defined(__SANITIZE_ADDRESS__)
constexpr bool underSanitizers = true;
#else
constexpr bool underSanitizers = false;
#endif

/// How many simulated records a test reads: all of them as a rule, a hundred at most under the sanitizers, or as many
/// as
/// FAMILY_RECORDS says in a longer run.
inline std::uint64_t recordsOf(std::uint64_t all, std::uint64_t sanitized = 100)
{
    if (const char* asked = std::getenv("FAMILY_RECORDS"))
        return std::strtoull(asked, nullptr, 10);
    return underSanitizers ? std::min(all, sanitized) : all;
}

} // namespace fortitor::test
