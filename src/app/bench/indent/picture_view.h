// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/hardness/from_picture.h"

#include <QImage>
#include <QWidget>

#include <optional>

namespace fortitor {

/// The picture of an indent with the ends of its two lengths: they are dragged, or chosen and nudged by keys; a glass
/// shows the chosen one enlarged. The wheel goes closer, dragging the ground moves the picture.
class PictureView : public QWidget {
    Q_OBJECT
public:
    PictureView(QWidget* parent = nullptr);
    void show(const GreyPicture& picture);
    void clear();
    void setMarked(const std::optional<MarkedIndent>& marked, IndentShape shape);
    /// mm; 0: not known, no bar is drawn.
    void setPixel(double side);
    /// Ends of an indent that was read before stay where they are.
    void setFixed(bool fixed);
    /// The one before it, small and pale beside the new one.
    void setLast(const QImage& picture, const QString& words);
    [[nodiscard]] const QImage& image() const { return image_; }
    /// Two clicks follow, on both ends of a bar.
    void askBar();
    [[nodiscard]] bool asksBar() const { return bar_; }
    [[nodiscard]] QPointF onScreen(const PixelPoint& p) const;
    [[nodiscard]] std::optional<size_t> chosen() const { return chosen_; }

signals:
    void moved(size_t end, PixelPoint to);
    void barPlaced(PixelPoint from, PixelPoint to);
    void takeAsked();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;

private:
    [[nodiscard]] double factor() const; ///< screen px of a picture's px
    [[nodiscard]] QPointF origin() const; ///< where the picture's corner is
    [[nodiscard]] PixelPoint inPicture(const QPointF& at) const;
    void paintRim(QPainter& p) const;
    void paintEnds(QPainter& p) const;
    void paintBar(QPainter& p) const;
    void paintGlass(QPainter& p) const;
    void paintLast(QPainter& p) const;

    QImage image_, last_;
    QString lastWords_;
    std::optional<MarkedIndent> marked_;
    IndentShape shape_ = IndentShape::Square;
    double pixel_ = 0, closer_ = 1;
    QPointF middle_{0.5, 0.5}; ///< of the view, in shares of the picture
    std::optional<size_t> chosen_;
    std::optional<PixelPoint> barFrom_;
    QPointF grabbed_;
    bool fixed_ = false, bar_ = false, dragging_ = false, panning_ = false;
};

} // namespace fortitor
