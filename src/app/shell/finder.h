// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QDialog>
#include <QLineEdit>
#include <QListWidget>

#include <functional>

namespace fortitor {

struct FinderCommand {
    QString words;
    QString key;
    std::function<void()> act;
};

/// Ctrl+K: any job, specimen or command by a few letters.
class Finder : public QDialog {
    Q_OBJECT
public:
    Finder(Session& session, std::vector<FinderCommand> commands, QWidget* parent);

signals:
    void jobChosen(std::int64_t id, int specimen);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fill();
    void take();
    Session& session_;
    std::vector<FinderCommand> commands_;
    QLineEdit* words_ = nullptr;
    QListWidget* list_ = nullptr;
};

/// F2: the keys of the page at hand.
class KeySheet : public QDialog {
    Q_OBJECT
public:
    KeySheet(const QString& page, const QStringList& keys, QWidget* parent);
};

} // namespace fortitor
