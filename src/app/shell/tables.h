// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QTableWidget>
#include <QVBoxLayout>

namespace fortitor {

/// A page's column with the margins that all lists have.
QVBoxLayout* pageColumn(QWidget* page);

/// A table of rows to choose from, without a grid.
QTableWidget* plainTable(const QStringList& heads, const char* name);

/// The cell there, made if it is not: what stands in a table is changed in place, so that it keeps its
/// scroll and what is chosen.
QTableWidgetItem* put(QTableWidget* table, int row, int column, const QString& text, bool figure = false,
                      bool quiet = false);

} // namespace fortitor
