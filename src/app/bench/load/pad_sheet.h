// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/pad.h"

#include <QWidget>

#include <set>

namespace fortitor {

/// The readings as on a sheet of paper: a row a channel, a column a step. Clicking a cell goes to it.
class PadSheet : public QWidget {
    Q_OBJECT
public:
    explicit PadSheet(QWidget* parent = nullptr);
    /// `row` and `channel` are where the next reading goes; `corrected` marks cells by "step/channel".
    void show(const PadTable& table, size_t channel, size_t row, std::vector<std::string> corrected);
    /// Cells, by "step/channel", that are not kept yet: a dotted line stands under them.
    void showKeeping(std::set<std::string> keeping);
    /// Where a cell stands, for the hand and for tests.
    [[nodiscard]] QRectF cellAt(size_t channel, size_t row) const;
    [[nodiscard]] QSize sizeHint() const override;

signals:
    void cellChosen(size_t channel, size_t row);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void resizeEvent(QResizeEvent*) override;

private:
    void paintCell(QPainter& painter, size_t c, size_t r) const;
    [[nodiscard]] double widest() const;
    void settle();
    PadTable table_;
    size_t channel_ = 0;
    size_t row_ = 0;
    double scrolled_ = 0;
    std::vector<std::string> corrected_;
    std::set<std::string> keeping_;
};

} // namespace fortitor
