// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QCoreApplication>
#include <QThreadPool>
#include <QTimer>

#include <malloc.h>

#include <cstddef>

namespace fortitor {

/// After a record of so many rows was read: what that took goes back to the system a little later, beside the window,
/// where it is much. A short reading keeps its memory, for the next needs it at once. On the interface's thread.
inline void giveMemoryBack(size_t rows)
{
    constexpr size_t many = 2'000'000;
    constexpr int later = 1500; // ms
    if (rows > many)
        QTimer::singleShot(later, qApp, [] { QThreadPool::globalInstance()->start([] { malloc_trim(0); }); });
}

} // namespace fortitor
