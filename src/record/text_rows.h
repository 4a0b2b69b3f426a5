// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/record.h"
#include "record/text_import.h"
#include "record/text_layout.h"

#include <functional>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// A test within the text: its readings, and where what stands before them begins.
struct Stretch {
    TextPart part;
    const char* above = nullptr; ///< behind the readings of the test before
    const char* begin = nullptr;
    const char* end = nullptr;
    size_t firstRow = 0;
};

struct Reading {
    Record record;
    std::vector<Stretch> tests;
    size_t beyond = 0;
};

/// Where a line of text ends: at its newline, or at the end of all.
const char* lineEnd(const char* at, const char* end);

/// Told after each row that was taken, with what has been read so far; false stops the reading.
using AfterRow = std::function<bool(Record&)>;

/// Reads the rows of a text and notes where one test ends and the next begins. Rows that do not read are words between
/// tests, a footer, or named in a Problem.
Expected<Reading> readRows(std::string_view text, const TextLayout& layout, const std::string& place,
                           const Progress& progress, const AfterRow& afterRow = {});

} // namespace fortitor
