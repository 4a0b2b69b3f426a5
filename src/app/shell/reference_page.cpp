// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/lists.h"
#include "app/shell/tables.h"

#include "jobs/json_at.h"
#include "app/shell/calibration_dialog.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/busy.h"
#include "app/widgets/hands.h"
#include "methods/common/cure.h"
#include "reference/tables.h"
#include "units/quantity.h"

#include <QHBoxLayout>
#include <QHeaderView>

namespace fortitor {

ReferencePage::ReferencePage(QWidget* parent) : QWidget(parent)
{
    setObjectName("referencePage");
    auto* column = pageColumn(this);
    auto* head = new QHBoxLayout;
    head->addWidget(label("Reference", "title"));
    head->addStretch();
    search_ = new QLineEdit;
    search_->setObjectName("referenceSearch");
    search_->setPlaceholderText("material, kind or state");
    search_->setFixedWidth(280);
    search_->setClearButtonEnabled(true);
    head->addWidget(search_);
    column->addLayout(head);
    column->addWidget(label(
        QString::fromUtf8(materialSourceNote().data(), static_cast<qsizetype>(materialSourceNote().size())), "quiet"));
    table_ = plainTable({"material", "kind", "state", "E, GPa", "ν", "yield, MPa", "Rm, MPa", "A, %", "density, kg/m³"},
                        "referenceTable");
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    column->addWidget(table_, 1);
    connect(search_, &QLineEdit::textChanged, this, &ReferencePage::fill);
    connect(&Theme::instance(), &Theme::changed, this, &ReferencePage::fill);
    fill();
}

void ReferencePage::fill()
{
    const QString words = search_->text().trimmed();
    int r = 0;
    for (const PublishedMaterial& m : publishedMaterials()) {
        if (!words.isEmpty() && !q(m.name + " " + m.kind + " " + m.state).contains(words, Qt::CaseInsensitive))
            continue;
        if (r >= table_->rowCount())
            table_->insertRow(r);
        put(table_, r, 0, q(m.name));
        put(table_, r, 1, q(m.kind), false, true);
        put(table_, r, 2, q(m.state), false, true);
        const std::pair<std::optional<double>, double> values[] = {
            {m.youngsModulus, 1e-3}, {m.poisson, 1},      {m.yield, 1},
            {m.strength, 1},         {m.elongation, 100}, {m.density, 1}};
        int c = 3;
        for (const auto& [value, factor] : values)
            put(table_, r, c++, value ? QString::number(*value * factor, 'g', 4) : "–", true, !value);
        ++r;
    }
    table_->setRowCount(r);
    for (int c = 3; c < 9; ++c)
        table_->horizontalHeaderItem(c)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
}

} // namespace fortitor
