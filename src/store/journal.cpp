// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/journal.h"

#include <QCryptographicHash>

namespace fortitor {

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
