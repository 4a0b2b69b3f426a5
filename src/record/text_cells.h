// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <limits>
#include <string>
#include <string_view>

namespace fortitor {

constexpr double missingCell = std::numeric_limits<double>::quiet_NaN(); ///< of a reading that is not there

/// How figures are marked: the decimal mark, and the mark between groups of three digits (0: none).
struct Marks {
    char decimal = '.';
    char group = 0;
    [[nodiscard]] bool operator==(const Marks&) const = default;
};

/// A cell that says there is no reading: blank, a dash, NaN, n/a.
bool isMissingMark(std::string_view text);

/// A cell that says the reading was beyond the instrument: ####, OVLD, INF and the like.
bool isOverflowMark(std::string_view text);

/// A figure so great that instruments write it for "beyond me": 9.9E37, 1e38.
bool isOverflowFigure(double value);

/// Takes the group marks out of "1,234,567.8" where they stand three digits apart, into `out`; false when one
/// stands elsewhere. Without a group mark the text is taken as it is.
bool withoutGroups(std::string_view text, Marks marks, std::string& out);

/// A text of digits in front of people: control characters escaped, cut after `most` bytes.
std::string shownText(std::string_view text, std::size_t most = 60);

/// Letters in lower case without accents, Greek letters by their names: for comparing headers.
std::string foldedText(std::string_view utf8);

} // namespace fortitor
