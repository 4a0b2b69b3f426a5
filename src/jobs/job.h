// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "judge/requirement.h"
#include "methods/method.h"
#include "record/text_layout.h"

#include <nlohmann/json.hpp>

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace fortitor {

using Json = nlohmann::ordered_json;

/// A remark that a person has settled, with who and why.
struct Settlement {
    std::string code;
    std::string who;
    std::string why;
    std::string when;
};

/// A picture that a single reading was taken from, or a photograph of the piece.
struct ReadingPicture {
    size_t reading = 0; ///< of the list, from 1; 0: it shows the piece
    std::string sha256, file; ///< of the file as it came, and its name
    Quantity pixel; ///< length of a pixel's side
    std::string scale; ///< where that comes from
    std::vector<std::array<double, 2>> found; ///< ends as the program found them, px; empty where it found none
    std::vector<std::array<double, 2>> placed; ///< as they were taken
};

struct Specimen {
    std::string label;
    SpecimenInput input; ///< all but the record
    std::string recordFile; ///< relative to the job file; empty without one
    std::string recordIncomplete; ///< why that file holds only a part; empty: it is whole
    std::vector<Event> recordEvents; ///< what happened in it
    std::string recordId; ///< in the logbook; empty outside it
    ColumnChoices columns;
    size_t recordPart = 0; ///< which of several tests in the file, from 1; 0: not said
    char recordDecimal = 0; ///< its decimal mark where the file leaves it open; 0: not said
    std::optional<Record> readings; ///< keyed by hand
    [[nodiscard]] bool keyed() const { return readings || !input.readings.empty() || input.history; }
    std::vector<ReadingPicture> pictures;
    std::vector<Settlement> settled;
    std::string excludedBecause; ///< left out of the set by a person
};

struct Job {
    std::string number;
    std::string title;
    std::string materialName;
    std::string chain; ///< number of the job before this one, with the same specimens
    const Method* method = nullptr;
    std::vector<Requirement> requirements;
    std::vector<Specimen> specimens;
    std::vector<AcceptanceRule> rules; ///< that it cites
    std::vector<DailyValue> daily; ///< what the method checks once a day, in the order of time
    std::vector<Remark> notes; ///< unknown keys and the like
};

/// Parses JSON text; a key given twice in one object is refused, with its name.
Expected<Json> parseJson(std::string_view text, const std::string& place);

/// A job from the exchange format (contract, "analyse"). Problems name the path inside the job.
Expected<Job> readJob(const Json& json);

/// The same from a file.
Expected<Json> readJsonFile(const std::string& path);

/// Writes beside and renames, so that no half file is ever seen; flushed to the disk.
Expected<Done> writeFileWhole(const std::string& path, std::string_view bytes);

} // namespace fortitor
