// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/journal.h"

#include "jobs/job.h"
#include "jobs/json_at.h"

#include <QCryptographicHash>

namespace fortitor {

QByteArray headFile(const JournalHead& head)
{
    return QByteArray::fromStdString(Json{{"fortitor_head", 1}, {"line", head.line}, {"hash", head.hash.toStdString()}, {"at", head.at.toStdString()}}.dump(2)) + '\n';
}

Expected<JournalHead> headFromFile(const QString& path)
{
    auto json = readJsonFile(path.toStdString());
    if (!json)
        return json.problem();
    if (numberAt(*json, "fortitor_head") != 1 || textAt(*json, "hash").size() != 64 || numberAt(*json, "line") < 1)
        return Problem{path.toStdString(), "no head of a journal", "a file as the logbook writes it beside itself (.head)", {}};
    return JournalHead{static_cast<std::int64_t>(numberAt(*json, "line")), QString::fromStdString(textAt(*json, "hash")), QString::fromStdString(textAt(*json, "at"))};
}

QString journalHash(const JournalEntry& entry)
{
    QCryptographicHash hash(QCryptographicHash::Sha256);
    for (const QString& part : {QString::number(entry.seq), entry.at, entry.who, QString::number(entry.job), entry.what, entry.why, entry.changes, entry.previous}) {
        const QByteArray bytes = part.toUtf8();
        hash.addData(QByteArray::number(bytes.size()) + ':' + bytes);
    }
    return QString::fromLatin1(hash.result().toHex());
}

} // namespace fortitor
