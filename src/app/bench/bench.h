// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/load/load_page.h"
#include "app/bench/margin.h"
#include "app/bench/page.h"
#include "app/bench/read/read_page.h"
#include "app/bench/report/report_page.h"

#include <QStackedWidget>
#include <QTimer>

#include <map>
#include <string>

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
    /// The page that serves a stage of the job at hand.
    [[nodiscard]] Page* page(int stage);
    [[nodiscard]] ReportPage* reportPage() const { return report_; }
    [[nodiscard]] ReadPage* readPage() const { return read_; }
    void goToField(const QString& field);

signals:
    void importAsked();
    void jobAsked(std::int64_t id, int specimen);

protected:
    void resizeEvent(QResizeEvent*) override;

private:
    static const std::map<std::string, Page* (*)(Bench&)>& factories();
    Page* pageNamed(const std::string& name);
    void toStage(Stage stage);
    void showStage(int stage);
    void refresh();
    void lookAtTester();
    QString testerOf_;
    Session& session_;
    LiveFrame& frame_;
    QStackedWidget* stack_ = nullptr;
    std::map<std::string, Page*> pages_; ///< by name
    Margin* margin_ = nullptr;
    ReportPage* report_ = nullptr;
    ReadPage* read_ = nullptr;
};

} // namespace fortitor
