// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/expected.h"

#include <QSqlDatabase>
#include <QString>

namespace fortitor {

/// Marks a SQLite file as a logbook ("Fort").
inline constexpr int logbookApplicationId = 0x466F7274;

/// The newest schema this program writes.
int newestSchema();

/// Version of an open database; 0 for an empty one.
int schemaVersion(const QSqlDatabase& db);

/// Brings the schema up step by step, each step a transaction of its own. Copies the file to
/// "FILE.before-schema-N" before the first step on a logbook that holds something.
/// Refuses a logbook of a newer program.
Expected<Done> migrate(QSqlDatabase& db, const QString& file, int upTo = newestSchema());

} // namespace fortitor
