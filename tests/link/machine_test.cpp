// SPDX-License-Identifier: GPL-3.0-or-later
// The real frame process on loopback, led by the real client.
#include "wait.h"

#include "link/machine_client.h"

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QProcess>
#include <QTcpServer>
#include <QTcpSocket>
#include <QUuid>

#include <gtest/gtest.h>

#include <algorithm>
#include <csignal>

namespace fortitor {
namespace {

using test::until;

struct Machine {
    QProcess process;
    QString address;
    explicit Machine(QStringList arguments = {})
    {
        process.setProcessChannelMode(QProcess::ForwardedErrorChannel);
        process.start(MACHINE_PROGRAM,
                      arguments << "--while-parent"
                                << "--anybody");
        if (!process.waitForStarted())
            return;
        while (!process.canReadLine() && process.waitForReadyRead(5000)) { }
        const QString line = QString::fromUtf8(process.readLine()).trimmed();
        EXPECT_TRUE(line.startsWith("listening on ")) << line.toStdString();
        address = line.mid(13);
    }
    ~Machine()
    {
        process.closeWriteChannel();
        if (!process.waitForFinished(3000))
            process.kill();
        process.waitForFinished(3000);
    }
};

/// Keeps all it is told.
struct Listener {
    MachineClient client;
    std::vector<FrameEvent> events;
    std::vector<double> times;
    std::vector<double> forces;
    std::uint64_t rows = 0, firstRow = 0;
    bool started = false, contiguous = true;
    int joins = 0, losses = 0;
    std::vector<std::pair<qulonglong, qulonglong>> gaps;
    QString refusal;

