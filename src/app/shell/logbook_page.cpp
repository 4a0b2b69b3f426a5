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

#include <QDateTime>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QSettings>

namespace fortitor {

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
    auto findings = busy.run([this](const Progress& progress) -> std::vector<LogbookFinding> {
        const auto twin = session_.logbook().twin(); // a connection belongs to the thread that made it
        return twin ? (*twin)->check(progress) : std::vector<LogbookFinding>{{"check", q(twin.problem().text())}};
    });
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
