// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/own_tables.h"
#include "app/model/session.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QWidget>

namespace fortitor {

/// A number of hardness on all other scales, by the tables that are here and those that were loaded.
class ConversionPanel : public QWidget {
    Q_OBJECT
public:
    ConversionPanel(Session& session, QWidget* parent = nullptr);
    void refresh();
    /// Takes a table in from a file; false, with the reason told, where it is none.
    bool load(const QString& file);

private:
    void fill();
    void fillStrength(double number, const HardnessScale& scale);
    void takeOut();
    void tell(const QString& words);

    Session& session_;
    std::vector<OwnConversion> own_;
    QLineEdit* from_ = nullptr;
    QComboBox *material_ = nullptr, *tables_ = nullptr;
    QTableWidget* table_ = nullptr;
    class ScaleLadder* ladder_ = nullptr;
    QLabel *strength_ = nullptr, *message_ = nullptr;
    QPushButton* takeOut_ = nullptr;
};

/// What testers may be off by on their blocks: the starting values until a laboratory keeps its own.
class LimitsPanel : public QWidget {
    Q_OBJECT
public:
    LimitsPanel(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void keep();
    void fill(const std::vector<OwnLimit>& rows);

    Session& session_;
    QTableWidget* table_ = nullptr;
    QLabel *whose_ = nullptr, *message_ = nullptr;
    bool filling_ = false;
};

} // namespace fortitor
