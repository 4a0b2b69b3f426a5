// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/daily_values.h"

#include "jobs/edits.h"

#include <QDateTime>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// Which machine: 300 J and 0.3 kJ are the same one.
std::optional<double> machineOf(const Method& method, const std::map<std::string, std::string>& options)
{
    const auto it = options.find(method.daily->of);
    const OptionSpec* spec = method.findOption(method.daily->of);
    const auto read =
        it != options.end() && spec ? parseQuantity(it->second, spec->kind) : Expected<Quantity>(Problem{});
    return read ? std::optional(read->base) : std::nullopt;
}

std::map<std::string, std::string> optionsOf(const Job& job)
{
    return job.specimens.empty() ? std::map<std::string, std::string>{} : job.specimens.front().input.options;
}

} // namespace

const std::vector<DailyRow>& DailyValues::gather(const Session& session)
{
    rows_.clear();
    const Job& open = session.job();
    const auto machine = open.method->daily ? machineOf(*open.method, optionsOf(open)) : std::nullopt;
    if (!machine)
        return rows_;
    for (const JobRow& row : session.logbook().jobs()) {
        if (row.method.toStdString() != open.method->id)
            continue;
        if (row.id == session.jobId()) {
            for (const DailyValue& value : open.daily)
                rows_.push_back({value, row.number});
            continue;
        }
        Kept& kept = jobs_[row.id];
        if (kept.changed != row.changed) {
            kept = {row.changed, {}, {}};
            const auto body = session.logbook().loadJob(row.id);
            if (const auto job = body ? readJob(*body) : Expected<Job>(body.problem())) {
                kept.values = job->daily;
                kept.machine = machineOf(*job->method, optionsOf(*job));
            }
        }
        if (kept.machine && std::abs(*kept.machine - *machine) <= 1e-9 * *machine)
            for (const DailyValue& value : kept.values)
                rows_.push_back({value, row.number});
    }
    std::ranges::stable_sort(rows_, {}, [](const DailyRow& row) { return row.value.when; });
    return rows_;
}

DailyJudged judgeDaily(const Session& session, const std::vector<DailyRow>& rows)
{
    std::vector<DailyValue> values;
    for (const DailyRow& row : rows)
        values.push_back(row.value);
    return session.job().method->daily->judge(values, session.specimen().input,
                                              QDateTime::currentDateTime().toString("yyyy-MM-dd").toStdString());
}

Expected<Command> keepDaily(const Session& session, const std::string& text)
{
    const DailySpec& spec = *session.job().method->daily;
    const Unit* unit = findUnit(spec.unit, spec.kind);
    const auto read = parseQuantity(text, spec.kind, unit);
    if (!read)
        return read.problem();
    if (!(read->base >= 0))
        return Problem{spec.label, text, "zero or more", {}};
    const std::string written = parseNumber(text) ? text + " " + spec.unit : text;
    return CommandBuilder(session.document(), spec.label + ": " + written)
        .set("/options/" + spec.option, Json(written))
        .append("/daily",
                Json{{"at", QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm").toStdString()},
                     {"value", written},
                     {"who", session.who().toStdString()}})
        .take();
}

} // namespace fortitor
