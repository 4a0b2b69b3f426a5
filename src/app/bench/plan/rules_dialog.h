// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>

#include <utility>
#include <vector>

namespace fortitor {

/// The laboratory's book of acceptance rules: one is chosen at the left and written at the right. Jobs that cite a rule
/// keep it as it was then.
class RulesDialog : public QDialog {
    Q_OBJECT
public:
    RulesDialog(Session& session, QWidget* parent = nullptr);

private:
    void build();
    void list(int chosen);
    void fill(int row);
    [[nodiscard]] Json written() const;
    void keep();
    void remove();
    bool store(const Json& rules);

    Session& session_;
    Json rules_; ///< as the book holds them
    QListWidget* names_ = nullptr;
    std::vector<std::pair<std::string, QLineEdit*>> texts_;
    QComboBox *against_ = nullptr, *function_ = nullptr;
    QLabel* message_ = nullptr;
    QPushButton *keep_ = nullptr, *out_ = nullptr;
};

} // namespace fortitor
