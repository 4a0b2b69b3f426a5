// SPDX-License-Identifier: GPL-3.0-or-later
// What the program takes of a core while nobody does anything, page by page: without a frame, with a frame
// whose readings come 50 times a second, and after a run was stopped. `idle 60` measures a minute on each.
#include "app/model/demo.h"
#include "app/model/trial_run.h"
#include "app/shell/main_window.h"
#include "app/theme/theme.h"

#include <QApplication>
#include <QEventLoop>
#include <QSettings>
#include <QTemporaryDir>
#include <QTimer>

#include <sys/resource.h>

#include <algorithm>
#include <cstdio>
#include <cstdlib>

using namespace fortitor;

namespace {

double seconds()
{
    rusage use{};
    getrusage(RUSAGE_SELF, &use);
    return static_cast<double>(use.ru_utime.tv_sec + use.ru_stime.tv_sec)
        + 1e-6 * static_cast<double>(use.ru_utime.tv_usec + use.ru_stime.tv_usec);
}

void spin(int ms)
{
    QEventLoop loop; // sleeps until something comes, as the program itself does
    QTimer::singleShot(ms, &loop, &QEventLoop::quit);
    loop.exec();
}

double measured = 5; // s

void measure(const char* what)
{
    spin(1500);
    const double before = seconds();
    spin(static_cast<int>(1000 * measured));
    std::printf("%-34s %5.2f %% of a core\n", what, 100 * (seconds() - before) / measured);
    std::fflush(stdout);
}

} // namespace

int main(int argc, char** argv)
{
    if (qEnvironmentVariableIsEmpty("DISPLAY"))
        qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication app(argc, argv);
    if (argc > 1)
        measured = std::max(1.0, std::atof(argv[1]));
    QTemporaryDir folder;
    QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, folder.path());
    QCoreApplication::setOrganizationName("fortitor");
    QCoreApplication::setApplicationName("idle");
    Theme::instance().install();
    auto book = Logbook::open(folder.filePath("demo.sqlite"));
    if (!book || !fillDemo(**book))
        return 1;
    MainWindow window(**book);
    window.resize(1280, 800);
    window.show();
    const auto jobs = (*book)->jobs();
    const auto job = std::ranges::find(jobs, QString("J-0101"), &JobRow::number);
    static const char* const stages[] = {"Plan", "Measure", "Set up", "Load", "Read", "Judge", "Report"};
    window.openJob(job->id, 3, 0);
    for (const int stage : {0, 1, 4, 5, 6}) {
        window.session().setStage(stage);
        measure(stages[stage]);
    }
    for (const auto& [place, name] : {std::pair{MainWindow::Today, "Today"},
                                      {MainWindow::Compare, "Compare"},
                                      {MainWindow::Instruments, "Instruments"},
                                      {MainWindow::LogbookPlace, "Logbook"}}) {
        window.go(place);
        measure(name);
    }
    window.openJob(job->id, 3, 2);
    if (auto ready = setUpByItself(window.frame()); !ready) {
        std::fprintf(stderr, "%s\n", ready.problem().text().c_str());
        return 1;
    }
    window.frame().setPace(1);
    for (const int stage : {0, 1, 2, 3, 4, 5}) {
        window.session().setStage(stage);
        measure((std::string(stages[stage]) + ", 50 readings a second").c_str());
    }
    window.session().setStage(3);
    window.frame().start();
    spin(1500);
    measure("Load, running");
    window.frame().stop();
    spin(500);
    measure("Load, stopped, 50 readings");
    return 0;
}
