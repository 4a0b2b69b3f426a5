// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/record.h"
#include "record/text_layout.h"

#include <functional>
#include <span>
#include <string>
#include <vector>

namespace fortitor {

/// Told the share done (0…1) every few megabytes; answers false to stop.
using Progress = std::function<bool(double)>;

struct ImportRequest {
    ColumnChoices choices = {};
    char decimal = 0; ///< the decimal mark settled by hand; 0: told from the file
    size_t part = 0; ///< which of several tests in one file, from 1; 0: not said
    /// Channels that must be there; of each inner list one is enough.
    std::vector<std::vector<std::string>> needed = {};
    Progress progress = {};
};

/// A file mapped into memory for reading.
class MappedFile {
public:
    static Expected<MappedFile> open(const std::string& path);
    MappedFile(MappedFile&& other) noexcept;
    MappedFile& operator=(MappedFile&&) = delete;
    ~MappedFile();
    [[nodiscard]] std::string_view bytes() const { return {data_, size_}; }

private:
    MappedFile(const char* data, size_t size) : data_(data), size_(size) { }
    const char* data_ = nullptr;
    size_t size_ = 0;
};

/// A test in a file that holds several.
struct TextPart {
    size_t firstLine = 0; ///< of its readings
    size_t lastLine = 0;
    size_t rows = 0;
};

/// Only the layout of a file, for the preview.
Expected<TextLayout> readLayout(const std::string& path, char decimal = 0);

/// The tests in a file: one, or several with a blank line, words, or a clock that starts again between them.
Expected<std::vector<TextPart>> readParts(const std::string& path, const ImportRequest& request);

/// Reads a delimited text file into a record, all channels in base units. Every line of numbers is
/// read or named in a Problem; words after the last one are kept as a note. Blank cells are NaN, and so are marks and
/// figures by which an instrument says that it was beyond its range (with a note). Several tests in one file are
/// refused until `part` says which is meant; what the file leaves open (see openQuestion) until it is settled.
/// Numbers are exact to the nearest double.
Expected<Record> importText(const std::string& path, const ImportRequest& request);

/// The same from bytes in memory; `place` names the source in messages.
Expected<Record> importTextBytes(std::string_view bytes, const std::string& place, const ImportRequest& request);

/// Rows [first, first + n) of every channel, in the order of the head's.
struct RowsChunk {
    const Record& head; ///< names, kinds and units of the channels
    size_t first = 0;
    std::vector<std::span<const double>> channels;
};

/// Takes a stretch of rows, which lie in place only while it does; false stops.
using TakeRows = std::function<bool(const RowsChunk&)>;

/// Hands a text file out in stretches of at most `rows` rows, so that one of any length needs the memory of a stretch.
/// Reads as importText does; the record that comes back has its channels without their values. After a Problem what
/// was handed out does not count.
Expected<Record> forEachChunk(const std::string& path, const ImportRequest& request, size_t rows, const TakeRows& take);

/// The same for a record in memory, in place.
void forEachChunk(const Record& record, size_t rows, const TakeRows& take);

} // namespace fortitor
