// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/capture.h"

#include "app/bench/history/spectrum_page.h"
#include "app/bench/indent/indent_list.h"

#include "app/shell/main_window.h"
#include "app/bench/measure/measure_page.h"
#include "app/bench/read/what_if_panel.h"

#include <QApplication>
#include <QComboBox>
#include <QDir>
#include <QElapsedTimer>
#include <QLineEdit>
#include <QListWidget>
#include <QPixmap>
#include <QPushButton>
#include <QRegularExpression>

namespace fortitor {
namespace {

void settle(int milliseconds)
{
    QElapsedTimer clock;
    clock.start();
    do
        QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
    while (clock.elapsed() < milliseconds);
}

/// Runs the frame until something is true, at most for so long.
template <class Until> void runUntil(Until until, int most)
{
    QElapsedTimer clock;
    clock.start();
    while (!until() && clock.elapsed() < most)
        QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
}

/// Goes through the demo and keeps a picture of each main view.
class Capture {
public:
    Capture(MainWindow& shown, QString into)
        : window(shown), folder(std::move(into)), jobs(shown.session().logbook().jobs()), session(shown.session()),
          frame(shown.frame())
    {
    }

    [[nodiscard]] bool all()
    {
        if (jobs.empty())
            return false;
        shell();
        run();
        train();
        reading();
        steps();
        desks();
        places();
        return good;
    }

private:
    void keep(const char* name)
    {
        window.hush();
        settle(250);
        good = window.grab().save(folder + "/" + name + ".png") && good;
    }

    void open(const char* number, int specimen, int stage)
    {
        for (const JobRow& row : jobs)
            if (row.number == number) {
                window.openJob(row.id, specimen, stage);
                session.settleWork();
            }
    }

    void grip()
    {
        runUntil([&] { return !frame.waits(); }, 8000);
        frame.zeroForce();
        frame.closeTopGrip();
        frame.closeBottomGrip();
        frame.easeToZero();
        runUntil([&] { return frame.shows("grip-second"); }, 8000);
    }

    void choose(const char* what, const QString& name)
    {
        if (auto* box = window.findChild<QComboBox*>(what))
            if (const int at = box->findText(name, Qt::MatchStartsWith); at >= 0) {
                box->setCurrentIndex(at);
                emit box->activated(at);
            }
        runUntil([&] { return !frame.waits(); }, 8000);
        settle(300);
    }

    /// So many steps of readings by hand.
    void readings(const char* job, int specimen, int steps, const char* name)
    {
        open(job, specimen, 3);
        if (auto* take = window.findChild<QPushButton*>("padInstruments"))
            for (int i = 0; i < steps; ++i)
                take->click();
        keep(name);
    }

    void shell()
    {
        window.go(MainWindow::Today);
        keep("today");
        window.go(MainWindow::Jobs);
        keep("jobs");
        window.askTest();
        keep("start");
    }

    /// A specimen gripped, run, and stopped.
    void run()
    {
        open("J-0101", 0, 0);
        keep("plan");
        open("J-0101", 4, 1);
        keep("measure");
        open("J-0101", 3, 2);
        grip();
        if (auto* rehearse = window.findChild<QPushButton*>("rehearse"))
            rehearse->click();
        keep("set-up");
        frame.putExtensometerOn();
        frame.setGuard(true);
        session.setStage(3);
        frame.setPace(20);
        runUntil([&] { return !frame.waits(); }, 8000);
        frame.start();
        runUntil([&] { return frame.state() == LiveFrame::State::Prompt || !frame.running(); }, 30000);
        good = frame.state() == LiveFrame::State::Prompt && good; // a picture of a dead page is none
        keep("load");
        frame.answerPrompt();
        runUntil([&] { return !frame.waits(); }, 8000);
        runUntil([&] { return frame.fastNow() && frame.curve().strain().back() > 0.05; }, 8000);
        keep("load-running");
        frame.stop();
        runUntil([&] { return !frame.running(); }, 20000);
        keep("load-stopped");
        session.setStage(2);
    }

