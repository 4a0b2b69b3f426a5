// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/hardness_reference.h"
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

ReferencePage::ReferencePage(Session& session, QWidget* parent) : QWidget(parent)
{
    setObjectName("referencePage");
    auto* column = pageColumn(this);
    auto* head = new QHBoxLayout;
    head->addWidget(label("Reference", "title"));
    head->addSpacing(18);
    const std::pair<const char*, const char*> parts[] = {{"materials", "referenceMaterials"},
                                                         {"hardness scales", "referenceHardness"},
                                                         {"limits of reference blocks", "referenceLimits"}};
    for (int i = 0; i < 3; ++i) {
        auto* part = button(parts[i].first, "segment", parts[i].second);
        part->setCheckable(true);
        QFont strong = part->font();
        strong.setWeight(QFont::DemiBold);
        part->setMinimumWidth(QFontMetrics(strong).horizontalAdvance(parts[i].first) + 34); // also once it is chosen
        connect(part, &QPushButton::clicked, this, [this, i] { showPart(i); });
        head->addWidget(part);
        heads_.push_back(part);
    }
    head->addStretch();
    search_ = new QLineEdit;
    search_->setObjectName("referenceSearch");
    search_->setPlaceholderText("material, kind or state");
    search_->setFixedWidth(280);
    search_->setClearButtonEnabled(true);
    head->addWidget(search_);
    column->addLayout(head);
    parts_ = new QStackedWidget;
    column->addWidget(parts_, 1);
    auto* materials = new QWidget;
    auto* list = new QVBoxLayout(materials);
    list->setContentsMargins(0, 0, 0, 0);
    parts_->addWidget(materials);
    parts_->addWidget(new ConversionPanel(session));
    parts_->addWidget(new LimitsPanel(session));
    list->addWidget(label(
        QString::fromUtf8(materialSourceNote().data(), static_cast<qsizetype>(materialSourceNote().size())), "quiet"));
    table_ = plainTable({"material", "kind", "state", "E, GPa", "ν", "yield, MPa", "Rm, MPa", "A, %", "density, kg/m³"},
                        "referenceTable");
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    list->addWidget(table_, 1);
    connect(search_, &QLineEdit::textChanged, this, &ReferencePage::fill);
    connect(&Theme::instance(), &Theme::changed, this, &ReferencePage::fill);
    fill();
    showPart(0);
}

void ReferencePage::showPart(int part)
{
    parts_->setCurrentIndex(part);
    search_->setVisible(part == 0);
    for (size_t i = 0; i < heads_.size(); ++i)
        heads_[i]->setChecked(static_cast<int>(i) == part);
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
