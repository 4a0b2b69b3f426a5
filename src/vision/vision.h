// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "vision/indent_picture.h"

namespace fortitor {

/// What reads pictures, in a library of its own that is loaded when the first picture comes: programs that see none do
/// not wait for it.
struct Vision {
    Expected<GreyPicture> (*decode)(std::span<const std::uint8_t> bytes, const std::string& place) = nullptr;
    Expected<FoundIndent> (*find)(const GreyPicture& picture, IndentShape shape) = nullptr;
};

/// The bytes of a picture's file. Refused, before they are read: no file, one over 500 MB.
Expected<std::vector<std::uint8_t>> pictureBytes(const std::string& path);

/// A Problem where the library is not there.
Expected<const Vision*> vision();

} // namespace fortitor