    explicit Listener(const QString& address)
    {
        QObject::connect(&client, &MachineClient::happened, [this](const LinkEvent& e) { events.push_back(e.event); });
        QObject::connect(&client, &MachineClient::samples, [this](const SampleBatch& b) {
            if (!started)
                firstRow = b.first;
            else
                contiguous = contiguous && b.first == firstRow + rows;
            started = true;
            rows += b.rows();
            for (size_t r = 0; r < b.rows(); ++r) {
                times.push_back(b.at(r, 0));
                forces.push_back(b.at(r, 1));
            }
        });
        QObject::connect(&client, &MachineClient::joined, [this] { ++joins; });
        QObject::connect(&client, &MachineClient::lost, [this] { ++losses; });
        QObject::connect(&client, &MachineClient::gap, [this](qulonglong a, qulonglong b) { gaps.emplace_back(a, b); });
        QObject::connect(&client, &MachineClient::refused, [this](const QString& why) { refusal = why; });
        client.open(address);
    }
    [[nodiscard]] bool had(std::string_view code) const
    {
        return std::ranges::any_of(events, [&](const FrameEvent& e) { return e.code == code; });
    }
    /// Does it and gives what is wrong, empty when nothing is.
    std::string does(const char* name, LinkJson arguments = LinkJson::object())
    {
        std::optional<std::string> answer;
        client.command(name, std::move(arguments),
                       [&](const Expected<LinkJson>& a) { answer = a ? "" : a.problem().text(); });
        EXPECT_TRUE(until([&] { return answer.has_value(); })) << name;
        return answer.value_or("no answer");
    }
    void makeReady(const char* specimen = "rigger-tube")
    {
        EXPECT_EQ(does("mount", mountJson({.specimen = specimen, .seed = 3})), "");
        EXPECT_EQ(does("zero"), "");
        EXPECT_EQ(does("close-top"), "");
        EXPECT_EQ(does("close-bottom"), "");
        EXPECT_EQ(does("ease", {{"near", 8}}), "");
        EXPECT_TRUE(until([&] { return had("eased"); }));
        EXPECT_EQ(does("extensometer-on"), "");
        EXPECT_EQ(does("guard", {{"closed", true}}), "");
    }
    std::string start(double speed = 0.05,
                      StopLimits limits = {.force = 45000, .travel = 80, .forceDrop = 0.4, .time = 4000})
    {
        RunProgram program;
        program.stages.push_back({.words = "Pull", .control = Control::Speed, .value = speed});
        return does("start", {{"program", programJson(program)}, {"limits", limitsJson(limits)}});
    }
};

TEST(Machine, AWholeRunOverLoopback)
{
    Machine machine({"--speed", "20"});
    Listener l(machine.address);
    l.makeReady();
    ASSERT_EQ(l.start(), "");
    ASSERT_TRUE(until([&] { return l.client.status().state == DriveState::Ended; }, 20000));
    EXPECT_EQ(l.client.status().ended, "broken");
    EXPECT_TRUE(l.had("break"));
    EXPECT_TRUE(l.contiguous);
    EXPECT_TRUE(l.gaps.empty());
    for (size_t i = 1; i < l.times.size(); ++i)
        ASSERT_NEAR(l.times[i] - l.times[i - 1], 0.02, 1e-9) << i;
}

TEST(Machine, ALocalSocketDoesAsWell)
{
    Machine machine(
        {"--socket", "fortitor-test-" + QUuid::createUuid().toString(QUuid::WithoutBraces), "--speed", "20"});
    ASSERT_TRUE(machine.address.startsWith("local:"));
    Listener l(machine.address);
    l.makeReady();
    EXPECT_EQ(l.start(), "");
    EXPECT_TRUE(until([&] { return l.rows > 200; }));
    EXPECT_TRUE(l.contiguous);
}

TEST(Machine, RefusesInWordsAndGoesOn)
{
    Machine machine;
    Listener l(machine.address);
    EXPECT_NE(l.does("dance").find("dance"), std::string::npos);
    EXPECT_NE(l.does("mount", mountJson({.specimen = "moonstone"})).find("moonstone"), std::string::npos);
    EXPECT_EQ(l.does("mount", mountJson({.specimen = "mild-bar"})), "");
    EXPECT_NE(l.start().find("guard"), std::string::npos);
    EXPECT_NE(l.does("jog", {{"speed", 1}}).find("locked"), std::string::npos);
    EXPECT_NE(l.does("fault", {{"fault", "earthquake"}}).find("earthquake"), std::string::npos);
    EXPECT_EQ(l.does("zero"), "");
}

TEST(Machine, ThePendulumIsWorkedStepByStepAndRefusesWhatIsDangerous)
{
    using Hammer = PendulumStatus::Hammer;
    Machine machine({"--speed", "20"});
    Listener l(machine.address);
    const auto stands = [&](Hammer h) { return until([&] { return l.client.pendulum().hammer == h; }); };
    EXPECT_EQ(l.does("pendulum-set-up", {{"energy", 300}, {"swing_loss", 0.6}, {"step", 0.2}}), "");
    EXPECT_NE(l.does("pendulum-release").find("hangs"), std::string::npos);
    EXPECT_EQ(l.does("pendulum-raise"), "");
    ASSERT_TRUE(stands(Hammer::Raised));
    EXPECT_TRUE(l.client.pendulum().locked);
    EXPECT_NE(l.does("pendulum-pointer").find("guard"), std::string::npos);
    EXPECT_EQ(l.does("pendulum-guard", {{"closed", false}}), "");
    EXPECT_NE(l.does("pendulum-place", {{"material", "moonstone"}, {"temperature", 20}}).find("moonstone"),
              std::string::npos);
    EXPECT_NE(l.does("pendulum-place", {{"material", "S355"}}).find("temperature"), std::string::npos);
    EXPECT_EQ(l.does("pendulum-place", {{"material", "S355"}, {"temperature", -60}, {"seed", 3}}), "");
    EXPECT_EQ(l.does("pendulum-pointer"), "");
    EXPECT_EQ(l.does("pendulum-lock", {{"in", false}}), "");
    EXPECT_NE(l.does("pendulum-release").find("guard is open"), std::string::npos);
    EXPECT_EQ(l.does("pendulum-guard", {{"closed", true}}), "");
    EXPECT_EQ(l.does("pendulum-release"), "");
    ASSERT_TRUE(stands(Hammer::Swinging));
    ASSERT_TRUE(until([&] { return l.client.pendulum().struck; }));
    l.client.stopNow(); // STOP brakes it
    ASSERT_TRUE(stands(Hammer::Hanging));
    ASSERT_TRUE(l.client.pendulum().reading);
    EXPECT_GT(*l.client.pendulum().reading, 1);
    EXPECT_LT(*l.client.pendulum().reading, 40);
    EXPECT_EQ(l.does("pendulum-pick-up"), "");
    EXPECT_NE(l.does("pendulum-pick-up").find("none"), std::string::npos);
}

TEST(Machine, OnlyPlacesOfThisMachine)
{
    for (const char* place : {"192.0.2.7:4000", "example.invalid:80", "127.0.0.1", "127.0.0.1:0", "127.0.0.1:x"}) {
        Listener l(place);
        EXPECT_FALSE(l.refusal.isEmpty()) << place;
        EXPECT_EQ(l.client.link(), MachineClient::Link::Off) << place;
    }
}

TEST(Machine, OneLeaderAtATime)
{
    Machine machine;
    Listener first(machine.address);
    ASSERT_TRUE(until([&] { return first.joins == 1; }));
    Listener second(machine.address);
    ASSERT_TRUE(until([&] { return !second.refusal.isEmpty(); }));
    EXPECT_TRUE(second.refusal.contains("another program"));
    EXPECT_EQ(first.does("mount", mountJson({.specimen = "mild-bar"})), "");
    first.client.close();
    EXPECT_TRUE(until([&] { return second.joins == 1; })) << "it is free again";
}

/// A socket that says what it is told to.
struct Raw {
    QTcpSocket socket;
    FrameDecoder decoder;
    explicit Raw(const QString& address)
    {
        socket.connectToHost("127.0.0.1", address.section(':', 1).toUShort());
        EXPECT_TRUE(socket.waitForConnected(2000));
    }
    void say(const LinkJson& message)
    {
        const std::string bytes = encodeFrame(FrameKind::Text, message.dump());
        socket.write(bytes.data(), static_cast<qint64>(bytes.size()));
    }
    /// The first message of that kind that comes, an empty one when none does.
    LinkJson hear(const std::string& kind, int most = 2000)
    {
        LinkJson heard;
        until(
            [&] {
                const QByteArray bytes = socket.readAll();
                decoder.take({bytes.constData(), static_cast<size_t>(bytes.size())});
                for (auto frame = decoder.next(); heard.is_null() && frame && *frame; frame = decoder.next())
                    if ((*frame)->kind == FrameKind::Text)
                        if (const auto message = parseMessage((*frame)->payload);
                            message && textOf(*message, "kind") == kind)
                            heard = *message;
                return !heard.is_null();
            },
            most);
        return heard;
    }
};

TEST(Machine, NothingButStopIsTakenFromWhoHasNotJoined)
{
    Machine machine;
    Listener leader(machine.address);
    leader.makeReady();
    ASSERT_EQ(leader.start(0.01), "");
    Raw other(machine.address);
    int id = 1;
    for (const char* name : {"start", "jog", "open-grips", "hold", "mount", "set-up", "zero", "emergency-stop",
                             "release-emergency", "pace"}) {
        other.say({{"kind", "command"}, {"do", name}, {"id", id}});
        const LinkJson ack = other.hear("ack");
        EXPECT_EQ(countOf(ack, "id"), static_cast<std::uint64_t>(id++)) << name;
        EXPECT_FALSE(flagOf(ack, "ok", true)) << name;
    }
    EXPECT_EQ(leader.client.status().state, DriveState::Running);
    other.say({{"kind", "command"}, {"do", "stop"}, {"id", 99}});
    EXPECT_TRUE(flagOf(other.hear("ack"), "ok"));
    ASSERT_TRUE(until([&] { return leader.client.status().state == DriveState::Ended; }));
    EXPECT_EQ(leader.client.status().ended, "stop");
    EXPECT_EQ(leader.client.status().endedWords, "STOP by another program");
    EXPECT_EQ(leader.losses, 0) << "who leads goes on leading";
}

TEST(Machine, ATokenIsAskedForAndNotShown)
{
    QProcess process;
    process.start(MACHINE_PROGRAM, {"--while-parent", "--token-stdin"});
    process.write("a token of some length\n");
    ASSERT_TRUE(process.waitForReadyRead(5000));
    const QString address = QString::fromUtf8(process.readLine()).trimmed().mid(13);
    EXPECT_TRUE(process.readAll().isEmpty());
    for (const char* token : {"", "a token of some lengtH", "x"}) {
        Raw other(address);
        const LinkJson hello = other.hear("hello");
        EXPECT_TRUE(flagOf(hello, "token"));
        EXPECT_EQ(hello.dump().find("some length"), std::string::npos);
        other.say({{"kind", "join"}, {"version", 2}, {"token", token}});
        EXPECT_NE(textOf(other.hear("refused"), "found").find("token"), std::string::npos) << token;
        EXPECT_TRUE(until([&] { return other.socket.state() == QAbstractSocket::UnconnectedState; }));
    }
    Listener wrong(address);
    EXPECT_TRUE(until([&] { return wrong.refusal.contains("token"); }));
    EXPECT_EQ(wrong.client.link(), MachineClient::Link::Off);
    EXPECT_TRUE(wrong.client.stopNow()) << "STOP needs none";
    Listener right(address);
    right.client.open(address, "a token of some length");
    EXPECT_EQ(right.does("mount", mountJson({.specimen = "mild-bar"})), "");
    process.closeWriteChannel();
    process.waitForFinished(3000);
}

TEST(Machine, APortWithoutATokenMakesOne)
{
    QProcess process;
    process.start(MACHINE_PROGRAM, {"--while-parent"});
    QByteArray said;
    ASSERT_TRUE(until([&] {
        process.waitForReadyRead(50);
        said += process.readAll();
        return said.contains("token ");
    }));
    Raw other(QString::fromUtf8(said).section('\n', 0, 0).trimmed().mid(13));
    other.say({{"kind", "join"}, {"version", 2}});
    EXPECT_NE(textOf(other.hear("refused"), "found").find("token"), std::string::npos);
    process.closeWriteChannel();
    process.waitForFinished(3000);
}

TEST(Machine, AJoinStatesItsVersion)
{
    Machine machine;
    for (const LinkJson& join : {LinkJson{{"kind", "join"}}, LinkJson{{"kind", "join"}, {"version", 1}},
                                 LinkJson{{"kind", "join"}, {"version", 3}}}) {
        Raw other(machine.address);
        other.say(join);
        EXPECT_NE(textOf(other.hear("refused"), "found").find("version"), std::string::npos) << join.dump();
    }
}

TEST(Machine, DeepJsonEndsTheLinkNotTheFrame)
{
    Machine machine;
    for (const size_t depth : {size_t{65}, size_t{250000}}) {
        for (const char* before :
             {R"({"kind":"join","version":2,"name":)", R"({"kind":"command","do":"start","id":1,"program":)"}) {
            Raw other(machine.address);
            const std::string bytes =
                encodeFrame(FrameKind::Text, before + std::string(depth, '[') + std::string(depth, ']') + "}");
            other.socket.write(bytes.data(), static_cast<qint64>(bytes.size()));
            EXPECT_TRUE(until([&] { return other.socket.state() == QAbstractSocket::UnconnectedState; })) << depth;
        }
    }
    Listener l(machine.address);
    EXPECT_EQ(l.does("mount", mountJson({.specimen = "mild-bar"})), "");
}

TEST(Machine, DeepJsonFromAFrameEndsTheLinkNotTheProgram)
{
    QTcpServer server;
    ASSERT_TRUE(server.listen(QHostAddress::LocalHost));
    const std::string deep = std::string(300000, '[') + std::string(300000, ']');
    int come = 0;
    QObject::connect(&server, &QTcpServer::newConnection, [&] {
        QTcpSocket* socket = server.nextPendingConnection();
        const auto tell = [&](const std::string& payload) {
            const std::string bytes = encodeFrame(FrameKind::Text, payload);
            socket->write(bytes.data(), static_cast<qint64>(bytes.size()));
        };
        if (come++ == 0)
            return tell(R"({"kind":"hello","protocol":2,"frame":)" + deep + "}");
        tell(R"({"kind":"hello","protocol":2,"session":"s","channels":[]})");
        tell(R"({"kind":"joined","version":2,"channels":[]})");
        tell(R"({"kind":"ack","id":1,"ok":false,"problem":)" + deep + "}");
    });
    Listener l("127.0.0.1:" + QString::number(server.serverPort()));
    EXPECT_TRUE(until([&] { return l.joins == 1 && l.losses == 1; }));
    EXPECT_GE(come, 2);
}

TEST(Machine, OneByteAtATimeKeepsNobodyOut)
{
    Machine machine({"--watchdog", "0.5"});
    Raw slow(machine.address);
    const std::string bytes = encodeFrame(FrameKind::Text, LinkJson{{"kind", "join"}, {"version", 2}}.dump());
    size_t sent = 0;
    QElapsedTimer clock;
    clock.start();
    Listener l(machine.address);
    EXPECT_TRUE(until(
        [&] {
            if (clock.elapsed() > static_cast<qint64>(sent) * 200) {
                slow.socket.write(bytes.data() + sent, 1);
                ++sent;
            }
            return l.joins == 1;
        },
        3000));
    // It is let go once it has said nothing whole for a while.
    EXPECT_TRUE(until(
        [&] {
            if (sent < bytes.size() && clock.elapsed() > static_cast<qint64>(sent) * 200) {
                slow.socket.write(bytes.data() + sent, 1);
                ++sent;
            }
            return slow.socket.state() == QAbstractSocket::UnconnectedState;
        },
        9000));
    EXPECT_EQ(l.does("zero").find("silent"), std::string::npos);
    EXPECT_EQ(l.losses, 0);
}

TEST(Machine, WhoOnlySendsBytesDoesNotKeepTheLead)
{
    Machine machine({"--watchdog", "0.5"});
    Raw leader(machine.address);
    leader.say({{"kind", "join"}, {"version", 2}, {"name", "a program that hangs"}});
    ASSERT_FALSE(leader.hear("joined").is_null());
    const std::string bytes = encodeFrame(FrameKind::Text, LinkJson{{"kind", "beat"}}.dump());
    QElapsedTimer clock;
    clock.start();
    size_t sent = 0;
    Listener l(machine.address);
    EXPECT_TRUE(until(
        [&] {
            if (sent < bytes.size() - 1 && clock.elapsed() > static_cast<qint64>(sent) * 100)
                leader.socket.write(bytes.data() + sent++, 1);
            return l.joins == 1;
        },
        3000));
}

TEST(Machine, WhoLooksOnSeesTheStateWhoLeadsAndMayStop)
{
    Machine machine;
    Listener leader(machine.address);
    leader.makeReady();
    ASSERT_EQ(leader.start(0.02), "");
    Listener other(machine.address);
    ASSERT_TRUE(until([&] {
        return other.client.link() == MachineClient::Link::LookingOn
            && other.client.status().state == DriveState::Running;
    }));
    EXPECT_TRUE(other.refusal.contains("process")) << other.refusal.toStdString();
    EXPECT_TRUE(other.refusal.contains("s ago"));
    ASSERT_TRUE(until([&] { return other.client.forceSeen() > 300; }));
    EXPECT_TRUE(other.client.leader().contains("process"));
    EXPECT_NE(other.does("jog", {{"speed", 1}}).find("leads it"), std::string::npos);
    EXPECT_EQ(other.rows, 0u);
    EXPECT_TRUE(other.client.stopNow());
    ASSERT_TRUE(until([&] {
        return leader.client.status().state == DriveState::Ended && other.client.status().state == DriveState::Ended;
    }));
    EXPECT_EQ(leader.losses, 0);
}

TEST(Machine, ReadingsThatWaitForOneThatNeverComesAreNotKeptWithoutEnd)
{
    QTcpServer server;
    ASSERT_TRUE(server.listen(QHostAddress::LocalHost));
    QTcpSocket* socket = nullptr;
    const auto tell = [&](FrameKind kind, const std::string& payload) {
        const std::string bytes = encodeFrame(kind, payload);
        socket->write(bytes.data(), static_cast<qint64>(bytes.size()));
    };
    QObject::connect(&server, &QTcpServer::newConnection, [&] {
        socket = server.nextPendingConnection();
        tell(FrameKind::Text,
             R"({"kind":"hello","protocol":2,"session":"s","next":0,"events":0,"rate":50,"channels":[{"name":"time",
              "unit":"s"}]})");
        tell(FrameKind::Text,
             R"({"kind":"joined","version":2,"next":0,"events":0,"rate":50,"channels":[{"name":"time","unit":"s"}]})");
    });
    Listener l("127.0.0.1:" + QString::number(server.serverPort()));
    ASSERT_TRUE(until([&] { return l.joins == 1; }));
    for (std::uint64_t k = 0; k < 20 && l.losses == 0; ++k) {
        tell(FrameKind::Samples,
             packSamples({.first = 10 + k * 100000,
                          .channels = 1,
                          .time = 0,
                          .step = 0.02,
                          .values = std::vector<double>(100000, 1.0)}));
        until([&] { return l.losses > 0; }, 30);
    }
    EXPECT_EQ(l.losses, 1);
}

