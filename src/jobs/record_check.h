// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/job.h"

namespace fortitor {

/// What is wrong with a record by itself, whatever the method, before it is worked out.
struct CheckedRecord {
    std::shared_ptr<const Record> record; ///< without what can't be used; null: nothing of it
    std::vector<Remark> remarks;
    std::vector<std::string> withheld; ///< results that are not given then
};

/// A load that never changes, a load channel at the end of its range, time in disorder.
CheckedRecord checkRecord(const Method& method, std::shared_ptr<const Record> record, bool keyed);

/// A size of zero, or a wall that is more than the tube has; nothing when all can be.
std::optional<Problem> impossibleSize(const Method& method, const SpecimenInput& input);

} // namespace fortitor
