// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/page.h"
#include "report/pages.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>

namespace fortitor {

/// The pages as they will print, drawn to the width of the room.
class PagePreview : public QWidget {
    Q_OBJECT
public:
    explicit PagePreview(QWidget* parent = nullptr) : QWidget(parent) { }
    void show(std::shared_ptr<const Report> report);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override { fit(); }

private:
    void fit();
    [[nodiscard]] double scale() const { return std::min(1.25, (width() - 40) / ReportPages::width); }
    std::shared_ptr<const Report> report_;
    std::unique_ptr<ReportPages> pages_;
};

/// The report beside its choices; PDF, CSV, XLSX and JSON.
class ReportPage : public Page {
    Q_OBJECT
public:
    ReportPage(Session& session, QWidget* parent = nullptr);
    void refresh() override;
    [[nodiscard]] QStringList keys() const override;
    /// Writes what the ending of the name says. Tells how it went.
    bool save(const QString& path);

signals:
    void saved(const QString& words);

private:
    void ask(const QString& ending, const QString& filter);
    [[nodiscard]] ReportChoices choices() const;
    PagePreview* preview_ = nullptr;
    QLineEdit* laboratory_ = nullptr;
    QComboBox* rounding_ = nullptr;
    QCheckBox* curves_ = nullptr;
    QCheckBox* dimensions_ = nullptr;
    QCheckBox* remarks_ = nullptr;
    QCheckBox* derivations_ = nullptr;
    QPushButton* scrap_ = nullptr;
    QLabel* note_ = nullptr;
};

} // namespace fortitor
