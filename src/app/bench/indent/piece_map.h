// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/hardness/desk.h"

#include <QWidget>

#include <optional>
#include <vector>

namespace fortitor {

/// A piece to scale with what was pressed into it and what is planned: each indent in its shape, a circle about it that
/// no other may reach into, the next one pointed out. A click asks for a place.
class PieceMap : public QWidget {
    Q_OBJECT
public:
    explicit PieceMap(QWidget* parent = nullptr);
    void show(const Desk& desk, std::optional<double> layer);
    /// The indent that is pointed out, from 0; none: the next one.
    void setChosen(std::optional<size_t> indent);
    /// Whether a click may ask for a place.
    void setPlanning(bool on);
    [[nodiscard]] QSize sizeHint() const override { return {520, 320}; }
    /// Where a place of the piece stands, for the hand and for tests.
    [[nodiscard]] QPointF spotOf(double x, double y) const;

signals:
    void placeAsked(double x, double y);
    void indentChosen(size_t indent);
    void plannedChosen(size_t place);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent*) override;
    bool event(QEvent* event) override;

private:
    [[nodiscard]] QRectF extent() const; ///< of what is shown, mm
    void settle();
    void paintPiece(QPainter& painter) const;
    void paintOutline(QPainter& painter, const QRectF& face, double band) const;
    void paintIndent(QPainter& painter, QPointF at, double across, const QColor& ink, bool filled) const;
    void paintCircle(QPainter& painter, QPointF at, const QColor& ink, bool dashed) const;
    void paintPlanned(QPainter& painter) const;
    void paintMade(QPainter& painter) const;
    void paintUsed(QPainter& painter) const;
    void paintScale(QPainter& painter) const;
    [[nodiscard]] std::optional<size_t> madeAt(QPointF at) const;
    [[nodiscard]] std::optional<size_t> plannedAt(QPointF at) const;
    [[nodiscard]] Spot placeAt(QPointF at) const;

    std::optional<Desk> desk_;
    std::optional<double> layer_;
    std::optional<size_t> chosen_;
    std::optional<QPointF> hand_;
    bool planning_ = false;
    QRectF room_; ///< mm
    double perMm_ = 1;
    QPointF origin_; ///< pixel of (0, 0)
};

} // namespace fortitor
