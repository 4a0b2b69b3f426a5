// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/display.h"

#include <QWidget>

#include <optional>

namespace fortitor {

/// A result as a slip of paper: symbol, name, value, uncertainty, and where the value lies between
/// what is wanted and what is published.
class ResultCard : public QWidget {
    Q_OBJECT
public:
    explicit ResultCard(QString symbol, QWidget* parent = nullptr);
    void show(const ResultSpec& spec, const Result& result, std::optional<double> published, std::optional<double> min,
              std::optional<double> max);
    void setChosen(bool chosen);
    [[nodiscard]] const QString& symbol() const { return symbol_; }
    [[nodiscard]] QString valueText() const;

signals:
    void chosen(const QString& symbol);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;

private:
    void paintPlace(QPainter& painter) const;
    QString symbol_;
    QString name_;
    ShownFigure figure_;
    std::optional<double> value_, published_, min_, max_;
    bool chosen_ = false;
};

} // namespace fortitor
