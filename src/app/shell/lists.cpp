// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/lists.h"

#include "jobs/json_at.h"
#include "app/shell/calibration_dialog.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/busy.h"
#include "app/widgets/hands.h"
#include "methods/common/cure.h"
#include "reference/tables.h"
#include "units/quantity.h"

#include <QApplication>
#include <QDate>
#include <QDateTime>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QScrollArea>
#include <QSettings>

namespace fortitor {
namespace {

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

/// The cell there, made if it is not: what stands in a table is changed in place, so that it keeps its
/// scroll and what is chosen.
QTableWidgetItem* put(QTableWidget* table, int row, int column, const QString& text, bool figure = false,
                      bool quiet = false)
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

} // namespace

TodayPage::TodayPage(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("todayPage");
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    auto* inside = new QWidget;
    scroll->setWidget(inside);
    outer->addWidget(scroll);
    list_ = new QVBoxLayout(inside);
    list_->setContentsMargins(28, 22, 28, 16);
    list_->setSpacing(0);
}

/// A line of the list; what stands there already in the same words stays.
void TodayPage::line(const QString& words, const QString& more, const QString& action, std::function<void()> act)
{
    wanted_.push_back({words + "\x1f" + more + "\x1f" + action,
                       [this, words, more, action, act = std::move(act)] { addLine(words, more, action, act); }});
}

void TodayPage::say(const QString& words, const char* kind, int above, int below)
{
    wanted_.push_back({QString(kind) + words, [this, words, kind, above, below] {
                           list_->addSpacing(above);
                           list_->addWidget(label(words, kind));
                           list_->addSpacing(below);
                           if (qstrcmp(kind, "head") == 0)
                               list_->addWidget(hairline());
                       }});
}

void TodayPage::addLine(const QString& words, const QString& more, const QString& action,
                        const std::function<void()>& act)
{
    auto* row = new QHBoxLayout;
    row->setContentsMargins(0, 10, 0, 10);
    auto* text = label(words);
    text->setMinimumWidth(360);
    row->addWidget(text);
    row->addWidget(label(more, "quiet"), 1);
    auto* go = button(action, "link", "todayGo");
    connect(go, &QPushButton::clicked, this, act);
    row->addWidget(go);
    list_->addLayout(row);
    list_->addWidget(hairline());
}

/// Bonded specimens that are not loaded yet: how long their adhesive still cures.
bool TodayPage::listCures()
{
    bool any = false;
    const double now = wallClock(s(QDateTime::currentDateTime().toString("yyyy-MM-dd HH:mm:ss"))).value_or(0);
    for (const JobRow& row : session_.logbook().jobs()) {
        const Method* method = findMethod(s(row.method));
        const bool bonds =
            method && std::ranges::find(method->notes, NoteSpec::By::Cure, &NoteSpec::by) != method->notes.end();
        if (!bonds || row.judged >= row.specimens)
            continue;
        const auto body = session_.logbook().loadJob(row.id);
        const auto job = body ? readJob(*body) : Expected<Job>(body.problem());
        if (!job)
            continue;
        for (const Specimen& specimen : job->specimens) {
            const auto clock = cureClock(specimen.input);
            if (!clock || !*clock || !specimen.recordId.empty() || specimen.readings)
                continue;
            const double left = (*clock)->readyAt() - now;
            line(row.number + " " + q(specimen.label),
                 left <= 0 ? QString("cured: ready to load")
                           : QString("cures for another %1 h %2 min")
                                 .arg(static_cast<int>(left / 3600))
                                 .arg(static_cast<int>(left / 60) % 60),
                 "Open", [this, id = row.id] { emit openAsked(id); });
            any = true;
            due_ += left <= 0 ? 1 : 0;
        }
    }
    return any;
}

void TodayPage::refresh()
{
    wanted_.clear();
    due_ = 0;
    say(QDate::currentDate().toString("dddd, d MMMM"), "title", 0, 18);
    const auto jobs = session_.logbook().jobs();
    say("Specimens waiting", "head", 0, 4);
    bool any = false;
    for (const JobRow& job : jobs) {
        if (job.judged >= job.specimens)
            continue;
        int unmeasured = 0;
        int untested = 0;
        int open = 0;
        for (const SpecimenRow& row : session_.logbook().specimens(job.number, 2000))
            if (row.job == job.id && row.verdict != "pass" && row.verdict != "fail")
                ++(row.stage == 0 ? unmeasured : row.stage == 1 ? untested : open);
        QStringList words;
        if (unmeasured)
            words << QString("%1 to measure").arg(unmeasured);
        if (untested)
            words << QString("%1 to load").arg(untested);
        if (open)
            words << QString("%1 with remarks or no verdict").arg(open);
        line(job.number + "  " + job.title, words.join(", "), "Open", [this, id = job.id] { emit openAsked(id); });
        any = true;
    }
    if (!any)
        say(jobs.empty() ? "No jobs yet. Make the first one with Ctrl+N."
                         : "Nothing waits: every specimen of every job is judged.",
            "quiet", 8, 0);
    say("Adhesive curing", "head", 22, 4);
    if (!listCures())
        say("Nothing cures.", "quiet", 8, 0);
    say("Calibrations running out", "head", 22, 4);
    any = false;
    for (const InstrumentRow& row : session_.logbook().instruments()) {
        const QDate date = QDate::fromString(row.due, Qt::ISODate);
        if (!date.isValid())
            continue;
        const auto days = QDate::currentDate().daysTo(date);
        if (days > 30)
            continue;
        ++due_;
        line(row.name,
             days < 0 ? QString("ran out %1 days ago, on %2").arg(-days).arg(row.due)
                      : QString("in %1 days, on %2").arg(days).arg(row.due),
             "Instruments", [this] { emit instrumentsAsked(); });
        any = true;
    }
    if (!any)
        say("None within 30 days.", "quiet", 8, 0);
    QString shown;
    for (const auto& [key, make] : wanted_)
        shown += key + "\n";
    if (shown == shown_)
        return;
    shown_ = shown;
    clearLayout(list_);
    for (const auto& [key, make] : wanted_)
        make();
    list_->addStretch();
    settleLayout(list_);
}

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
        "Dead weights for a cell, a gauge for an extensometer: errors by class, and the date it is good until");
    connect(checks, &QPushButton::clicked, this, &InstrumentsPage::check);
    head->addWidget(checks);
    head->addWidget(remove);
    head->addWidget(add);
    column->addLayout(head);
    column->addWidget(label(
        "Double click or F2 changes a cell. Kinds: cell, grips, platens, fixture, extensometer, calliper, adhesive "
        "(its strength, and hours of cure). Classes are those of ISO 7500-1 and ISO 9513; errors come from the "
        "reference table.",
        "quiet"));
    setFocusPolicy(Qt::StrongFocus);
    table_ = plainTable({"name", "kind", "class", "capacity, travel, strength", "error or cure", "good until", ""},
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
        if (r >= table_->rowCount())
            table_->insertRow(r);
        const auto text = [&](const char* key) { return q(textAt(row.body, key)); };
        put(table_, r, 0, row.name)->setData(Qt::UserRole, row.name);
        put(table_, r, 1, row.kind);
        put(table_, r, 2, text("class"), true);
        put(table_, r, 3,
            row.kind == "extensometer"   ? text("travel")
                : row.kind == "adhesive" ? text("strength")
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
        if (!CalibrationDialog::applies(r)) {
            message_->setText("Only cells and extensometers are checked against a reference here.");
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
    for (const char* key : {"class", "capacity", "travel", "strength", "error", "cure"})
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

LogbookPage::LogbookPage(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("logbookPage");
    auto* column = pageColumn(this);
    auto* head = new QHBoxLayout;
    head->addWidget(label("Logbook", "title"));
    head->addStretch();
    search_ = new QLineEdit;
    search_->setObjectName("journalSearch");
    search_->setPlaceholderText("who, what or why");
    search_->setFixedWidth(260);
    search_->setClearButtonEnabled(true);
    auto* checkButton = button("Check it", "", "logbookCheck");
    auto* copy = button("Backup copy…", "", "logbookBackup");
    auto* outside = button("Heads to…", "", "logbookHeads");
    outside->setToolTip(
        "A second folder, best one that others look after, where the last line of the journal is noted with its "
        "hash. Lines cut off later show against it.");
    head->addWidget(search_);
    head->addWidget(checkButton);
    head->addWidget(copy);
    head->addWidget(outside);
    column->addLayout(head);
    connect(outside, &QPushButton::clicked, this, [this] {
        const QString folder = QFileDialog::getExistingDirectory(this, "A second folder for the heads of the journal",
                                                                 QSettings().value("headFolder").toString());
        if (folder.isEmpty())
            return;
        QSettings().setValue("headFolder", folder);
        session_.logbook().setHeadFolder(folder);
        session_.writer().post([](Logbook& book) {
            book.writeHead();
            return Done{};
        });
        found_->setText("The head of the journal is noted in " + folder + " from now on.");
        found_->show();
    });
    where_ = label({}, "quiet");
    column->addWidget(where_);
    found_ = label({});
    found_->setObjectName("logbookFound");
    found_->hide();
    column->addWidget(found_);
    table_ = plainTable({"", "when", "who", "what", "why", "before and after"}, "journalTable");
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Interactive);
    const int widths[] = {48, 168, 92, 270, 170, 260};
    for (int c = 0; c < 6; ++c)
        table_->setColumnWidth(c, widths[c]);
    table_->horizontalHeader()->setStretchLastSection(true);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    column->addWidget(table_, 1);
    connect(search_, &QLineEdit::textChanged, this, &LogbookPage::refresh);
    connect(checkButton, &QPushButton::clicked, this, &LogbookPage::check);
    connect(copy, &QPushButton::clicked, this, [this] {
        const QString path =
            QFileDialog::getSaveFileName(this, "Backup copy", "logbook-copy.sqlite", "Logbook (*.sqlite)");
        if (path.isEmpty())
            return;
        session_.finish();
        const auto ok = session_.logbook().backup(path);
        found_->setText(ok ? "Copied to " + path : q(ok.problem().text()));
        found_->show();
    });
}

void LogbookPage::refresh()
{
    where_->setText(session_.logbook().file()
                    + (session_.logbook().readOnlyBecause().isEmpty()
                           ? ""
                           : " · read-only: " + session_.logbook().readOnlyBecause()));
    const auto value = [](const Json& v) {
        QString text = q(v.is_string()                               ? v.get<std::string>()
                             : v.is_object() && v.contains("source") ? textAt(v, "source")
                                                                     : v.dump());
        return text.size() > 60 ? text.left(58) + "…" : text;
    };
    int r = 0;
    for (const JournalEntry& e : session_.logbook().journal(0, 400, search_->text().trimmed())) {
        if (r >= table_->rowCount())
            table_->insertRow(r);
        put(table_, r, 0, QString::number(e.seq), true, true);
        put(table_, r, 1, QDateTime::fromString(e.at, Qt::ISODateWithMs).toLocalTime().toString("yyyy-MM-dd HH:mm:ss"),
            false, true);
        put(table_, r, 2, e.who);
        put(table_, r, 3, e.what);
        put(table_, r, 4, e.why);
        QString changes;
        if (const auto list = parseJson(s(e.changes), "journal"); list && list->is_array())
            for (const Json& c : *list)
                if (textAt(c, "path") != "")
                    changes += (changes.isEmpty() ? "" : "; ")
                        + (c.contains("before") ? value(c["before"]) : QString("–")) + " → "
                        + (c.contains("after") ? value(c["after"]) : QString("–"));
        put(table_, r, 5, changes, false, true);
        ++r;
    }
    table_->setRowCount(r);
}

void LogbookPage::check()
{
    session_.finish();
    Busy busy("Looking at all of the logbook", this);
    auto findings = session_.logbook().check(busy.progress());
    if (busy.stopped())
        findings.push_back({"check", "was stopped by hand: the rest was not looked at"});
    int heads = 0;
    for (const QString& path : session_.logbook().headFiles())
        if (const auto head = headFromFile(path)) {
            ++heads;
            for (LogbookFinding& f : session_.logbook().checkAgainst(*head))
                findings.push_back({f.place, f.words + " (" + path + ")"});
        } else {
            findings.push_back({"head", q(head.problem().text())});
        }
    QString words = findings.empty() ? QString("Whole: the file, the chain of the journal, every record and every job")
            + (heads ? QString(", and as the %1 kept outside %2.")
                           .arg(heads == 1 ? "head" : "heads", heads == 1 ? "has it" : "have it")
                     : QString("."))
                                     : QString("%1 findings: ").arg(findings.size());
    for (const LogbookFinding& f : findings)
        words += "\n" + f.place + ": " + f.words;
    found_->setText(words);
    found_->show();
}

} // namespace fortitor
