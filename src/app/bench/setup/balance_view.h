// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/cai/gauges.h"

#include <QRectF>
#include <QWidget>

namespace fortitor {

/// Four gauges of a plate while its fixture is aligned: what each carries of the mean, and which corner to ease. On a
/// simulated frame a click on a corner eases it.
class BalanceView : public QWidget {
    Q_OBJECT
public:
    explicit BalanceView(QWidget* parent = nullptr);
    void show(const Balance& balance, bool simulated);
    [[nodiscard]] QSize sizeHint() const override { return {420, 132}; }
    /// Where a corner's bar stands; for tests.
    [[nodiscard]] QRectF barOf(Corner corner) const;

signals:
    void easeAsked(Corner corner);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    Balance balance_;
    bool simulated_ = false;
};

} // namespace fortitor
