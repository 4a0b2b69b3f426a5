// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/text_import.h"
#include "methods/method.h"

#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QTableWidget>

#include <atomic>
#include <optional>
#include <thread>

namespace fortitor {

/// Shows how a text record was understood, and lets a person put columns and units right before it
/// is read. Reading large files goes on beside the window, with progress, and can be stopped.
class ImportDialog : public QDialog {
    Q_OBJECT
public:
    ImportDialog(QString path, const Method& method, QWidget* parent = nullptr);
    ~ImportDialog() override;
    /// What was read: one record, or one of each test in the file.
    [[nodiscard]] const std::vector<Record>& records() const { return records_; }
    [[nodiscard]] ColumnChoices choices() const;
    /// Whether everything needed was understood by itself.
    [[nodiscard]] bool clear() const { return missing().isEmpty() && problem_.isEmpty(); }
    void read();

private:
    [[nodiscard]] QString missing() const;
    void buildFoot(QLayout* column);
    void lookAt();
    void build(const TextLayout& layout);
    void addColumn(int c, const TextColumn& column);
    void showParts();
    void say();
    [[nodiscard]] ImportRequest request() const;
    QString path_;
    const Method& method_;
    TextLayout layout_;
    QString problem_;
    QTableWidget* table_ = nullptr;
    QLabel* how_ = nullptr;
    QLabel* message_ = nullptr;
    QProgressBar* progress_ = nullptr;
    QPushButton* take_ = nullptr;
    QPushButton* stop_ = nullptr;
    std::vector<QComboBox*> channels_;
    std::vector<QComboBox*> units_;
    QComboBox* decimal_ = nullptr;
    QComboBox* part_ = nullptr;
    std::vector<TextPart> parts_;
    std::vector<Record> records_;
    std::thread worker_;
    std::atomic<bool> stopped_{false};
};

} // namespace fortitor