    /// A cell that is too small, and one that is too large; a weak link; a link that is lost.
    void train()
    {
        choose("choose-force", "cell K-5,");
        keep("set-up-small-cell");
        choose("choose-force", "cell K-50");
        choose("choose-fixture", "block yokes");
        keep("set-up-weak-link");
        choose("choose-fixture", "none");
        open("J-0101", 3, 2);
        grip();
        frame.putExtensometerOn();
        frame.setGuard(true);
        session.setStage(3);
        runUntil([&] { return !frame.waits(); }, 8000);
        frame.start();
        runUntil([&] { return frame.curve().strain().size() > 300; }, 20000);
        frame.client().command("fault", {{"fault", "link-drop=4"}});
        runUntil([&] { return frame.linkLost(); }, 5000);
        keep("load-lost-link");
        runUntil([&] { return !frame.linkLost() && frame.state() == LiveFrame::State::Holding; }, 8000);
        keep("load-held");
        frame.stop();
        runUntil([&] { return !frame.running(); }, 20000);
    }

    void reading()
    {
        open("J-0101", 1, 4);
        keep("read");
        session.setCurrent(0);
        session.setStage(5);
        keep("judge");
        session.setStage(6);
        keep("report");
        open("J-0105", 4, 4);
        keep("read-plastic");
        open("J-0104", 2, 4);
        keep("read-laminate");
        open("J-0106", 2, 4);
        keep("read-flatwise");
        open("J-0108", 18, 2);
        choose("choose-force", "cell K-100");
        keep("set-up-large-cell");
        choose("choose-force", "cell K-5");
        open("J-0109", 0, 4);
        keep("read-poisson");
        open("J-0110", 0, 4);
        keep("read-bending");
        if (auto* panel = window.findChild<WhatIfPanel*>("whatIf")) {
            panel->ask("limit", "5");
            keep("what-if");
            panel->drop();
        }
    }

    /// Tests that are read in steps, and what they are judged by.
    void steps()
    {
        open("J-0111", 0, 4);
        window.bench().readPage()->chooseSymbol("tau_N");
        keep("read-torsion");
        open("J-0111", 3, 1);
        keep("measure-torsion");
        session.setStage(2);
        keep("set-up-torsion");
        readings("J-0111", 3, 21, "pad-torsion");
        readings("J-0109", 2, 7, "pad-poisson");
        open("J-0110", 0, 3);
        keep("pad-bending");
        open("J-0110", 0, 1);
        keep("measure-bending");
        open("J-0110", 0, 0);
        keep("plan-bending");
        open("J-0110", 0, 5);
        keep("judge-bending");
        open("J-0111", 0, 6);
        keep("report-torsion");
        open("J-0106", 5, 1);
        keep("measure-flatwise");
        open("J-0108", 12, 4);
        keep("read-crush");
        open("J-0108", 0, 5);
        if (auto* side = window.findChild<QPushButton*>("judgeScatter"))
            side->click();
        keep("judge-scatter");
    }

    /// Desks of what is no curve.
    void desks()
    {
        open("J-0114", 2, 3);
        for (const auto& [name, text] :
             {std::pair("indent-diagonal_1", "54.6"), std::pair("indent-diagonal_2", "53.9")})
            if (auto* field = window.findChild<QLineEdit*>(name))
                field->setText(text);
        keep("indent");
        for (QLineEdit* field : window.findChildren<QLineEdit*>(QRegularExpression("^indent-")))
            field->clear();
        if (auto* list = window.findChild<IndentList*>())
            emit list->indentChosen(2);
        keep("indent-picture");
        if (auto* list = window.findChild<IndentList*>())
            emit list->indentChosen(2);
        open("J-0114", 1, 4);
        keep("read-traverse");
        open("J-0113", 5, 1);
        keep("piece");
        open("J-0114", 4, 0);
        keep("plan-hardness");
        open("J-0112", 3, 3);
        keep("indent-rockwell");
        open("J-0112", 4, 5);
        keep("judge-hardness");
        open("J-0112", 4, 2);
        keep("set-up-hardness");
        open("J-0098", 16, 1);
        keep("piece-block");
        open("J-0116", 16, 3);
        if (auto* field = window.findChild<QLineEdit*>("strikeEnergy"))
            field->setText("31.5");
        keep("strike");
        if (auto* field = window.findChild<QLineEdit*>("strikeEnergy"))
            field->clear();
        open("J-0116", 7, 5);
        if (auto* side = window.findChild<QPushButton*>("judgeCurves"))
            side->click();
        keep("judge-transition");
        open("J-0116", 0, 0);
        keep("plan-impact");
        open("J-0116", 0, 1);
        keep("measure-impact");
        open("J-0116", 0, 2);
        keep("set-up-impact");
        open("J-0116", 7, 4);
        keep("read-impact");
        open("J-0116", 0, 6);
        keep("report-impact");
        open("J-0117", 2, 3);
        keep("drop");
        open("J-0117", 2, 4);
        keep("read-drop");
        open("J-0117", 2, 0);
        keep("plan-drop");
        open("J-0117", 2, 1);
        keep("measure-drop");
        open("J-0117C", 4, 2);
        keep("set-up-cai");
        open("J-0117C", 2, 4);
        keep("read-cai");
        open("J-0117C", 0, 5);
        if (auto* side = window.findChild<QPushButton*>("judgeCurves"))
            side->click();
        keep("judge-cai");
        parts();
    }

