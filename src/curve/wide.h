// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstring>

/// A function that goes over a whole channel, built for wider registers too and chosen when the program starts. The
/// figures are the same: nothing is summed in it. The sanitizers start before a choice can be made.
#if defined(__x86_64__) && !defined(__SANITIZE_ADDRESS__)
#define FORTITOR_WIDE __attribute__((target_clones("avx2", "default")))
#else
#define FORTITOR_WIDE
#endif

namespace fortitor {

/// Four figures side by side.
using Four = double __attribute__((vector_size(32)));

inline void loadFour(Four& into, const double* at)
{
    std::memcpy(&into, at, sizeof into);
}

} // namespace fortitor
