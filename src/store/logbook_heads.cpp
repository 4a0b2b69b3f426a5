// SPDX-License-Identifier: GPL-3.0-or-later
// Where the journal stands, told outside the logbook, and who signed it.
#include "jobs/json_at.h"
#include "store/held.h"

#include <QDateTime>
#include <QFile>
#include <QFileInfo>
#include <QSqlQuery>

namespace fortitor {

JournalHead Logbook::head() const
{
    QSqlQuery last("SELECT seq, hash, at FROM journal ORDER BY seq DESC LIMIT 1", db_);
    return last.next() ? JournalHead{last.value(0).toLongLong(), last.value(1).toString(), last.value(2).toString()}
                       : JournalHead{};
}

void Logbook::setHeadFolder(const QString& folder)
{
    const std::lock_guard lock(held_->mutex);
    held_->headFolder = folder;
}

void Logbook::setHeadSigner(const QString& who, const QString& key, Signer signer)
{
    const std::lock_guard lock(held_->mutex);
    held_->headWho = who;
    held_->headKey = key;
    held_->headSigner = std::move(signer);
}

/// Beside the logbook, and in the second folder. One that can't be written is no reason to stop anything.
void Logbook::writeHead() const
{
    JournalHead now = head();
    if (now.line == 0)
        return;
    QString folder;
    {
        const std::lock_guard lock(held_->mutex);
        folder = held_->headFolder;
        if (held_->headSigner) {
            now.who = held_->headWho;
            now.key = held_->headKey;
            now.signature = QString::fromLatin1(held_->headSigner(signedText(now.line, now.hash, now.who)).toHex());
        }
    }
    (void)writeFileWhole((file_ + ".head").toStdString(), headFile(now).toStdString());
    if (!folder.isEmpty())
        (void)writeFileWhole((folder + "/" + QFileInfo(file_).fileName() + ".head").toStdString(),
                             headFile(now).toStdString());
}

QStringList Logbook::headFiles() const
{
    QString folder;
    {
        const std::lock_guard lock(held_->mutex);
        folder = held_->headFolder;
    }
    QStringList there;
    for (const QString& path :
         {file_ + ".head", folder.isEmpty() ? QString() : folder + "/" + QFileInfo(file_).fileName() + ".head"})
        if (!path.isEmpty() && QFile::exists(path))
            there << path;
    return there;
}

QString Logbook::publicKey(const QString& who) const
{
    QSqlQuery query(db_);
    query.prepare("SELECT ed25519 FROM people WHERE name = ?");
    query.addBindValue(who);
    return query.exec() && query.next() ? query.value(0).toString() : QString();
}

Expected<Done> Logbook::keepPublicKey(const QString& who, const QString& key)
{
    return inTransaction([&]() -> Expected<Done> {
        const QString before = publicKey(who);
        QSqlQuery query(db_);
        query.prepare(
            "INSERT INTO people (name, ed25519, since) VALUES (?,?,?) ON CONFLICT(name) DO UPDATE SET ed25519 = "
            "excluded.ed25519, since = excluded.since");
        query.addBindValue(who);
        query.addBindValue(key);
        query.addBindValue(QDateTime::currentDateTimeUtc().toString(Qt::ISODateWithMs));
        if (!query.exec())
            return problemOf(query);
        Json change{{"path", "people/" + who.toStdString()}};
        if (!before.isEmpty())
            change["before"] = {{"ed25519", before.toStdString()}};
        change["after"] = {{"ed25519", key.toStdString()}};
        return write(who, 0, before.isEmpty() ? "key of " + who : "new key of " + who, {},
                     QString::fromStdString(Json::array({change}).dump()));
    });
}

Expected<Done> Logbook::sign(std::int64_t job, const QString& who, const Signer& signer)
{
    return inTransaction([&]() -> Expected<Done> {
        const JournalHead last = head();
        const QByteArray signature = signer(signedText(last.line, last.hash, who));
        if (signature.isEmpty())
            return Problem{"signature of " + who.toStdString(), "none", "one with the person's key",
                           "Give the key phrase again."};
        const Json change{{"path", "signatures/" + std::to_string(last.line)},
                          {"after",
                           {{"hash", last.hash.toStdString()},
                            {"ed25519", publicKey(who).toStdString()},
                            {"signature", signature.toHex().toStdString()}}}};
        return write(who, job, QString("line %1 signed by %2").arg(last.line).arg(who), {},
                     QString::fromStdString(Json::array({change}).dump()));
    });
}

std::optional<Signature> Logbook::signatureOf(std::int64_t job) const
{
    // The newest line about the judgement decides: a signature follows on the line that it signs.
    QSqlQuery query(db_);
    query.prepare(
        "SELECT seq, who, changes FROM journal WHERE job = ? AND (changes LIKE '%\"/judged\"%' OR changes LIKE "
        "'%\"signatures/%') ORDER BY seq DESC LIMIT 1");
    query.addBindValue(qlonglong(job));
    if (!query.exec() || !query.next())
        return std::nullopt;
    const auto changes = parseJson(query.value(2).toString().toStdString(), "changes");
    if (!changes || !changes->is_array() || changes->empty())
        return std::nullopt;
    const std::string path = textAt(changes->front(), "path");
    if (!path.starts_with("signatures/"))
        return std::nullopt;
    return Signature{query.value(0).toLongLong() - 1, query.value(1).toString(),
                     QString::fromStdString(textAt(objectAt(changes->front(), "after"), "ed25519"))};
}

} // namespace fortitor
