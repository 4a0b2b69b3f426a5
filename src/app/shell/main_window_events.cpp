// SPDX-License-Identifier: GPL-3.0-or-later
// Keys and the window itself: where it lies, and how it closes.
#include "app/shell/main_window.h"

#include "app/bench/judge/key_dialog.h"
#include "app/bench/ribbon.h"
#include "app/shell/finder.h"
#include "app/shell/frame_strip.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "app/widgets/busy.h"
#include "app/widgets/hands.h"
#include "jobs/edits.h"
#include "jobs/exchange.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QSettings>

namespace fortitor {

bool MainWindow::eventFilter(QObject* watched, QEvent* event)
{
    // STOP comes before everything, from any page and over any dialog, whenever there is a frame. Only where
    // something moves the key has no other meaning.
    if (event->type() == QEvent::KeyPress || event->type() == QEvent::ShortcutOverride) {
        auto* key = static_cast<QKeyEvent*>(event);
        const bool moves = frame_.running() || frame_.moves();
        if (key->key() == Qt::Key_Escape
            && (moves
                || (event->type() == QEvent::KeyPress
                    && watched
                        == (QApplication::focusWidget() ? static_cast<QObject*>(QApplication::focusWidget())
                                                        : this)))) {
            frame_.stop();
            if (moves) {
                event->accept();
                return true;
            }
        }
    }
    // Ctrl+Z takes back in the field while something is being typed there, else in the job; Ctrl with
    // an arrow changes the specimen from inside a field too.
    if (event->type() == QEvent::ShortcutOverride) {
        auto* key = static_cast<QKeyEvent*>(event);
        const auto* edit = qobject_cast<QLineEdit*>(watched);
        const bool specimen =
            key->modifiers() == Qt::ControlModifier && (key->key() == Qt::Key_Left || key->key() == Qt::Key_Right);
        if (edit
            && (specimen || (key->matches(QKeySequence::Undo) && !edit->isUndoAvailable())
                || (key->matches(QKeySequence::Redo) && !edit->isRedoAvailable()))) {
            event->ignore();
            return true;
        }
    }
    if (event->type() == QEvent::KeyPress && watched->isWidgetType()
        && (session_.stage() == static_cast<int>(Stage::SetUp) || session_.stage() == static_cast<int>(Stage::Load))
        && page() && !qobject_cast<QLineEdit*>(watched)) {
        auto* key = static_cast<QKeyEvent*>(event);
        if (key->modifiers() == Qt::NoModifier && (key->key() == Qt::Key_Z || key->key() == Qt::Key_B)) {
            key->key() == Qt::Key_Z ? frame_.zeroForce() : frame_.putExtensometerOn();
            return true;
        }
    }
    return QMainWindow::eventFilter(watched, event);
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event)
{
    if (event->mimeData()->hasUrls())
        event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event)
{
    QStringList paths;
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile())
            paths << url.toLocalFile();
    event->acceptProposedAction();
    // Several records go to the specimens in turn, from the one at hand.
    for (int i = 0; i < paths.size(); ++i) {
        if (!takeIn(paths[i]))
            break;
        if (i + 1 < paths.size() && session_.isOpen())
            session_.setCurrent(session_.current() + 1);
    }
}

void MainWindow::showEvent(QShowEvent* event)
{
    QMainWindow::showEvent(event);
    fitsLeft_ = 8; // a window manager puts its frame around it a little later
    fitToScreen();
    fit_.start();
}

bool MainWindow::realScreen() const
{
    return screen() && QGuiApplication::platformName() != "offscreen"; // that one has any size
}

/// Takes what is free of the screen and no more, its frame included.
void MainWindow::fitToScreen()
{
    if (--fitsLeft_ <= 0)
        fit_.stop();
    if (!realScreen() || isMaximized() || isFullScreen() || isMinimized())
        return;
    const QRect free = screen()->availableGeometry();
    const QSize frame = frameGeometry().size() - size();
    setMinimumSize(QSize(1000, 660).boundedTo(free.size() - frame));
    const QSize fits = size().boundedTo(free.size() - frame);
    if (fits != size())
        resize(fits);
    const QRect outside = frameGeometry();
    const QPoint at(std::max(free.left(), std::min(outside.left(), free.right() + 1 - outside.width())),
                    std::max(free.top(), std::min(outside.top(), free.bottom() + 1 - outside.height())));
    if (at != outside.topLeft())
        move(at);
}

void MainWindow::closeEvent(QCloseEvent* event)
{
    if (frame_.running())
        frame_.stop();
    hands::finish();
    const int losses = session_.losses();
    session_.finish();
    if (session_.losses() != losses) { // what was not kept is told, and still typed where it was
        event->ignore();
        return;
    }
    QSettings settings;
    settings.setValue("geometry", saveGeometry());
    settings.setValue("lastStage", session_.stage());
    QMainWindow::closeEvent(event);
}

} // namespace fortitor
