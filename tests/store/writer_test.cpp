// SPDX-License-Identifier: GPL-3.0-or-later
// The one thread that writes: order, answers, and what happens when it ends.
#include "store/logbook_writer.h"

#include "jobs/edits.h"

#include <gtest/gtest.h>

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>

#include <stdexcept>
#include <thread>

namespace fortitor {
namespace {

class Writer : public testing::Test {
protected:
    void SetUp() override
    {
        if (!QCoreApplication::instance())
            app = std::make_unique<QCoreApplication>(count, arguments);
        book = std::move(*Logbook::open(folder.filePath("book.sqlite")));
    }
    static LogbookWriter::Work noting(int i)
    {
        return [i](Logbook& b) { return b.note(0, "operator A", QString::number(i), {}); };
    }
    int count = 1;
    char name[6] = "tests";
    char* arguments[2] = {name, nullptr};
    std::unique_ptr<QCoreApplication> app;
    QTemporaryDir folder;
    std::unique_ptr<Logbook> book;
};

TEST_F(Writer, WritesInTheOrderAskedAndAnswersInTheThreadThatAsked)
{
    LogbookWriter writer(*book);
    const auto mine = std::this_thread::get_id();
    std::vector<int> answered;
    std::thread::id wrote;
    for (int i = 1; i <= 200; ++i)
        writer.post(
            [i, &wrote](Logbook& b) {
                wrote = std::this_thread::get_id();
                return noting(i)(b);
            },
            [&, i](const Expected<Done>& done) {
                EXPECT_TRUE(done);
                EXPECT_EQ(std::this_thread::get_id(), mine);
                answered.push_back(i);
            });
    EXPECT_EQ(writer.waiting(), 200u);
    EXPECT_TRUE(answered.empty()) << "answers come when the thread that asked is free";
    QElapsedTimer clock;
    clock.start();
    while (writer.waiting() > 0 && clock.elapsed() < 20000)
        QCoreApplication::processEvents(QEventLoop::AllEvents, 10);
    ASSERT_EQ(answered.size(), 200u);
    EXPECT_NE(wrote, mine);
    EXPECT_TRUE(std::ranges::is_sorted(answered));
    const auto lines = book->journal(0, 300);
    ASSERT_EQ(lines.size(), 200u);
    for (int i = 0; i < 200; ++i)
        EXPECT_EQ(lines[static_cast<size_t>(199 - i)].what, QString::number(i + 1));
    EXPECT_TRUE(book->check().empty());
}

TEST_F(Writer, WhatIsAskedForInAnAnswerIsDoneToo)
{
    LogbookWriter writer(*book);
    int done = 0;
    writer.post(noting(1),
                [&](const Expected<Done>&) { writer.post(noting(2), [&](const Expected<Done>&) { ++done; }); });
    writer.finish();
    EXPECT_EQ(done, 1);
    EXPECT_EQ(writer.waiting(), 0u);
    EXPECT_EQ(book->journal(0, 9).size(), 2u);
}

TEST_F(Writer, WaitingForOnePieceWaitsForAllBeforeIt)
{
    LogbookWriter writer(*book);
    std::vector<int> heard;
    for (int i = 0; i < 5; ++i)
        writer.post(noting(i), [&, i](const Expected<Done>&) { heard.push_back(i); });
    ASSERT_TRUE(writer.now([&](Logbook& b) -> Expected<Done> {
        EXPECT_EQ(b.head().line, 5);
        return Done{};
    }));
    EXPECT_EQ(heard.size(), 5u);
}

TEST_F(Writer, AThrowIsAnAnswerAndTheNextPieceIsWritten)
{
    LogbookWriter writer(*book);
    std::string words;
    writer.post([](Logbook&) -> Expected<Done> { throw std::runtime_error("of all things"); },
                [&](const Expected<Done>& done) { words = done ? "" : done.problem().text(); });
    EXPECT_FALSE(writer.now([](Logbook& b) {
        return b.together([&]() -> Expected<Done> {
            EXPECT_TRUE(b.note(0, "operator A", "lost", {}));
            return Problem{"a step", "no", {}, {}};
        });
    }));
    EXPECT_TRUE(writer.now(noting(3)));
    EXPECT_NE(words.find("of all things"), std::string::npos);
    EXPECT_EQ(book->journal(0, 9).size(), 1u);
}

TEST_F(Writer, AThrowInsideAStepLeavesNoStepOpen)
{
    LogbookWriter writer(*book);
    EXPECT_FALSE(writer.now([](Logbook& b) {
        return b.together([&]() -> Expected<Done> {
            EXPECT_TRUE(b.note(0, "operator A", "lost", {}));
            throw std::runtime_error("in mid-step");
        });
    }));
    EXPECT_TRUE(writer.now(noting(1)));
    EXPECT_TRUE(book->note(0, "operator A", "from the other connection", {})) << "nothing is locked";
    EXPECT_EQ(book->journal(0, 9).size(), 2u);
}

TEST_F(Writer, EndingWritesAllThatWasAsked)
{
    {
        LogbookWriter writer(*book);
        for (int i = 0; i < 50; ++i)
            writer.post(noting(i), [](const Expected<Done>&) { FAIL() << "nobody is there to hear it"; });
    }
    EXPECT_EQ(book->journal(0, 99).size(), 50u);
}

TEST_F(Writer, ALogbookThatOnlyReadsIsAnsweredSo)
{
    auto reading = std::move(*Logbook::open(book->file(), true));
    LogbookWriter writer(*reading);
    const auto done = writer.now(noting(1));
    ASSERT_FALSE(done);
    EXPECT_NE(done.problem().text().find("reading only"), std::string::npos);
    EXPECT_TRUE(
        writer.now([](Logbook& b) -> Expected<Done> { return b.jobs().empty() ? Expected<Done>(Done{}) : Problem{}; }));
}

} // namespace
} // namespace fortitor
