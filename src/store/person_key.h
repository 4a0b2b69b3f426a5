// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "store/journal.h"

#include <QString>

#include <memory>

namespace fortitor {

/// The key a person signs judgements with: Ed25519, made once, kept in a file of this machine under a phrase
/// that only the person knows. The logbook has the public half.
class PersonKey {
public:
    static constexpr int shortestPhrase = 8; ///< characters

    /// Makes one and keeps it. A key of that person that is there already is put aside, not written over.
    static Expected<PersonKey> make(const QString& folder, const QString& who, const QString& phrase);
    /// Refuses a wrong phrase, and a file that is no key of that person.
    static Expected<PersonKey> unlock(const QString& folder, const QString& who, const QString& phrase);
    /// Where the key of a person is, or would be.
    static QString file(const QString& folder, const QString& who);

    /// Hex.
    [[nodiscard]] QString publicKey() const { return publicKey_; }
    [[nodiscard]] Signer signer() const;

private:
    struct Secret;
    QString publicKey_;
    std::shared_ptr<const Secret> secret_;
};

/// Whether a signature over a text is that of the key; all in hex but the text.
bool signatureHolds(const QString& publicKey, const QByteArray& text, const QString& signature);

/// A key as people read it to each other: its first sixteen digits in fours.
QString keyWords(const QString& publicKey);

} // namespace fortitor
