// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/fatigue_sn/run_desk.h"

#include <QWidget>

namespace fortitor {

/// All pieces of the set over their cycles, a lane each: how far they came, how they ended, what is expected.
class RunLanes : public QWidget {
    Q_OBJECT
public:
    explicit RunLanes(QWidget* parent = nullptr);
    void show(const RunDesk& desk, size_t current);
    /// A piece that runs now; SIZE_MAX: none does.
    void showRunning(size_t lane, double cycles);
    /// Where a lane stands, for the hand and for tests.
    [[nodiscard]] QRectF laneAt(size_t lane) const;
    [[nodiscard]] QSize sizeHint() const override;

signals:
    void chosen(size_t lane);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    bool event(QEvent* event) override;

private:
    [[nodiscard]] double xOf(double cycles) const;
    [[nodiscard]] QRectF track() const;
    [[nodiscard]] QString wordsOf(const RunLane& lane) const;
    void paintAxis(QPainter& painter) const;
    void paintLane(QPainter& painter, size_t at) const;
    RunDesk desk_;
    size_t current_ = 0, running_ = SIZE_MAX;
    double runningCycles_ = 0;
};

} // namespace fortitor
