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

#include <QCoreApplication>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QProcess>
#include <QSettings>
#include <QTimer>
#include <QVBoxLayout>

namespace fortitor {

/// The rail, the pages, the frame's strip, the band for messages.
void MainWindow::buildPlaces()
{
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
    today_->setFrame(frame_);
    jobsPlace_ = new QStackedWidget;
    jobs_ = new JobsPage(session_);
    bench_ = new Bench(session_, frame_);
    jobsPlace_->addWidget(jobs_);
    jobsPlace_->addWidget(bench_);
    start_ = new StartPage;
    jobsPlace_->addWidget(start_);
    compare_ = new ComparePage(session_);
    instruments_ = new InstrumentsPage(session_, frame_);
    logbookPage_ = new LogbookPage(session_);
    for (QWidget* page : std::initializer_list<QWidget*>{today_, jobsPlace_, compare_, new ReferencePage(session_),
                                                         instruments_, logbookPage_})
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
}

void MainWindow::connectPages()
{
    connect(rail_, &Rail::chosen, this, [this](int place) {
        // Jobs again, while a job is on the bench, leads back to the list.
        if (place == Jobs && rail_->current() == Jobs && jobsPlace_->currentWidget() == bench_ && !frame_.running())
            jobsPlace_->setCurrentWidget(jobs_);
        go(place);
    });
    connect(rail_, &Rail::menuAsked, this, &MainWindow::menu);
    connect(jobs_, &JobsPage::openAsked, this, [this](std::int64_t id) { openJob(id); });
    connect(jobs_, &JobsPage::newAsked, this, &MainWindow::askTest);
    const auto importJob = [this] {
        const QString path = QFileDialog::getOpenFileName(this, "Import job", {}, "Job files (*.json);;All files (*)");
        if (!path.isEmpty())
            takeIn(path);
    };
    connect(jobs_, &JobsPage::importAsked, this, importJob);
    connect(start_, &StartPage::importAsked, this, importJob);
    connect(start_, &StartPage::chosen, this, &MainWindow::newJob);
    connect(start_, &StartPage::demoAsked, this, &MainWindow::openDemo);
    connect(start_, &StartPage::left, this, &MainWindow::showJobs);
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
    const auto openPiece = [this](std::int64_t id, int specimen) { openJob(id, specimen); };
    connect(bench_, &Bench::jobAsked, this, openPiece, Qt::QueuedConnection);
    connect(today_, &TodayPage::pieceAsked, this, openPiece, Qt::QueuedConnection);
    connect(instruments_, &InstrumentsPage::pieceAsked, this, openPiece, Qt::QueuedConnection);
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
}

/// As it was left.
void MainWindow::restore()
{
    QSettings settings;
    session_.setWho(settings.value("who", "operator A").toString());
    session_.setTurn([] {
        const InputHeld held;
        InputHeld::turn();
    });
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
}

void MainWindow::startTimers()
{
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
}

MainWindow::MainWindow(Logbook& logbook, QWidget* parent) : QMainWindow(parent), session_(logbook), frame_(session_)
{
    setObjectName("mainWindow");
    setWindowTitle("Fortitor");
    setAcceptDrops(true);
    buildPlaces();
    connectPages();
    actions();
    qApp->installEventFilter(this);
    restore();
    startTimers();
    today_->refresh();
    rail_->setCount(0, today_->due());
    if (!logbook.readOnlyBecause().isEmpty())
        QTimer::singleShot(0, this, [this] {
            tell("This logbook is read-only: " + session_.logbook().readOnlyBecause()
                     + ". You can look, nothing is kept.",
                 true);
        });
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
    if (place == Jobs && (jobsPlace_->currentWidget() != bench_ || !session_.isOpen()))
        showJobs();
    if (place == Instruments)
        instruments_->setFocus();
    refreshPlace();
}

/// The list of jobs; where there is none, how the first one begins.
void MainWindow::showJobs()
{
    const bool none = session_.logbook().jobs().empty();
    jobsPlace_->setCurrentWidget(none ? static_cast<QWidget*>(start_) : jobs_);
    if (none)
        return start_->enter(true);
    jobs_->refresh();
    jobs_->focusSearch();
}

void MainWindow::askTest()
{
    if (frame_.running())
        return tell("The frame is running; stop it first (Esc).", true);
    places_->setCurrentIndex(Jobs);
    rail_->setCurrent(Jobs);
    jobsPlace_->setCurrentWidget(start_);
    start_->enter(session_.logbook().jobs().empty());
}

/// In a window of its own, so that nothing of it gets among one's own jobs.
void MainWindow::openDemo()
{
    if (!QProcess::startDetached(QCoreApplication::applicationFilePath(), {"--demo"}))
        tell("The demo can't be opened: the program could not be started a second time.", true);
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

void MainWindow::newJob(const QString& wanted)
{
    int number = 101;
    const auto jobs = session_.logbook().jobs();
    while (std::ranges::any_of(jobs, [&](const JobRow& row) {
        return row.number == QString("J-%1").arg(number, 4, 10, QChar('0'));
    }))
        ++number;
    const Method* named = findMethod(s(wanted));
    const Method& method = named ? *named : methodRegistry().front();
    Json body = edits::newJob(s(QString("J-%1").arg(number, 4, 10, QChar('0'))), "", method, 3);
    auto id = session_.addJob(body, "new job");
    if (!id)
        return tell(q(id.problem().text()), true);
    if (openJob(*id, 0, 0))
        if (auto* title = bench_->findChild<QLineEdit*>("jobTitle"))
            title->setFocus();
}

/// Pictures that lie beside the job file, where they are those the readings were taken from.
QStringList MainWindow::takeInPictures(const Job& job, const QString& folder)
{
    QStringList trouble;
    for (const Specimen& specimen : job.specimens)
        for (const ReadingPicture& one : specimen.pictures) {
            if (session_.logbook().loadPicture(q(one.sha256)))
                continue; // it came with another reading
            const QString name = QFileInfo(q(one.file)).fileName(); // beside the job, wherever it once was
            QFile file(folder + "/" + name);
            const auto say = [&](const QString& what) {
                const QString of = one.reading == 0 ? QString("photograph %1").arg(name)
                                                    : QString("picture %1 of reading %2").arg(name).arg(one.reading);
                trouble << QString("the %1 of %2 %3").arg(of, q(specimen.label), what);
            };
            constexpr qint64 mostBytes = qint64{1} << 30;
            if (!file.open(QIODevice::ReadOnly) || file.size() > mostBytes) {
                say("is not in the folder");
                continue;
            }
            const QByteArray bytes = file.readAll();
            if (q(one.sha256) != Logbook::pictureDigest(bytes))
                say("is another one than the reading was taken from, and was left out");
            else if (const auto done = session_.addPicture(name, bytes); !done)
                say(q(done.problem().text()));
        }
    return trouble;
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
    QStringList trouble = takeInPictures(*job, QFileInfo(path).absolutePath());
    auto id = session_.addJob(body, "imported from " + QFileInfo(path).fileName());
    if (!id) {
        tell(q(id.problem().text()), true);
        return false;
    }
    if (!openJob(*id, 0, 0))
        return false;
    Busy busy("Taking in " + QFileInfo(path).fileName(), this);
    const int count = static_cast<int>(job->specimens.size());
    for (size_t i = 0; i < job->specimens.size(); ++i) {
        if (job->specimens[i].recordFile.empty())
            continue;
        auto record = busy.run([&](const Progress& progress) {
            const auto part = [&](double share) { return progress((static_cast<double>(i) + share) / count); };
            return fortitor::loadRecord(job->specimens[i], *job->method, s(QFileInfo(path).absolutePath()), false,
                                        part);
        });
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
    session_.finish(); // the head is to hold all that is written
    Json json = session_.document().json();
    const JournalHead head = session_.logbook().head();
    json["journal"] = {{"line", head.line}, {"hash", s(head.hash)}};
    std::map<size_t, std::shared_ptr<const Record>> records;
    for (size_t i = 0; i < session_.job().specimens.size(); ++i)
        records[i] = session_.record(i);
    std::map<std::string, std::string> pictures;
    for (const Specimen& specimen : session_.job().specimens)
        for (const ReadingPicture& one : specimen.pictures)
            if (const auto bytes = session_.logbook().loadPicture(q(one.sha256)))
                pictures[one.sha256] = bytes->toStdString();
    std::vector<std::string> missing;
    Busy busy("Writing " + QFileInfo(path).fileName(), this);
    const auto done = busy.run([&, job = session_.job()](const Progress&) {
        return writeExchange(
            s(path), json, job, [&](size_t i) { return records.at(i); },
            [&](const std::string& sha) -> std::optional<std::string> {
                const auto it = pictures.find(sha);
                return it == pictures.end() ? std::nullopt : std::optional(it->second);
            },
            &missing);
    });
    if (!done)
        return tell(q(done.problem().text()), true);
    QStringList names;
    for (const std::string& name : missing)
        names << q(name);
    tell(missing.empty() ? "Saved with its records: " + path
                         : "Saved, but these pictures are not in the logbook: " + names.join(", "),
         !missing.empty());
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

} // namespace fortitor
