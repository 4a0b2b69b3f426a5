// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QLocalSocket>
#include <QTcpSocket>

namespace fortitor {

/// What a TCP and a local socket both do, but not through their common base.
inline void flushSocket(QIODevice* device)
{
    if (auto* tcp = qobject_cast<QTcpSocket*>(device))
        tcp->flush();
    else if (auto* local = qobject_cast<QLocalSocket*>(device))
        local->flush();
}

inline void abortSocket(QIODevice* device)
{
    if (auto* tcp = qobject_cast<QTcpSocket*>(device))
        tcp->abort();
    else if (auto* local = qobject_cast<QLocalSocket*>(device))
        local->abort();
}

} // namespace fortitor
