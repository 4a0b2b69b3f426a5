// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/demo.h"
#include "app/shell/main_window.h"
#include "app/theme/theme.h"
#include "app/widgets/quantity_field.h"

#include <gtest/gtest.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QLineEdit>
#include <QPushButton>
#include <QSettings>
#include <QTemporaryDir>
#include <QtTest/QTest>

namespace fortitor::test {

/// The real window on a logbook of its own.
class AppTest : public testing::Test {
protected:
    void SetUp() override
    {
        Session::setPatience(qEnvironmentVariableIsSet("FORTITOR_BESIDE") ? 8 : -1);
        QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, folder.path());
        QSettings().clear();
        qputenv("XDG_DATA_HOME", folder.path().toUtf8());
        start();
    }
    void TearDown() override
    {
        window.reset();
        book.reset();
    }
    void start()
    {
        window.reset();
        book.reset();
        auto opened = Logbook::open(folder.filePath("book.sqlite"));
        ASSERT_TRUE(opened) << opened.problem().text();
        book = std::move(*opened);
        window = std::make_unique<MainWindow>(*book);
        window->resize(1280, 800);
        window->show();
        ASSERT_TRUE(QTest::qWaitForWindowExposed(window.get()));
        window->activateWindow();
        ASSERT_TRUE(QTest::qWaitForWindowActive(window.get()));
    }
    /// The demo is filled once and copied: each test has its own.
    void startWithDemo()
    {
        static QTemporaryDir once;
        const QString filled = once.filePath("demo.sqlite");
        if (!QFile::exists(filled)) {
            auto opened = Logbook::open(filled);
            ASSERT_TRUE(opened && fillDemo(**opened));
        }
        window.reset();
        book.reset();
        for (const char* end : {"", "-wal", "-shm"})
            QFile::remove(folder.filePath("book.sqlite") + end);
        ASSERT_TRUE(QFile::copy(filled, folder.filePath("book.sqlite")));
        start();
        window->go(MainWindow::Jobs);
    }
    /// A piece of a job of the demo at a stage, with all that hangs on it worked out.
    void openAt(const char* number, int specimen, Stage stage)
    {
        window->openJob(jobCalled(number), specimen, static_cast<int>(stage));
        QApplication::processEvents();
        settle();
    }
    std::int64_t jobCalled(const QString& number)
    {
        for (const JobRow& row : book->jobs())
            if (row.number == number)
                return row.id;
        ADD_FAILURE() << "no job " << number.toStdString();
        return 0;
    }
    template <class W> W* find(const QString& name)
    {
        QApplication::processEvents();
        W* found = nullptr;
        for (W* w : window->findChildren<W*>(name))
            if (w->isVisible())
                found = w;
        EXPECT_TRUE(found) << name.toStdString();
        return found;
    }
    void click(const QString& name)
    {
        if (auto* button = find<QPushButton>(name))
            QTest::mouseClick(button, Qt::LeftButton);
        QApplication::processEvents();
        settle();
    }
    /// Until the frame has answered everything it was told, all is kept, and all is worked out.
    void settle()
    {
        session().finish();
        EXPECT_TRUE(until([&] { return session().working() == 0; })) << "the figures do not come";
        EXPECT_TRUE(until([&] { return !window->frame().waits(); }, 30000)) << "the frame does not answer";
        QApplication::processEvents();
    }
    /// Keys go to an open list first, then where the focus is, as a person's do.
    QWidget* keyTarget()
    {
        if (QWidget* popup = QApplication::activePopupWidget())
            return popup;
        // Without a window manager nobody gives the focus back when a list closes.
        if (!QApplication::activeModalWidget() && QApplication::activeWindow() != window.get()) {
            window->activateWindow();
            QTest::qWait(30);
        }
        return QApplication::focusWidget() ? QApplication::focusWidget() : static_cast<QWidget*>(window.get());
    }
    void type(const QString& text)
    {
        for (const QChar c : text)
            QTest::keyClicks(keyTarget(), QString(c));
        QApplication::processEvents();
    }
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier)
    {
        QTest::keyClick(keyTarget(), key, modifiers);
        QApplication::processEvents();
        settle();
    }
    template <class Until> bool until(Until done, int most = 20000)
    {
        QElapsedTimer clock;
        clock.start();
        while (!done() && clock.elapsed() < most)
            QApplication::processEvents(QEventLoop::AllEvents, 15);
        return done();
    }
    Session& session() { return window->session(); }

    QTemporaryDir folder;
    std::unique_ptr<Logbook> book;
    std::unique_ptr<MainWindow> window;
};

} // namespace fortitor::test
