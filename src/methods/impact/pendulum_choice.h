// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

namespace fortitor {

/// The usual pendulums held against what the pieces are expected to take: the option `expected` ("60 J", or "5 J; 110 J"
/// from the brittlest to the toughest), else what is commonly quoted of a plastic. Those that fit stand first, the one
/// that is usual for the geometry before the others.
std::vector<Proposal> proposePendulum(const SpecimenInput& input);
/// s in the baths at least, one after the other: each temperature has its own.
std::string bathsInWords(const SpecimenInput& input, std::span<const SpreadGroup> groups);

} // namespace fortitor
