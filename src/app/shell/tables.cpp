// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/tables.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"

#include <QHeaderView>

namespace fortitor {
QVBoxLayout* pageColumn(QWidget* page)
{
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(28, 22, 28, 16);
    column->setSpacing(10);
    return column;
}

QTableWidget* plainTable(const QStringList& heads, const char* name)
{
    auto* table = new QTableWidget;
    table->setObjectName(name);
    table->setColumnCount(static_cast<int>(heads.size()));
    table->setHorizontalHeaderLabels(heads);
    table->verticalHeader()->hide();
    table->verticalHeader()->setDefaultSectionSize(30);
    table->setShowGrid(false);
    table->setWordWrap(false);
    table->setSelectionBehavior(QAbstractItemView::SelectRows);
    table->setSelectionMode(QAbstractItemView::SingleSelection);
    for (int c = 0; c < heads.size(); ++c)
        table->horizontalHeaderItem(c)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    return table;
}

QTableWidgetItem* put(QTableWidget* table, int row, int column, const QString& text, bool figure, bool quiet)
{
    auto* item = table->item(row, column);
    if (!item)
        table->setItem(row, column, item = new QTableWidgetItem);
    item->setText(text);
    item->setFont(figure ? figureFont(12.5) : wordFont(13));
    item->setTextAlignment((figure ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    item->setForeground(quiet ? pal().quiet : pal().ink);
    item->setToolTip(plain(text));
    return item;
}

} // namespace fortitor
