// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/hardness/desk.h"

#include <QWidget>

namespace fortitor {

/// The readings of a piece, a line an indent: number, place, what was read, hardness. The last ones are in sight; a click
/// chooses one.
class IndentList : public QWidget {
    Q_OBJECT
public:
    explicit IndentList(QWidget* parent = nullptr);
    /// `texts`: what was keyed of each, in words.
    void show(const Desk& desk, std::vector<QString> texts);
    void setChosen(std::optional<size_t> indent);
    [[nodiscard]] QSize sizeHint() const override { return {292, 180}; }
    [[nodiscard]] QPointF spotOf(size_t indent) const;

signals:
    void indentChosen(size_t indent);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    [[nodiscard]] size_t inSight() const;
    [[nodiscard]] size_t first() const;
    std::vector<PieceIndent> indents_;
    std::vector<QString> texts_;
    std::optional<size_t> chosen_;
    size_t back_ = 0; ///< lines scrolled up from the last
};

} // namespace fortitor
