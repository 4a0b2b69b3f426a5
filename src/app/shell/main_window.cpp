// SPDX-License-Identifier: GPL-3.0-or-later
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
#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QMenu>
#include <QMessageBox>
#include <QMimeData>
#include <QSettings>
#include <QScreen>
#include <QShortcut>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>
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

MainWindow::MainWindow(Logbook& logbook, QWidget* parent) : QMainWindow(parent), session_(logbook), frame_(session_)
{
    setObjectName("mainWindow");
    setWindowTitle("Fortitor");
    setAcceptDrops(true);
    auto* inside = new QWidget;
    auto* row = new QHBoxLayout(inside);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    setCentralWidget(inside);
    rail_ = new Rail({"Today", "Jobs", "Compare", "Reference", "Instruments", "Logbook"});
    row->addWidget(rail_);
    places_ = new QStackedWidget;
    auto* column = new QVBoxLayout;
    column->setSpacing(0);
    row->addLayout(column, 1);
    column->addWidget(places_, 1);
    today_ = new TodayPage(session_);
    jobsPlace_ = new QStackedWidget;
    jobs_ = new JobsPage(session_);
    bench_ = new Bench(session_, frame_);
    jobsPlace_->addWidget(jobs_);
    jobsPlace_->addWidget(bench_);
    compare_ = new ComparePage(session_);
    instruments_ = new InstrumentsPage(session_, frame_);
    logbookPage_ = new LogbookPage(session_);
    for (QWidget* page :
         std::initializer_list<QWidget*>{today_, jobsPlace_, compare_, new ReferencePage, instruments_, logbookPage_})
        places_->addWidget(page);

    column->addWidget(new FrameStrip(frame_));
    band_ = new QWidget;
    column->addWidget(band_);
    band_->setObjectName("band");
    band_->setAutoFillBackground(true);
    auto* bandRow = new QHBoxLayout(band_);
    bandRow->setContentsMargins(18, 8, 12, 8);
    bandText_ = label({});
    bandText_->setObjectName("bandText");
    bandRow->addWidget(bandText_, 1);
    auto* off = button("Got it", "link", "bandOff");
    bandRow->addWidget(off);
    connect(off, &QPushButton::clicked, band_, &QWidget::hide);
    band_->hide();

    connect(rail_, &Rail::chosen, this, [this](int place) {
        // Jobs again, while a job is on the bench, leads back to the list.
        if (place == Jobs && rail_->current() == Jobs && jobsPlace_->currentWidget() == bench_ && !frame_.running())
            jobsPlace_->setCurrentWidget(jobs_);
        go(place);
    });
    connect(rail_, &Rail::menuAsked, this, &MainWindow::menu);
    connect(jobs_, &JobsPage::openAsked, this, [this](std::int64_t id) { openJob(id); });
    connect(jobs_, &JobsPage::newAsked, this, &MainWindow::newJob);
    connect(jobs_, &JobsPage::importAsked, this, [this] {
        const QString path = QFileDialog::getOpenFileName(this, "Import job", {}, "Job files (*.json);;All files (*)");
        if (!path.isEmpty())
            takeIn(path);
    });
    connect(today_, &TodayPage::openAsked, this, [this](std::int64_t id) { openJob(id); });
    connect(today_, &TodayPage::instrumentsAsked, this, [this] { go(Instruments); });
    connect(bench_, &Bench::importAsked, this, [this] {
        const QString path =
            QFileDialog::getOpenFileName(this, "Text record", QSettings().value("recordFolder").toString(),
                                         "Text records (*.csv *.txt *.dat *.asc *.tsv);;All files (*)");
        if (!path.isEmpty()) {
            QSettings().setValue("recordFolder", QFileInfo(path).absolutePath());
            takeIn(path);
        }
    });
    connect(bench_->reportPage(), &ReportPage::saved, this,
            [this](const QString& path) { tell("Saved: " + path, false); });
    connect(&session_, &Session::leaving, this, &hands::finish);
    connect(&session_, &Session::failed, this, [this](const QString& words) { tell(words, true); });
    connect(&frame_, &LiveFrame::finished, this, [this] {
        if (!frame_.cantKeep().isEmpty())
            return tell(frame_.cantKeep(), true); // nobody pressed STOP
        tell(frame_.state() == LiveFrame::State::Broken
                 ? "Broken and kept. Fit the halves and measure them: Measure, after the break."
                 : "Stopped: "
                     + q(frame_.status().endedWords.empty() ? "the frame is gone" : frame_.status().endedWords)
                     + ". What was recorded is kept and marked incomplete.",
             false);
    });
    actions();
    qApp->installEventFilter(this);
    QSettings settings;
    session_.setWho(settings.value("who", "operator A").toString());
    session_.logbook().setHeadFolder(settings.value("headFolder").toString());
    frame_.setAddress(settings.value("frame").toString(), settings.value("frameToken").toString());
    frame_.joinNamed();
    Units::instance().setSystem(static_cast<UnitSystem>(std::clamp(settings.value("units", 0).toInt(), 0, 2)));
    connect(&Units::instance(), &Units::changed, this, [this] { emit session_.changed(); });
    restoreGeometry(settings.value("geometry").toByteArray());
    if (!settings.contains("geometry")) {
        // What is free, on a screen that has not much more.
        const QSize free = screen()->availableGeometry().size();
        resize(realScreen() && (free.width() <= 1440 || free.height() <= 900) ? free : QSize(1280, 800));
    }
    fit_.setInterval(150);
    connect(&fit_, &QTimer::timeout, this, &MainWindow::fitToScreen);
    // Once nothing has been written for a while everything goes into the file itself.
    auto* idle = new QTimer(this);
    idle->setInterval(3000);
    idle->setSingleShot(true);
    connect(idle, &QTimer::timeout, this, [this] {
        if (!frame_.running())
            session_.writer().post([](Logbook& book) {
                book.checkpoint();
                return Done{};
            });
    });
    connect(&session_, &Session::kept, this, [this] { // lists show what is kept
        if (!page())
            hands::whenFree(places_->currentWidget(), "kept", [this] { refreshPlace(); });
    });
    connect(&session_, &Session::changed, idle, qOverload<>(&QTimer::start));
    today_->refresh();
    rail_->setCount(0, today_->due());
    if (!logbook.readOnlyBecause().isEmpty())
        QTimer::singleShot(0, this, [this] {
            tell("This logbook is read-only: " + session_.logbook().readOnlyBecause()
                     + ". You can look, nothing is kept.",
                 true);
        });
}

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
    key(QKeySequence("Ctrl+N"), [this] { newJob(); });
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

