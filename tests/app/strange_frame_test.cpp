// SPDX-License-Identifier: GPL-3.0-or-later
// A frame that is not as this program left it: loaded after a restart, led by another, broken by another.
#include "support.h"

#include "app/shell/frame_strip.h"

#include <QLabel>
#include <QProcess>
#include <QTcpServer>
#include <QTcpSocket>

#include <csignal>

namespace fortitor {
namespace {

/// Stands on the wire; can be cut and closed for a while.
class Gate : public QObject {
public:
    explicit Gate(quint16 to) : to_(to)
    {
        EXPECT_TRUE(server_.listen(QHostAddress::LocalHost));
        connect(&server_, &QTcpServer::newConnection, this, [this] {
            while (QTcpSocket* near = server_.nextPendingConnection()) {
                if (shut) {
                    near->abort();
                    continue;
                }
                auto* far = new QTcpSocket(this);
                far->connectToHost("127.0.0.1", to_);
                const auto pass = [](QTcpSocket* a, QTcpSocket* b) {
                    QObject::connect(a, &QTcpSocket::readyRead, b, [a, b] { b->write(a->readAll()); });
                    QObject::connect(a, &QTcpSocket::disconnected, b, [b] { b->abort(); });
                };
                pass(near, far);
                pass(far, near);
                open_ << near << far;
            }
        });
    }
    void cut()
    {
        shut = true;
        for (const QPointer<QTcpSocket>& socket : open_)
            if (socket)
                socket->abort();
        open_.clear();
    }
    [[nodiscard]] QString address() const { return "127.0.0.1:" + QString::number(server_.serverPort()); }
    bool shut = false;

private:
    QTcpServer server_;
    quint16 to_;
    QList<QPointer<QTcpSocket>> open_;
};

class StrangeFrame : public test::AppTest {
protected:
    void SetUp() override
    {
        AppTest::SetUp();
        startWithDemo();
        machine.setProcessChannelMode(QProcess::ForwardedErrorChannel);
        machine.start(MACHINE_PROGRAM, {"--while-parent", "--anybody", "--speed", "20", "--watchdog", "0.5"});
        ASSERT_TRUE(machine.waitForReadyRead(5000));
        address = QString::fromUtf8(machine.readLine()).trimmed().mid(13);
    }
    void TearDown() override
    {
        AppTest::TearDown();
        machine.closeWriteChannel();
        machine.waitForFinished(3000);
    }
    void does(MachineClient& client, const char* name, LinkJson arguments = LinkJson::object())
    {
        std::optional<std::string> answer;
        client.command(name, std::move(arguments),
                       [&](const Expected<LinkJson>& a) { answer = a ? "" : a.problem().text(); });
        EXPECT_TRUE(until([&] { return answer.has_value(); })) << name;
        EXPECT_EQ(answer.value_or("no answer"), "") << name;
    }
    /// Another program loads a bar up to a force, and holds or lets it break.
    void load(MachineClient& client, double until_, bool thenHold)
    {
        does(client, "mount", mountJson({.specimen = "rigger-tube", .seed = 3}));
        does(client, "zero");
        does(client, "close-top");
        does(client, "close-bottom");
        does(client, "guard", {{"closed", true}});
        RunProgram program;
        program.stages.push_back({.words = "Pull", .control = Control::Speed, .value = 0.05, .untilForce = until_});
        if (thenHold)
            program.stages.push_back({.words = "Hold", .control = Control::Hold, .untilTime = 1e5});
        does(client, "start",
             {{"program", programJson(program)},
              {"limits", limitsJson({.force = 45000, .travel = 80, .forceDrop = 0.4, .time = 4e5})}});
    }
    LiveFrame& frame() { return window->frame(); }
    QString words() { return window->findChild<QLabel*>("frameWords")->text(); }
    QProcess machine;
    QString address;
};

TEST_F(StrangeFrame, ALoadedFrameIsShownAsItIsAfterARestart)
{
    {
        MachineClient before;
        before.open(address);
        load(before, 15000, true);
        ASSERT_TRUE(until([&] { return before.status().stage == 1; }));
        does(before, "hold");
        ASSERT_TRUE(until([&] { return before.status().state == DriveState::Holding; }));
        before.close(); // as a program does that has crashed, for all the frame can see
    }
    frame().setAddress(address);
    frame().joinNamed();
    auto* strip = window->findChild<FrameStrip*>("frameStrip");
    ASSERT_TRUE(until([&] { return strip->isVisible() && words().contains("kN"); }));
    EXPECT_TRUE(words().contains("both grips closed")) << words().toStdString();
    EXPECT_TRUE(words().contains("15")) << words().toStdString();
    // On Set up the grips are shown closed, nothing is mounted over it, and the start is held back.
    ASSERT_TRUE(window->openJob(jobCalled("J-0101"), 3, 2));
    EXPECT_TRUE(until([&] { return !frame().holdBacks().isEmpty(); }));
    EXPECT_TRUE(frame().shows("grip-top"));
    EXPECT_TRUE(frame().shows("grip-bottom"));
    EXPECT_FALSE(frame().ready());
    EXPECT_TRUE(frame().holdBacks().join(" ").contains("did not bring it there"))
        << frame().holdBacks().join(" ").toStdString();
    EXPECT_FALSE(frame().holdBacks().join(" ").contains("nothing hangs"));
    const QString force = find<QLabel>("setupForce")->text();
    EXPECT_TRUE(force.contains("1") && !force.contains("–"));
    EXPECT_EQ(frame().status().state, DriveState::Holding) << "nothing is done to it by itself";
    EXPECT_TRUE(words().contains("holds"));
    // Esc stops it, from a page that has nothing to do with it.
    session().setStage(0);
    press(Qt::Key_Escape);
    ASSERT_TRUE(until([&] { return frame().status().state == DriveState::Ended; }));
    EXPECT_EQ(frame().status().ended, "stop");
    EXPECT_TRUE(strip->isVisible()) << "the load is still on it";
    // Taken off by a person, then it can be set up.
    auto* open = window->findChild<QPushButton*>("frameOpenGrips");
    EXPECT_FALSE(open->isEnabled()) << "a loaded bar would fall";
    window->findChild<QPushButton*>("frameEase")->click();
    ASSERT_TRUE(until([&] { return open->isEnabled() && !frame().moves(); }));
    open->click();
    ASSERT_TRUE(until([&] { return !strip->isVisible(); }));
    session().setStage(2);
    ASSERT_TRUE(until([&] { return frame().ready(); }));
    EXPECT_FALSE(frame().shows("grip-top"));
}

TEST_F(StrangeFrame, StopReachesAFrameThatAnotherLeads)
{
    MachineClient other;
    other.open(address);
    load(other, 15000, true);
    frame().setAddress(address);
    frame().joinNamed();
    auto* strip = window->findChild<FrameStrip*>("frameStrip");
    ASSERT_TRUE(until([&] { return strip->isVisible() && words().contains("led by") && words().contains(" N"); }));
    EXPECT_FALSE(window->findChild<QPushButton*>("frameEase")->isVisible()) << "only STOP is taken from others";
    ASSERT_TRUE(frame().moves());
    QTest::mouseClick(window->findChild<QPushButton*>("frameStop"), Qt::LeftButton);
    ASSERT_TRUE(until([&] { return other.status().state == DriveState::Ended; }));
    EXPECT_TRUE(QString::fromStdString(other.status().endedWords).startsWith("STOP by"));
    EXPECT_EQ(other.link(), MachineClient::Link::Joined);
    EXPECT_TRUE(until([&] { return !frame().moves(); }));
}

TEST_F(StrangeFrame, ABreakByAnotherClearsTheSetUpAndIsJournalled)
{
    Gate gate(address.section(':', 1).toUShort());
    frame().setAddress(gate.address());
    ASSERT_TRUE(window->openJob(jobCalled("J-0101"), 3, 2));
    ASSERT_TRUE(until([&] { return frame().ready(); }));
    settle();
    frame().zeroForce();
    frame().closeTopGrip();
    frame().closeBottomGrip();
    settle();
    frame().easeToZero();
    ASSERT_TRUE(until([&] { return frame().shows("grip-second"); }));
    frame().putExtensometerOn();
    frame().setGuard(true);
    settle();
    ASSERT_TRUE(frame().holdBacks().isEmpty()) << frame().holdBacks().join("; ").toStdString();
    gate.cut();
    {
        MachineClient other;
        other.open(address);
        ASSERT_TRUE(until([&] { return other.link() == MachineClient::Link::Joined; }));
        does(other, "pace", {{"speed", 100}});
        RunProgram program;
        program.stages.push_back({.words = "Pull", .control = Control::Speed, .value = 0.2});
        does(other, "start",
             {{"program", programJson(program)},
              {"limits", limitsJson({.force = 45000, .travel = 80, .forceDrop = 0.4, .time = 4e5})}});
        ASSERT_TRUE(until([&] { return other.status().state == DriveState::Ended; }, 20000));
        other.close();
    }
    gate.shut = false;
    ASSERT_TRUE(until([&] { return frame().joined(); }, 8000));
    ASSERT_TRUE(until([&] { return window->told().contains("used by another"); }, 3000));
    EXPECT_FALSE(frame().ready());
    EXPECT_FALSE(frame().holdBacks().isEmpty());
    session().setStage(3);
    press(Qt::Key_Return);
    EXPECT_FALSE(frame().running());
    bool noted = false;
    for (const JournalEntry& e : book->journal(session().jobId(), 20))
        noted = noted || e.what.contains("used by another");
    EXPECT_TRUE(noted);
    EXPECT_TRUE(book->check().empty());
}

TEST_F(StrangeFrame, ReadingsThatCeaseWhileBeatsGoOnAreMarkedOld)
{
    // A frame that beats and reads nothing.
    QTcpServer server;
    ASSERT_TRUE(server.listen(QHostAddress::LocalHost));
    QTcpSocket* socket = nullptr;
    const auto tell = [&](FrameKind kind, const std::string& payload) {
        const std::string bytes = encodeFrame(kind, payload);
        socket->write(bytes.data(), static_cast<qint64>(bytes.size()));
    };
    const std::string channels =
        R"("next":0,"events":0,"rate":50,"channels":[{"name":"time","unit":"s"},{"name":"force","unit":"N"}])";
    QObject::connect(&server, &QTcpServer::newConnection, &server, [&] {
        socket = server.nextPendingConnection();
        tell(FrameKind::Text, R"({"kind":"hello","protocol":2,"session":"s",)" + channels + "}");
        tell(FrameKind::Text, R"({"kind":"joined","version":2,)" + channels + "}");
        tell(FrameKind::Text, LinkJson(statusJson(FrameStatus{})).dump());
    });
    QTimer beats;
    std::uint64_t row = 0;
    bool reads = true;
    QObject::connect(&beats, &QTimer::timeout, &server, [&] {
        if (!socket)
            return;
        tell(FrameKind::Text, R"({"kind":"beat"})");
        if (reads)
            tell(FrameKind::Samples,
                 packSamples({.first = row++,
                              .channels = 2,
                              .time = 0.02 * static_cast<double>(row),
                              .step = 0.02,
                              .values = {0.02 * static_cast<double>(row), 123}}));
    });
    beats.start(50);
    frame().setAddress("127.0.0.1:" + QString::number(server.serverPort()));
    ASSERT_TRUE(window->openJob(jobCalled("J-0101"), 3, 2));
    ASSERT_TRUE(until([&] { return frame().joined() && find<QLabel>("setupForce")->text().contains("123"); }));
    EXPECT_FALSE(find<QLabel>("setupForce")->text().contains("last heard"));
    reads = false;
    QElapsedTimer clock, turn;
    clock.start();
    turn.start();
    // What other programs take of the machine meanwhile is none of the program's own: the longest turn that was late.
    qint64 late = 0;
    ASSERT_TRUE(until(
        [&] {
            late = std::max(late, turn.restart() - 15);
            return find<QLabel>("setupForce")->text().contains("last heard");
        },
        2000));
    EXPECT_LT(clock.elapsed() - late, 600);
    EXPECT_TRUE(frame().joined()) << "the link itself is there";
    reads = true;
    EXPECT_TRUE(until([&] { return !find<QLabel>("setupForce")->text().contains("last heard"); }, 2000));
}

TEST_F(StrangeFrame, ChannelsThatChangeInMidRunEndIt)
{
    // A frame that runs and then has other channels.
    QTcpServer server;
    ASSERT_TRUE(server.listen(QHostAddress::LocalHost));
    QTcpSocket* socket = nullptr;
    bool stopped = false;
    const auto tell = [&](FrameKind kind, const std::string& payload) {
        const std::string bytes = encodeFrame(kind, payload);
        socket->write(bytes.data(), static_cast<qint64>(bytes.size()));
    };
    const std::string channels =
        R"("next":0,"events":0,"rate":50,"channels":[{"name":"time","unit":"s"},{"name":"force","unit":"N"},
          {"name":"displacement","unit":"mm"},{"name":"extension","unit":"mm"}])";
    FrameStatus status{.mounted = true, .top = true, .bottom = true, .guard = true, .extensometer = true};
    FrameDecoder heard;
    QObject::connect(&server, &QTcpServer::newConnection, &server, [&] {
        socket = server.nextPendingConnection();
        QObject::connect(socket, &QTcpSocket::readyRead, &server, [&] {
            const QByteArray bytes = socket->readAll();
            heard.take({bytes.constData(), static_cast<size_t>(bytes.size())});
            for (auto f = heard.next(); f && *f; f = heard.next()) {
                const auto message = parseMessage((*f)->payload);
                if (!message || textOf(*message, "kind") != "command")
                    continue;
                const std::string what = textOf(*message, "do");
                stopped = stopped || what == "stop";
                if (what == "zero")
                    tell(FrameKind::Text,
                         R"({"kind":"event","n":0,"seq":0,"time":0,"code":"force-zero-open","text":"zeroed"})");
                if (what == "ease")
                    tell(FrameKind::Text, R"({"kind":"event","n":1,"seq":0,"time":0,"code":"eased","text":"eased"})");
                if (what == "extensometer-on")
                    tell(FrameKind::Text,
                         R"({"kind":"event","n":2,"seq":0,"time":0,"code":"extensometer-on","text":"on"})");
                if (what == "start")
                    status.state = DriveState::Running;
                tell(FrameKind::Text, statusJson(status).dump());
                tell(FrameKind::Text,
                     LinkJson{{"kind", "ack"},
                              {"id", countOf(*message, "id")},
                              {"ok", true},
                              {"seq", 0},
                              {"time", 0.0},
                              {"position", 0.0}}
                         .dump());
            }
        });
        tell(FrameKind::Text, R"({"kind":"hello","protocol":2,"session":"s",)" + channels + "}");
        tell(FrameKind::Text, R"({"kind":"joined","version":2,)" + channels + "}");
        FrameStatus empty;
        tell(FrameKind::Text, statusJson(empty).dump());
    });
    QTimer beats;
    QObject::connect(&beats, &QTimer::timeout, &server, [&] {
        if (socket)
            tell(FrameKind::Text, R"({"kind":"beat"})");
    });
    beats.start(100);
    frame().setAddress("127.0.0.1:" + QString::number(server.serverPort()));
    ASSERT_TRUE(window->openJob(jobCalled("J-0101"), 3, 2));
    ASSERT_TRUE(until([&] { return frame().ready(); }));
    frame().zeroForce();
    settle();
    frame().easeToZero();
    frame().putExtensometerOn();
    settle();
    ASSERT_TRUE(frame().holdBacks().isEmpty()) << frame().holdBacks().join("; ").toStdString();
    frame().start();
    ASSERT_TRUE(until([&] { return frame().running() && !frame().waits(); }));
    tell(FrameKind::Samples,
         packSamples({.first = 0, .channels = 4, .time = 0, .step = 0.02, .values = {0, 1, 0, 0, 0.02, 2, 0, 0}}));
    ASSERT_TRUE(until([&] { return frame().takenRows() == 2; }));
    tell(FrameKind::Text, R"({"kind":"channels","rate":50,"first":2,"channels":[{"name":"time","unit":"s"}]})");
    tell(FrameKind::Samples,
         packSamples({.first = 2, .channels = 1, .time = 0.04, .step = 0.02, .values = {0.04, 0.06}}));
    ASSERT_TRUE(until([&] { return !frame().running() && stopped; }));
    ASSERT_TRUE(session().record(3));
    EXPECT_EQ(session().record(3)->rows(), 2u);
    EXPECT_NE(session().record(3)->incompleteBecause.find("channels"), std::string::npos);
}

} // namespace
} // namespace fortitor