TEST(Machine, ALinkThatDropsHoldsTheFrameAndLosesNothing)
{
    Machine machine({"--watchdog", "0.4"});
    Listener l(machine.address);
    l.makeReady();
    EXPECT_EQ(l.does("fault", {{"fault", "link-drop@1=1.5"}}), "");
    ASSERT_EQ(l.start(0.01), "");
    ASSERT_TRUE(until([&] { return l.losses == 1; }));
    EXPECT_EQ(l.client.link(), MachineClient::Link::Lost);
    EXPECT_NE(l.does("go-on").find("link is lost"), std::string::npos);
    ASSERT_TRUE(until([&] { return l.joins == 2; }));
    ASSERT_TRUE(until([&] { return l.had("link-hold"); }));
    EXPECT_EQ(l.client.status().state, DriveState::Holding);
    EXPECT_EQ(l.does("go-on"), "");
    EXPECT_TRUE(until([&] { return l.rows > 250; }));
    EXPECT_TRUE(l.contiguous) << "the machine kept the rows and sent them again";
    EXPECT_TRUE(l.gaps.empty());
}

TEST(Machine, TheWatchdogMayStopInsteadOfHold)
{
    Machine machine({"--watchdog", "0.3", "--watchdog-stops"});
    Listener l(machine.address);
    l.makeReady();
    EXPECT_EQ(l.does("fault", {{"fault", "link-drop@0.5=1"}}), "");
    ASSERT_EQ(l.start(0.01), "");
    ASSERT_TRUE(until([&] { return l.joins == 2; }));
    ASSERT_TRUE(until([&] { return l.client.status().state == DriveState::Ended; }));
    EXPECT_EQ(l.client.status().ended, "link");
}