/// The page of the ribbon at that place, of the job at hand.
void MainWindow::goToPage(size_t place)
{
    if (!session_.isOpen() || place >= session_.job().method->pages.size())
        return;
    go(Jobs);
    jobsPlace_->setCurrentWidget(bench_);
    session_.setStage(static_cast<int>(session_.job().method->pages[place].stage));
}

Page* MainWindow::page() const
{
    return jobsPlace_->currentWidget() == bench_ && places_->currentIndex() == Jobs ? bench_->page(session_.stage())
                                                                                    : nullptr;
}

void MainWindow::go(int place)
{
    places_->setCurrentIndex(place);
    rail_->setCurrent(place);
    if (place == Jobs && (jobsPlace_->currentWidget() == jobs_ || !session_.isOpen())) {
        jobsPlace_->setCurrentWidget(jobs_);
        jobs_->focusSearch();
    }
    if (place == Instruments)
        instruments_->setFocus();
    refreshPlace();
}

/// The place that is shown, as the logbook has it.
void MainWindow::refreshPlace()
{
    switch (places_->currentIndex()) {
    case Today: today_->refresh(); break;
    case Jobs:
        if (jobsPlace_->currentWidget() == jobs_)
            jobs_->refresh();
        break;
    case Compare: compare_->refresh(); break;
    case Instruments: instruments_->refresh(); break;
    case LogbookPlace: logbookPage_->refresh(); break;
    default: break;
    }
    rail_->setCount(0, today_->due());
}

bool MainWindow::openJob(std::int64_t id, int specimen, int stage)
{
    if (frame_.running()) {
        tell("The frame is running; stop it first (Esc).", true);
        return false;
    }
    if (session_.jobId() != id || !session_.isOpen())
        if (auto ok = session_.open(id); !ok) {
            tell(q(ok.problem().text()), true);
            return false;
        }
    session_.setCurrent(static_cast<size_t>(specimen));
    places_->setCurrentIndex(Jobs);
    rail_->setCurrent(Jobs);
    jobsPlace_->setCurrentWidget(bench_);
    if (stage >= 0)
        session_.setStage(stage);
    QSettings().setValue("lastJob", QVariant::fromValue<qlonglong>(id));
    setWindowTitle(q(session_.job().number + " " + session_.job().title) + " – Fortitor");
    if (Page* p = page())
        p->enter();
    return true;
}

