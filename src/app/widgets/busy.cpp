// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/busy.h"

#include <QApplication>
#include <QCoreApplication>
#include <QKeyEvent>
#include <QTimer>

#include <atomic>
#include <thread>

namespace fortitor {

InputHeld::InputHeld()
{
    qApp->installEventFilter(this);
}

InputHeld::~InputHeld()
{
    qApp->removeEventFilter(this);
}

bool InputHeld::eventFilter(QObject* watched, QEvent* event)
{
    switch (event->type()) {
    case QEvent::KeyPress:
    case QEvent::ShortcutOverride:
        if (static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape)
            return false;
        break;
    case QEvent::KeyRelease:
    case QEvent::MouseButtonPress:
    case QEvent::MouseButtonRelease:
    case QEvent::MouseButtonDblClick:
    case QEvent::Wheel:
    case QEvent::Drop:
    case QEvent::Close: break;
    default: return false;
    }
    for (const QObject* at = watched; at; at = at->parent())
        if (at->objectName() == "busy" || at->objectName().endsWith("Stop"))
            return false;
    return true;
}

void InputHeld::turn()
{
    QTimer wake;
    wake.setSingleShot(true);
    wake.start(20);
    QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
}

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

void Busy::runBeside(const std::function<void(const Progress&)>& work)
{
    std::atomic<double> share = 0;
    std::atomic<bool> stop = false;
    std::atomic<bool> done = false;
    std::thread thread([&] {
        work([&](double now) {
            share = now;
            return !stop.load();
        });
        done = true;
    });
    const InputHeld held;
    while (!done) {
        InputHeld::turn();
        dialog_.setValue(static_cast<int>(1000 * share));
        stop = stop || dialog_.wasCanceled();
    }
    thread.join();
}

} // namespace fortitor
