// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/widgets/plot_view.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>

namespace fortitor {

/// Parts of a piece, such as weld, heat-affected zone and base: a brush puts readings into one of them, and each has its
/// statistics.
class ZoneBar : public QWidget {
    Q_OBJECT
public:
    ZoneBar(Session& session, PlotView* plot, QWidget* parent = nullptr);
    /// Shown where the outcome has single readings.
    void show(const Outcome* outcome);
    /// The readings of the zones on top of a plot whose points are named by their numbers.
    static void colour(Plot& plot, const Outcome& outcome);

private:
    void brushed(const QStringList& names);
    void keyed();
    void put(const std::vector<size_t>& numbers);

    Session& session_;
    PlotView* plot_ = nullptr;
    QComboBox* zone_ = nullptr;
    QLineEdit* numbers_ = nullptr;
    QPushButton *brush_ = nullptr, *out_ = nullptr;
    QLabel* words_ = nullptr;
};

} // namespace fortitor