TEST(Machine, ALostPacketIsAskedForAgain)
{
    Machine machine({"--rate", "1000"});
    Listener l(machine.address);
    l.makeReady();
    ASSERT_EQ(l.start(0.01), "");
    for (int i = 0; i < 5; ++i) {
        EXPECT_EQ(l.does("fault", {{"fault", "packet"}}), "");
        const auto before = l.rows;
        EXPECT_TRUE(until([&] { return l.rows > before + 100; }));
    }
    EXPECT_TRUE(l.contiguous);
    EXPECT_TRUE(l.gaps.empty());
}

TEST(Machine, LatePacketsComeInOrder)
{
    Machine machine({"--rate", "500"});
    Listener l(machine.address);
    l.makeReady();
    ASSERT_EQ(l.start(0.01), "");
    EXPECT_EQ(l.does("fault", {{"fault", "late=0.5"}}), "");
    const auto before = l.rows;
    EXPECT_TRUE(until([&] { return l.rows > before + 600; }));
    EXPECT_TRUE(l.contiguous);
    EXPECT_EQ(l.losses, 0);
}

TEST(Machine, PowerCutEndsItAndTheClientSaysSo)
{
    Machine machine;
    Listener l(machine.address);
    l.makeReady();
    ASSERT_EQ(l.start(0.01), "");
    l.client.command("fault", {{"fault", "power"}});
    ASSERT_TRUE(until([&] { return l.losses == 1; }));
    EXPECT_TRUE(until([&] { return machine.process.state() == QProcess::NotRunning; }, 3000));
}

