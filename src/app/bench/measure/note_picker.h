// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

#include <QPushButton>

namespace fortitor {

/// Something looked at and named, picked from small drawings; or on a cross-section.
class NotePicker : public QPushButton {
    Q_OBJECT
public:
    NotePicker(const NoteSpec& note, QWidget* parent = nullptr);
    void setCurrent(const QString& choice);
    [[nodiscard]] QString current() const { return current_; }
    void open();

signals:
    void picked(const QString& choice); ///< empty: not noted any more

private:
    void openMenu();
    void openSection();
    NoteSpec note_;
    QString current_;
};

/// The cross-section on which a place of failure is picked.
class SectionPick : public QWidget {
    Q_OBJECT
public:
    SectionPick(const NoteSpec& note, std::string chosen, QWidget* parent);
    [[nodiscard]] QPoint spotOf(const std::string& choice) const;

signals:
    void picked(const QString& choice);

protected:
    void paintEvent(QPaintEvent*) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF room() const { return {24, 40, 150, height() - 64.0}; }
    NoteSpec note_;
    std::string chosen_;
    std::string hovered_;
};

} // namespace fortitor
