// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/journal.h"

#include "jobs/job.h"
#include "jobs/json_at.h"

#include <QCryptographicHash>

namespace fortitor {

QByteArray headFile(const JournalHead& head)
{
    Json json{
        {"fortitor_head", 1}, {"line", head.line}, {"hash", head.hash.toStdString()}, {"at", head.at.toStdString()}};
    if (!head.signature.isEmpty())
        json["signed"] = {{"who", head.who.toStdString()},
                          {"ed25519", head.key.toStdString()},
                          {"signature", head.signature.toStdString()}};
    return QByteArray::fromStdString(json.dump(2, ' ', false, Json::error_handler_t::replace)) + '\n';
}

Expected<JournalHead> headFromFile(const QString& path)
{
    auto json = readJsonFile(path.toStdString());
    if (!json)
        return json.problem();
    if (numberAt(*json, "fortitor_head") != 1 || textAt(*json, "hash").size() != 64 || numberAt(*json, "line") < 1)
        return Problem{
            path.toStdString(), "no head of a journal", "a file as the logbook writes it beside itself (.head)", {}};
    const Json by = objectAt(*json, "signed");
    return JournalHead{
        static_cast<std::int64_t>(numberAt(*json, "line")), QString::fromStdString(textAt(*json, "hash")),
        QString::fromStdString(textAt(*json, "at")),        QString::fromStdString(textAt(by, "who")),
        QString::fromStdString(textAt(by, "ed25519")),      QString::fromStdString(textAt(by, "signature"))};
}

QByteArray signedText(std::int64_t line, const QString& hash, const QString& who)
{
    const QByteArray name = who.toUtf8();
    return "fortitor journal\n" + QByteArray::number(qlonglong(line)) + '\n' + hash.toUtf8() + '\n'
        + QByteArray::number(name.size()) + ':' + name;
}

QString journalHash(const JournalEntry& entry)
{
    QCryptographicHash hash(QCryptographicHash::Sha256);
    for (const QString& part : {QString::number(entry.seq), entry.at, entry.who, QString::number(entry.job), entry.what,
                                entry.why, entry.changes, entry.previous}) {
        const QByteArray bytes = part.toUtf8();
        hash.addData(QByteArray::number(bytes.size()) + ':' + bytes);
    }
    return QString::fromLatin1(hash.result().toHex());
}

} // namespace fortitor
