// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/hardness/ladder.h"

#include <QWidget>

namespace fortitor {

/// Scales of hardness side by side on one axis, with a number drawn across them all.
class ScaleLadder : public QWidget {
    Q_OBJECT
public:
    explicit ScaleLadder(QWidget* parent = nullptr);
    /// HV of what is drawn across; nothing: no line.
    void setMark(std::optional<double> hv, const QString& words = {});
    [[nodiscard]] QSize sizeHint() const override { return {640, 190}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    [[nodiscard]] double at(double hv) const;
    std::vector<LadderRung> rungs_ = scaleLadder();
    std::optional<double> mark_;
    QString words_;
};

} // namespace fortitor
