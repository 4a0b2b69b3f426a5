// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

enum class Severity { Note, Caution, Reject };

std::string_view severityName(Severity severity);

/// What a good colleague would say about a specimen, and at which place.
struct Remark {
    std::string code;
    Severity severity = Severity::Note;
    std::vector<std::string> symbols; ///< results it bears on; empty: the whole specimen
    std::string text;
    std::string advice;
    std::string field; ///< the dimension or option it points at, when it points at one
};

} // namespace fortitor
