// SPDX-License-Identifier: GPL-3.0-or-later
// Jobs in the logbook, and what lists show of them.
#include "store/logbook.h"

#include "jobs/json_at.h"
#include "store/held.h"
#include "store/schema.h"
#include "units/json_bounds.h"
#include "store/words.h"

#include <QCryptographicHash>
#include <QDateTime>
#include <QSqlQuery>

#include <cerrno>
#include <cstring>
#include <exception>

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>

namespace fortitor {
namespace {

QString text(const Json& json, const char* group, const char* key)
{
    return json.contains(group) && json[group].is_object() ? QString::fromStdString(textAt(json[group], key))
                                                           : QString();
}

QByteArray bodyHash(const QByteArray& body)
{
    return QCryptographicHash::hash(body, QCryptographicHash::Sha256);
}

QString changesText(const Command& command)
{
    Json list = Json::array();
    for (const Change& c : command.changes) {
        Json one{{"path", c.path}};
        if (c.before)
            one["before"] = *c.before;
        if (c.after)
            one["after"] = *c.after;
        list.push_back(std::move(one));
    }
    return dumped(list);
}

} // namespace

std::vector<JobRow> Logbook::jobs(const QString& words) const
{
    QSqlQuery query(db_);
    query.prepare(
        "SELECT j.id, j.number, j.title, j.method, j.material, j.created, j.changed, "
        "COUNT(s.position), SUM(CASE WHEN s.verdict IN ('pass','fail') THEN 1 ELSE 0 END), SUM(CASE WHEN s.verdict "
        "= 'fail' THEN 1 ELSE 0 END) "
        "FROM jobs j LEFT JOIN specimens s ON s.job = j.id "
        "WHERE :all = 1 OR j.number LIKE :w OR j.title LIKE :w OR j.material LIKE :w OR j.id IN (SELECT job FROM "
        "specimens WHERE label LIKE :w) "
        "GROUP BY j.id ORDER BY j.changed DESC");
    query.bindValue(":all", words.isEmpty() ? 1 : 0);
    query.bindValue(":w", "%" + words + "%");
    std::vector<JobRow> rows;
    if (!query.exec())
        return rows;
    while (query.next())
        rows.push_back({query.value(0).toLongLong(), query.value(1).toString(), query.value(2).toString(),
                        query.value(3).toString(), query.value(4).toString(), query.value(5).toString(),
                        query.value(6).toString(), query.value(7).toInt(), query.value(8).toInt(),
                        query.value(9).toInt()});
    return rows;
}

std::vector<SpecimenRow> Logbook::specimens(const QString& words, int most) const
{
    QSqlQuery query(db_);
    query.prepare(
        "SELECT s.job, s.position, j.number, j.title, s.label, s.verdict, s.figures, s.stage FROM specimens s JOIN "
        "jobs j ON j.id = s.job "
        "WHERE s.label LIKE :w OR j.number LIKE :w OR j.title LIKE :w ORDER BY j.changed DESC, s.position LIMIT :n");
    query.bindValue(":w", "%" + words + "%");
    query.bindValue(":n", most);
    std::vector<SpecimenRow> rows;
    if (!query.exec())
        return rows;
    while (query.next())
        rows.push_back({query.value(0).toLongLong(), query.value(1).toInt(), query.value(2).toString(),
                        query.value(3).toString(), query.value(4).toString(), query.value(5).toString(),
                        query.value(6).toString(), query.value(7).toInt()});
    return rows;
}

Expected<Json> Logbook::loadJob(std::int64_t id) const
{
    QSqlQuery query(db_);
    query.prepare("SELECT body FROM jobs WHERE id = ?");
    query.addBindValue(qlonglong(id));
    if (!query.exec() || !query.next())
        return Problem{file_.toStdString() + ", job " + std::to_string(id), "nothing", "a job of this logbook",
                       "Was it opened in another logbook?"};
    const QByteArray body = query.value(0).toString().toUtf8();
    bodies_[id] = bodyHash(body);
    return parseJson(body.toStdString(), "job " + std::to_string(id));
}

Expected<std::int64_t> Logbook::addJob(const Json& body, const QString& who, const QString& what)
{
    // What could not be read back is not taken.
    if (auto beyond = jsonBeyondBounds(dumped(body).toStdString(), "job"))
        return *beyond;
    std::int64_t id = 0;
    auto done = inTransaction([&]() -> Expected<Done> {
        QSqlQuery query(db_);
        query.prepare(
            "INSERT INTO jobs (number, title, method, material, created, changed, body) VALUES (?,?,?,?,?,?,?)");
        const QString at = writtenNow();
        for (const QString& v :
             {text(body, "job", "number"), text(body, "job", "title"), QString::fromStdString(textAt(body, "method")),
              text(body, "material", "name"), at, at, dumped(body)})
            query.addBindValue(v.isNull() ? QString("") : v);
        if (!query.exec())
            return problemOf(query);
        id = query.lastInsertId().toLongLong();
        return write(who, id, what, {}, dumped(Json::array({{{"path", ""}, {"after", body}}})));
    });
    if (!done)
        return done.problem();
    return id;
}

Expected<Done> Logbook::keep(std::int64_t id, const Json& body, const Command& command, const QString& who)
{
    const QString solid = dumped(body);
    if (auto beyond = jsonBeyondBounds(solid.toStdString(), "job"))
        return *beyond;
    return inTransaction([&]() -> Expected<Done> {
        QSqlQuery query(db_);
        // What was changed by somebody else since it was read here is not written over.
        query.prepare("SELECT body FROM jobs WHERE id = ?");
        query.addBindValue(qlonglong(id));
        if (!query.exec())
            return problemOf(query);
        if (!query.next())
            return Problem{"job " + std::to_string(id), "no such job in the logbook any more",
                           "the job that was opened", "It was taken out by another program; open the logbook anew."};
        if (const auto it = bodies_.find(id);
            it != bodies_.end() && it->second != bodyHash(query.value(0).toString().toUtf8()))
            return Problem{"job " + std::to_string(id), "another text than the one that was opened",
                           "the job as it was read",
                           "It was changed by another program. Open the job anew; what you did last is not kept."};
        query.finish();
        query.prepare("UPDATE jobs SET number = ?, title = ?, material = ?, changed = ?, body = ? WHERE id = ?");
        for (const QString& v : {text(body, "job", "number"), text(body, "job", "title"),
                                 text(body, "material", "name"), writtenNow(), solid})
            query.addBindValue(v.isNull() ? QString("") : v);
        query.addBindValue(qlonglong(id));
        if (!query.exec())
            return problemOf(query);
        bodies_[id] = bodyHash(solid.toUtf8());
        return write(who, id, QString::fromStdString(command.words), QString::fromStdString(command.why),
                     changesText(command));
    });
}

Expected<Done> Logbook::keepOverview(std::int64_t id, const std::vector<SpecimenRow>& rows)
{
    return inTransaction([&]() -> Expected<Done> {
        QSqlQuery query(db_);
        query.prepare("SELECT label, stage, verdict, figures FROM specimens WHERE job = ? ORDER BY position");
        query.addBindValue(qlonglong(id));
        if (!query.exec())
            return problemOf(query);
        auto row = rows.begin();
        bool same = true;
        for (; same && query.next(); ++row)
            same = row != rows.end() && query.value(0).toString() == row->label && query.value(1).toInt() == row->stage
                && query.value(2).toString() == row->verdict && query.value(3).toString() == row->figures;
        if (same && row == rows.end())
            return Done{}; // nothing is written where nothing changed
        query.prepare("DELETE FROM specimens WHERE job = ?");
        query.addBindValue(qlonglong(id));
        if (!query.exec())
            return problemOf(query);
        query.prepare("INSERT INTO specimens (job, position, label, stage, verdict, figures) VALUES (?,?,?,?,?,?)");
        for (const SpecimenRow& one : rows) {
            query.addBindValue(qlonglong(id));
            query.addBindValue(one.position);
            query.addBindValue(one.label);
            query.addBindValue(one.stage);
            query.addBindValue(one.verdict);
            query.addBindValue(one.figures.isNull() ? QString("") : one.figures);
            if (!query.exec())
                return problemOf(query);
        }
        return Done{};
    });
}

} // namespace fortitor
