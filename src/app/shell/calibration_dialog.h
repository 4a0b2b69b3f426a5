// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/live_frame.h"
#include "jobs/calibration.h"

#include <QDateEdit>
#include <QDialog>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

#include <optional>

namespace fortitor {

/// A run against a reference: dead weights for a cell, a gauge for an extensometer. Readings are keyed in or
/// taken from the frame; errors and classes show as they come; what is kept stays with the instrument.
class CalibrationDialog : public QDialog {
    Q_OBJECT
public:
    CalibrationDialog(Session& session, LiveFrame& frame, InstrumentRow instrument, QWidget* parent = nullptr);
    [[nodiscard]] const std::optional<CalibrationResult>& result() const { return result_; }
    /// Only an instrument that has references: a cell or an extensometer.
    static bool applies(const InstrumentRow& row) { return row.kind == "cell" || row.kind == "extensometer"; }

private:
    void propose();
    void takeReading();
    void work();
    void keep();
    [[nodiscard]] std::vector<ReferenceReading> readings(QString* trouble = nullptr) const;
    [[nodiscard]] std::string device() const { return row_.kind == "cell" ? "force" : "extensometer"; }
    [[nodiscard]] std::string wantedClass() const { return row_.body.value("class", ""); }

    Session& session_;
    LiveFrame& frame_;
    InstrumentRow row_;
    QTableWidget* table_ = nullptr;
    QLabel* words_ = nullptr;
    QPushButton* take_ = nullptr;
    QPushButton* keep_ = nullptr;
    QDateEdit* due_ = nullptr;
    std::optional<CalibrationResult> result_;
    bool filling_ = false;
    bool prepared_ = false;
};

} // namespace fortitor
