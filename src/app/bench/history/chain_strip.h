// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "history/seen_stretch.h"

#include <QWidget>

#include <vector>

namespace fortitor {

/// What a box of the chain shows: a picture of the stretch, its setting and what it came to.
struct StripBox {
    QString name, setting, found;
    bool off = false, canBeOff = false;
    std::vector<double> x{}, y{};
    std::vector<double> bars{};
};

/// The steps that a history goes through, as drawn boxes one behind the other; the one at hand is chosen by a click or
/// ← →, Space switches it off and on.
class ChainStrip : public QWidget {
    Q_OBJECT
public:
    explicit ChainStrip(QWidget* parent = nullptr);
    void show(std::vector<StripBox> boxes);
    void setChosen(size_t box);
    [[nodiscard]] size_t chosen() const { return chosen_; }
    [[nodiscard]] QRectF boxAt(size_t box) const;
    [[nodiscard]] const std::vector<StripBox>& boxes() const { return boxes_; }

signals:
    void chosenChanged(size_t box);
    void switched(size_t box);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    void paintPicture(QPainter& painter, const StripBox& box, const QRectF& room) const;
    void choose(size_t box);
    std::vector<StripBox> boxes_;
    size_t chosen_ = 0;
};

} // namespace fortitor
