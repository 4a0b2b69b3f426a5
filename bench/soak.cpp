// SPDX-License-Identifier: GPL-3.0-or-later
// The long run: a real frame process at 5 kHz with gauges on, led and kept as the application does it, with
// processor time and memory of both sides. Usage: soak SECONDS
#include "app/model/demo.h"
#include "app/model/live_frame.h"
#include "jobs/edits.h"

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QFile>
#include <QTemporaryDir>
#include <QTimer>

#include <sys/resource.h>
#include <unistd.h>

#include <cmath>
#include <cstdio>

using namespace fortitor;

namespace {

template <class F> bool until(F done, int most)
{
    QElapsedTimer clock;
    clock.start();
    // Sleeps between events: waiting may not count as work.
    QEventLoop loop;
    QTimer look;
    QObject::connect(&look, &QTimer::timeout, [&] {
        if (done() || clock.elapsed() >= most)
            loop.quit();
    });
    look.start(20);
    loop.exec();
    return done();
}

/// s of processor time that a process has used.
double processorTime(qint64 pid)
{
    QFile stat(QString("/proc/%1/stat").arg(pid));
    if (!stat.open(QFile::ReadOnly))
        return 0;
    const QList<QByteArray> words = stat.readAll().split(' ');
    return (words.value(13).toDouble() + words.value(14).toDouble()) / static_cast<double>(sysconf(_SC_CLK_TCK));
}

double peakMegabytes(qint64 pid)
{
    QFile status(QString("/proc/%1/status").arg(pid));
    if (!status.open(QFile::ReadOnly))
        return 0;
    for (const QByteArray& line : status.readAll().split('\n'))
        if (line.startsWith("VmHWM:"))
            return line.mid(6).trimmed().split(' ').first().toDouble() / 1024;
    return 0;
}

} // namespace

int main(int argc, char** argv)
{
    QCoreApplication app(argc, argv);
    const double seconds = argc > 1 ? std::atof(argv[1]) : 600;
    QTemporaryDir folder;
    auto book = Logbook::open(folder.filePath("book.sqlite"));
    if (!book || !fillDemo(**book))
        return 3;
    Session session(**book);
    QObject::connect(&session, &Session::failed,
                     [](const QString& words) { std::fprintf(stderr, "%s\n", words.toUtf8().constData()); });
    for (const JobRow& row : (*book)->jobs())
        if (row.number == "J-0104" && !session.open(row.id))
            return 3;
    session.apply(edits::limit(session.document(), "time", "2 h"));
    LiveFrame frame(session);
    frame.setRate(5000);
    if (const QString why = frame.prepare(); !why.isEmpty()) {
        std::fprintf(stderr, "%s\n", why.toUtf8().constData());
        return 4;
    }
    const auto settled = [&] { return !frame.waits(); };
    until(settled, 8000);
    frame.setPace(1);
    frame.zeroForce();
    frame.closeTopGrip();
    frame.closeBottomGrip();
    until(settled, 8000);
    frame.easeToZero();
    until([&] { return frame.shows("grip-second"); }, 60000);
    frame.putExtensometerOn();
    frame.setGuard(true);
    until(settled, 8000);
    for (const HoldBack& hold : frame.holds())
        frame.overrule(hold.code, "soak");
    const double before = processorTime(frame.own().processId());
    const double mine = processorTime(getpid());
    frame.start();
    if (!until([&] { return frame.takenRows() > 10000; }, 30000)) {
        std::fprintf(stderr, "%s\n", frame.holdBacks().join("; ").toUtf8().constData());
        return 5;
    }
    frame.holdOrGoOn(); // held under load, recorded all the time
    QElapsedTimer clock;
    clock.start();
    until([&] { return static_cast<double>(clock.elapsed()) > 1000 * seconds || !frame.running(); },
          static_cast<int>(1000 * seconds) + 5000);
    const double wall = static_cast<double>(clock.elapsed()) / 1000 + 2;
    const double machineShare = (processorTime(frame.own().processId()) - before) / wall;
    const double share = (processorTime(getpid()) - mine) / wall;
    const double machinePeak = peakMegabytes(frame.own().processId());
    const double peak = peakMegabytes(getpid());
    const auto taken = frame.takenRows();
    frame.stop();
    until([&] { return !frame.running(); }, 20000);
    const auto record = session.record(session.current());
    if (!record)
        return 6;
    const Column& time = record->find("time")->values;
    size_t wrong = 0;
    for (size_t i = 1; i < time.size(); ++i)
        wrong += std::abs(time[i] - time[i - 1] - 0.0002) > 1e-6;
    const double read = peakMegabytes(getpid()); // the whole record loaded and read
    std::printf("%.0f s, %zu channels: %zu rows kept of %llu taken, %zu steps out of line\n", wall,
                record->channels.size(), record->rows(), static_cast<unsigned long long>(taken), wrong);
    std::printf(
        "application side %.1f %% of a core, %.0f MB while it ran, %.0f MB once it was read; frame %.1f %%, %.0f MB\n",
        100 * share, peak, read, 100 * machineShare, machinePeak);
    return wrong == 0 && record->rows() >= taken ? 0 : 1;
}
