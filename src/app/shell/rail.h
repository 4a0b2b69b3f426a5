// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QStringList>
#include <QWidget>

namespace fortitor {

/// The rail at the far left: where one can be. Ctrl+1…6 from the keyboard.
class Rail : public QWidget {
    Q_OBJECT
public:
    explicit Rail(QStringList places, QWidget* parent = nullptr);
    void setCurrent(int index);
    [[nodiscard]] int current() const { return current_; }
    /// A small count beside a place; 0 hides it.
    void setCount(int index, int count);

signals:
    void chosen(int index);
    void menuAsked(const QPoint& at);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent*) override;

private:
    [[nodiscard]] QRect cell(int index) const;
    [[nodiscard]] QRect menuCell() const;
    QStringList places_;
    QList<int> counts_;
    int current_ = 0;
    int hovered_ = -1;
};

} // namespace fortitor
