// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/strike/pendulum_drawing.h"

#include <QWidget>

#include <optional>

namespace fortitor {

/// The pendulum as a widget.
class PendulumPicture : public QWidget {
    Q_OBJECT
public:
    explicit PendulumPicture(QWidget* parent = nullptr);
    void show(const StrikeDesk& desk, std::optional<double> rise);
    /// The simulated hammer as it stands; nothing: none is worked.
    void showLive(const PendulumStatus* status);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    StrikeDesk desk_;
    std::optional<double> rise_;
    std::optional<PendulumStatus> live_;
};

} // namespace fortitor