TEST(Machine, AFrameThatStandsStillIsNoticed)
{
    Machine machine;
    Listener l(machine.address);
    ASSERT_TRUE(until([&] { return l.joins == 1; }));
    ::kill(static_cast<pid_t>(machine.process.processId()), SIGSTOP);
    EXPECT_TRUE(until([&] { return l.losses == 1; }, 3000));
    ::kill(static_cast<pid_t>(machine.process.processId()), SIGCONT);
    EXPECT_TRUE(until([&] { return l.joins == 2; }, 3000));
}

TEST(Machine, StopIsOnTheWireAtOnce)
{
    Machine machine;
    Listener l(machine.address);
    l.makeReady();
    ASSERT_EQ(l.start(0.01), "");
    QElapsedTimer clock;
    clock.start();
    ASSERT_TRUE(l.client.stopNow());
    EXPECT_LT(clock.nsecsElapsed(), 50'000'000);
    ASSERT_TRUE(until([&] { return l.client.status().ended == "stop"; }));
    EXPECT_LT(clock.elapsed(), 500);
}

TEST(Machine, ForeignBytesEndTheLinkNotTheFrame)
{
    Machine machine;
    for (const QByteArray& junk : {QByteArray("GET / HTTP/1.0\r\n\r\n"), QByteArray(5000, '\xff'),
                                   QByteArray("FLNK\x01\x01\x00\x00\xff\xff\xff\xff\x00\x00\x00\x00", 16)}) {
        QTcpSocket socket;
        socket.connectToHost("127.0.0.1", machine.address.section(':', 1).toUShort());
        ASSERT_TRUE(socket.waitForConnected(2000));
        socket.write(junk);
        EXPECT_TRUE(until([&] { return socket.state() == QAbstractSocket::UnconnectedState; }, 4000));
    }
    Listener l(machine.address);
    EXPECT_EQ(l.does("mount", mountJson({.specimen = "mild-bar"})), "");
}

