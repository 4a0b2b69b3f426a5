// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/expected.h"

#include <cstdint>
#include <span>
#include <string>

namespace fortitor {

/// What a picture file says of itself.
struct PictureHead {
    std::string kind{}; ///< "PNG", "JPEG", "TIFF", "BMP"
    std::uint64_t width = 0, height = 0;
};

constexpr std::uint64_t mostPixels = 120'000'000;

/// Looks at a file without decoding it. Refused: what is none of these kinds, one that is cut short (never taken as far
/// as it goes), no size, and more pixels than `mostPixels`. `place` names the file.
Expected<PictureHead> pictureHead(std::span<const std::uint8_t> bytes, const std::string& place);

} // namespace fortitor
