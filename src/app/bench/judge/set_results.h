// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/read/result_card.h"
#include "app/bench/read/working_drawer.h"
#include "app/model/session.h"
#include "app/widgets/plot_view.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

namespace fortitor {

/// What only the set as a whole gives: a card for each result, and how the chosen one came about. Hidden for methods
/// without such results.
class SetResults : public QWidget {
    Q_OBJECT
public:
    SetResults(Session& session, QWidget* parent = nullptr);
    void refresh();
    /// Whether the set shows itself by a plot of its own.
    [[nodiscard]] bool plotted() const { return session_.outcome().set && !session_.outcome().set->views.empty(); }
    void choose(const QString& symbol);

private:
    Session& session_;
    QHBoxLayout* row_ = nullptr;
    std::vector<ResultCard*> cards_;
    PlotView* plot_ = nullptr;
    class ToldColumn* told_ = nullptr; ///< the first view of the set
    void planNext();
    QWidget* next_ = nullptr; ///< what would tell most next
    QLabel* nextWords_ = nullptr;
    QPushButton* nextAct_ = nullptr;
    WorkingDrawer* working_ = nullptr; ///< made with the first set that has results
    QString chosen_;
};

} // namespace fortitor
