// SPDX-License-Identifier: GPL-3.0-or-later
// Instruments in the logbook.
#include "store/logbook.h"

#include "jobs/json_at.h"
#include "store/held.h"
#include "store/schema.h"
#include "units/json_bounds.h"
#include "store/words.h"

#include <QDateTime>
#include <QSqlQuery>

#include <cerrno>
#include <cstring>
#include <exception>

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>

namespace fortitor {
std::vector<InstrumentRow> Logbook::instruments() const
{
    std::vector<InstrumentRow> rows;
    QSqlQuery query("SELECT name, kind, body, due FROM instruments ORDER BY kind, name", db_);
    while (query.next()) {
        auto body = parseJson(query.value(2).toString().toStdString(), "instrument");
        rows.push_back({query.value(0).toString(), query.value(1).toString(), body ? *body : Json::object(),
                        query.value(3).toString()});
    }
    return rows;
}

namespace {

/// An instrument as the journal tells it: all that is kept of it.
Json instrumentJson(const InstrumentRow& row)
{
    return {{"name", row.name.toStdString()},
            {"kind", row.kind.toStdString()},
            {"due", row.due.toStdString()},
            {"body", row.body}};
}

QString instrumentChange(const std::optional<InstrumentRow>& before, const std::optional<InstrumentRow>& after)
{
    Json change{{"path", "instruments/" + (after ? after : before)->name.toStdString()}};
    if (before)
        change["before"] = instrumentJson(*before);
    if (after)
        change["after"] = instrumentJson(*after);
    return dumped(Json::array({change}));
}

} // namespace

std::optional<InstrumentRow> Logbook::instrument(const QString& name) const
{
    for (InstrumentRow& row : instruments())
        if (row.name == name)
            return std::move(row);
    return std::nullopt;
}

Expected<Done> Logbook::keepInstrument(const InstrumentRow& row, const QString& who, const QString& before)
{
    return inTransaction([&]() -> Expected<Done> {
        const bool renamed = !before.isEmpty() && before != row.name;
        const auto was = instrument(renamed ? before : row.name);
        QSqlQuery query(db_);
        if (renamed) {
            if (instrument(row.name))
                return Problem{"instrument " + row.name.toStdString(), "another one of that name", "a name of its own",
                               "Nothing is written over; take the other one out first, or choose another name."};
            query.prepare("DELETE FROM instruments WHERE name = ?");
            query.addBindValue(before);
            if (!query.exec())
                return problemOf(query);
        }
        query.prepare(
            "INSERT INTO instruments (name, kind, body, due) VALUES (?,?,?,?) ON CONFLICT(name) DO UPDATE SET kind "
            "= excluded.kind, body = excluded.body, due = excluded.due");
        for (const QString& v : {row.name, row.kind, dumped(row.body), row.due})
            query.addBindValue(v.isNull() ? QString("") : v);
        if (!query.exec())
            return problemOf(query);
        return write(who, 0, renamed ? "instrument " + before + " is " + row.name + " now" : "instrument " + row.name,
                     {}, instrumentChange(was, row));
    });
}

Expected<Done> Logbook::removeInstrument(const QString& name, const QString& who)
{
    return inTransaction([&]() -> Expected<Done> {
        const auto was = instrument(name);
        if (!was)
            return Problem{"instrument " + name.toStdString(), "none of that name", "one of the list", {}};
        QSqlQuery query(db_);
        query.prepare("DELETE FROM instruments WHERE name = ?");
        query.addBindValue(name);
        if (!query.exec())
            return problemOf(query);
        return write(who, 0, "instrument " + name + " taken out", {}, instrumentChange(was, std::nullopt));
    });
}

} // namespace fortitor
