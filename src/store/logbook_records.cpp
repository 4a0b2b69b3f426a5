// SPDX-License-Identifier: GPL-3.0-or-later
// Records in the logbook.
#include "store/chunk_codec.h"

#include "jobs/json_at.h"
#include "store/logbook.h"
#include "store/words.h"

#include <QCryptographicHash>
#include <QDateTime>
#include <QSqlError>
#include <QSqlQuery>
#include <QUuid>

#include <limits>

namespace fortitor {
namespace {

constexpr size_t chunkRows = size_t{1} << 16;

Json channelList(const Record& record)
{
    Json list = Json::array();
    for (const Channel& c : record.channels)
        list.push_back({{"name", c.name}, {"unit_found", c.unitFound}, {"header_found", c.headerFound}});
    return list;
}

Json eventList(const Record& record)
{
    Json list = Json::array();
    for (const Event& e : record.events)
        list.push_back({{"time", e.time}, {"code", e.code}, {"text", e.text}});
    return list;
}

/// A stretch whose channels do not all have the same rows.
Problem torn(const std::string& place, int seq)
{
    return {place + ", chunk " + std::to_string(seq), "channels of unequal length", "the same rows for every channel",
            "A stretch of the record is missing; restore the logbook from a backup copy."};
}

QString solid(const std::string& text)
{
    return text.empty() ? QString("") : QString::fromStdString(text);
}

} // namespace

QString Logbook::newRecordId()
{
    return QUuid::createUuid().toString(QUuid::WithoutBraces);
}

Expected<QString> Logbook::beginRecord(std::int64_t job, const QString& label, const Record& head, const QString& who,
                                       const QString& id)
{
    const QString made = id.isEmpty() ? newRecordId() : id;
    const auto begun = inTransaction([&]() -> Expected<Done> {
        if (auto ok = insertRecord(made, job, label, head); !ok)
            return ok;
        return write(who, job, "record of " + label + " begun", {},
                     dumped(Json::array({{{"path", "records/" + made.toStdString()}, {"after", {{"begun", true}}}}})));
    });
    return begun ? Expected<QString>(made) : Expected<QString>(begun.problem());
}

Expected<Done> Logbook::insertRecord(const QString& id, std::int64_t job, const QString& label, const Record& head)
{
    QSqlQuery query(db_);
    query.prepare(
        "INSERT INTO records (id, job, label, source, created, channels, events, notes, closed, open_because) "
        "VALUES (?,?,?,?,?,?,?,?,0,?)");
    query.addBindValue(id);
    query.addBindValue(qlonglong(job));
    query.addBindValue(label);
    query.addBindValue(solid(head.source));
    query.addBindValue(writtenNow());
    query.addBindValue(dumped(channelList(head)));
    query.addBindValue(dumped(eventList(head)));
    query.addBindValue(dumped(Json(head.notes)));
    query.addBindValue(QString("the program or the machine stopped before the record was closed"));
    if (!query.exec())
        return problemOf(query);
    return Done{};
}

Expected<Done> Logbook::appendChunk(const QString& id, int seq, const Record& record, size_t from, size_t to)
{
    return inTransaction([&]() -> Expected<Done> {
        QSqlQuery query(db_);
        query.prepare("INSERT INTO chunks (record, seq, channel, row_count, bytes) VALUES (?,?,?,?,?)");
        for (size_t c = 0; c < record.channels.size(); ++c) {
            query.addBindValue(id);
            query.addBindValue(seq);
            query.addBindValue(static_cast<int>(c));
            query.addBindValue(static_cast<qlonglong>(to - from));
            query.addBindValue(packChunk(record.channels[c].values.values().subspan(from, to - from)));
            if (!query.exec())
                return problemOf(query);
        }
        return Done{};
    });
}

Expected<Done> Logbook::keepEvents(const QString& id, const Record& record)
{
    return inTransaction([&]() -> Expected<Done> {
        QSqlQuery query(db_);
        query.prepare("UPDATE records SET events = ? WHERE id = ?");
        query.addBindValue(dumped(eventList(record)));
        query.addBindValue(id);
        if (!query.exec())
            return problemOf(query);
        return Done{};
    });
}

/// SHA-256 over all that is kept of a record: what is told of it, and its chunks as they lie in the file.
Expected<QString> Logbook::digestOf(const QString& record) const
{
    QCryptographicHash hash(QCryptographicHash::Sha256);
    const auto add = [&](const QByteArray& bytes) { hash.addData(QByteArray::number(bytes.size()) + ':' + bytes); };
    QSqlQuery query(db_);
    query.prepare("SELECT job, label, source, channels, events, notes, closed, open_because FROM records WHERE id = ?");
    query.addBindValue(record);
    if (!query.exec() || !query.next())
        return Problem{"record " + record.toStdString(), "nothing", "a record of this logbook", {}};
    for (int c = 0; c < 8; ++c)
        add(query.value(c).toString().toUtf8());
    QSqlQuery chunks(db_);
    chunks.setForwardOnly(true);
    chunks.prepare("SELECT seq, channel, row_count, bytes FROM chunks WHERE record = ? ORDER BY seq, channel");
    chunks.addBindValue(record);
    if (!chunks.exec())
        return problemOf(chunks);
    while (chunks.next())
        for (int c = 0; c < 4; ++c)
            add(c < 3 ? chunks.value(c).toString().toUtf8() : chunks.value(c).toByteArray());
    return QString::fromLatin1(hash.result().toHex());
}

Expected<Done> Logbook::closeRecord(const QString& id, const Record& record, const QString& who,
                                    const QString& openBecause)
{
    return inTransaction([&]() -> Expected<Done> {
        QSqlQuery query(db_);
        query.prepare("UPDATE records SET closed = ?, open_because = ?, events = ?, notes = ? WHERE id = ?");
        query.addBindValue(openBecause.isEmpty() ? 1 : 0);
        query.addBindValue(openBecause.isNull() ? QString("") : openBecause);
        query.addBindValue(dumped(eventList(record)));
        query.addBindValue(dumped(Json(record.notes)));
        query.addBindValue(id);
        if (!query.exec())
            return problemOf(query);
        const auto digest = digestOf(id);
        if (!digest)
            return digest.problem();
        query.prepare("SELECT job, label FROM records WHERE id = ?");
        query.addBindValue(id);
        if (!query.exec() || !query.next())
            return problemOf(query);
        const std::int64_t job = query.value(0).toLongLong();
        const QString label = query.value(1).toString();
        query.finish();
        return write(who, job, "record of " + label + (openBecause.isEmpty() ? " closed" : " closed, incomplete"),
                     openBecause,
                     dumped(Json::array(
                         {{{"path", "records/" + id.toStdString()}, {"after", {{"sha256", digest->toStdString()}}}}})));
    });
}

Expected<QString> Logbook::addRecord(std::int64_t job, const QString& label, const Record& record, const QString& who,
                                     const Progress& progress, const QString& id)
{
    // One step: a record that was stopped half way is not there at all.
    const QString made = id.isEmpty() ? newRecordId() : id;
    const auto added = inTransaction([&] { return putRecord(made, job, label, record, who, progress); });
    return added ? Expected<QString>(made) : Expected<QString>(added.problem());
}

Expected<Done> Logbook::putRecord(const QString& id, std::int64_t job, const QString& label, const Record& record,
                                  const QString& who, const Progress& progress)
{
    if (auto ok = insertRecord(id, job, label, record); !ok)
        return ok;
    int seq = 0;
    const size_t rows = record.rows();
    for (size_t from = 0; from < rows; from += chunkRows) {
        if (progress && !progress(static_cast<double>(from) / static_cast<double>(rows)))
            return Problem{record.source, "stopped by hand", "a whole record", "Nothing of it was kept."};
        if (auto ok = appendChunk(id, seq++, record, from, std::min(rows, from + chunkRows)); !ok)
            return ok;
    }
    return closeRecord(id, record, who, QString::fromStdString(record.incompleteBecause));
}

Expected<Record> Logbook::loadHead(const QString& id) const
{
    QSqlQuery query(db_);
    query.prepare("SELECT source, channels, events, notes, closed, open_because FROM records WHERE id = ?");
    query.addBindValue(id);
    const std::string place = "record " + id.toStdString();
    if (!query.exec() || !query.next())
        return Problem{place, "nothing", "a record of this logbook",
                       "It may lie in another logbook; import the text record again."};
    const auto parsed = [&](int column) {
        auto json = parseJson(query.value(column).toString().toStdString(), place);
        return json ? *json : Json::array();
    };
    Record record;
    record.source = query.value(0).toString().toStdString();
    for (const Json& c : parsed(1)) {
        Channel& channel = record.add(textAt(c, "name"));
        channel.unitFound = textAt(c, "unit_found");
        channel.headerFound = textAt(c, "header_found");
    }
    for (const Json& e : parsed(2))
        record.events.push_back({numberAt(e, "time"), textAt(e, "code"), textAt(e, "text")});
    for (const Json& n : parsed(3))
        record.notes.push_back(n.get<std::string>());
    if (query.value(4).toInt() == 0)
        record.incompleteBecause = query.value(5).toString().toStdString();

    return record;
}

Expected<Done> Logbook::forEachChunk(const QString& id, const Record& head, const TakeRows& take) const
{
    const std::string place = "record " + id.toStdString();
    QSqlQuery chunks(db_);
    chunks.setForwardOnly(true);
    chunks.prepare("SELECT seq, channel, row_count, bytes FROM chunks WHERE record = ? ORDER BY seq, channel");
    chunks.addBindValue(id);
    if (!chunks.exec())
        return problemOf(chunks);
    int seq = 0;
    size_t first = 0;
    std::vector<std::vector<double>> values;
    while (chunks.next()) {
        const auto channel = chunks.value(1).toULongLong();
        if (chunks.value(0).toInt() != seq || channel != values.size() || channel >= head.channels.size())
            return Problem{place, "chunk " + std::to_string(chunks.value(0).toInt()) + " out of turn",
                           "chunk " + std::to_string(seq),
                           "A stretch of the record is missing; restore the logbook from a backup copy."};
        auto unpacked = unpackChunk(chunks.value(3).toByteArray(), chunks.value(2).toULongLong());
        if (!unpacked) {
            Problem p = unpacked.problem();
            p.place = place + ", chunk " + std::to_string(seq) + " of " + head.channels[channel].name;
            return p;
        }
        values.push_back(std::move(*unpacked));
        if (values.back().size() != values.front().size())
            return torn(place, seq);
        if (values.size() < head.channels.size())
            continue;
        RowsChunk chunk{head, first, {values.begin(), values.end()}};
        if (!take(chunk))
            return Done{};
        first += values.front().size();
        values.clear();
        ++seq;
    }
    return values.empty() ? Expected<Done>(Done{}) : torn(place, seq);
}

Expected<std::shared_ptr<const Record>> Logbook::loadRecord(const QString& id) const
{
    auto head = loadHead(id);
    if (!head)
        return head.problem();
    auto record = std::make_shared<Record>(std::move(*head));
    const auto read = forEachChunk(id, *record, [&](const RowsChunk& chunk) {
        for (size_t c = 0; c < chunk.channels.size(); ++c)
            record->channels[c].values.append(chunk.channels[c]);
        return true;
    });
    if (!read)
        return read.problem();
    return std::shared_ptr<const Record>(std::move(record));
}

std::vector<QString> Logbook::recordIds() const
{
    std::vector<QString> ids;
    QSqlQuery query("SELECT id FROM records ORDER BY created, id", db_);
    while (query.next())
        ids.push_back(query.value(0).toString());
    return ids;
}

} // namespace fortitor
