// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/chained_after.h"

#include "jobs/chained.h"

namespace fortitor {

std::string chainedAfter(const Session& session, size_t index)
{
    const Job& job = session.job();
    const PageSpec* struck = job.method->pageOf(Stage::Load);
    if (!struck || struck->page != "drop" || job.number.empty() || index >= job.specimens.size())
        return {};
    const QString number = QString::fromStdString(chainedNumber(job.number));
    for (const SpecimenRow& row : session.logbook().specimens(number, 500))
        if (row.number == number && row.label.toStdString() == job.specimens[index].label && !row.figures.isEmpty())
            return ("then " + number + ": " + row.figures).toStdString();
    return {};
}

} // namespace fortitor
