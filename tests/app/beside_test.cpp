// SPDX-License-Identifier: GPL-3.0-or-later
// A large job, or a long record: the window answers while figures are worked out beside it.
#include "support.h"

#include "app/bench/read/result_card.h"
#include "jobs/edits.h"
#include "sim/catalogue.h"

#include <atomic>
#include <cmath>
#include <thread>

namespace fortitor {
namespace {

class BesideTest : public test::AppTest {
protected:
    void SetUp() override
    {
        AppTest::SetUp();
        Session::setPatience(8);
    }
    void TearDown() override
    {
        AppTest::TearDown();
        Session::setPatience(-1);
    }
    /// Specimens of the rigger tube, each with a record of so many rows.
    std::int64_t made(int specimens, double rows)
    {
        const CatalogueEntry& entry = *findCatalogueEntry("rigger-tube");
        Json job = edits::newJob("J-1", "Many", *findMethod("tension-metal"), 0);
        job["material"] = {{"name", "6082-T6"}};
        job["requirements"] = Json::array({{{"symbol", "Rm"}, {"min", "290 MPa"}}});
        for (int i = 0; i < specimens; ++i) {
            const SimulatedRun run = simulateRun(entry, 7 + static_cast<std::uint64_t>(i % 3), rows);
            Json one{{"label", "A" + std::to_string(i + 1)}};
            one["dimensions"]["shape"] = "round";
            for (const auto& [key, values] : run.specimen.dimensions)
                one["dimensions"][key] = values;
            const auto id =
                book->addRecord(1, QString::fromStdString(one["label"].get<std::string>()), run.record, "operator A");
            EXPECT_TRUE(id);
            one["record"] = Json{{"id", id->toStdString()}, {"source", "simulated"}};
            job["specimens"].push_back(one);
        }
        const auto id = book->addJob(job, "operator A", "made");
        EXPECT_TRUE(id) << (id ? "" : id.problem().text());
        return id ? *id : 0;
    }
};

/// What is no longer wanted is taken apart where the work is done, at once, and at the latest with the thing itself.
TEST_F(BesideTest, WhatIsGoneIsTakenApartElsewhere)
{
    std::atomic<std::thread::id> where{};
    const auto old = [&] {
        return std::shared_ptr<const int>(new int(1), [&](const int* one) {
            where = std::this_thread::get_id();
            delete one;
        });
    };
    const auto id = made(2, 500);
    ASSERT_TRUE(window->openJob(id, 0, 4));
    {
        Beside beside(*book);
        beside.dispose(old());
        EXPECT_EQ(where.load(), std::this_thread::get_id()) << "nobody works yet, and it is kept";
        where = std::thread::id{};
        beside.ask({{.index = 0, .stamp = 1, .job = std::make_shared<const Job>(session().job())}});
        beside.dispose(old());
        ASSERT_TRUE(until([&] { return where.load() != std::thread::id{}; }, 5000));
        EXPECT_NE(where.load(), std::this_thread::get_id());
        beside.finish();
    }
}

TEST_F(BesideTest, AJobOpensAtOnceAndItsFiguresCome)
{
    const auto id = made(60, 6000);
    QElapsedTimer clock;
    clock.start();
    ASSERT_TRUE(window->openJob(id, 0, 4));
    const auto opened = clock.elapsed();
    EXPECT_GT(session().working(), 20u) << "all of it was worked out while the window stood still, " << opened << " ms";
    EXPECT_EQ(session().steps(50), 2) << "it has a record, and is not read yet";
    ASSERT_TRUE(until([&] { return session().working() == 0; }, 20000));
    for (size_t i = 0; i < 60; ++i)
        ASSERT_TRUE(session().outcome().specimens[i].outcome
                    && session().outcome().specimens[i].outcome->find("Rm")->value)
            << i;
    // The same as at once.
    const SpecimenOutcome once = analyseSpecimen(session().job().specimens[41], session().job(), session().record(41));
    EXPECT_EQ(once.outcome->find("Rm")->value, session().outcome().specimens[41].outcome->find("Rm")->value);
    EXPECT_EQ(session().outcome().batch.front().statistics.n, 60u);
    // The lists hear of it.
    session().finish();
    EXPECT_EQ(book->jobs().front().judged, 60);
}

TEST_F(BesideTest, WhatIsChangedMeanwhileCounts)
{
    const auto id = made(40, 6000);
    ASSERT_TRUE(window->openJob(id, 0, 4));
    ASSERT_GT(session().working(), 10u);
    // While the first figures are on their way the section is taken otherwise: those never show.
    ASSERT_TRUE(session().apply(edits::option(session().document(), "area_from", "least")));
    ASSERT_TRUE(until([&] { return session().working() == 0; }, 20000));
    for (size_t i = 0; i < 40; ++i) {
        const SpecimenOutcome once =
            analyseSpecimen(session().job().specimens[i], session().job(), session().record(i));
        ASSERT_EQ(once.outcome->find("Rm")->value, session().outcome().specimens[i].outcome->find("Rm")->value) << i;
    }
    session().undo();
    session().settleWork();
    const SpecimenOutcome once = analyseSpecimen(session().job().specimens[39], session().job(), session().record(39));
    EXPECT_EQ(once.outcome->find("Rm")->value, session().outcome().specimens[39].outcome->find("Rm")->value);
}

TEST_F(BesideTest, AnotherJobMayComeBeforeTheFiguresDo)
{
    const auto many = made(40, 6000);
    const auto few = made(2, 500);
    ASSERT_TRUE(window->openJob(many, 3, 4));
    ASSERT_TRUE(window->openJob(few, 0, 4));
    ASSERT_TRUE(until([&] { return session().working() == 0; }, 20000));
    EXPECT_EQ(session().outcome().specimens.size(), 2u);
    EXPECT_TRUE(session().outcome().specimens[1].outcome->find("Rm")->value);
    ASSERT_TRUE(window->openJob(many, 3, 4));
    session().close();
    ASSERT_TRUE(until([&] { return session().working() == 0; }, 20000));
    EXPECT_FALSE(session().isOpen());
}

TEST_F(BesideTest, ALongRecordKeepsNobodyWaiting)
{
    const auto id = made(1, 300000);
    ASSERT_TRUE(window->openJob(id, 0, 4));
    EXPECT_EQ(session().working(), 1u);
    EXPECT_TRUE(session().worksOn(0));
    settle();
    ASSERT_TRUE(until([&] { return session().working() == 0; }, 20000));
    ASSERT_TRUE(session().specimenOutcome().outcome->find("Rm")->value);
    auto* card = find<ResultCard>("card-Rm");
    ASSERT_TRUE(card);
    EXPECT_TRUE(card->isVisible());
    // A change of a choice comes the same way; what stood before stands until it is there.
    const double before = *session().specimenOutcome().outcome->find("Rm")->value;
    ASSERT_TRUE(session().apply(edits::option(session().document(), "area_from", "least")));
    EXPECT_EQ(session().working(), 1u);
    EXPECT_EQ(*session().specimenOutcome().outcome->find("Rm")->value, before);
    session().settleWork();
    EXPECT_GT(*session().specimenOutcome().outcome->find("Rm")->value, before);
}

TEST_F(BesideTest, AnApprovalStandsOnAllFigures)
{
    const auto id = made(40, 6000);
    ASSERT_TRUE(window->openJob(id, 0, 5));
    ASSERT_GT(session().working(), 10u);
    click("judgeKeep");
    EXPECT_EQ(session().working(), 0u);
    EXPECT_TRUE(session().judged());
}

TEST_F(BesideTest, ARecordThatIsGoneIsSaidAllTheSame)
{
    const auto id = made(30, 6000);
    Json body = *book->loadJob(id);
    body["specimens"][25]["record"]["id"] = "no-such-record";
    const auto other = book->addJob(body, "operator A", "made");
    ASSERT_TRUE(other);
    ASSERT_TRUE(window->openJob(*other, 0, 4));
    session().settleWork();
    EXPECT_TRUE(session().outcome().specimens[25].outcome->remarked("record-missing"));
}

} // namespace
} // namespace fortitor
