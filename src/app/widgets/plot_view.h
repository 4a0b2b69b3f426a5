// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "draw/plot.h"

#include <QImage>
#include <QStringList>
#include <QWidget>

#include <vector>

namespace fortitor {

/// A plot to look at: drag pans, the wheel zooms about the hand, arrows and + − do the same by key, 0 or a double click
/// shows all. A menu saves picture and data. Points and curves with a name can be chosen.
class PlotView : public QWidget {
    Q_OBJECT
public:
    explicit PlotView(QWidget* parent = nullptr);

    /// The window stays where the extent is the same as before, or where `keeps` asks for it.
    void show(Plot plot, bool keeps = false);
    void clear();
    /// What stands there when there is nothing to draw.
    void setEmptyWords(const QString& words) { emptyWords_ = words; }
    [[nodiscard]] const Plot& plot() const { return plot_; }
    [[nodiscard]] Chart chart() const;
    void showAll();
    /// Pixels.
    void panBy(const QPointF& pixels);
    /// Below 1: closer.
    void zoomAt(const QPointF& at, double factor);
    /// The named point that is pointed out.
    void setChosen(const QString& name);
    /// While it is on, dragging gathers named points instead of moving the window.
    void setBrush(bool on);
    [[nodiscard]] QImage picture(int width, int height) const;
    bool savePicture(const QString& path) const;
    bool saveData(const QString& path) const;
    /// Where a named point stands; for tests.
    [[nodiscard]] QPointF spotOf(const QString& name) const;

signals:
    void pointChosen(const QString& name);
    void brushed(const QStringList& names);

protected:
    /// Between the axes and the curves, and over all.
    virtual void paintUnder(QPainter&, const Chart&) const { }
    virtual void paintOver(QPainter&, const Chart&) const { }
    virtual void paintEmpty(QPainter& painter) const;
    /// Of a picture that is saved.
    [[nodiscard]] virtual QSize pictureSize() const { return {1000, 640}; }
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    bool event(QEvent* event) override;

private:
    void paintAll(QPainter& painter, const QRectF& room, const Chart& chart) const;
    [[nodiscard]] bool zoomed() const;
    [[nodiscard]] QString nameAt(const QPointF& at) const;
    void brushTo(const QPointF& at);
    [[nodiscard]] QPointF placeOf(const PlotSeries& series, size_t i) const;
    Plot plot_;
    bool any_ = false;
    double left_ = 0, right_ = 1, bottom_ = 0, top_ = 1; ///< shown, of the window
    QPointF grabbed_;
    bool grabs_ = false, moved_ = false, brush_ = false;
    std::vector<QPointF> trail_; ///< of the brush
    QStringList gathered_;
    QString chosen_, emptyWords_;
};

} // namespace fortitor
