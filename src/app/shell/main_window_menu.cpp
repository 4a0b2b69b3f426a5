// SPDX-License-Identifier: GPL-3.0-or-later
// What the window's keys and its menu do.
#include "app/shell/main_window.h"

#include "app/bench/judge/key_dialog.h"
#include "app/bench/ribbon.h"
#include "app/shell/finder.h"
#include "app/shell/frame_strip.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "app/widgets/busy.h"
#include "app/widgets/hands.h"
#include "jobs/edits.h"
#include "jobs/exchange.h"

#include <QAction>
#include <QApplication>
#include <QFileDialog>
#include <QInputDialog>
#include <QMenu>
#include <QMessageBox>
#include <QSettings>
#include <QShortcut>
#include <QTableWidget>
#include <QWhatsThis>

namespace fortitor {
namespace {

const std::vector<std::pair<QString, UnitSystem>>& unitSystems()
{
    static const std::vector<std::pair<QString, UnitSystem>> all{{"SI", UnitSystem::SI},
                                                                 {"inch and pound", UnitSystem::InchPound},
                                                                 {"kgf, as old records have them", UnitSystem::Legacy}};
    return all;
}

void setUnits(UnitSystem system)
{
    Units::instance().setSystem(system);
    QSettings().setValue("units", static_cast<int>(system));
}

} // namespace

void MainWindow::actions()
{
    const auto key = [this](const QKeySequence& keys, auto act) {
        auto* shortcut = new QShortcut(keys, this);
        connect(shortcut, &QShortcut::activated, this, act);
    };
    for (size_t i = 0; i < 9; ++i)
        key(QKeySequence(Qt::ALT | static_cast<Qt::Key>(Qt::Key_1 + i)), [this, i] { goToPage(i); });
    for (int i = 0; i < 6; ++i)
        key(QKeySequence(Qt::CTRL | static_cast<Qt::Key>(Qt::Key_1 + i)), [this, i] { go(i); });
    key(QKeySequence("Ctrl+Left"), [this] {
        if (session_.current() > 0)
            session_.setCurrent(session_.current() - 1);
    });
    key(QKeySequence("Ctrl+Right"), [this] { session_.setCurrent(session_.current() + 1); });
    key(QKeySequence::Undo, [this] { session_.undo(); });
    key(QKeySequence("Ctrl+Shift+Z"), [this] { session_.redo(); });
    key(QKeySequence("Ctrl+Y"), [this] { session_.redo(); });
    key(QKeySequence("Ctrl+K"), [this] { find(); });
    key(QKeySequence("Ctrl+N"), [this] { askTest(); });
    key(QKeySequence("Ctrl+O"), [this] { emit bench_->importAsked(); });
    key(QKeySequence("Ctrl+P"), [this] {
        if (session_.isOpen()) {
            session_.setStage(static_cast<int>(Stage::Report));
            if (auto* save = bench_->reportPage()->findChild<QPushButton*>("savePdf"))
                save->click();
        }
    });
    key(QKeySequence("Ctrl+Q"), [this] { close(); });
    key(QKeySequence("F1"), [this] { explain(); });
    key(QKeySequence("F2"), [this] {
        // In a table F2 changes the cell, as its page says.
        auto* table = qobject_cast<QTableWidget*>(QApplication::focusWidget());
        QTableWidgetItem* item =
            table && table->editTriggers() != QAbstractItemView::NoEditTriggers ? table->currentItem() : nullptr;
        item && (item->flags() & Qt::ItemIsEditable) ? table->editItem(item) : keySheet();
    });
    key(QKeySequence("F10"), [this] { menu(rail_->mapToGlobal(QPoint(rail_->width(), rail_->height() - 40))); });
}

void MainWindow::explain()
{
    QWidget* focus = QApplication::focusWidget();
    QString words;
    for (QWidget* w = focus; w && words.isEmpty(); w = w->parentWidget())
        words = w->whatsThis().isEmpty() ? w->toolTip() : w->whatsThis();
    if (words.isEmpty())
        words = "Nothing with an explanation has the focus. F2 shows the keys of this page.";
    const QPoint at = focus ? focus->mapToGlobal(QPoint(12, focus->height())) : mapToGlobal(rect().center());
    QWhatsThis::showText(at, words, focus);
}

void MainWindow::keyPhrase()
{
    if (KeyDialog(session_, KeyDialog::For::SetUp, this).exec() == QDialog::Accepted)
        tell("What " + session_.who() + " approves is signed from now on. The key phrase is asked for each time.",
             false);
}

void MainWindow::find()
{
    std::vector<FinderCommand> commands{
        {"New job", "Ctrl+N", [this] { askTest(); }},
        {"Import a text record for the specimen at hand", "Ctrl+O", [this] { emit bench_->importAsked(); }},
        {"Save the job with its records…", "",
         [this] {
             const QString path =
                 QFileDialog::getSaveFileName(this, "Save the job",
                                              q(session_.isOpen() ? session_.job().number : "job") + ".json",
                                              "Job files (*.json)");
             if (!path.isEmpty() && session_.isOpen())
                 exportJob(path);
         }},
        {"Undo", "Ctrl+Z", [this] { session_.undo(); }},
        {"Units shown: SI", "", [] { setUnits(UnitSystem::SI); }},
        {"Units shown: inch and pound", "", [] { setUnits(UnitSystem::InchPound); }},
        {"Units shown: kgf, as old records have them", "", [] { setUnits(UnitSystem::Legacy); }},
        {"Light or dark", "",
         [] {
             Theme::instance().setDark(!Theme::instance().dark());
             QSettings().setValue("dark", Theme::instance().dark());
         }},
        {"Who is working…", "",
         [this] {
             bool ok = false;
             const QString who = QInputDialog::getText(this, "Who is working", "Name in the journal", QLineEdit::Normal,
                                                       session_.who(), &ok)
                                     .trimmed();
             if (ok && !who.isEmpty()) {
                 session_.setWho(who);
                 QSettings().setValue("who", who);
             }
         }},
        {"Key phrase of " + session_.who() + "…", "", [this] { keyPhrase(); }},
        {"Keys of this page", "F2", [this] { keySheet(); }},
        {"Instruments", "Ctrl+5", [this] { go(Instruments); }},
        {"Logbook and journal", "Ctrl+6", [this] { go(LogbookPlace); }},
    };
    for (const Method& method : methodRegistry())
        commands.push_back(
            {q("New job: " + method.name + " – " + method.question), "", [this, id = q(method.id)] { newJob(id); }});
    for (size_t i = 0; session_.isOpen() && i < session_.job().method->pages.size(); ++i)
        commands.push_back(
            {q(session_.job().method->pages[i].verb), QString("Alt+%1").arg(i + 1), [this, i] { goToPage(i); }});
    Finder finder(session_, std::move(commands), this);
    connect(&finder, &Finder::jobChosen, this, [this](std::int64_t id, int specimen) { openJob(id, specimen); });
    finder.exec();
}

void MainWindow::keySheet()
{
    Page* p = page();
    const PageSpec* here =
        session_.isOpen() ? session_.job().method->pageOf(static_cast<Stage>(session_.stage())) : nullptr;
    KeySheet(p && here                      ? q(here->verb)
                 : rail_->current() == Jobs ? QString("Jobs")
                                            : QString("this page"),
             p ? p->keys() : QStringList{"↑ ↓|choose", "Enter|open"}, this)
        .exec();
}

void MainWindow::menu(const QPoint& at)
{
    QMenu menu(this);
    menu.setObjectName("mainMenu");
    menu.addAction("New job\tCtrl+N", this, [this] { askTest(); });
    menu.addAction("Import job…", this, [this] { emit jobs_->importAsked(); });
    menu.addAction("Import a text record…\tCtrl+O", this, [this] { emit bench_->importAsked(); })
        ->setEnabled(session_.hasSpecimen());
    menu.addAction("Save the job with its records…", this,
                   [this] {
                       const QString path =
                           QFileDialog::getSaveFileName(this, "Save the job", q(session_.job().number) + ".json",
                                                        "Job files (*.json)");
                       if (!path.isEmpty())
                           exportJob(path);
                   })
        ->setEnabled(session_.isOpen());
    menu.addSeparator();
    const bool undo = session_.isOpen() && session_.document().canUndo();
    const bool redo = session_.isOpen() && session_.document().canRedo();
    menu.addAction((undo ? "Undo: " + q(session_.document().undoWords()) : QString("Undo")) + "\tCtrl+Z", this,
                   [this] { session_.undo(); })
        ->setEnabled(undo);
    menu.addAction((redo ? "Do again: " + q(session_.document().redoWords()) : QString("Do again")) + "\tCtrl+Shift+Z",
                   this, [this] { session_.redo(); })
        ->setEnabled(redo);
    menu.addSeparator();
    menu.addAction("Find…\tCtrl+K", this, [this] { find(); });
    QMenu* unitMenu = menu.addMenu("Units shown");
    for (const auto& [name, system] : unitSystems()) {
        QAction* action = unitMenu->addAction(name, this, [system = system] { setUnits(system); });
        action->setCheckable(true);
        action->setChecked(units() == system);
    }
    menu.addAction(Theme::instance().dark() ? "Light" : "Dark", this, [] {
        Theme::instance().setDark(!Theme::instance().dark());
        QSettings().setValue("dark", Theme::instance().dark());
    });
    QMenu* who = menu.addMenu("Who is working: " + session_.who());
    for (const QString& name : {QString("operator A"), QString("operator B")})
        who->addAction(name, this, [this, name] {
            session_.setWho(name);
            QSettings().setValue("who", name);
        });
    who->addAction("Another…", this, [this] {
        bool ok = false;
        const QString name =
            QInputDialog::getText(this, "Who is working", "Name in the journal", QLineEdit::Normal, session_.who(), &ok)
                .trimmed();
        if (ok && !name.isEmpty()) {
            session_.setWho(name);
            QSettings().setValue("who", name);
        }
    });
    who->addSeparator();
    who->addAction("Key phrase of " + session_.who() + "…", this, [this] { keyPhrase(); });
    menu.addAction("Keys of this page\tF2", this, [this] { keySheet(); });
    menu.addAction("About", this, [this] {
        QMessageBox::about(
            this, "Fortitor",
            "<b>Fortitor " FORTITOR_VERSION
            "</b><br>Mechanical tests, from job to signed report.<br><br>It advises; local rules, the machine's "
            "manual and a competent person decide.<br>Free software under GPL-3.0-or-later, without any warranty.");
    });
    menu.addAction("Quit\tCtrl+Q", this, [this] { close(); });
    menu.exec(at);
}

} // namespace fortitor
