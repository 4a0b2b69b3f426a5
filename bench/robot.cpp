// SPDX-License-Identifier: GPL-3.0-or-later
// A day of use in fast motion: robot [CHANGES OPENINGS]. Pages are changed, jobs opened, values keyed and taken
// back, lists searched; memory is told after each tenth.
#include "app/model/demo.h"
#include "app/shell/main_window.h"
#include "app/theme/theme.h"
#include "jobs/edits.h"
#include "sim/random.h"

#include <QApplication>
#include <QLineEdit>
#include <QSettings>
#include <QTemporaryDir>

#include <malloc.h>
#include <unistd.h>

#include <cstdio>
#include <cstdlib>
#include <fstream>

using namespace fortitor;

namespace {

double residentMegabytes()
{
    long pages = 0;
    long resident = 0;
    std::ifstream("/proc/self/statm") >> pages >> resident;
    return static_cast<double>(resident) * static_cast<double>(sysconf(_SC_PAGESIZE)) / 1e6;
}

double usedMegabytes()
{
    const auto info = mallinfo2();
    return static_cast<double>(info.uordblks + info.hblkhd) / 1e6;
}

/// Something a person would do on the page that is shown.
void actOnPage(MainWindow& window, Random& random)
{
    Session& session = window.session();
    const auto dice = static_cast<int>(random.between(0, 6));
    if (dice == 0) {
        session.apply(edits::head(session.document(), "title",
                                  "title " + std::to_string(static_cast<int>(random.between(0, 1000)))));
        session.undo();
    } else if (dice == 1) {
        session.setCurrent(static_cast<size_t>(random.between(0, static_cast<double>(session.job().specimens.size()))));
    } else if (dice == 2) {
        if (auto* edit = qobject_cast<QLineEdit*>(QApplication::focusWidget())) {
            const QString was = edit->text();
            edit->setText("12");
            edit->setText(was);
        }
    }
}

} // namespace

int main(int argc, char** argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    mallopt(M_MMAP_THRESHOLD, 32 << 20); // as the program does
    mallopt(M_TRIM_THRESHOLD, 256 << 20);
    QApplication app(argc, argv);
    QTemporaryDir folder;
    QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, folder.path());
    QCoreApplication::setOrganizationName("fortitor");
    QCoreApplication::setApplicationName("robot");
    Theme::instance().install();
    const int changes = argc > 1 ? std::atoi(argv[1]) : 10000;
    const int openings = argc > 2 ? std::atoi(argv[2]) : 2000;
    auto book = Logbook::open(folder.filePath("demo.sqlite"));
    if (!book || !fillDemo(**book))
        return 1;
    MainWindow window(**book);
    window.resize(1280, 800);
    window.show();
    const auto jobs = (*book)->jobs();
    Random random(12);
    double first = 0;
    double most = 0;
    int opened = 0;
    std::printf("tenth   resident MB   in use MB\n");
    for (int i = 0; i < changes; ++i) {
        if (static_cast<long>(opened) * changes <= static_cast<long>(i) * openings) {
            const JobRow& job = jobs[static_cast<size_t>(random.between(0, static_cast<double>(jobs.size())))];
            if (window.session().isOpen())
                window.session().close(); // so that each opening is one
            if (!window.openJob(job.id, 0, static_cast<int>(random.between(0, 7))))
                return 1;
            ++opened;
        }
        if (random.between(0, 5) < 1)
            window.go(static_cast<int>(random.between(0, 6)));
        else
            window.openJob(window.session().jobId(), static_cast<int>(window.session().current()),
                           static_cast<int>(random.between(0, 7)));
        QApplication::processEvents();
        window.grab();
        actOnPage(window, random);
        QApplication::processEvents();
        if ((i + 1) % (changes / 10) != 0)
            continue;
        window.session().finish();
        QApplication::processEvents();
        QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        const int tenth = (i + 1) / (changes / 10);
        std::printf("%5d   %11.1f   %9.1f\n", tenth, residentMegabytes(), usedMegabytes());
        std::fflush(stdout);
        if (tenth == 1)
            first = residentMegabytes();
        most = std::max(most, residentMegabytes());
    }
    std::printf("%d page changes, %d openings: at most %.1f %% above the first tenth\n", changes, opened,
                100 * (most / first - 1));
    const auto findings = (*book)->check();
    std::printf("the logbook afterwards: %s\n",
                findings.empty() ? "whole" : findings.front().words.toUtf8().constData());
    return most <= 1.1 * first && findings.empty() ? 0 : 1;
}