void MainWindow::newJob()
{
    int number = 101;
    const auto jobs = session_.logbook().jobs();
    while (std::ranges::any_of(jobs, [&](const JobRow& row) {
        return row.number == QString("J-%1").arg(number, 4, 10, QChar('0'));
    }))
        ++number;
    const Method& method = methodRegistry().front();
    Json body = edits::newJob(s(QString("J-%1").arg(number, 4, 10, QChar('0'))), "", method, 3);
    auto id = session_.addJob(body, "new job");
    if (!id)
        return tell(q(id.problem().text()), true);
    if (openJob(*id, 0, 0))
        if (auto* title = bench_->findChild<QLineEdit*>("jobTitle"))
            title->setFocus();
}

bool MainWindow::takeInJob(const QString& path)
{
    auto json = readJsonFile(s(path));
    auto job = json ? readJob(*json) : Expected<Job>(json.problem());
    if (!job) {
        Problem p = job.problem();
        if (!p.place.starts_with(s(path)))
            p.place = s(QFileInfo(path).fileName()) + ", " + p.place;
        tell(q(p.text()), true);
        return false;
    }
    // Records come along into the logbook; what can't be read is said, the rest is taken.
    // Until the last of them is in, the job says that it is not whole.
    Json body = withoutRecordFiles(*json);
    body.erase("journal"); // of the logbook it came from; the file itself has it
    const bool records =
        std::ranges::any_of(job->specimens, [](const Specimen& one) { return !one.recordFile.empty(); });
    if (records)
        body["importing"] = {{"file", s(QFileInfo(path).fileName())}};
    auto id = session_.addJob(body, "imported from " + QFileInfo(path).fileName());
    if (!id) {
        tell(q(id.problem().text()), true);
        return false;
    }
    if (!openJob(*id, 0, 0))
        return false;
    QStringList trouble;
    Busy busy("Taking in " + QFileInfo(path).fileName(), this);
    const int count = static_cast<int>(job->specimens.size());
    for (size_t i = 0; i < job->specimens.size(); ++i) {
        if (job->specimens[i].recordFile.empty())
            continue;
        auto record = fortitor::loadRecord(job->specimens[i], *job->method, s(QFileInfo(path).absolutePath()), false,
                                           busy.part(static_cast<int>(i), count));
        if (busy.stopped()) {
            trouble << "stopped by hand: the records from " + q(job->specimens[i].label) + " on are not imported";
            break;
        }
        if (!record) {
            trouble << q(record.problem().text());
        } else if (*record) {
            Record copy = **record;
            copy.source = job->specimens[i].recordFile;
            session_.attach(i, copy, job->specimens[i].columns);
        }
    }
    if (records && !busy.stopped())
        session_.apply(
            CommandBuilder(session_.document(), "all records of " + s(QFileInfo(path).fileName()) + " looked at")
                .set("/importing", std::nullopt)
                .take());
    tell(trouble.isEmpty() ? "Imported: " + QFileInfo(path).fileName() : QString("Imported, but ") + trouble.join("; "),
         !trouble.isEmpty());
    return true;
}

void MainWindow::exportJob(const QString& path)
{
    session_.settleWork();
    const auto record = [this](size_t i) { return session_.record(i); };
    session_.finish(); // the head is to hold all that is written
    Json json = session_.document().json();
    const JournalHead head = session_.logbook().head();
    json["journal"] = {{"line", head.line}, {"hash", s(head.hash)}};
    const auto done = writeExchange(s(path), json, session_.job(), record);
    tell(done ? "Saved with its records: " + path : q(done.problem().text()), !done);
}

void MainWindow::tell(const QString& words, bool problem)
{
    bandText_->setText(words);
    QPalette palette = band_->palette();
    palette.setColor(QPalette::Window, problem ? pal().accentTint : pal().rail);
    band_->setPalette(palette);
    band_->show();
    if (!problem)
        QTimer::singleShot(7000, this, [this, words] {
            if (bandText_->text() == words)
                band_->hide();
        });
}

