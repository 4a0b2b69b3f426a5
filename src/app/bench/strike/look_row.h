// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/specs.h"

#include <QLabel>
#include <QWidget>

namespace fortitor {

/// The choices of a note side by side, each with its drawing and its digit: one key picks.
class LookRow : public QWidget {
    Q_OBJECT
public:
    explicit LookRow(const NoteSpec& note, QWidget* parent = nullptr);
    void setCurrent(const std::string& choice);
    [[nodiscard]] const std::string& key() const { return note_.key; }
    [[nodiscard]] QSize sizeHint() const override { return {280, 58}; }

signals:
    void picked(const QString& choice);
    void goOn();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    [[nodiscard]] QRectF boxOf(size_t i) const;
    void pick(size_t i);
    NoteSpec note_;
    std::string current_;
};

} // namespace fortitor
