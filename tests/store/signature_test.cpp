// SPDX-License-Identifier: GPL-3.0-or-later
// Who approved is signed for: keys, their phrases, and what the check says of signatures that do not hold.
#include "store/person_key.h"

#include "jobs/edits.h"
#include "jobs/json_at.h"
#include "store/logbook.h"

#include <gtest/gtest.h>

#include <QDir>
#include <QFile>
#include <QSqlDatabase>
#include <QSqlQuery>
#include <QTemporaryDir>

namespace fortitor {
namespace {

const QString phrase = "nine herons wade";

TEST(PersonKeyTest, PublishedSignaturesHold)
{
    // RFC 8032, 7.1, tests 1 and 2.
    const QString key1 = "d75a980182b10ab7d54bfed3c964073a0ee172f3daa62325af021a68f707511a";
    const QString signature1 =
        "e5564300c360ac729086e2cc806e828a84877f1eb8e5d974d873e06522490155"
        "5fb8821590a33bacc61e39701cf9b46bd25bf5f0595bbe24655141438e7a100b";
    const QString key2 = "3d4017c3e843895a92b70aa74d1b7ebc9c982ccf2ec4968cc0cd55f12af4660c";
    const QString signature2 =
        "92a009a9f0d4cab8720e820b5f642540a2b27b5416503f8fb3762223ebdb69da"
        "085ac1e43e15996e458f3613d0f11d8c387b2eaeb4302aeeb00d291612bb0c00";
    EXPECT_TRUE(signatureHolds(key1, "", signature1));
    EXPECT_TRUE(signatureHolds(key2, "\x72", signature2));
    EXPECT_FALSE(signatureHolds(key2, "\x73", signature2));
    EXPECT_FALSE(signatureHolds(key1, "\x72", signature2));
    EXPECT_FALSE(signatureHolds("", "", signature1));
    EXPECT_FALSE(signatureHolds(key1, "", signature1.chopped(2)));
}

TEST(PersonKeyTest, OnlyThePhraseOpensIt)
{
    QTemporaryDir folder;
    const QString at = folder.filePath("keys");
    EXPECT_FALSE(PersonKey::make(at, "operator A", "short"));
    EXPECT_FALSE(QFile::exists(PersonKey::file(at, "operator A")));
    const auto made = PersonKey::make(at, "operator A", phrase);
    ASSERT_TRUE(made) << made.problem().text();
    const auto again = PersonKey::unlock(at, "operator A", phrase);
    ASSERT_TRUE(again) << again.problem().text();
    EXPECT_EQ(again->publicKey(), made->publicKey());
    const QByteArray signature = again->signer()("a text");
    EXPECT_TRUE(signatureHolds(made->publicKey(), "a text", QString::fromLatin1(signature.toHex())));
    EXPECT_FALSE(signatureHolds(made->publicKey(), "another", QString::fromLatin1(signature.toHex())));
    for (const QString& wrong : {QString(), phrase + " ", phrase.toUpper(), QString("x").repeated(100000)})
        EXPECT_FALSE(PersonKey::unlock(at, "operator A", wrong));
    EXPECT_FALSE(PersonKey::unlock(at, "operator B", phrase));
    // Nothing of the secret, nor of the phrase, lies open in the file, and nobody else reads it.
    QFile file(PersonKey::file(at, "operator A"));
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    EXPECT_FALSE(file.readAll().contains("herons"));
    EXPECT_EQ(file.permissions() & (QFileDevice::ReadGroup | QFileDevice::ReadOther), 0);
    // A key of another person under this one's name is none.
    ASSERT_TRUE(PersonKey::make(at, "operator B", phrase));
    ASSERT_TRUE(QFile::copy(PersonKey::file(at, "operator B"), PersonKey::file(at, "operator C")));
    EXPECT_FALSE(PersonKey::unlock(at, "operator C", phrase));
    // A new one puts the old one aside.
    const auto second = PersonKey::make(at, "operator A", phrase);
    ASSERT_TRUE(second);
    EXPECT_NE(second->publicKey(), made->publicKey());
    EXPECT_EQ(QDir(at).entryList(QDir::Files).size(), 4);
}

TEST(PersonKeyTest, ASpoiledFileIsRefused)
{
    QTemporaryDir folder;
    ASSERT_TRUE(PersonKey::make(folder.path(), "operator A", phrase));
    const QString path = PersonKey::file(folder.path(), "operator A");
    const auto whole = readJsonFile(path.toStdString());
    ASSERT_TRUE(whole);
    for (const char* key : {"who", "salt", "nonce", "box", "memory", "operations", "fortitor_key"})
        for (const Json& value : {Json(), Json("x"), Json(-1), Json(1e300), Json::array()}) {
            Json spoiled = *whole;
            spoiled[key] = value;
            ASSERT_TRUE(writeFileWhole(path.toStdString(), spoiled.dump()));
            EXPECT_FALSE(PersonKey::unlock(folder.path(), "operator A", phrase)) << key << " " << value.dump();
        }
}

class Signatures : public testing::Test {
protected:
    void SetUp() override
    {
        key = std::make_unique<PersonKey>(*PersonKey::make(folder.path(), "operator A", phrase));
        auto book = opened();
        id = *book->addJob(edits::newJob("J-1", "a lot", *findMethod("tension-metal"), 1), "operator A", "new job");
        ASSERT_TRUE(book->keepPublicKey("operator A", key->publicKey()));
    }
    [[nodiscard]] QString file() const { return folder.filePath("book.sqlite"); }
    std::unique_ptr<Logbook> opened()
    {
        auto book = Logbook::open(file());
        EXPECT_TRUE(book) << book.problem().text();
        return std::move(*book);
    }
    /// As the Judge page does it.
    static Expected<Done> approve(Logbook& book, std::int64_t job, const char* who, const Signer& signer)
    {
        auto document = *JobDocument::fromJson(*book.loadJob(job));
        const auto command = edits::judge(document, who, "2026-11-27 10:00");
        EXPECT_TRUE(document.apply(command));
        return book.together([&]() -> Expected<Done> {
            auto ok = book.keep(job, document.json(), command, who);
            return ok && signer ? book.sign(job, who, signer) : ok;
        });
    }
    QStringList findings()
    {
        QStringList words;
        for (const LogbookFinding& f : opened()->check())
            words << f.place + ": " + f.words;
        return words;
    }
    /// Changes rows as somebody would who knows how the chain is made, and works it out anew.
    void forge(const QStringList& statements)
    {
        {
            QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "forge");
            db.setDatabaseName(file());
            ASSERT_TRUE(db.open());
            QSqlQuery query(db);
            for (const QString& sql : statements)
                ASSERT_TRUE(query.exec(sql)) << sql.toStdString();
            std::vector<JournalEntry> lines;
            query.exec("SELECT at, who, job, what, why, changes FROM journal ORDER BY seq");
            QString previous = "";
            while (query.next()) {
                JournalEntry e{static_cast<std::int64_t>(lines.size() + 1),
                               query.value(0).toString(),
                               query.value(1).toString(),
                               query.value(2).toLongLong(),
                               query.value(3).toString(),
                               query.value(4).toString(),
                               query.value(5).toString(),
                               previous,
                               {}};
                e.hash = previous = journalHash(e);
                lines.push_back(e);
            }
            ASSERT_TRUE(query.exec("DELETE FROM journal"));
            query.prepare("INSERT INTO journal VALUES (?,?,?,?,?,?,?,?,?)");
            for (const JournalEntry& e : lines) {
                for (const QVariant& v :
                     {QVariant(qlonglong(e.seq)), QVariant(e.at), QVariant(e.who), QVariant(qlonglong(e.job)),
                      QVariant(e.what), QVariant(e.why), QVariant(e.changes), QVariant(e.previous), QVariant(e.hash)})
                    query.addBindValue(v);
                ASSERT_TRUE(query.exec());
            }
            query.finish();
            db.close();
        }
        QSqlDatabase::removeDatabase("forge");
    }
    QTemporaryDir folder;
    std::unique_ptr<PersonKey> key;
    std::int64_t id = 0;
};

TEST_F(Signatures, AnApprovalIsSignedAndChecked)
{
    {
        auto book = opened();
        EXPECT_FALSE(book->signatureOf(id));
        ASSERT_TRUE(approve(*book, id, "operator A", key->signer()));
        const auto signature = book->signatureOf(id);
        ASSERT_TRUE(signature);
        EXPECT_EQ(signature->who, "operator A");
        EXPECT_EQ(signature->key, key->publicKey());
        EXPECT_EQ(signature->line, book->head().line - 1);
    }
    EXPECT_TRUE(findings().isEmpty()) << findings().join("; ").toStdString();
    auto book = opened();
    auto document = *JobDocument::fromJson(*book->loadJob(id));
    const auto open = edits::unjudge(document);
    ASSERT_TRUE(document.apply(open));
    ASSERT_TRUE(book->keep(id, document.json(), open, "operator A"));
    EXPECT_FALSE(book->signatureOf(id)) << "opened again";
    EXPECT_TRUE(book->check().empty());
}

TEST_F(Signatures, NobodyApprovesInAnothersName)
{
    ASSERT_TRUE(approve(*opened(), id, "operator A", {}));
    EXPECT_TRUE(findings().join(' ').contains("is not signed")) << findings().join("; ").toStdString();
}

TEST_F(Signatures, AnotherKeyIsFound)
{
    const auto other = *PersonKey::make(folder.filePath("other"), "operator A", phrase);
    ASSERT_TRUE(approve(*opened(), id, "operator A", other.signer()));
    EXPECT_TRUE(findings().join(' ').contains("is no signature of operator A"));
}

TEST_F(Signatures, AFailedSignatureKeepsNothing)
{
    auto book = opened();
    const auto before = book->head().line;
    EXPECT_FALSE(approve(*book, id, "operator A", [](const QByteArray&) { return QByteArray(); }));
    EXPECT_EQ(book->head().line, before);
    EXPECT_FALSE(book->loadJob(id)->contains("judged"));
}

TEST_F(Signatures, AChainWorkedOutAnewBreaksThem)
{
    ASSERT_TRUE(approve(*opened(), id, "operator A", key->signer()));
    // Nothing changed: the chain comes out as it was.
    forge({});
    EXPECT_TRUE(findings().isEmpty());
    // Any line before the signature, in body and journal: the whole of what was signed.
    forge({"UPDATE journal SET changes = replace(changes, 'a lot', 'a bad lot') WHERE seq = 1",
           "UPDATE jobs SET title = 'a bad lot', body = replace(body, 'a lot', 'a bad lot')"});
    EXPECT_TRUE(findings().join(' ').contains("is no signature of operator A")) << findings().join("; ").toStdString();
}

TEST_F(Signatures, ASignatureTakenOutIsMissed)
{
    ASSERT_TRUE(approve(*opened(), id, "operator A", key->signer()));
    forge({"DELETE FROM journal WHERE changes LIKE '%signatures/%'"});
    EXPECT_TRUE(findings().join(' ').contains("is not signed"));
}

TEST_F(Signatures, ANewKeyLeavesOldSignaturesStanding)
{
    {
        auto book = opened();
        ASSERT_TRUE(approve(*book, id, "operator A", key->signer()));
        const auto next = *PersonKey::make(folder.path(), "operator A", phrase);
        ASSERT_TRUE(book->keepPublicKey("operator A", next.publicKey()));
        const std::int64_t second =
            *book->addJob(edits::newJob("J-2", "another", *findMethod("tension-metal"), 1), "operator A", "new job");
        ASSERT_TRUE(approve(*book, second, "operator A", next.signer()));
    }
    EXPECT_TRUE(findings().isEmpty()) << findings().join("; ").toStdString();
    forge({"UPDATE people SET ed25519 = '" + key->publicKey() + "'"});
    EXPECT_TRUE(findings().join(' ').contains("is not the one that the journal tells of"));
}

TEST_F(Signatures, ASignedHeadShowsWhoStoodWhere)
{
    const QString headPath = file() + ".head";
    {
        auto book = opened();
        book->setHeadSigner("operator A", key->publicKey(), key->signer());
        ASSERT_TRUE(approve(*book, id, "operator A", key->signer()));
        book->checkpoint();
        const auto head = headFromFile(headPath);
        ASSERT_TRUE(head);
        EXPECT_EQ(head->who, "operator A");
        EXPECT_FALSE(head->signature.isEmpty());
        EXPECT_TRUE(book->checkAgainst(*head).empty());
        JournalHead changed = *head;
        changed.who = "operator B";
        EXPECT_EQ(book->checkAgainst(changed).size(), 1u);
        // A head signed anew by a key that the journal does not know.
        const auto other = *PersonKey::make(folder.filePath("other"), "operator A", phrase);
        changed = *head;
        changed.key = other.publicKey();
        changed.signature =
            QString::fromLatin1(other.signer()(signedText(changed.line, changed.hash, changed.who)).toHex());
        ASSERT_EQ(book->checkAgainst(changed).size(), 1u);
        EXPECT_TRUE(book->checkAgainst(changed).front().words.contains("does not have"));
    }
    // Rewritten as a whole, without a key or a signature in it: only the head outside shows it.
    QFile::copy(headPath, headPath + ".outside");
    forge({"DELETE FROM journal WHERE changes LIKE '%signatures/%' OR changes LIKE '%people/%'", "DELETE FROM people"});
    EXPECT_TRUE(findings().isEmpty());
    EXPECT_FALSE(opened()->checkAgainst(*headFromFile(headPath + ".outside")).empty());
}

} // namespace
} // namespace fortitor
