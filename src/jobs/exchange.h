// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/job.h"

#include <functional>
#include <set>
#include <memory>

namespace fortitor {

/// A job without its "record.file" entries, for a logbook that holds the records itself.
Json withoutRecordFiles(Json job);

/// The name of a specimen's record file, one of its own in each job: `taken` holds those given out before.
std::string recordFileName(const std::string& number, const std::string& label, size_t index,
                           std::set<std::string>& taken);

/// Writes a job of the logbook as an exchange folder: the job file, and beside it a text record
/// "NUMBER-LABEL.csv" for each specimen that has one. `analyse` reads it as it is.
Expected<Done> writeExchange(const std::string& path, Json json, const Job& job,
                             const std::function<std::shared_ptr<const Record>(size_t)>& record);

/// A record as text with units in the header, every digit kept.
std::string exchangeCsv(const Record& record);

} // namespace fortitor
