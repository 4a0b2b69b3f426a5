// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/expected.h"

#include <QByteArray>
#include <QString>

#include <cstdint>
#include <functional>

namespace fortitor {

/// One line of the journal of changes: who, when, what, before and after, why; chained by hashes so
/// that a line changed or taken out afterwards shows.
struct JournalEntry {
    std::int64_t seq = 0;
    QString at; ///< UTC, ISO 8601 with milliseconds
    QString who;
    std::int64_t job = 0;
    QString what;
    QString why;
    QString changes; ///< JSON list of {path, before, after}
    QString previous; ///< hash of the line before; empty for the first
    QString hash; ///< SHA-256 over all of the above, hex
};

/// Where a journal stood: its last line and that line's hash, which stands for all lines before it too. Kept
/// outside the logbook it shows lines that were cut off or worked out anew.
struct JournalHead {
    std::int64_t line = 0;
    QString hash;
    QString at;
    // Where somebody signed it:
    QString who{};
    QString key{}; ///< the public key, hex
    QString signature{}; ///< Ed25519 over `signedText`, hex
};

/// Ed25519 over a text, 64 bytes; empty when it can't be had.
using Signer = std::function<QByteArray(const QByteArray& text)>;

/// What a person signs: where the journal stands, and who signs.
QByteArray signedText(std::int64_t line, const QString& hash, const QString& who);

/// As a small JSON file, and back; refused where it is none.
QByteArray headFile(const JournalHead& head);
Expected<JournalHead> headFromFile(const QString& path);

/// The hash that belongs to an entry's contents. Fields are joined with their lengths, so that
/// nothing can move from one to the next unseen.
QString journalHash(const JournalEntry& entry);

} // namespace fortitor
