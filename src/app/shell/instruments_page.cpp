// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/indent/block_dialog.h"
#include "app/shell/lists.h"
#include "app/shell/tables.h"

#include "jobs/json_at.h"
#include "app/model/own_tables.h"
#include "app/shell/calibration_dialog.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/busy.h"
#include "app/widgets/hands.h"
#include "methods/common/cure.h"
#include "reference/tables.h"
#include "units/quantity.h"

#include <QDate>
#include <QHBoxLayout>
#include <QHeaderView>

namespace fortitor {

InstrumentsPage::InstrumentsPage(Session& session, LiveFrame& frame, QWidget* parent)
    : QWidget(parent), session_(session), frame_(frame)
{
    setObjectName("instrumentsPage");
    auto* column = pageColumn(this);
    auto* head = new QHBoxLayout;
    head->addWidget(label("Instruments", "title"));
    head->addStretch();
    auto* add = button("Add", "", "instrumentAdd");
    auto* remove = button("Take out", "", "instrumentRemove");
    auto* checks = button("Check against a reference…", "", "instrumentCheck");
    checks->setToolTip(
        "Dead weights for a cell, a gauge for an extensometer, reference blocks for a tester: errors by class, and the "
        "date it is good until");
    connect(checks, &QPushButton::clicked, this, &InstrumentsPage::check);
    head->addWidget(checks);
    head->addWidget(remove);
    head->addWidget(add);
    column->addLayout(head);
    column->addWidget(label(
        "Double click or F2 changes a cell. Kinds: cell, grips, platens, fixture, extensometer, calliper, hardness "
        "tester, objective (length of a pixel), adhesive (its strength, and hours of cure). Classes are those of ISO "
        "7500-1 and ISO 9513; errors come from the reference table.",
        "quiet"));
    setFocusPolicy(Qt::StrongFocus);
    table_ =
        plainTable({"name", "kind", "class", "capacity, travel, strength, pixel", "error or cure", "good until", ""},
                   "instrumentTable");
    setFocusProxy(table_);
    column->addWidget(table_, 1);
    history_ = label({}, "quiet");
    history_->setObjectName("instrumentHistory");
    history_->setWordWrap(true);
    column->addWidget(history_);
    connect(table_, &QTableWidget::currentCellChanged, this, &InstrumentsPage::history);
    message_ = label({}, "warn");
    column->addWidget(message_);
    connect(table_, &QTableWidget::cellChanged, this, [this](int row, int) {
        if (!filling_)
            keep(row);
    });
    connect(add, &QPushButton::clicked, this, &InstrumentsPage::add);
    connect(remove, &QPushButton::clicked, this, [this] {
        const int row = table_->currentRow();
        if (row < 0 || !table_->item(row, 0))
            return;
        const QString name = table_->item(row, 0)->data(Qt::UserRole).toString();
        if (auto ok = session_.writer().now([&](Logbook& book) { return book.removeInstrument(name, session_.who()); });
            !ok)
            message_->setText(q(ok.problem().text()));
        refresh();
    });
    connect(&Theme::instance(), &Theme::changed, this, &InstrumentsPage::refresh);
}

void InstrumentsPage::refresh()
{
    hands::whenFree(table_, "fill", [this] { fill(); });
}

void InstrumentsPage::fill()
{
    filling_ = true;
    int r = 0;
    for (const InstrumentRow& row : session_.logbook().instruments()) {
        if (row.kind == ownTableKind)
            continue; // those stand on Reference
        if (r >= table_->rowCount())
            table_->insertRow(r);
        const auto text = [&](const char* key) { return q(textAt(row.body, key)); };
        put(table_, r, 0, row.name)->setData(Qt::UserRole, row.name);
        put(table_, r, 1, row.kind);
        put(table_, r, 2, text("class"), true);
        put(table_, r, 3,
            row.kind == "extensometer"    ? text("travel")
                : row.kind == "adhesive"  ? text("strength")
                : row.kind == "objective" ? text("pixel")
                                          : text("capacity"),
            true);
        put(table_, r, 4, row.kind == "adhesive" ? text("cure") : text("error"), true);
        put(table_, r, 5, row.due, true);
        const QDate date = QDate::fromString(row.due, Qt::ISODate);
        const auto days = QDate::currentDate().daysTo(date);
        auto* state = put(table_, r, 6,
                          !date.isValid()  ? "no date"
                              : days < 0   ? QString("× ran out")
                              : days <= 30 ? QString("▲ %1 days left").arg(days)
                                           : QString("%1 days left").arg(days),
                          false, date.isValid() && days > 30);
        const auto trouble = calibrationTrouble(row.body, row.due.toStdString(),
                                                QDate::currentDate().toString(Qt::ISODate).toStdString());
        if (trouble && trouble->code == "calibration-failed")
            state->setText("× failed its check");
        if (trouble)
            state->setForeground(pal().stop);
        state->setFlags(state->flags() & ~Qt::ItemIsEditable);
        ++r;
    }
    table_->setRowCount(r);
    for (int c = 2; c < 6; ++c)
        table_->horizontalHeaderItem(c)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    filling_ = false;
}

void InstrumentsPage::history()
{
    const int row = table_->currentRow();
    QStringList lines;
    if (row >= 0 && table_->item(row, 0))
        for (const InstrumentRow& r : session_.logbook().instruments())
            if (r.name == table_->item(row, 0)->data(Qt::UserRole).toString())
                if (const auto checks = r.body.find("checks"); checks != r.body.end() && checks->is_array())
                    for (const Json& c : *checks)
                        if (c.is_object())
                            lines.prepend(q(textAt(c, "date")) + ", " + q(textAt(c, "who")) + ": "
                                          + q(textAt(c, "words"))
                                          + (flagAt(c, "passed") ? "" : " × not class " + q(textAt(c, "wanted"))));
    history_->setText(lines.isEmpty() ? QString() : "Checks, newest first\n" + lines.join("\n"));
}

void InstrumentsPage::check()
{
    const int row = table_->currentRow();
    message_->clear();
    if (row < 0 || !table_->item(row, 0)) {
        message_->setText("Choose a cell or an extensometer first.");
        return;
    }
    for (const InstrumentRow& r : session_.logbook().instruments()) {
        if (r.name != table_->item(row, 0)->data(Qt::UserRole).toString())
            continue;
        if (r.kind == "hardness tester") {
            BlockDialog dialog(session_, s(r.name), {}, this);
            if (dialog.exec() == QDialog::Accepted && dialog.asked())
                emit pieceAsked(dialog.asked()->job, dialog.asked()->specimen);
            return;
        }
        if (!CalibrationDialog::applies(r)) {
            message_->setText(
                "Only cells, extensometers and testers (on their blocks) are checked against a reference here.");
            return;
        }
        if (frame_.running()) {
            message_->setText("The frame is running; stop it first (Esc).");
            return;
        }
        CalibrationDialog(session_, frame_, r, this).exec();
        refresh();
        table_->setCurrentCell(row, 0);
        return;
    }
}

void InstrumentsPage::keep(int row)
{
    const auto text = [&](int c) { return table_->item(row, c) ? table_->item(row, c)->text().trimmed() : QString(); };
    InstrumentRow out{text(0), text(1), Json::object(), text(5)};
    const QString before = table_->item(row, 0)->data(Qt::UserRole).toString();
    if (out.name.isEmpty()) {
        message_->setText("An instrument needs a name.");
        return refresh();
    }
    // What the table does not show, its checks above all, stays as it is.
    for (const InstrumentRow& kept : session_.logbook().instruments())
        if (kept.name == before)
            out.body = kept.body;
    for (const char* key : {"class", "capacity", "travel", "strength", "pixel", "error", "cure"})
        out.body.erase(key);
    out.body["name"] = s(out.name);
    const auto put = [&](const char* key, const QString& value, Kind kind) {
        if (value.isEmpty())
            return true;
        const auto quantity = parseQuantity(s(value), kind);
        if (!quantity)
            message_->setText(out.name + ", " + key + ": " + q(quantity.problem().text()));
        else
            out.body[key] = s(value);
        return static_cast<bool>(quantity);
    };
    message_->clear();
    const bool glue = out.kind == "adhesive";
    bool good = out.kind == "extensometer" ? put("travel", text(3), Kind::Length)
        : glue                             ? put("strength", text(3), Kind::Stress)
        : out.kind == "objective"
        ? put("pixel", text(3), Kind::Length)
        : put("capacity", text(3), parseQuantity(s(text(3)), Kind::Torque) ? Kind::Torque : Kind::Force);
    good = (glue ? put("cure", text(4), Kind::Time) : put("error", text(4), Kind::Length)) && good;
    if (!text(2).isEmpty()) {
        const char* device = out.kind == "extensometer" ? "extensometer" : "force";
        if (findDeviceClass(device, s(text(2))))
            out.body["class"] = s(text(2));
        else {
            message_->setText("Class \"" + text(2) + "\" is not in the table of device classes.");
            good = false;
        }
    }
    if (!out.due.isEmpty() && !QDate::fromString(out.due, Qt::ISODate).isValid()) {
        message_->setText("The date is wanted as 2027-03-31.");
        good = false;
    }
    if (good) {
        if (auto ok =
                session_.writer().now([&](Logbook& book) { return book.keepInstrument(out, session_.who(), before); });
            !ok)
            message_->setText(q(ok.problem().text()));
    }
    // The table is filled anew after the edit is over.
    QMetaObject::invokeMethod(this, &InstrumentsPage::refresh, Qt::QueuedConnection);
}

void InstrumentsPage::add()
{
    QString name = "new cell";
    for (int n = 2;
         std::ranges::any_of(session_.logbook().instruments(), [&](const InstrumentRow& r) { return r.name == name; });
         ++n)
        name = QString("new cell %1").arg(n);
    if (auto ok = session_.writer().now([&](Logbook& book) {
            return book.keepInstrument({name, "cell", Json{{"name", s(name)}}, {}}, session_.who());
        });
        !ok)
        message_->setText(q(ok.problem().text()));
    refresh();
    for (int r = 0; r < table_->rowCount(); ++r)
        if (table_->item(r, 0)->text() == name) {
            table_->setCurrentCell(r, 0);
            table_->editItem(table_->item(r, 0));
        }
}

} // namespace fortitor