QString MainWindow::told() const
{
    return band_->isVisibleTo(this) ? bandText_->text() : QString();
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
        {"New job", "Ctrl+N", [this] { newJob(); }},
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
    menu.addAction("New job\tCtrl+N", this, [this] { newJob(); });
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

bool MainWindow::eventFilter(QObject* watched, QEvent* event)
{
    // STOP comes before everything, from any page and over any dialog, whenever there is a frame. Only where
    // something moves the key has no other meaning.
    if (event->type() == QEvent::KeyPress || event->type() == QEvent::ShortcutOverride) {
        auto* key = static_cast<QKeyEvent*>(event);
        const bool moves = frame_.running() || frame_.moves();
        if (key->key() == Qt::Key_Escape
            && (moves
                || (event->type() == QEvent::KeyPress
                    && watched
                        == (QApplication::focusWidget() ? static_cast<QObject*>(QApplication::focusWidget())
                                                        : this)))) {
            frame_.stop();
            if (moves) {
                event->accept();
                return true;
            }
        }
    }
    // Ctrl+Z takes back in the field while something is being typed there, else in the job; Ctrl with
    // an arrow changes the specimen from inside a field too.
    if (event->type() == QEvent::ShortcutOverride) {
        auto* key = static_cast<QKeyEvent*>(event);
        const auto* edit = qobject_cast<QLineEdit*>(watched);
        const bool specimen =
            key->modifiers() == Qt::ControlModifier && (key->key() == Qt::Key_Left || key->key() == Qt::Key_Right);
        if (edit
            && (specimen || (key->matches(QKeySequence::Undo) && !edit->isUndoAvailable())
                || (key->matches(QKeySequence::Redo) && !edit->isRedoAvailable()))) {
            event->ignore();
            return true;
        }
    }
    if (event->type() == QEvent::KeyPress && watched->isWidgetType()
        && (session_.stage() == static_cast<int>(Stage::SetUp) || session_.stage() == static_cast<int>(Stage::Load))
        && page() && !qobject_cast<QLineEdit*>(watched)) {
        auto* key = static_cast<QKeyEvent*>(event);
        if (key->modifiers() == Qt::NoModifier && (key->key() == Qt::Key_Z || key->key() == Qt::Key_B)) {
            key->key() == Qt::Key_Z ? frame_.zeroForce() : frame_.putExtensometerOn();
            return true;
        }
    }
    return QMainWindow::eventFilter(watched, event);
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event)
{
    if (event->mimeData()->hasUrls())
        event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event)
{
    QStringList paths;
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile())
            paths << url.toLocalFile();
    event->acceptProposedAction();
    // Several records go to the specimens in turn, from the one at hand.
    for (int i = 0; i < paths.size(); ++i) {
        if (!takeIn(paths[i]))
            break;
        if (i + 1 < paths.size() && session_.isOpen())
            session_.setCurrent(session_.current() + 1);
    }
}

void MainWindow::showEvent(QShowEvent* event)
{
    QMainWindow::showEvent(event);
    fitsLeft_ = 8; // a window manager puts its frame around it a little later
    fitToScreen();
    fit_.start();
}

bool MainWindow::realScreen() const
{
    return screen() && QGuiApplication::platformName() != "offscreen"; // that one has any size
}

/// Takes what is free of the screen and no more, its frame included.
void MainWindow::fitToScreen()
{
    if (--fitsLeft_ <= 0)
        fit_.stop();
    if (!realScreen() || isMaximized() || isFullScreen() || isMinimized())
        return;
    const QRect free = screen()->availableGeometry();
    const QSize frame = frameGeometry().size() - size();
    setMinimumSize(QSize(1000, 660).boundedTo(free.size() - frame));
    const QSize fits = size().boundedTo(free.size() - frame);
    if (fits != size())
        resize(fits);
    const QRect outside = frameGeometry();
    const QPoint at(std::max(free.left(), std::min(outside.left(), free.right() + 1 - outside.width())),
                    std::max(free.top(), std::min(outside.top(), free.bottom() + 1 - outside.height())));
    if (at != outside.topLeft())
        move(at);
}

void MainWindow::closeEvent(QCloseEvent* event)
{
    if (frame_.running())
        frame_.stop();
    hands::finish();
    const int losses = session_.losses();
    session_.finish();
    if (session_.losses() != losses) { // what was not kept is told, and still typed where it was
        event->ignore();
        return;
    }
    QSettings settings;
    settings.setValue("geometry", saveGeometry());
    settings.setValue("lastStage", session_.stage());
    QMainWindow::closeEvent(event);
}

} // namespace fortitor