TEST(Machine, AnotherVersionIsRefused)
{
    QTcpServer server;
    ASSERT_TRUE(server.listen(QHostAddress::LocalHost));
    QObject::connect(&server, &QTcpServer::newConnection, [&] {
        const std::string bytes = encodeFrame(FrameKind::Text, R"({"kind":"hello","protocol":3})");
        server.nextPendingConnection()->write(bytes.data(), static_cast<qint64>(bytes.size()));
    });
    Listener l("127.0.0.1:" + QString::number(server.serverPort()));
    ASSERT_TRUE(until([&] { return !l.refusal.isEmpty(); }));
    EXPECT_TRUE(l.refusal.contains("version 3"));
}

TEST(Machine, RowsThatAreGoneForGoodAreNamed)
{
    // A frame that has forgotten what the client missed.
    QTcpServer server;
    ASSERT_TRUE(server.listen(QHostAddress::LocalHost));
    QTcpSocket* socket = nullptr;
    const auto tell = [&](FrameKind kind, const std::string& payload) {
        const std::string bytes = encodeFrame(kind, payload);
        socket->write(bytes.data(), static_cast<qint64>(bytes.size()));
    };
    QObject::connect(&server, &QTcpServer::newConnection, [&] {
        socket = server.nextPendingConnection();
        tell(FrameKind::Text,
             R"({"kind":"hello","protocol":2,"session":"s","next":0,"events":0,"rate":50,"channels":[{"name":"time",
              "unit":"s"},{"name":"force","unit":"N"}]})");
        tell(FrameKind::Text,
             R"({"kind":"joined","version":2,"next":0,"events":0,"rate":50,"channels":[{"name":"time","unit":"s"},
              {"name":"force","unit":"N"}]})");
    });
    Listener l("127.0.0.1:" + QString::number(server.serverPort()));
    ASSERT_TRUE(until([&] { return l.joins == 1; }));
    const auto rows = [](std::uint64_t first, size_t n) {
        return packSamples({.first = first,
                            .channels = 2,
                            .time = 0.02 * static_cast<double>(first),
                            .step = 0.02,
                            .values = std::vector<double>(2 * n, 1.0)});
    };
    tell(FrameKind::Samples, rows(0, 3));
    tell(FrameKind::Samples, rows(8, 2));
    FrameDecoder heard;
    std::string asked;
    ASSERT_TRUE(until([&] {
        const QByteArray bytes = socket->readAll();
        heard.take({bytes.constData(), static_cast<size_t>(bytes.size())});
        for (auto frame = heard.next(); frame && *frame; frame = heard.next())
            if ((*frame)->payload.find("resend") != std::string::npos)
                asked = (*frame)->payload;
        return !asked.empty();
    }));
    const auto message = parseMessage(asked);
    EXPECT_EQ(countOf(*message, "from"), 3u);
    EXPECT_EQ(countOf(*message, "to"), 8u);
    EXPECT_EQ(l.rows, 3u) << "what came early waits";
    tell(FrameKind::Text, R"({"kind":"gone","from":3,"to":6})");
    tell(FrameKind::Samples, rows(6, 2));
    ASSERT_TRUE(until([&] { return l.rows == 7; }));
    ASSERT_EQ(l.gaps.size(), 1u);
    EXPECT_EQ(l.gaps[0], (std::pair<qulonglong, qulonglong>(3, 6)));
    // Told twice, taken once.
    tell(FrameKind::Samples, rows(6, 4));
    tell(FrameKind::Samples, rows(10, 1));
    ASSERT_TRUE(until([&] { return l.client.nextRow() == 11; }));
    EXPECT_EQ(l.rows, 8u);
}

TEST(MachineProgram, CommandLine)
{
    const auto run = [](QStringList arguments) {
        QProcess p;
        p.start(MACHINE_PROGRAM, arguments);
        EXPECT_TRUE(p.waitForFinished(5000));
        return std::pair(p.exitCode(), QString::fromUtf8(p.readAllStandardOutput() + p.readAllStandardError()));
    };
    EXPECT_EQ(run({"--version"}).first, 0);
    EXPECT_TRUE(run({"--help"}).second.contains("--fault"));
    EXPECT_TRUE(run({"--list"}).second.contains("sill-pin"));
    EXPECT_EQ(run({"--speed", "1000"}).first, 2);
    EXPECT_EQ(run({"--rate", "6000"}).first, 2);
    EXPECT_EQ(run({"--specimen", "moonstone"}).first, 3);
    EXPECT_EQ(run({"--fault", "earthquake"}).first, 3);
}

} // namespace
} // namespace fortitor

int main(int argc, char** argv)
{
    QCoreApplication app(argc, argv);
    testing::InitGoogleTest(&argc, argv);
    return RUN_ALL_TESTS();
}
