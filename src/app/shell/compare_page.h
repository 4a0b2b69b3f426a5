// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QLineEdit>
#include <QListWidget>
#include <QWidget>

#include <map>

namespace fortitor {

/// Curves of any specimens of any jobs laid over each other from their corrected origins.
class ComparePage : public QWidget {
    Q_OBJECT
public:
    ComparePage(Session& session, QWidget* parent = nullptr);
    void refresh();

protected:
    void paintEvent(QPaintEvent*) override;

private:
    using Key = std::pair<std::int64_t, int>;
    struct Picked {
        QString label;
        QString figures;
        Outcome outcome;
    };
    void pick(QListWidgetItem* item);
    Session& session_;
    QLineEdit* search_ = nullptr;
    QListWidget* list_ = nullptr;
    std::map<Key, Picked> picked_;
    std::vector<Key> order_;
    QString problem_;
};

} // namespace fortitor
