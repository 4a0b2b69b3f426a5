// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/job.h"

#include <functional>
#include <memory>
#include <optional>
#include <set>

namespace fortitor {

/// A job without its "record.file" entries, for a logbook that holds the records itself.
Json withoutRecordFiles(Json job);

/// The name of a specimen's record file, one of its own in each job: `taken` holds those given out before.
std::string recordFileName(const std::string& number, const std::string& label, size_t index,
                           std::set<std::string>& taken, const std::string& ending = ".csv");

/// The bytes of a picture by its SHA-256; nothing where they are not to be had.
using PictureBytes = std::function<std::optional<std::string>(const std::string& sha256)>;

/// Writes a job of the logbook as an exchange folder: the job file, and beside it a text record
/// "NUMBER-LABEL.csv" for each specimen that has one, and each picture that a reading was taken from, as it came.
/// `analyse` reads it as it is. A picture that is not to be had is named in `missing`.
Expected<Done> writeExchange(const std::string& path, Json json, const Job& job,
                             const std::function<std::shared_ptr<const Record>(size_t)>& record,
                             const PictureBytes& picture = {}, std::vector<std::string>* missing = nullptr);

/// A record as text with units in the header, every digit kept.
std::string exchangeCsv(const Record& record);

} // namespace fortitor
