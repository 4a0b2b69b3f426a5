// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "judge/remark.h"
#include "methods/hardness/block_history.h"
#include "store/logbook.h"

#include <cstdint>
#include <map>
#include <optional>
#include <utility>
#include <vector>

namespace fortitor {

/// A piece or a reference block of a job, with what it tells of its tester.
struct TesterRow {
    std::int64_t job = 0;
    QString number, label;
    int specimen = 0;
    TesterWork work;
};

/// What all jobs of a logbook tell of the testers, in the order of time. A job that did not change is read once.
class TesterWorks {
public:
    /// `most`: of so many jobs, those that changed last.
    const std::vector<TesterRow>& gather(const Logbook& book, size_t most = SIZE_MAX);

private:
    struct Kept {
        QString changed;
        std::vector<TesterRow> rows;
    };
    std::map<std::int64_t, Kept> jobs_; ///< all that were read
    std::vector<TesterRow> rows_;
};

/// What the rows tell of their testers.
std::vector<TesterWork> worksOf(const std::vector<TesterRow>& rows);
/// Another indenter, ball, force or anvil than the last piece was read with on that tester: a scale that is seated has to be
/// seated anew. Not known, and so not said, of a tester without a name or an anvil that is not noted.
bool fittedOtherwise(const std::vector<TesterRow>& rows, const std::string& tester, const HardnessSetting& setting,
                     const std::string& anvil, std::int64_t job, int specimen);
/// The last check of that tester and scale up to a time; empty: up to now. nullptr: there is none.
const TesterRow* lastCheck(const std::vector<TesterRow>& rows, const std::string& tester, const std::string& scale,
                           const std::string& upTo);
/// Where a piece was read between the last good check of its tester and a bad one, in whatever job that was.
std::optional<Remark> doubtOf(const std::vector<TesterRow>& rows, std::int64_t job, int specimen);
/// Those of one machine and scale, in their order.
std::vector<TesterRow> workOf(const std::vector<TesterRow>& rows, const std::string& tester, const std::string& scale);
/// Machines and scales that have checks.
std::vector<std::pair<std::string, std::string>> checkedTesters(const std::vector<TesterRow>& rows);
/// The rows that were read in doubt.
std::vector<TesterRow> rowsInDoubt(const std::vector<TesterRow>& ofOne);
/// Where the same block was indented before: the same scale and number, in another specimen.
std::vector<IndentPlace> usedPlaces(const std::vector<TesterRow>& rows, const SpecimenInput& input, std::int64_t job,
                                    int specimen);
/// The checks among them.
std::vector<TesterRow> checksAmong(const std::vector<TesterRow>& ofOne);

} // namespace fortitor
