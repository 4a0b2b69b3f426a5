// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QLineEdit>
#include <QListWidget>
#include <QWidget>

namespace fortitor {

/// All jobs of the logbook, to search, open, make anew or take in from a file.
class JobsPage : public QWidget {
    Q_OBJECT
public:
    JobsPage(Session& session, QWidget* parent = nullptr);
    void refresh();
    void focusSearch()
    {
        search_->setFocus();
        search_->selectAll();
    }

signals:
    void openAsked(std::int64_t id);
    void newAsked();
    void importAsked();

private:
    Session& session_;
    QLineEdit* search_ = nullptr;
    QListWidget* list_ = nullptr;
    QWidget* empty_ = nullptr;
};

} // namespace fortitor
