// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures in the logbook: the file as it came, known by its SHA-256.
#include "jobs/json_at.h"
#include "jobs/json_text.h"
#include "store/logbook.h"
#include "store/words.h"
#include "units/json_bounds.h"

#include <QCryptographicHash>
#include <QSqlQuery>

#include <set>

namespace fortitor {
namespace {

/// The SHA-256 of all pictures that stand beside readings anywhere in a value.
void gatherPictures(const Json& value, std::set<std::string>& all)
{
    if (value.is_object()) {
        if (const std::string sha = textAt(value, "picture_sha256"); !sha.empty())
            all.insert(sha);
        for (const auto& [key, inner] : value.items())
            gatherPictures(inner, all);
    } else if (value.is_array()) {
        for (const Json& inner : value)
            gatherPictures(inner, all);
    }
}

} // namespace

QString Logbook::pictureDigest(const QByteArray& bytes)
{
    return QString::fromLatin1(QCryptographicHash::hash(bytes, QCryptographicHash::Sha256).toHex());
}

Expected<Done> Logbook::keepPicture(std::int64_t job, const QString& name, const QByteArray& bytes, const QString& who)
{
    const QString sha = pictureDigest(bytes);
    return inTransaction([&]() -> Expected<Done> {
        QSqlQuery query(db_);
        query.prepare("SELECT 1 FROM pictures WHERE sha256 = ?");
        query.addBindValue(sha);
        if (!query.exec())
            return problemOf(query);
        if (query.next())
            return Done{}; // the same file once more
        query.prepare("INSERT INTO pictures (sha256, name, added, bytes) VALUES (?,?,?,?)");
        query.addBindValue(sha);
        query.addBindValue(name);
        query.addBindValue(writtenNow());
        query.addBindValue(bytes);
        if (!query.exec())
            return problemOf(query);
        return write(who, job, "picture " + name, {},
                     dumped(Json::array({{{"path", "pictures/" + sha.toStdString()},
                                          {"after", {{"name", name.toStdString()}, {"bytes", bytes.size()}}}}})));
    });
}

Expected<QByteArray> Logbook::loadPicture(const QString& sha256) const
{
    QSqlQuery query(db_);
    query.prepare("SELECT bytes FROM pictures WHERE sha256 = ?");
    query.addBindValue(sha256);
    if (!query.exec())
        return problemOf(query);
    if (!query.next())
        return Problem{
            "picture", "none with SHA-256 " + sha256.left(12).toStdString() + " …", "one in the logbook", {}};
    QByteArray bytes = query.value(0).toByteArray();
    if (pictureDigest(bytes) != sha256)
        return Problem{"picture", "another file than the one that was kept: its SHA-256 differs", "the file as it came",
                       "Restore the logbook from a backup copy."};
    return bytes;
}

/// Every picture that is named is there and as it came, and no other.
void Logbook::checkPictures(std::vector<LogbookFinding>& findings) const
{
    std::set<std::string> told, named;
    QSqlQuery query("SELECT changes FROM journal ORDER BY seq", db_);
    while (query.next()) {
        const auto changes = parseJsonTo(deepestJson + 8, query.value(0).toString().toStdString(), "changes");
        for (const Json& change : changes && changes->is_array() ? *changes : Json::array()) {
            const std::string path = textAt(change, "path");
            if (path.starts_with("pictures/"))
                told.insert(path.substr(9));
            else if (change.contains("after"))
                gatherPictures(change["after"], named);
        }
    }
    std::vector<std::pair<QString, QString>> rows;
    query.exec("SELECT sha256, name FROM pictures");
    while (query.next())
        rows.emplace_back(query.value(0).toString(), query.value(1).toString());
    std::set<std::string> there;
    for (const auto& [sha, name] : rows) {
        there.insert(sha.toStdString());
        if (auto bytes = loadPicture(sha); !bytes)
            findings.push_back({"picture " + name, QString::fromStdString(bytes.problem().text())});
        if (!told.contains(sha.toStdString()))
            findings.push_back({"picture " + name, "no line of the journal tells of it"});
    }
    named.insert(told.begin(), told.end());
    for (const std::string& sha : named)
        if (!there.contains(sha))
            findings.push_back({"picture " + QString::fromStdString(sha.substr(0, 12)) + "…",
                                "the journal names it, and it is not there"});
}

} // namespace fortitor
