// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QString>

#include <map>
#include <vector>

namespace fortitor {

/// A value of a machine's daily check, and the job it was kept in.
struct DailyRow {
    DailyValue value;
    QString number;
};

/// The daily checks of one machine in all jobs of a logbook, the one that is open as it stands. A job that did not change
/// is read once.
class DailyValues {
public:
    /// Of the machine that the open job names, in the order of time; empty where none is named.
    const std::vector<DailyRow>& gather(const Session& session);

private:
    struct Kept {
        QString changed;
        std::vector<DailyValue> values;
        std::optional<double> machine; ///< what the job says it is
    };
    std::map<std::int64_t, Kept> jobs_;
    std::vector<DailyRow> rows_;
};

/// What the values of the open job's machine say today.
DailyJudged judgeDaily(const Session& session, const std::vector<DailyRow>& rows);
/// A value taken now: kept, and set for the job.
Expected<Command> keepDaily(const Session& session, const std::string& text);

} // namespace fortitor
