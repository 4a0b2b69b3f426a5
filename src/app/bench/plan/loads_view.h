// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/widgets/plot_view.h"

#include <QLabel>
#include <QPushButton>
#include <QWidget>

namespace fortitor {

/// On Plan: the loads of a run over its time with the levels they are named by, and what follows from them.
class LoadsView : public QWidget {
    Q_OBJECT
public:
    explicit LoadsView(Session& session, QWidget* parent = nullptr);
    void refresh();

signals:
    void arrestAsked();

private:
    Session& session_;
    PlotView* picture_ = nullptr;
    QLabel* words_ = nullptr;
    QPushButton* arrest_ = nullptr;
};

} // namespace fortitor
