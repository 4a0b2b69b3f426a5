// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "history/pyramid.h"

#include <QDateTime>
#include <QWidget>

#include <memory>
#include <optional>
#include <utility>

namespace fortitor {

/// A long signal, from the whole to a single stroke: the wheel zooms about the hand, dragging pans, a click puts the
/// stretch that is looked at. By keys: ← → + − 0, Enter puts the stretch into the middle.
class SignalView : public QWidget {
    Q_OBJECT
public:
    explicit SignalView(QWidget* parent = nullptr);

    void show(std::shared_ptr<const HistoryFile> file, std::shared_ptr<const Pyramid> pyramid);
    void clear(const QString& words);
    /// Of the first reading; invalid: time is counted from it.
    void setBegins(const QDateTime& begins);
    /// Readings that are looked at elsewhere.
    void setStretch(double from, double to);
    [[nodiscard]] std::pair<double, double> window() const { return {from_, to_}; }
    /// Readings.
    void showWindow(double from, double to);
    void showAll();
    void zoomAt(double pixel, double factor);
    /// "3 d 14:02:11", or the day and hour where it is known when the history began.
    [[nodiscard]] QString timeWords(double reading, double stepSeconds = 1) const;
    /// For tests and benchmarks: what a window is drawn from.
    [[nodiscard]] bool ready() const { return file_ && pyramid_; }

signals:
    void stretchAsked(double reading);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent*) override { showAll(); }
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF area() const;
    void paintSignal(QPainter& painter, const QRectF& area, const std::vector<Extent>& columns, double low,
                     double high) const;
    void paintTime(QPainter& painter, const QRectF& area) const;
    [[nodiscard]] double readingAt(double pixel) const;
    std::shared_ptr<const HistoryFile> file_;
    std::shared_ptr<const Pyramid> pyramid_;
    QDateTime begins_;
    QString emptyWords_;
    double from_ = 0, to_ = 1;
    std::pair<double, double> stretch_{0, 0};
    double grabbed_ = 0;
    bool grabs_ = false, moved_ = false;
};

} // namespace fortitor
