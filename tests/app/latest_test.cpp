// SPDX-License-Identifier: GPL-3.0-or-later
// A hand that moves faster than a record can be read: one reading at a time, and only the last place counts.
#include "app/model/latest.h"

#include <gtest/gtest.h>

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QSemaphore>

#include <atomic>
#include <vector>

namespace fortitor {
namespace {

Outcome marked(const std::string& symbol)
{
    Outcome outcome;
    outcome.results.push_back({.symbol = symbol});
    return outcome;
}

struct Asked {
    QSemaphore mayEnd; ///< one reading each
    std::atomic<int> begun = 0;
    std::vector<std::string> ready;
    LatestOutcome latest; // gone first

    Asked()
    {
        QObject::connect(&latest, &LatestOutcome::ready, &latest,
                         [this](const std::shared_ptr<std::optional<Outcome>>& outcome) {
                             ready.push_back(*outcome ? (*outcome)->results[0].symbol : "none");
                         });
    }
    void ask(const std::string& symbol)
    {
        latest.ask([this, symbol]() -> std::optional<Outcome> {
            ++begun;
            mayEnd.acquire();
            return symbol == "none" ? std::nullopt : std::optional(marked(symbol));
        });
    }
    bool until(const std::function<bool()>& done)
    {
        QElapsedTimer clock;
        clock.start();
        while (!done() && clock.elapsed() < 5000)
            QCoreApplication::processEvents(QEventLoop::AllEvents, 5);
        return done();
    }
};

TEST(LatestOutcome, OnlyTheLastOfWhatWaitsIsWorkedOut)
{
    Asked a;
    for (const char* symbol : {"first", "second", "third", "last"})
        a.ask(symbol);
    a.mayEnd.release(4);
    ASSERT_TRUE(a.until([&] { return !a.latest.busy(); }));
    EXPECT_EQ(a.ready, (std::vector<std::string>{"first", "last"}));
    EXPECT_EQ(a.begun, 2);
}

TEST(LatestOutcome, WhatWasDroppedNeverComes)
{
    Asked a;
    a.ask("first");
    a.ask("second");
    a.latest.drop();
    a.ask("after");
    a.mayEnd.release(3);
    ASSERT_TRUE(a.until([&] { return !a.latest.busy(); }));
    EXPECT_EQ(a.ready, std::vector<std::string>{"after"});
}

TEST(LatestOutcome, WhatCantBeReadIsToldAsSuch)
{
    Asked a;
    a.ask("none");
    a.mayEnd.release(1);
    ASSERT_TRUE(a.until([&] { return !a.ready.empty(); }));
    EXPECT_EQ(a.ready, std::vector<std::string>{"none"});
}

TEST(LatestOutcome, EndsWithoutWaitingForMore)
{
    auto a = std::make_unique<Asked>();
    a->ask("first");
    a->mayEnd.release(1);
    a.reset(); // what is under way is waited for, and answers nobody
}

} // namespace
} // namespace fortitor
