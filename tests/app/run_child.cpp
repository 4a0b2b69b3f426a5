// SPDX-License-Identifier: GPL-3.0-or-later
// The application without its window: loads one specimen of a logbook on a frame of its own and tells, row
// by row, what it has taken and what it has kept. Killed by a test at any moment.
#include "app/model/live_frame.h"

#include "wait.h"

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QSettings>

#include <cstdio>

using namespace fortitor;

namespace {

using test::until;

} // namespace

/// run_child LOGBOOK JOB SPECIMEN PACE RATE
int main(int argc, char** argv)
{
    QCoreApplication app(argc, argv);
    if (argc < 6)
        return 2;
    auto book = Logbook::open(QString::fromUtf8(argv[1]));
    if (!book) {
        std::fprintf(stderr, "%s\n", book.problem().text().c_str());
        return 3;
    }
    Session session(**book);
    QObject::connect(&session, &Session::failed,
                     [](const QString& words) { std::fprintf(stderr, "%s\n", words.toUtf8().constData()); });
    if (!session.open(std::atoll(argv[2])))
        return 3;
    session.setCurrent(static_cast<size_t>(std::atoi(argv[3])));
    LiveFrame frame(session);
    frame.setRate(std::atof(argv[5]));
    if (const QString why = frame.prepare(); !why.isEmpty()) {
        std::fprintf(stderr, "%s\n", why.toUtf8().constData());
        return 4;
    }
    const auto settled = [&] { return !frame.waits(); };
    if (!until(settled))
        return 5;
    frame.setPace(50);
    frame.zeroForce();
    frame.closeTopGrip();
    frame.closeBottomGrip();
    if (!until(settled))
        return 5;
    frame.easeToZero();
    if (!until([&] { return frame.shows("grip-second"); }))
        return 5;
    frame.putExtensometerOn();
    frame.setGuard(true);
    frame.setPace(std::atof(argv[4]));
    if (!until([&] { return settled() && frame.holdBacks().isEmpty(); })) {
        std::fprintf(stderr, "%s\n", frame.holdBacks().join("; ").toUtf8().constData());
        return 6;
    }
    frame.start();
    if (!until([&] { return settled() && frame.running(); }))
        return 6;
    std::printf("machine %lld\n", static_cast<long long>(frame.own().processId()));
    QElapsedTimer clock;
    clock.start();
    std::uint64_t told = 0;
    QObject::connect(&frame.client(), &MachineClient::samples, [&] {
        if (frame.takenRows() == told)
            return;
        told = frame.takenRows();
        std::printf("%lld %llu %llu\n", static_cast<long long>(clock.elapsed()), static_cast<unsigned long long>(told),
                    static_cast<unsigned long long>(frame.keptRows()));
        std::fflush(stdout);
    });
    QObject::connect(&frame, &LiveFrame::finished, [&] {
        std::printf("ended\n");
        std::fflush(stdout);
        QCoreApplication::quit();
    });
    std::fflush(stdout);
    return QCoreApplication::exec();
}
