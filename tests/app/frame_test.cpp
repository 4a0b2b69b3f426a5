// SPDX-License-Identifier: GPL-3.0-or-later
// The real window leads a real frame process: stop, holds, limits, rehearsal, a link that drops, a frame
// that dies, hand work, calibration.
#include "support.h"

#include "app/bench/setup/setup_page.h"
#include "app/shell/calibration_dialog.h"
#include "jobs/edits.h"
#include "jobs/rehearsed.h"

#include <QComboBox>
#include <QDateEdit>
#include <QDialog>
#include <QProcess>
#include <QTableWidget>
#include <QTimer>

#include <atomic>
#include <chrono>
#include <csignal>
#include <thread>

#include <arpa/inet.h>
#include <poll.h>
#include <sys/socket.h>
#include <unistd.h>

namespace fortitor {
namespace {

using Clock = std::chrono::steady_clock;

/// Stands on the wire between application and frame and notes when the word STOP goes by.
class Wire {
public:
    explicit Wire(int to) : to_(to)
    {
        listener_ = ::socket(AF_INET, SOCK_STREAM, 0);
        sockaddr_in a{};
        a.sin_family = AF_INET;
        a.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
        ::bind(listener_, reinterpret_cast<sockaddr*>(&a), sizeof a);
        ::listen(listener_, 1);
        socklen_t n = sizeof a;
        ::getsockname(listener_, reinterpret_cast<sockaddr*>(&a), &n);
        port = ntohs(a.sin_port);
        thread_ = std::thread([this] { pass(); });
    }
    ~Wire()
    {
        done_ = true;
        thread_.join();
        ::close(listener_);
    }
    int port = 0;
    std::atomic<bool> stopped{false};
    Clock::time_point stoppedAt; ///< valid once stopped

private:
    void pass()
    {
        pollfd waiting{listener_, POLLIN, 0};
        while (!done_ && ::poll(&waiting, 1, 20) <= 0) { }
        if (done_)
            return;
        const int client = ::accept(listener_, nullptr, nullptr);
        const int frame = ::socket(AF_INET, SOCK_STREAM, 0);
        sockaddr_in a{};
        a.sin_family = AF_INET;
        a.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
        a.sin_port = htons(static_cast<uint16_t>(to_));
        (void)::connect(frame, reinterpret_cast<sockaddr*>(&a), sizeof a);
        std::vector<char> buffer(1 << 16);
        pollfd both[2] = {{client, POLLIN, 0}, {frame, POLLIN, 0}};
        while (!done_) {
            if (::poll(both, 2, 20) <= 0)
                continue;
            for (int i = 0; i < 2; ++i) {
                if (!(both[i].revents & (POLLIN | POLLHUP)))
                    continue;
                const ssize_t n = ::read(both[i].fd, buffer.data(), buffer.size());
                if (n <= 0) {
                    done_ = true;
                    break;
                }
                if (i == 0 && !stopped
                    && std::string_view(buffer.data(), static_cast<size_t>(n)).find(R"("do":"stop")")
                        != std::string_view::npos) {
                    stoppedAt = Clock::now();
                    stopped = true;
                }
                (void)!::write(both[1 - i].fd, buffer.data(), static_cast<size_t>(n));
            }
        }
        ::close(client);
        ::close(frame);
    }
    int to_, listener_;
    std::atomic<bool> done_{false};
    std::thread thread_;
};

class FrameTest : public test::AppTest {
protected:
    void SetUp() override
    {
        AppTest::SetUp();
        startWithDemo();
    }
    LiveFrame& frame() { return window->frame(); }
    void openSetUp(int specimen = 3)
    {
        ASSERT_TRUE(window->openJob(jobCalled("J-0101"), specimen, 2));
        settle();
        ASSERT_TRUE(frame().ready());
    }
    void gripAndGuard()
    {
        frame().zeroForce();
        frame().closeTopGrip();
        frame().closeBottomGrip();
        frame().easeToZero();
        ASSERT_TRUE(until([&] { return frame().shows("grip-second"); }));
        frame().putExtensometerOn();
        frame().setGuard(true);
        settle();
    }
    void running(double pace = 5)
    {
        openSetUp();
        gripAndGuard();
        frame().setPace(pace);
        settle();
        session().setStage(3);
        ASSERT_TRUE(frame().holdBacks().isEmpty()) << frame().holdBacks().join("; ").toStdString();
        frame().start();
        settle();
        ASSERT_TRUE(frame().running());
        ASSERT_TRUE(until([&] { return frame().takenRows() > 40; }));
    }
    bool has(const std::string& code)
    {
        return std::ranges::any_of(frame().events(), [&](const Event& e) { return e.code == code; });
    }
    QPushButton* asideButton(const QString& code) { return window->findChild<QPushButton*>("aside-" + code); }
};

TEST_F(FrameTest, StopIsOnTheWireWithinFiftyMillisecondsFromAnyPageAndOverAnyDialog)
{
    std::vector<double> took;
    for (int round = 0; round < 4; ++round) {
        QProcess machine;
        machine.start(MACHINE_PROGRAM, {"--while-parent", "--anybody"});
        ASSERT_TRUE(machine.waitForReadyRead(5000));
        const QString address = QString::fromUtf8(machine.readLine()).trimmed().mid(13);
        {
            Wire wire(address.section(':', 1).toInt());
            frame().setAddress("127.0.0.1:" + QString::number(wire.port));
            running();
            if (round == 1)
                window->go(MainWindow::Reference);
            if (round == 2)
                window->go(MainWindow::LogbookPlace);
            Clock::time_point pressed;
            const auto stop = [&] {
                QWidget* target = keyTarget();
                pressed = Clock::now();
                QTest::keyClick(target, Qt::Key_Escape);
            };
            if (round == 3) {
                // A modal dialog with its own loop: it may not eat the key.
                QTimer::singleShot(200, window.get(), [&] {
                    QWidget* modal = QApplication::activeModalWidget();
                    EXPECT_TRUE(modal) << "the dialog is open";
                    pressed = Clock::now();
                    QTest::keyClick(modal ? modal : window.get(), Qt::Key_Escape);
                    EXPECT_TRUE(modal && modal->isVisible()) << "Esc went to the frame, not to the dialog";
                    QTimer::singleShot(50, window.get(), [modal] {
                        if (auto* dialog = qobject_cast<QDialog*>(modal))
                            dialog->reject();
                    });
                });
                QTest::keyClick(keyTarget(), Qt::Key_F2);
            } else {
                stop();
            }
            ASSERT_TRUE(until([&] { return wire.stopped.load(); }, 2000))
                << round << " " << window->told().toStdString() << static_cast<int>(frame().state());
            took.push_back(std::chrono::duration<double, std::milli>(wire.stoppedAt - pressed).count());
            EXPECT_LT(took.back(), 50) << "round " << round;
            ASSERT_TRUE(until([&] { return frame().state() == LiveFrame::State::Stopped; }, 3000));
            EXPECT_EQ(session().record(3)->incompleteBecause, "stopped by hand");
            frame().setAddress({});
        }
        machine.closeWriteChannel();
        machine.waitForFinished(3000);
    }
    RecordProperty("slowest_ms", std::to_string(*std::ranges::max_element(took)));
}

TEST_F(FrameTest, OnlyWhatIsNotAboutSafetyCanBeSetAsideAndTheReasonStays)
{
    openSetUp();
    EXPECT_FALSE(frame().overrule("guard", "in a hurry"));
    EXPECT_FALSE(frame().overrule("grips", "in a hurry"));
    EXPECT_FALSE(frame().overrule("zero", "   "));
    EXPECT_TRUE(asideButton("zero"));
    EXPECT_FALSE(asideButton("guard"));
    frame().closeTopGrip();
    frame().closeBottomGrip();
    settle();
    ASSERT_TRUE(frame().overrule("zero", "zeroed on the indicator"));
    ASSERT_TRUE(frame().overrule("clamp-load", "soft jaws"));
    ASSERT_TRUE(frame().overrule("balance", "balanced by hand"));
    EXPECT_EQ(frame().holdBacks(), QStringList{"the guard is open"});
    frame().setGuard(true);
    frame().setPace(20);
    settle();
    frame().start();
    settle();
    ASSERT_TRUE(frame().running());
    ASSERT_TRUE(until([&] { return frame().takenRows() > 60; }));
    frame().stop();
    settle();
    const auto record = session().record(3);
    ASSERT_TRUE(record);
    int kept = 0;
    for (const Event& e : record->events)
        kept += e.code == "overruled"
            && (e.text.find("soft jaws") != std::string::npos || e.text.find("indicator") != std::string::npos
                || e.text.find("by hand") != std::string::npos);
    EXPECT_EQ(kept, 3);
}

TEST_F(FrameTest, LimitsAreTheJobsOwnAndNeverAboveTheWeakestLink)
{
    openSetUp();
    const double proposed = frame().limits().force;
    EXPECT_EQ(proposed, 40000) << "the grips are the weakest";
    const auto put = [&](const char* name, const QString& text) {
        auto* field = window->findChild<QLineEdit*>(name);
        ASSERT_TRUE(field);
        field->setFocus();
        field->clear();
        QTest::keyClicks(field, text);
        QTest::keyClick(field, Qt::Key_Return);
        settle();
    };
    put("limit-force", "30 kN");
    EXPECT_EQ(frame().limits().force, 30000);
    put("limit-force", "45 kN");
    EXPECT_EQ(frame().limits().force, 30000);
    EXPECT_TRUE(window->told().contains("weakest link"));
    put("limit-travel", "2 mm");
    EXPECT_EQ(frame().limits().travel, 2);
    press(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_NE(frame().limits().travel, 2);
    put("limit-travel", "2 mm");
    // The frame itself stops there.
    gripAndGuard();
    frame().setPace(50);
    settle();
    frame().start();
    settle();
    if (until([&] { return frame().state() == LiveFrame::State::Prompt || !frame().running(); }, 30000)
        && frame().running())
        frame().answerPrompt();
    ASSERT_TRUE(until([&] { return !frame().running(); }, 30000));
    settle();
    EXPECT_EQ(frame().state(), LiveFrame::State::Stopped);
    EXPECT_TRUE(session().record(3)->incompleteBecause.find("travel limit") != std::string::npos)
        << session().record(3)->incompleteBecause;
}

TEST_F(FrameTest, RehearsalIsKeptBesideTheSpecimen)
{
    openSetUp();
    click("rehearse");
    const auto kept = rehearsedOf(session().document().json()["specimens"][3]);
    ASSERT_TRUE(kept);
    EXPECT_EQ(kept->words[0], "Each of 7 breaks.");
    EXPECT_GT(kept->x.back(), 0.08);
    EXPECT_TRUE(find<QLabel>("rehearsed")->text().contains("Each of 7 breaks"));
    EXPECT_TRUE(frame().ready()) << "the real frame was not touched";
    press(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(rehearsedOf(session().document().json()["specimens"][3]));
    press(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    // It foretells what the specimen then does.
    gripAndGuard();
    frame().setPace(100);
    settle();
    frame().start();
    settle();
    ASSERT_TRUE(until([&] { return frame().state() == LiveFrame::State::Prompt; }, 30000));
    frame().answerPrompt();
    ASSERT_TRUE(until([&] { return frame().state() == LiveFrame::State::Broken; }, 30000));
    const double strength = *session().outcome().specimens[3].outcome->find("Rm")->value;
    const double foretold = *std::ranges::max_element(kept->middle);
    EXPECT_NEAR(strength / foretold, 1, 0.06);
    session().setStage(4);
    EXPECT_FALSE(window->grab().isNull());
}

TEST_F(FrameTest, ALinkThatDropsIsToldHeldJoinedAgainAndWithoutAGap)
{
    running();
    frame().client().command("fault", {{"fault", "link-drop=1.6"}});
    ASSERT_TRUE(until([&] { return frame().linkLost(); }, 4000));
    EXPECT_TRUE(frame().running()) << "the run is not over";
    ASSERT_TRUE(until([&] { return !frame().linkLost(); }, 8000));
    ASSERT_TRUE(until([&] { return frame().state() == LiveFrame::State::Holding; }, 4000));
    EXPECT_TRUE(has("link-lost"));
    EXPECT_TRUE(has("link-hold"));
    EXPECT_TRUE(has("link-back"));
    EXPECT_FALSE(has("gap"));
    frame().holdOrGoOn();
    settle();
    EXPECT_EQ(frame().state(), LiveFrame::State::Running);
    frame().stop();
    settle();
    const auto record = session().record(3);
    const Column& time = record->find("time")->values;
    for (size_t i = 1; i < record->rows(); ++i)
        ASSERT_NEAR(time[i] - time[i - 1], 0.02, 1e-6) << "the frame kept the rows meanwhile";
}

TEST_F(FrameTest, StopWhileTheLinkIsLostIsDoneOnceItIsBack)
{
    running();
    // Held frames move no more, but the order stands.
    frame().client().command("fault", {{"fault", "link-drop=0.8"}});
    ASSERT_TRUE(until([&] { return frame().linkLost(); }, 4000));
    press(Qt::Key_Escape);
    EXPECT_TRUE(window->told().contains("emergency stop on the frame"));
    ASSERT_TRUE(until([&] { return frame().state() == LiveFrame::State::Stopped; }, 8000));
    EXPECT_EQ(session().record(3)->incompleteBecause, "stopped by hand");
}

TEST_F(FrameTest, AFrameThatDiesLeavesAnIncompleteRecordThatReads)
{
    running(20);
    ASSERT_TRUE(until([&] { return frame().takenRows() > 600; }));
    const auto taken = frame().takenRows();
    ::kill(static_cast<pid_t>(frame().own().processId()), SIGKILL);
    ASSERT_TRUE(until([&] { return frame().state() == LiveFrame::State::Stopped; }, 8000));
    const auto record = session().record(3);
    ASSERT_TRUE(record);
    EXPECT_GE(record->rows(), taken);
    EXPECT_NE(record->incompleteBecause.find("cut off"), std::string::npos);
    session().setStage(4);
    EXPECT_TRUE(session().specimenOutcome().outcome->remarked("record-incomplete"));
    EXPECT_TRUE(session().specimenOutcome().outcome->curve());
    // It is there again for the next one.
    ASSERT_TRUE(frame().prepare().isEmpty());
    settle();
    EXPECT_TRUE(frame().ready());
}

TEST_F(FrameTest, TheRecordIsNotJudgedWhileItGrows)
{
    running();
    EXPECT_FALSE(session().record(3));
    for (const Remark& r : session().openRemarks(3))
        EXPECT_NE(r.severity, Severity::Reject) << r.text;
    frame().stop();
    settle();
    EXPECT_TRUE(session().record(3));
}

TEST_F(FrameTest, TakingBackInMidRunDoesNotLoseTheRecord)
{
    running();
    press(Qt::Key_Z, Qt::ControlModifier); // takes the hanging of the record back
    EXPECT_TRUE(session().job().specimens[3].recordId.empty());
    ASSERT_TRUE(until([&] { return frame().takenRows() > 100; }));
    frame().stop();
    settle();
    ASSERT_TRUE(session().record(3));
    EXPECT_GT(session().record(3)->rows(), 90u);
}

TEST_F(FrameTest, AFrameThatRunsWithoutARecordIsStopped)
{
    openSetUp();
    gripAndGuard();
    // As if the answer to the start had been lost: the application knows of no run.
    frame().client().command("start",
                             {{"program", programJson(frame().program())}, {"limits", limitsJson(frame().limits())}});
    ASSERT_TRUE(until([&] { return frame().status().state == DriveState::Ended; }, 4000));
    EXPECT_EQ(frame().status().ended, "stop");
    EXPECT_TRUE(window->told().contains("without a record"));
}

TEST_F(FrameTest, HandSetMovesTheCrossheadOnlyWhileUnlockedAndHeld)
{
    openSetUp();
    const auto place = [&] { return frame().sample().displacement; };
    EXPECT_FALSE(window->findChild<QPushButton*>("jogUp")->isVisible());
    click("handSet");
    ASSERT_TRUE(until([&] { return frame().status().handSet; }));
    auto* up = window->findChild<SetUpPage*>()->findChild<QPushButton*>("jogUp");
    ASSERT_TRUE(until([&] { return up->isVisible(); }, 2000));
    const double before = place();
    QTest::mousePress(up, Qt::LeftButton);
    ASSERT_TRUE(until([&] { return place() > before + 0.2; }, 5000));
    QTest::mouseRelease(up, Qt::LeftButton);
    settle();
    QTest::qWait(300);
    const double there = place();
    QTest::qWait(200);
    EXPECT_NEAR(place(), there, 1e-3) << "let go, it stands";
    click("wheelUp");
    ASSERT_TRUE(until([&] { return place() > there + 0.009; }, 3000));
    QTest::qWait(100);
    EXPECT_NEAR(place(), there + 0.01, 2e-3);
    click("handSet");
    ASSERT_TRUE(until([&] { return !frame().status().handSet; }));
}

TEST_F(FrameTest, TheClampLoadMayBeTakenOffByHand)
{
    openSetUp();
    frame().zeroForce();
    frame().closeTopGrip();
    frame().closeBottomGrip();
    settle();
    ASSERT_TRUE(until([&] { return frame().sample().force > 800; }, 3000));
    EXPECT_FALSE(frame().shows("grip-second"));
    frame().setHandSet(true);
    settle();
    // The wheel, until the cell shows nothing; it slows down as a hand would.
    for (int turn = 0; turn < 400 && !frame().shows("grip-second"); ++turn) {
        const double force = frame().sample().force;
        frame().fineWheel(std::clamp(-force * 1.5e-5, -0.01, 0.01));
        settle();
        until([] { return false; }, 25);
    }
    EXPECT_TRUE(frame().shows("grip-second"));
    EXPECT_LT(std::abs(frame().sample().force), 60);
    EXPECT_TRUE(has("eased"));
    // Pulled up again, it is not off any more.
    for (int turn = 0; turn < 10; ++turn)
        frame().fineWheel(0.01);
    EXPECT_TRUE(until([&] { return !frame().shows("grip-second"); }, 8000));
    EXPECT_TRUE(has("loaded"));
}

TEST_F(FrameTest, BackToTheStartAfterARun)
{
    running(20);
    ASSERT_TRUE(until([&] { return frame().travel() > 0.1; }));
    frame().stop();
    settle();
    EXPECT_GT(frame().travel(), 0.1);
    session().setStage(3);
    click("returnToStart");
    ASSERT_TRUE(until([&] { return frame().status().ended == "returned"; }, 8000));
    EXPECT_NEAR(frame().travel(), 0, 5e-3);
    EXPECT_EQ(frame().state(), LiveFrame::State::Stopped) << "the record was closed before";
}

TEST_F(FrameTest, AnInstrumentThatRanOutHoldsTheStartAndMarksTheResult)
{
    for (InstrumentRow row : book->instruments())
        if (row.name == "cell K-50") {
            row.due = "2020-01-31";
            ASSERT_TRUE(book->keepInstrument(row, "operator A"));
        }
    openSetUp();
    gripAndGuard();
    ASSERT_EQ(frame().holdBacks().size(), 1);
    EXPECT_TRUE(frame().holdBacks()[0].contains("ran out on 2020-01-31"));
    ASSERT_TRUE(frame().overrule("calibration-overdue", "the weights are back next week"));
    frame().setPace(20);
    settle();
    frame().start();
    settle();
    ASSERT_TRUE(until([&] { return frame().takenRows() > 400; }));
    frame().stop();
    settle();
    EXPECT_TRUE(session().outcome().specimens[3].outcome->remarked("calibration-overdue"));
}

TEST_F(FrameTest, ACellIsCheckedAgainstWeightsOnTheFrame)
{
    const auto instrument = [&](const char* name) {
        for (InstrumentRow row : book->instruments())
            if (row.name == name)
                return row;
        return InstrumentRow{};
    };
    const auto checkIt = [&](const char* name) {
        CalibrationDialog dialog(session(), frame(), instrument(name), window.get());
        dialog.show();
        auto* take = dialog.findChild<QPushButton*>("calibrationTake");
        auto* keep = dialog.findChild<QPushButton*>("calibrationKeep");
        auto* table = dialog.findChild<QTableWidget*>("calibrationTable");
        EXPECT_FALSE(keep->isEnabled());
        for (int i = 0; i < table->rowCount(); ++i) {
            QTest::mouseClick(take, Qt::LeftButton);
            EXPECT_TRUE(until([&] { return take->isEnabled(); }, 8000))
                << dialog.findChild<QLabel*>("calibrationWords")->text().toStdString();
        }
        EXPECT_TRUE(keep->isEnabled());
        EXPECT_TRUE(dialog.result());
        dialog.findChild<QDateEdit*>("calibrationDue")->setDate(QDate(2031, 3, 31));
        QTest::mouseClick(keep, Qt::LeftButton);
        return *dialog.result();
    };
    const CalibrationResult good = checkIt("cell K-50");
    EXPECT_TRUE(good.meets) << good.words;
    EXPECT_EQ(instrument("cell K-50").due, "2031-03-31");
    EXPECT_EQ(instrument("cell K-50").body["checks"].size(), 1u);
    const QString due = instrument("cell K-100").due;
    const CalibrationResult bad = checkIt("cell K-100");
    EXPECT_FALSE(bad.meets) << bad.words;
    EXPECT_NEAR(bad.steps.back().relative, 0.013, 0.002);
    EXPECT_EQ(instrument("cell K-100").due, due) << "a failed check makes nothing good until later";
    const CalibrationResult gauge = checkIt("extensometer X-50");
    EXPECT_TRUE(gauge.meets) << gauge.words;
    // It shows in the list, and an edit there keeps it.
    window->go(MainWindow::Instruments);
    auto* table = find<QTableWidget>("instrumentTable");
    for (int r = 0; r < table->rowCount(); ++r)
        if (table->item(r, 0)->text() == "cell K-100") {
            EXPECT_EQ(table->item(r, 6)->text(), "× failed its check");
            table->setCurrentCell(r, 0);
            EXPECT_TRUE(find<QLabel>("instrumentHistory")->text().contains("not class 1"));
            table->item(r, 4)->setText("");
        }
    until([] { return false; }, 100);
    EXPECT_EQ(instrument("cell K-100").body["checks"].size(), 1u);
}

TEST_F(FrameTest, AReadingKeyedWrongIsNamed)
{
    for (const InstrumentRow& row : book->instruments()) {
        if (row.name != "cell K-50")
            continue;
        CalibrationDialog dialog(session(), frame(), row, window.get());
        auto* table = dialog.findChild<QTableWidget*>("calibrationTable");
        const char* figures[] = {"0", "10.02", "20.01", "30,02", "40.03", "fifty"};
        for (int r = 0; r < 6; ++r)
            table->item(r, 2)->setText(figures[r]);
        EXPECT_TRUE(dialog.findChild<QLabel*>("calibrationWords")->text().contains("Line 6"));
        EXPECT_FALSE(dialog.findChild<QPushButton*>("calibrationKeep")->isEnabled());
        table->item(5, 2)->setText("50.01");
        EXPECT_TRUE(dialog.findChild<QLabel*>("calibrationWords")->text().contains("holds its class 1"));
        EXPECT_EQ(table->item(1, 3)->text(), "+0.20");
    }
}

TEST_F(FrameTest, AnotherFrameIsJoinedByItsAddress)
{
    EXPECT_TRUE(frame().linkWords().contains("own simulated frame"));
    frame().setAddress("example.invalid:7");
    ASSERT_TRUE(window->openJob(jobCalled("J-0101"), 3, 2));
    QApplication::processEvents();
    EXPECT_TRUE(window->told().contains("no place of this machine")) << window->told().toStdString();
    EXPECT_FALSE(frame().ready());
    frame().setAddress({});
    settle();
    EXPECT_TRUE(frame().ready());
}

TEST_F(FrameTest, FasterReadingsReachTheRecord)
{
    openSetUp();
    auto* rate = find<QComboBox>("frameRate");
    rate->setCurrentIndex(rate->findData(1000));
    emit rate->activated(rate->currentIndex());
    settle();
    gripAndGuard();
    frame().setPace(1);
    settle();
    frame().start();
    settle();
    ASSERT_TRUE(until([&] { return frame().takenRows() > 2000; }));
    frame().stop();
    settle();
    const Column& time = session().record(3)->find("time")->values;
    for (size_t i = 1; i < time.size(); ++i)
        ASSERT_NEAR(time[i] - time[i - 1], 0.001, 1e-6);
}

} // namespace
} // namespace fortitor
