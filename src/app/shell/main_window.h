// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/bench.h"
#include "app/model/live_frame.h"
#include "app/model/session.h"
#include "app/shell/compare_page.h"
#include "app/shell/jobs_page.h"
#include "app/shell/lists.h"
#include "app/shell/rail.h"
#include "app/shell/start_page.h"

#include <QMainWindow>
#include <QStackedWidget>
#include <QTimer>

namespace fortitor {

/// Rail, and what it leads to. Owns the job on the bench.
class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(Logbook& logbook, QWidget* parent = nullptr);
    [[nodiscard]] Session& session() { return session_; }
    [[nodiscard]] LiveFrame& frame() { return frame_; }
    [[nodiscard]] Bench& bench() { return *bench_; }

    enum Place { Today, Jobs, Compare, Reference, Instruments, LogbookPlace };
    void go(int place);
    bool openJob(std::int64_t id, int specimen = 0, int stage = -1);
    /// The tests drawn, to choose one for a new job.
    void askTest();
    /// A job of that method; empty: of the first one.
    void newJob(const QString& method = {});
    /// Job files are taken in, text records hung on the specimen at hand.
    bool takeIn(const QString& path);
    void tell(const QString& words, bool problem);
    void hush() { band_->hide(); }
    [[nodiscard]] QString told() const;
    void exportJob(const QString& path);

protected:
    void closeEvent(QCloseEvent* event) override;
    void showEvent(QShowEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void refreshPlace();
    void showJobs();
    void openDemo();
    void keyPhrase();
    bool takeInJob(const QString& path);
    QStringList takeInPictures(const Job& job, const QString& folder);
    size_t nextWithoutRecord(size_t from);
    void fitToScreen();
    [[nodiscard]] bool realScreen() const;
    void explain();
    void find();
    void keySheet();
    void menu(const QPoint& at);
    void buildPlaces();
    void connectPages();
    void restore();
    void startTimers();
    void actions();
    [[nodiscard]] Page* page() const;
    void goToPage(size_t place); ///< of the ribbon, from 0
    Session session_;
    LiveFrame frame_;
    Rail* rail_ = nullptr;
    QStackedWidget* places_ = nullptr;
    QStackedWidget* jobsPlace_ = nullptr;
    TodayPage* today_ = nullptr;
    JobsPage* jobs_ = nullptr;
    Bench* bench_ = nullptr;
    StartPage* start_ = nullptr;
    ComparePage* compare_ = nullptr;
    InstrumentsPage* instruments_ = nullptr;
    LogbookPage* logbookPage_ = nullptr;
    QTimer fit_;
    int fitsLeft_ = 0;
    QWidget* band_ = nullptr;
    QLabel* bandText_ = nullptr;
};

} // namespace fortitor
