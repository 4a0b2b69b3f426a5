// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/person_key.h"

#include "jobs/job.h"
#include "jobs/json_at.h"

#include <QCryptographicHash>
#include <QDateTime>
#include <QDir>
#include <QFile>

#include <sodium.h>

namespace fortitor {
namespace {

/// Before anything else of the library.
bool ready()
{
    static const bool done = sodium_init() >= 0;
    return done;
}

} // namespace

/// In memory that is locked and wiped.
struct PersonKey::Secret {
    unsigned char* bytes = ready() ? static_cast<unsigned char*>(sodium_malloc(crypto_sign_SECRETKEYBYTES)) : nullptr;
    Secret() = default;
    Secret(const Secret&) = delete;
    Secret& operator=(const Secret&) = delete;
    ~Secret() { sodium_free(bytes); }
};

namespace {

const unsigned char* raw(const QByteArray& bytes)
{
    return reinterpret_cast<const unsigned char*>(bytes.constData());
}

unsigned char* raw(QByteArray& bytes)
{
    return reinterpret_cast<unsigned char*>(bytes.data());
}

QByteArray hexAt(const Json& json, const char* key)
{
    return QByteArray::fromHex(QByteArray::fromStdString(textAt(json, key)));
}

/// The key of the box from the phrase; empty when there is not the memory for it.
QByteArray boxKey(const QString& phrase, const QByteArray& salt, unsigned long long operations, size_t memory)
{
    const QByteArray text = phrase.normalized(QString::NormalizationForm_C).toUtf8();
    QByteArray key(crypto_secretbox_KEYBYTES, '\0');
    if (crypto_pwhash(raw(key), key.size(), text.constData(), text.size(), raw(salt), operations, memory,
                      crypto_pwhash_ALG_ARGON2ID13)
        != 0)
        return {};
    return key;
}

Problem noMemory()
{
    return {"key phrase", "not enough memory to work with it", "64 MB that are free",
            "Close other programs and try again."};
}

} // namespace

QString PersonKey::file(const QString& folder, const QString& who)
{
    // By the hash of the name: unique, and a file name whatever the name holds.
    return folder + "/"
        + QString::fromLatin1(QCryptographicHash::hash(who.toUtf8(), QCryptographicHash::Sha256).toHex().left(32))
        + ".key";
}

Expected<PersonKey> PersonKey::make(const QString& folder, const QString& who, const QString& phrase)
{
    if (phrase.trimmed().size() < shortestPhrase)
        return Problem{"key phrase", std::to_string(phrase.trimmed().size()) + " characters",
                       std::to_string(shortestPhrase) + " or more", "A short sentence is easy to keep in mind."};
    auto secret = std::make_shared<Secret>();
    if (!secret->bytes)
        return noMemory();
    PersonKey key;
    QByteArray open(crypto_sign_PUBLICKEYBYTES, '\0');
    crypto_sign_keypair(raw(open), secret->bytes);
    key.publicKey_ = QString::fromLatin1(open.toHex());
    QByteArray salt(crypto_pwhash_SALTBYTES, '\0');
    QByteArray nonce(crypto_secretbox_NONCEBYTES, '\0');
    randombytes_buf(salt.data(), salt.size());
    randombytes_buf(nonce.data(), nonce.size());
    const QByteArray lock =
        boxKey(phrase, salt, crypto_pwhash_OPSLIMIT_INTERACTIVE, crypto_pwhash_MEMLIMIT_INTERACTIVE);
    if (lock.isEmpty())
        return noMemory();
    QByteArray box(crypto_secretbox_MACBYTES + crypto_sign_SECRETKEYBYTES, '\0');
    crypto_secretbox_easy(raw(box), secret->bytes, crypto_sign_SECRETKEYBYTES, raw(nonce), raw(lock));
    key.secret_ = std::move(secret);

    const Json json{{"fortitor_key", 1},
                    {"who", who.toStdString()},
                    {"ed25519", key.publicKey_.toStdString()},
                    {"salt", salt.toHex().toStdString()},
                    {"nonce", nonce.toHex().toStdString()},
                    {"operations", crypto_pwhash_OPSLIMIT_INTERACTIVE},
                    {"memory", crypto_pwhash_MEMLIMIT_INTERACTIVE},
                    {"box", box.toHex().toStdString()}};
    const QString path = file(folder, who);
    if (!QDir().mkpath(folder))
        return Problem{folder.toStdString(), "the folder could not be made", "a folder that can be written", {}};
    QFile::setPermissions(folder, QFileDevice::ReadOwner | QFileDevice::WriteOwner | QFileDevice::ExeOwner);
    if (QFile::exists(path)
        && !QFile::rename(path, path + "." + QDateTime::currentDateTimeUtc().toString("yyyyMMdd-HHmmss-zzz")))
        return Problem{path.toStdString(), "the key that is there could not be put aside",
                       "a folder that can be written", "Nothing was changed."};
    if (auto ok = writeFileWhole(path.toStdString(), json.dump(2, ' ', false, Json::error_handler_t::replace) + "\n");
        !ok)
        return ok.problem();
    QFile::setPermissions(path, QFileDevice::ReadOwner | QFileDevice::WriteOwner);
    return key;
}

Expected<PersonKey> PersonKey::unlock(const QString& folder, const QString& who, const QString& phrase)
{
    const QString path = file(folder, who);
    if (!QFile::exists(path))
        return Problem{"key of " + who.toStdString(), "none on this machine",
                       "the key file that was made with the phrase",
                       "Copy it from the machine where it was made (" + path.toStdString() + "), or make a new key."};
    const auto json = readJsonFile(path.toStdString());
    if (!json)
        return json.problem();
    const QByteArray salt = hexAt(*json, "salt");
    const QByteArray nonce = hexAt(*json, "nonce");
    const QByteArray box = hexAt(*json, "box");
    const double operations = numberAt(*json, "operations");
    const double memory = numberAt(*json, "memory");
    const bool sound = numberAt(*json, "fortitor_key") == 1 && textAt(*json, "who") == who.toStdString()
        && salt.size() == crypto_pwhash_SALTBYTES && nonce.size() == crypto_secretbox_NONCEBYTES
        && box.size() == static_cast<qsizetype>(crypto_secretbox_MACBYTES + crypto_sign_SECRETKEYBYTES)
        && operations >= 1 && operations <= 100 && memory >= 8192 && memory <= (1 << 30);
    if (!sound)
        return Problem{path.toStdString(), "no key of " + who.toStdString(), "a key file as the program writes it", {}};
    auto secret = std::make_shared<Secret>();
    if (!secret->bytes)
        return noMemory();
    const QByteArray lock =
        boxKey(phrase, salt, static_cast<unsigned long long>(operations), static_cast<size_t>(memory));
    if (lock.isEmpty())
        return noMemory();
    if (crypto_secretbox_open_easy(secret->bytes, raw(box), box.size(), raw(nonce), raw(lock)) != 0)
        return Problem{"key phrase of " + who.toStdString(),
                       "another phrase than the one it was made with",
                       "the phrase of this key",
                       {}};
    PersonKey key;
    QByteArray open(crypto_sign_PUBLICKEYBYTES, '\0');
    crypto_sign_ed25519_sk_to_pk(raw(open), secret->bytes);
    key.publicKey_ = QString::fromLatin1(open.toHex());
    key.secret_ = std::move(secret);
    return key;
}

Signer PersonKey::signer() const
{
    return [secret = secret_](const QByteArray& text) {
        QByteArray signature(crypto_sign_BYTES, '\0');
        return crypto_sign_detached(raw(signature), nullptr, raw(text), text.size(), secret->bytes) == 0 ? signature
                                                                                                         : QByteArray();
    };
}

bool signatureHolds(const QString& publicKey, const QByteArray& text, const QString& signature)
{
    const QByteArray key = QByteArray::fromHex(publicKey.toLatin1());
    const QByteArray bytes = QByteArray::fromHex(signature.toLatin1());
    return ready() && key.size() == crypto_sign_PUBLICKEYBYTES && bytes.size() == crypto_sign_BYTES
        && crypto_sign_verify_detached(raw(bytes), raw(text), text.size(), raw(key)) == 0;
}

QString keyWords(const QString& publicKey)
{
    QStringList fours;
    for (int i = 0; i < 16; i += 4)
        fours << publicKey.mid(i, 4);
    return fours.join(' ');
}

} // namespace fortitor
