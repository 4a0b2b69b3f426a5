// SPDX-License-Identifier: GPL-3.0-or-later
// Readings taken one by one, each at a place: what people do to them.
#pragma once

#include "jobs/document.h"

#include <array>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// A reading as a file holds it: with the unit of its column where a bare number was typed.
std::string withUnit(const PadChannel& column, const std::string& text);

/// What a picture gave of a reading, beside the texts of the reading itself.
struct PictureTaken {
    std::string sha256, file, pixel, scale; ///< of the file as it came, its name, a pixel's side with unit, where from
    std::vector<std::array<double, 2>> found{}, placed{}; ///< ends, px
    std::map<std::string, std::string> doubts{}; ///< standard uncertainty of the readings by name, with unit
};

/// What goes with a reading in the same step: the picture it was taken from, notes and options of its specimen.
struct WithReading {
    std::optional<PictureTaken> picture{};
    std::map<std::string, std::string> notes{}, options{};
};

/// As it stands among the pictures of a specimen, of the reading with that number, from 1.
Json pictureJson(const PictureTaken& picture, size_t reading);

/// "1-4, 7" as numbers of readings, from 1 to `most`, each once and in order.
Expected<std::vector<size_t>> readingNumbers(const std::string& text, size_t most);

namespace edits {

/// Where the readings of a specimen are to be taken, in their order.
Command places(const JobDocument& document, size_t index, const std::vector<Spot>& places, const std::string& words);

/// One reading behind those that stand: the texts by name, its place, and what goes with it. Refused for a specimen with
/// a record.
Expected<Command> takeReading(const JobDocument& document, size_t index,
                              const std::map<std::string, std::string>& texts, const std::optional<Spot>& place,
                              const std::string& words, const WithReading& with = {});

/// Puts readings into a zone, out of any other; an empty name takes them out of all. Numbers from 1.
Command zone(const JobDocument& document, size_t index, const std::string& name, const std::vector<size_t>& readings);

/// A reading that does not count: its texts go to the list of corrections with the reason, its place stays.
Expected<Command> strikeReading(const JobDocument& document, size_t index, size_t row, const std::string& who,
                                const std::string& when, const std::string& why);

} // namespace edits
} // namespace fortitor
