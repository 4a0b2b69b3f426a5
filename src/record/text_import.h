// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/record.h"
#include "record/text_layout.h"

#include <functional>
#include <string>
#include <vector>

namespace fortitor {

/// Told the share done (0…1) every few megabytes; answers false to stop.
using Progress = std::function<bool(double)>;

struct ImportRequest {
    ColumnChoices choices;
    /// Channels that must be there; of each inner list one is enough.
    std::vector<std::vector<std::string>> needed;
    Progress progress;
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
    MappedFile(const char* data, size_t size) : data_(data), size_(size) {}
    const char* data_ = nullptr;
    size_t size_ = 0;
};

/// Only the layout of a file, for the preview.
Expected<TextLayout> readLayout(const std::string& path);

/// Reads a delimited text file into a record, all channels in base units. Every line of numbers is
/// read or named in a Problem; words after the last one are kept as a note. Blank cells are NaN.
/// Numbers are exact to the nearest double.
Expected<Record> importText(const std::string& path, const ImportRequest& request);

/// The same from bytes in memory; `place` names the source in messages.
Expected<Record> importTextBytes(std::string_view bytes, const std::string& place, const ImportRequest& request);

} // namespace fortitor
