// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "vision/indent_picture.h"

namespace fortitor {

/// What reads pictures, in a library of its own that is loaded when the first picture comes: programs that see none do
/// not wait for it.
struct Vision {
    Expected<GreyPicture> (*read)(const std::string& path) = nullptr;
    Expected<FoundIndent> (*find)(const GreyPicture& picture, IndentShape shape) = nullptr;
};

/// A Problem where the library is not there.
Expected<const Vision*> vision();

} // namespace fortitor
