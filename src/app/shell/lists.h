// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/live_frame.h"
#include "app/model/session.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QTableWidget>
#include <QVBoxLayout>
#include <QWidget>

namespace fortitor {

/// What is due: specimens waiting, remarks open, calibrations running out.
class TodayPage : public QWidget {
    Q_OBJECT
public:
    TodayPage(Session& session, QWidget* parent = nullptr);
    void refresh();
    [[nodiscard]] int due() const { return due_; }
    /// The frame whose fatigue run is told.
    void setFrame(const LiveFrame& frame) { frame_ = &frame; }

signals:
    void openAsked(std::int64_t id);
    void pieceAsked(std::int64_t id, int specimen);
    void instrumentsAsked();
    void jobsAsked();

private:
    bool listCures();
    bool listRun();
    void listTesters();
    void addLine(const QString& words, const QString& more, const QString& action, const std::function<void()>& act);
    void say(const QString& words, const char* kind, int above, int below);
    std::vector<std::pair<QString, std::function<void()>>>
        wanted_; ///< what stands in the list: its key, and how it is made
    QString shown_;
    void line(const QString& words, const QString& more, const QString& action, std::function<void()> act);
    Session& session_;
    const LiveFrame* frame_ = nullptr;
    QVBoxLayout* list_ = nullptr;
    int due_ = 0;
};

/// Published values, to look up: materials, scales of hardness, limits of reference blocks.
class ReferencePage : public QWidget {
    Q_OBJECT
public:
    explicit ReferencePage(Session& session, QWidget* parent = nullptr);

private:
    void fill();
    void showPart(int part);
    QStackedWidget* parts_ = nullptr;
    std::vector<QPushButton*> heads_;
    QLineEdit* search_ = nullptr;
    QTableWidget* table_ = nullptr;
};

/// Cells, grips, extensometers, callipers with class, capacity and due date.
class InstrumentsPage : public QWidget {
    Q_OBJECT
public:
    InstrumentsPage(Session& session, LiveFrame& frame, QWidget* parent = nullptr);
    void refresh();

signals:
    void pieceAsked(std::int64_t id, int specimen);

private:
    void fill();
    void keep(int row);
    void add();
    void check();
    void history();
    Session& session_;
    LiveFrame& frame_;
    QLabel* history_ = nullptr;
    QTableWidget* table_ = nullptr;
    QLabel* message_ = nullptr;
    bool filling_ = false;
};

/// The journal of changes, the check of its chain, a backup copy.
class LogbookPage : public QWidget {
    Q_OBJECT
public:
    LogbookPage(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void check();
    Session& session_;
    QLineEdit* search_ = nullptr;
    QTableWidget* table_ = nullptr;
    QLabel* where_ = nullptr;
    QLabel* found_ = nullptr;
};

} // namespace fortitor
