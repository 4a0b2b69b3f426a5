// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/demo.h"
#include "app/model/trial_run.h"
#include "app/shell/application.h"
#include "app/shell/capture.h"
#include "app/shell/main_window.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <QIcon>
#include <QMessageBox>
#include <QSettings>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTimer>

#include <malloc.h>

#include <cstdio>

namespace {

using namespace fortitor;

QString defaultLogbook()
{
    return QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + "/fortitor/logbook.sqlite";
}

/// The fourth rigger tube, from the grips to its break, as a user would run it.
int tryTheFrame(fortitor::MainWindow& window)
{
    using namespace fortitor;
    window.show();
    const auto jobs = window.session().logbook().jobs();
    const auto job = std::ranges::find(jobs, QString("J-0101"), &JobRow::number);
    constexpr int specimen = 3;
    if (job == jobs.end() || !window.openJob(job->id, specimen, 2)) {
        std::fprintf(stderr, "fortitor: the demo's job J-0101 is not there\n");
        return 1;
    }
    if (auto done = runByItself(window.frame()); !done) {
        std::fprintf(stderr, "fortitor: %s\n", done.problem().text().c_str());
        return 1;
    }
    window.session().settleWork();
    const auto& outcome = window.session().specimenOutcome().outcome;
    const Result* strength = outcome ? outcome->find("Rm") : nullptr;
    if (!strength || !strength->value) {
        std::fprintf(stderr, "fortitor: the run gave no Rm\n");
        return 1;
    }
    std::printf("ran %s on the simulated frame: Rm %.1f MPa\n", window.session().specimen().label.c_str(),
                *strength->value);
    return 0;
}

void addOptions(QCommandLineParser& parser)
{
    parser.setApplicationDescription("Fortitor: mechanical tests, from job to signed report.");
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addOptions({
        {"logbook", "Work on this logbook.", "file"},
        {"demo", "Work on a demo logbook of its own, made anew when it is missing."},
        {"capture", "Picture the main views into a folder and quit.", "folder"},
        {"dark", "Begin in the dark theme."},
        {"size", "Size of the window, such as 1024x700.", "size"},
        {"machine", "Lead the frame that listens there: 127.0.0.1:PORT or local:NAME.", "address"},
        {"machine-token", "The token of that frame is the first line of this file.", "file"},
        {"try-frame",
         "Run one specimen of the demo on the simulated frame, print its figures, and quit: 1 when it can't."},
        {"start-time", "Print how long it took until the window could be used, and quit."},
    });
    parser.addPositionalArgument("files", "Job files or text records to take in.", "[files…]");
}

/// Leads the frame that the command line names; false, with a word on stderr, when its token can't be read.
bool joinGivenFrame(const QCommandLineParser& parser, MainWindow& window)
{
    QFile token(parser.value("machine-token"));
    const bool readable = parser.isSet("machine-token") && token.open(QIODevice::ReadOnly);
    if (parser.isSet("machine-token") && !readable) {
        std::fprintf(stderr, "fortitor: %s: %s\n", token.fileName().toUtf8().constData(),
                     token.errorString().toUtf8().constData());
        return false;
    }
    window.frame().setAddress(parser.value("machine"),
                              readable ? QString::fromUtf8(token.readLine(256)).trimmed() : QString());
    window.frame().joinNamed();
    return true;
}

/// Back to where one was; in a new demo to the first job.
void goToStart(MainWindow& window, bool demo, bool fresh)
{
    const auto jobs = window.session().logbook().jobs();
    const auto last = QSettings().value("lastJob").toLongLong();
    const auto wanted = demo && fresh && !jobs.empty() ? jobs.front().id : last;
    if (std::ranges::any_of(jobs, [&](const JobRow& row) { return row.id == wanted; }))
        window.openJob(wanted, 0, fresh ? 4 : QSettings().value("lastStage", 1).toInt());
    else
        window.go(jobs.empty() ? MainWindow::Jobs : MainWindow::Today);
}

} // namespace

int main(int argc, char** argv)
{
    // Readings work in arrays of megabytes; giving each back to the system and asking anew costs more
    // than the reading.
    mallopt(M_MMAP_THRESHOLD, 32 << 20);
    mallopt(M_TRIM_THRESHOLD, 256 << 20);
    QElapsedTimer clock;
    clock.start();
    // A dialog of the desktop would take Esc for itself; STOP has to come first.
    QCoreApplication::setAttribute(Qt::AA_DontUseNativeDialogs);
    Application app(argc, argv);
    QCoreApplication::setOrganizationName("fortitor");
    QCoreApplication::setApplicationName("fortitor");
    QCoreApplication::setApplicationVersion(FORTITOR_VERSION);
    QGuiApplication::setDesktopFileName("fortitor");
    QCommandLineParser parser;
    addOptions(parser);
    parser.process(app);

    QTemporaryDir captureFolder;
    const bool capture = parser.isSet("capture");
    QString file = parser.isSet("logbook") ? parser.value("logbook") : defaultLogbook();
    if (parser.isSet("demo") && !parser.isSet("logbook"))
        file = QFileInfo(defaultLogbook()).absolutePath() + "/demo.sqlite";
    const bool tryFrame = parser.isSet("try-frame");
    if ((capture || tryFrame) && !parser.isSet("logbook"))
        file = captureFolder.path() + "/demo.sqlite";
    if (capture || tryFrame || parser.isSet("start-time"))
        QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, captureFolder.path());

    app.setWindowIcon(QIcon(":/fortitor.svg"));
    Theme::instance().setDark(parser.isSet("dark") || QSettings().value("dark", false).toBool());
    Theme::instance().install();
    const bool fresh = !QFile::exists(file);
    auto book = Logbook::open(file);
    if (!book) {
        std::fprintf(stderr, "fortitor: %s\n", book.problem().text().c_str());
        if (QGuiApplication::platformName() != "offscreen")
            QMessageBox::critical(nullptr, "Fortitor", q(book.problem().text()));
        return 3;
    }
    if (fresh && (parser.isSet("demo") || capture || tryFrame))
        if (auto ok = fillDemo(**book); !ok)
            std::fprintf(stderr, "fortitor: %s\n", ok.problem().text().c_str());

    MainWindow window(**book);
    app.tell = [&window](const QString& words, const QString& report) {
        window.tell("Something went wrong inside the program (" + words
                        + "). What was kept is in the logbook; the last act may have to be done again."
                        + (report.isEmpty() ? QString() : " A report lies in " + report),
                    true);
    };
    if (parser.isSet("machine") && !joinGivenFrame(parser, window))
        return 3;
    if (parser.isSet("size") || capture) {
        const QStringList parts = parser.value("size").split('x');
        window.resize(parts.size() == 2 ? parts[0].toInt() : 1280, parts.size() == 2 ? parts[1].toInt() : 800);
    }
    if (capture) {
        window.show();
        return captureViews(window, parser.value("capture")) ? 0 : 1;
    }
    if (tryFrame)
        return tryTheFrame(window);
    goToStart(window, parser.isSet("demo"), fresh);
    window.show();
    for (const QString& path : parser.positionalArguments())
        QTimer::singleShot(0, &window, [&window, path] { window.takeIn(path); });
    if (parser.isSet("start-time")) {
        QTimer::singleShot(0, &app, [&] {
            QCoreApplication::processEvents();
            std::printf("%.0f ms\n", static_cast<double>(clock.nsecsElapsed()) / 1e6);
            QCoreApplication::quit();
        });
    }
    return QApplication::exec();
}
