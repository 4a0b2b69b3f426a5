// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>

namespace fortitor {

/// On Plan: the acceptance rules that the job cites, each with what it asks and where it stands written.
class RulesView : public QWidget {
    Q_OBJECT
public:
    explicit RulesView(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void build();
    void openCite();
    Session& session_;
    QVBoxLayout* rows_ = nullptr;
    QPushButton *cite_ = nullptr, *book_ = nullptr;
    QLabel* words_ = nullptr;
    QString builtFor_;
};

} // namespace fortitor
