// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/busy.h"

#include <QCoreApplication>

namespace fortitor {

Busy::Busy(const QString& words, QWidget* parent) : dialog_(words, "Stop", 0, 1000, parent)
{
    dialog_.setObjectName("busy");
    dialog_.setWindowModality(Qt::WindowModal);
    dialog_.setMinimumDuration(400);
    dialog_.setAutoReset(false);
    dialog_.setValue(0);
}

Progress Busy::progress()
{
    return part(0, 1);
}

Progress Busy::part(int done, int of)
{
    return [this, done, of](double share) {
        dialog_.setValue(static_cast<int>(1000 * (done + share) / of));
        QCoreApplication::processEvents();
        return !dialog_.wasCanceled();
    };
}

} // namespace fortitor
