// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/expected.h"

#include <string>
#include <string_view>

namespace fortitor {

/// Text bytes made readable: UTF-8 or plain single-byte text with \n line ends. `view` points into
/// the bytes given where nothing had to be changed, else into `converted`.
struct DecodedText {
    std::string encoding; ///< "UTF-8", "UTF-16 LE", "UTF-16 BE", "Latin-1"
    std::string converted;
    std::string_view view;
};

/// Recognises byte-order marks, UTF-16 without one, UTF-8 and Latin-1, and lone carriage returns.
/// Refuses empty and binary bytes.
Expected<Done> decodeText(std::string_view bytes, DecodedText& out);

/// Latin-1 bytes as UTF-8.
std::string latin1ToUtf8(std::string_view bytes);

bool isUtf8(std::string_view bytes);

} // namespace fortitor
