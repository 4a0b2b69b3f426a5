// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/model/tester_work.h"
#include "app/widgets/plot_view.h"

#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QTableWidget>

namespace fortitor {

/// The checks of a tester on reference blocks over time: errors with their limits, what stands out, and what was read
/// in doubt.
class BlockDialog : public QDialog {
    Q_OBJECT
public:
    /// Begins with that tester and scale, where there are checks of them.
    BlockDialog(Session& session, const std::string& tester, const std::string& scale, QWidget* parent = nullptr);
    /// What a person asked to see: a piece in doubt, or a check.
    [[nodiscard]] const std::optional<TesterRow>& asked() const { return asked_; }

private:
    void build();
    void showOne();
    void list(const std::vector<TesterRow>& own, const std::vector<TesterRow>& checks);
    void go(int row);

    Session& session_;
    std::vector<TesterRow> all_, listed_;
    std::vector<std::pair<std::string, std::string>> testers_;
    std::optional<TesterRow> asked_;
    QComboBox* which_ = nullptr;
    PlotView* plot_ = nullptr;
    QLabel* words_ = nullptr;
    QTableWidget* table_ = nullptr;
};

/// Errors of checks in their order, with the limits of the tester and of the chart.
Plot plotOfChecks(const std::vector<TesterWork>& checks, const BlockHistory& history);

} // namespace fortitor
