// SPDX-License-Identifier: GPL-3.0-or-later
// The application, the frame, or both are killed in the middle of keying, of an import, of a run. Nothing that
// was committed is lost, at most the last quarter of a second of what had come.
#include "support.h"

#include "sim/random.h"

#include <QProcess>
#include <QThread>

#include <algorithm>
#include <csignal>
#include <set>

namespace fortitor {
namespace {

struct Seen {
    qint64 machine = 0;
    std::vector<std::array<long long, 3>> lines; ///< ms, rows taken, rows kept
    bool ended = false;
    QByteArray rest;

    void read(QProcess& p)
    {
        rest += p.readAllStandardOutput();
        for (qsizetype end = rest.indexOf('\n'); end >= 0; end = rest.indexOf('\n')) {
            const QList<QByteArray> words = rest.left(end).split(' ');
            rest.remove(0, end + 1);
            if (words.first() == "machine")
                machine = words.at(1).toLongLong();
            else if (words.first() == "ended")
                ended = true;
            else if (words.size() == 3)
                lines.push_back({words[0].toLongLong(), words[1].toLongLong(), words[2].toLongLong()});
        }
    }
};

class Kills : public testing::Test {
protected:
    void SetUp() override
    {
        auto opened = Logbook::open(file());
        ASSERT_TRUE(opened);
        ASSERT_TRUE(fillDemo(**opened));
        for (const JobRow& row : (*opened)->jobs())
            if (row.number == "J-0101")
                job = row.id;
    }
    [[nodiscard]] QString file() const { return folder.filePath("book.sqlite"); }
    /// What was told until `after` ms, then a kill of whom it says.
    Seen runAndKill(bool application, bool machine, int after)
    {
        QProcess child;
        child.setProcessChannelMode(QProcess::ForwardedErrorChannel);
        child.start(RUN_CHILD, {file(), QString::number(job), "3", "20", "50"});
        Seen seen;
        const auto wait = [&](auto done, int most) {
            QElapsedTimer clock;
            clock.start();
            while (!done() && clock.elapsed() < most && child.state() != QProcess::NotRunning) {
                child.waitForReadyRead(20);
                seen.read(child);
            }
        };
        wait([&] { return seen.lines.size() > 3; }, 10000);
        EXPECT_GT(seen.lines.size(), 3u) << "the run did not begin, exit " << child.exitCode();
        const long long from = seen.lines.empty() ? 0 : seen.lines.back()[0];
        wait([&] { return seen.lines.back()[0] > from + after; }, 5000);
        if (machine)
            ::kill(static_cast<pid_t>(seen.machine), SIGKILL);
        if (application)
            ::kill(static_cast<pid_t>(child.processId()), SIGKILL);
        else
            wait([&] { return seen.ended; }, 8000);
        child.waitForFinished(5000);
        seen.read(child);
        return seen;
    }
    QTemporaryDir folder;
    std::int64_t job = 0;
};

/// 30 as a rule; as many as FORTITOR_KILLS says in a longer run.
int kills()
{
    const int more = qEnvironmentVariableIntValue("FORTITOR_KILLS");
    return more > 0 ? more : 30;
}

/// Runs the child until it has told so many things, some ms more, and kills it; gives the last it told.
int keepUntilKilled(const QStringList& arguments, int least, int after)
{
    QProcess child;
    child.setProcessChannelMode(QProcess::ForwardedErrorChannel);
    child.start(KEEP_CHILD, arguments);
    QByteArray all;
    QElapsedTimer clock;
    clock.start();
    while (all.count('\n') < least && clock.elapsed() < 20000 && child.state() != QProcess::NotRunning) {
        child.waitForReadyRead(20);
        all += child.readAllStandardOutput();
    }
    EXPECT_GE(all.count('\n'), least) << "it did not begin";
    QThread::usleep(static_cast<unsigned long>(after));
    ::kill(static_cast<pid_t>(child.processId()), SIGKILL);
    child.waitForFinished(5000);
    all += child.readAllStandardOutput();
    const QList<QByteArray> lines = all.left(all.lastIndexOf('\n')).split('\n');
    return lines.isEmpty() ? 0 : lines.last().toInt();
}

TEST_F(Kills, WhatWasKeyedAndShownAsKeptIsThere)
{
    Random random(17);
    int from = 1;
    for (int round = 0; round < kills(); ++round) {
        const int told = keepUntilKilled({"key", file(), QString::number(job), QString::number(from)}, 2,
                                         static_cast<int>(random.between(0, 60000)));
        auto opened = Logbook::open(file());
        ASSERT_TRUE(opened) << opened.problem().text();
        ASSERT_TRUE((*opened)->readOnlyBecause().isEmpty());
        Session session(**opened);
        ASSERT_TRUE(session.open(job));
        const std::string text = session.job().specimens[0].input.dimensions.at("diameter").front().text;
        EXPECT_GE(std::stoi(text), 1000 + told) << "round " << round;
        EXPECT_LE(std::stoi(text), 1000 + told + 4);
        if (round % 10 == 9) {
            EXPECT_TRUE((*opened)->check().empty());
        }
        from = std::stoi(text) - 999;
    }
}

TEST_F(Kills, AnImportIsWholeOrSaysThatItIsNot)
{
    Random random(18);
    for (int round = 0; round < kills(); ++round) {
        const int told = keepUntilKilled({"import", file()}, 1 + round % 9, static_cast<int>(random.between(0, 40000)));
        auto opened = Logbook::open(file());
        ASSERT_TRUE(opened) << opened.problem().text();
        std::int64_t id = 0;
        for (const JobRow& row : (*opened)->jobs())
            if (row.number == "J-7000")
                id = std::max(id, row.id);
        Session session(**opened);
        ASSERT_TRUE(session.open(id));
        session.settleWork();
        int there = 0;
        for (size_t i = 0; i < session.job().specimens.size(); ++i)
            there += session.record(i) ? 1 : 0;
        EXPECT_GE(there, told);
        EXPECT_LE(there, told + 1);
        const bool says = std::ranges::any_of(session.outcome().remarks,
                                              [](const Remark& r) { return r.code == "import-unfinished"; });
        EXPECT_TRUE(says || there == 40) << "round " << round << ", " << there << " of 40";
        // Every record there is hangs on a specimen: none was left behind.
        std::set<std::string> hung;
        for (const JobRow& row : (*opened)->jobs()) {
            const auto read = readJob(*(*opened)->loadJob(row.id));
            ASSERT_TRUE(read);
            for (const Specimen& s : read->specimens)
                hung.insert(s.recordId);
        }
        for (const QString& record : (*opened)->recordIds()) {
            EXPECT_TRUE(hung.contains(record.toStdString())) << "round " << round;
        }
        if (round % 10 == 9) {
            EXPECT_TRUE((*opened)->check().empty());
        }
    }
}

TEST_F(Kills, InALiveRunNothingThatWasCommittedIsLost)
{
    Random random(7);
    int checked = 0;
    for (int round = 0; round < kills(); ++round) {
        const int whom = round % 3;
        const Seen seen = runAndKill(whom != 1, whom != 0, static_cast<int>(random.between(20, 350)));
        ASSERT_FALSE(seen.lines.empty());
        auto opened = Logbook::open(file());
        ASSERT_TRUE(opened) << opened.problem().text();
        Session session(**opened);
        ASSERT_TRUE(session.open(job));
        session.settleWork();
        const auto record = session.record(3);
        ASSERT_TRUE(record) << "round " << round;
        const auto rows = static_cast<long long>(record->rows());
        EXPECT_GE(rows, seen.lines.back()[2]) << "what was committed is there";
        // All that had come a quarter of a second before the end.
        const long long last = seen.lines.back()[0];
        long long due = 0;
        for (const auto& line : seen.lines)
            if (line[0] <= last - 250)
                due = line[1];
        EXPECT_GE(rows, due);
        EXPECT_FALSE(record->incompleteBecause.empty());
        EXPECT_EQ(seen.ended, whom == 1) << "the application notices that the frame is gone";
        const Column& time = record->find("time")->values;
        for (size_t i = 1; i < record->rows(); ++i)
            ASSERT_NEAR(time[i] - time[i - 1], 0.02, 1e-6);
        EXPECT_TRUE(record->has("start"));
        if (round % 10 == 0) {
            EXPECT_TRUE((*opened)->check().empty());
        }
        EXPECT_TRUE(session.outcome().specimens[3].outcome->remarked("record-incomplete"));
        ++checked;
    }
    EXPECT_EQ(checked, kills());
}

} // namespace
} // namespace fortitor
