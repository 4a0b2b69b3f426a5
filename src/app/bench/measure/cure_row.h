// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QTimer>
#include <QWidget>

namespace fortitor {

/// An adhesive with the clock of its cure, as a note of the specimen at hand.
class CureRow : public QWidget {
    Q_OBJECT
public:
    CureRow(Session& session, const NoteSpec& note, QWidget* parent = nullptr);
    void fill();

private:
    void tell();
    Session& session_;
    std::string key_;
    QComboBox* adhesive_ = nullptr;
    QPushButton* bonded_ = nullptr;
    QLabel* clock_ = nullptr;
    QTimer minute_;
};

} // namespace fortitor
