// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QCoreApplication>
#include <QElapsedTimer>

namespace fortitor::test {

/// Works events off until something is true, for so many ms at most.
template <class F> bool until(F done, int most = 8000)
{
    QElapsedTimer clock;
    clock.start();
    while (!done() && clock.elapsed() < most)
        QCoreApplication::processEvents(QEventLoop::AllEvents, 10);
    return done();
}

} // namespace fortitor::test
