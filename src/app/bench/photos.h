// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QHBoxLayout>
#include <QPixmap>
#include <QPushButton>
#include <QWidget>

#include <map>

namespace fortitor {

/// The photographs of the piece at hand: small ones in a row, taken in by choosing or dropping a file, kept in the
/// logbook as they came and known by their hash. A click looks at one, its menu takes it off the piece.
class PhotoRow : public QWidget {
    Q_OBJECT
public:
    explicit PhotoRow(Session& session, QWidget* parent = nullptr);
    void refresh();
    /// Takes files in; says which can't be.
    void takeIn(const QStringList& paths);

signals:
    void told(const QString& words);

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void choose();
    void look(const std::string& sha, const QString& name);
    void takeOff(const std::string& sha);
    QPixmap small(const std::string& sha);
    bool keepSmall(const std::string& sha, const QByteArray& bytes);

    Session& session_;
    QHBoxLayout* row_ = nullptr;
    QPushButton* add_ = nullptr;
    QString shown_;
    std::map<std::string, QPixmap> small_;
};

} // namespace fortitor