    void parts()
    {
        open("J-0118", 0, 0);
        keep("plan-proof");
        open("J-0118", 0, 1);
        keep("measure-proof");
        open("J-0119", 5, 2);
        keep("set-up-proof");
        open("J-0119", 5, 3);
        keep("load-proof");
        open("J-0118", 1, 4);
        keep("read-proof");
        open("J-0118", 1, 5);
        if (auto* side = window.findChild<QPushButton*>("judgeCurves"))
            side->click();
        keep("judge-proof");
        open("J-0118", 1, 6);
        keep("report-proof");
        fatigue();
    }

    void fatigue()
    {
        open("J-0120", 11, 0);
        keep("plan-fatigue");
        open("J-0120", 11, 2);
        keep("set-up-fatigue");
        open("J-0120", 11, 3);
        keep("run");
        open("J-0120", 6, 4);
        keep("read-fatigue");
        open("J-0120", 6, 5);
        if (auto* side = window.findChild<QPushButton*>("judgeCurves"))
            side->click();
        keep("judge-sn");
        open("J-0120", 6, 6);
        keep("report-fatigue");
        histories();
    }

    void histories()
    {
        open("J-0121", 0, 0);
        keep("plan-spectrum");
        open("J-0121", 0, 3);
        settle(900);
        keep("history");
        open("J-0121", 0, 4);
        auto* page = dynamic_cast<SpectrumPage*>(window.bench().page(4));
        runUntil([&] { return page && page->settled(); }, 5000);
        settle(300);
        keep("spectrum");
        if (page)
            page->chooseBox(3);
        settle(200);
        keep("spectrum-low-pass");
        open("J-0121", 1, 4);
        runUntil([&] { return page && page->settled(); }, 5000);
        if (page)
            page->chooseBox(6);
        settle(300);
        keep("spectrum-road");
        open("J-0121", 0, 5);
        keep("judge-spectrum");
        open("J-0121", 0, 6);
        keep("report-spectrum");
    }

    void places()
    {
        window.go(MainWindow::Compare);
        if (auto* list = window.findChild<QListWidget*>("compareList"))
            for (int i = 0; i < list->count(); ++i)
                if (list->item(i)->text().startsWith("J-0105"))
                    list->item(i)->setCheckState(Qt::Checked);
        if (auto* by = window.findChild<QComboBox*>("compareBy")) {
            by->setCurrentIndex(by->findData("direction"));
            emit by->activated(by->currentIndex());
        }
        keep("compare");
        window.go(MainWindow::Reference);
        if (auto* part = window.findChild<QPushButton*>("referenceHardness"))
            part->click();
        if (auto* number = window.findChild<QLineEdit*>("convertFrom"))
            number->setText("45 HRC");
        keep("reference");
        window.go(MainWindow::Instruments);
        keep("instruments");
        window.go(MainWindow::LogbookPlace);
        keep("logbook");
    }

    MainWindow& window;
    QString folder;
    std::vector<JobRow> jobs;
    Session& session;
    LiveFrame& frame;
    bool good = true;
};

} // namespace

bool captureViews(MainWindow& window, const QString& folder)
{
    return QDir().mkpath(folder) && Capture(window, folder).all();
}

} // namespace fortitor
