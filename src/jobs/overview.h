// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/analysis.h"

#include <functional>

namespace fortitor {

/// What the lists show of a specimen.
struct OverviewRow {
    std::string label, verdict, figures;
    int stage = 0; ///< steps that are done, of `overviewSteps`
};

/// Measured, loaded, read, judged.
constexpr int overviewSteps = 4;

const Settlement* settlementOf(const Specimen& specimen, const std::string& code);

/// The remarks on a specimen that wait for a person. What is only not there yet is none of them.
std::vector<Remark> openRemarks(const Specimen& specimen, const SpecimenOutcome& outcome, bool hasRecord);

int stepsDone(const Specimen& specimen, const SpecimenOutcome& outcome, bool hasRecord);

/// As `analyseSpecimen`; where the record can't be had, the verdict is open and a remark tells why.
SpecimenOutcome analyseKept(const Specimen& specimen, const Job& job, std::shared_ptr<const Record> record,
                            const Problem* missing);

std::vector<OverviewRow> overviewOf(const Job& job, const JobOutcome& outcome,
                                    const std::function<bool(size_t)>& hasRecord);

} // namespace fortitor
