// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/reading.h"

#include <QLineEdit>

namespace fortitor {

/// A big field of the reading pad. Enter takes what is typed, or the target that stands in it in light ink;
/// X and I in an empty field mark a missed reading and ask the instruments.
class PadField : public QLineEdit {
    Q_OBJECT
public:
    PadField(const QString& name, QWidget* parent = nullptr);
    ReadingScale scale;
    /// "queried", "wrong" or "" for neither.
    void mark(const char* state);

signals:
    void taken();
    void missed();
    void instruments();
    void back();
    void on();
    void pasted(const QString& table);

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
};

} // namespace fortitor
