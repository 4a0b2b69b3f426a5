// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

#include <QAbstractButton>
#include <QLabel>
#include <QLineEdit>
#include <QWidget>

#include <vector>

class QGridLayout;
class QScrollArea;

namespace fortitor {

/// A test as it is chosen: its piece drawn, what it answers, its name.
class TestCard : public QAbstractButton {
    Q_OBJECT
public:
    TestCard(const Method& method, QWidget* parent);
    [[nodiscard]] const Method& method() const { return method_; }
    /// Whether Enter takes it while one types.
    void setFirst(bool first);
    /// Whether it is found by all of these words: 2 in what it shows, 1 by one of its results, 0 not.
    [[nodiscard]] int fits(const QString& words) const;
    [[nodiscard]] QSize sizeHint() const override { return {270, 108}; }

signals:
    void steered(int key);

protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    const Method& method_;
    QString shown_, results_; ///< what it is found by
    bool first_ = false;
};

/// Where a job begins: the tests drawn, each by its question; in an empty logbook the other ways to begin too.
class StartPage : public QWidget {
    Q_OBJECT
public:
    explicit StartPage(QWidget* parent = nullptr);
    /// `empty`: there is no job yet.
    void enter(bool empty);

signals:
    void chosen(const QString& method);
    void importAsked();
    void demoAsked();
    void left();

protected:
    void resizeEvent(QResizeEvent*) override { arrange(); }
    bool eventFilter(QObject* watched, QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void arrange();
    void steer(const TestCard* from, int key);
    [[nodiscard]] std::vector<TestCard*> fitting() const;
    QLabel* lead_ = nullptr;
    QLabel* none_ = nullptr;
    QLineEdit* search_ = nullptr;
    QWidget* other_ = nullptr;
    QScrollArea* scroll_ = nullptr;
    QGridLayout* grid_ = nullptr;
    std::vector<TestCard*> cards_;
    int columns_ = 4;
    bool empty_ = false;
};

} // namespace fortitor
