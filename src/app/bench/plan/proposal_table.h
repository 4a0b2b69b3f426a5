// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QLabel>
#include <QTableWidget>

namespace fortitor {

/// The ways to test the piece at hand, the best first, and why the others fall away. Enter or a double click takes one.
class ProposalTable : public QWidget {
    Q_OBJECT
public:
    explicit ProposalTable(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void take(int row);
    [[nodiscard]] bool isChosen(const Proposal& proposal) const;
    Session& session_;
    std::vector<Proposal> proposals_;
    QLabel *head_ = nullptr, *words_ = nullptr;
    class QPushButton* beside_ = nullptr;
    class ScaleLadder* ladder_ = nullptr;
    QTableWidget* table_ = nullptr;
};

} // namespace fortitor
