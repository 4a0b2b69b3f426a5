// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/quantity.h"

#include <QLineEdit>

#include <functional>

namespace fortitor {

/// A field for a number with its unit. Fractions and other units are understood as typed. Enter
/// hands the text over and asks to go on; a reading that looks like a slip is queried first and
/// taken on a second Enter.
class QuantityField : public QLineEdit {
    Q_OBJECT
public:
    explicit QuantityField(Kind kind, QWidget* parent = nullptr);

    /// Text as stored ("10.02 mm"); the base unit is shown apart, in a lighter ink.
    void setStored(const QString& text);
    /// What would be stored now: trimmed.
    [[nodiscard]] QString typed() const { return text().trimmed(); }
    /// Words to query a reading with, empty when it looks right.
    std::function<QString(const Quantity&)> suspicious;

signals:
    void committed(const QString& text); ///< a new text that reads, or empty
    void goOn();                         ///< Enter on a text that stands
    void goBack();
    void message(const QString& words);  ///< query or problem; empty when it is gone

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    bool check(bool insist);
    void mark(const char* property, bool on);

    Kind kind_;
    QString stored_;
    QString queried_;
};

} // namespace fortitor
