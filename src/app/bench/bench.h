// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/load_page.h"
#include "app/bench/margin.h"
#include "app/bench/page.h"
#include "app/bench/read_page.h"
#include "app/bench/report_page.h"

#include <QStackedWidget>
#include <QTimer>

namespace fortitor {

/// The job's line: number, title, material, method, what is wanted.
class JobLine : public QWidget {
    Q_OBJECT
public:
    JobLine(Session& session, QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Session& session_;
    QTimer slow_;
    bool keeping_ = false; ///< for so long that it is told
};

/// A job on the bench: its line, the tags, the ribbon, the page of the stage, the margin.
class Bench : public QWidget {
    Q_OBJECT
public:
    Bench(Session& session, LiveFrame& frame, QWidget* parent = nullptr);
    [[nodiscard]] Page* page(int stage) const { return pages_[static_cast<size_t>(stage)]; }
    [[nodiscard]] ReportPage* reportPage() const { return report_; }
    [[nodiscard]] ReadPage* readPage() const { return read_; }
    void goToField(const QString& field);

signals:
    void importAsked();

protected:
    void resizeEvent(QResizeEvent*) override;

private:
    void showStage(int stage);
    void refresh();
    Session& session_;
    QStackedWidget* stack_ = nullptr;
    std::vector<Page*> pages_;
    Margin* margin_ = nullptr;
    ReportPage* report_ = nullptr;
    ReadPage* read_ = nullptr;
};

} // namespace fortitor
