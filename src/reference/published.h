// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/unit.h"

#include <map>
#include <optional>
#include <string>
#include <string_view>

namespace fortitor {

/// Typical values of a material, base units: E, G, yield, Rm (MPa), A (1) of the materials; MOE, MOR (MPa) of the
/// woods.
struct PublishedValues {
    std::map<std::string, double> values;
    std::string source; ///< "6082 T6, reference table"
};

/// From the table "materials" or "woods"; nothing when it has no row of that name.
std::optional<PublishedValues> publishedValues(std::string_view table, std::string_view material);

/// The kind of a value that people may state under its key, whatever the method; nothing for an unknown key.
std::optional<Kind> publishedKind(std::string_view key);

} // namespace fortitor
