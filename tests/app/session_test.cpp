// SPDX-License-Identifier: GPL-3.0-or-later
// The job on the bench, kept in step with the logbook.
#include "support.h"

#include "jobs/edits.h"
#include "sim/catalogue.h"

#include <QSignalSpy>

namespace fortitor {
namespace {

class SessionTest : public testing::Test {
protected:
    void SetUp() override
    {
        Session::setPatience(-1);
        book = *Logbook::open(folder.filePath("book.sqlite"));
        ASSERT_TRUE(fillDemo(*book));
        session = std::make_unique<Session>(*book);
        id = book->jobs().front().id;
        ASSERT_TRUE(session->open(id));
    }
    QTemporaryDir folder;
    std::unique_ptr<Logbook> book;
    std::unique_ptr<Session> session;
    std::int64_t id = 0;
};

TEST_F(SessionTest, EveryChangeIsInTheLogbookInItsOrder)
{
    QSignalSpy changed(session.get(), &Session::changed);
    ASSERT_TRUE(session->apply(edits::head(session->document(), "title", "Kept")));
    EXPECT_EQ(changed.count(), 1);
    session->finish();
    EXPECT_EQ((*book->loadJob(id))["job"]["title"], "Kept");
    session->undo();
    session->finish();
    EXPECT_EQ((*book->loadJob(id))["job"]["title"], "Rigger tube, incoming lot");
    session->redo();
    session->finish();
    EXPECT_EQ((*book->loadJob(id))["job"]["title"], "Kept");
    const auto journal = book->journal(id, 3);
    EXPECT_TRUE(journal[0].what.startsWith("redone"));
    EXPECT_TRUE(journal[1].what.startsWith("undone"));
    EXPECT_TRUE(book->check().empty());
}

TEST_F(SessionTest, ARefusedCommandChangesNothing)
{
    QSignalSpy failed(session.get(), &Session::failed);
    const Json before = session->document().json();
    EXPECT_FALSE(session->apply(CommandBuilder(session->document(), "bad")
                                    .set("/specimens/0/dimensions/diameter", Json::array({"ten"}))
                                    .take()));
    EXPECT_EQ(failed.count(), 1);
    EXPECT_EQ(session->document().json(), before);
    EXPECT_EQ(*book->loadJob(id), before);
}

TEST_F(SessionTest, StepsFollowTheWork)
{
    EXPECT_EQ(session->steps(0), 4); // A1: judged
    EXPECT_EQ(session->steps(3), 1); // A4: measured only
    EXPECT_EQ(session->steps(4), 0); // A5: nothing yet
    EXPECT_TRUE(session->openRemarks(4).empty());
    EXPECT_FALSE(session->openRemarks(1).empty()); // A2: nominal size keyed
}

TEST_F(SessionTest, PreviewKeepsNothingAndIsExactOnOrdinaryRecords)
{
    const Json before = session->document().json();
    const auto preview = session->preview(0, "slope", "manual 40 MPa 150 MPa");
    ASSERT_TRUE(preview);
    EXPECT_EQ(session->document().json(), before);
    ASSERT_TRUE(session->apply(edits::specimenOption(session->document(), 0, "slope", "manual 40 MPa 150 MPa", "")));
    EXPECT_DOUBLE_EQ(*preview->find("E")->value, *session->specimenOutcome().outcome->find("E")->value);
    EXPECT_FALSE(session->preview(0, "slope", "nonsense")
                 && session->preview(0, "slope", "nonsense")->find("E")->value);
}

TEST_F(SessionTest, PreviewOfALongRecordIsWhatIsKept)
{
    const CatalogueEntry& entry = *findCatalogueEntry("rigger-tube");
    auto run = simulateRun(entry, 5, 120000);
    ASSERT_TRUE(session->attach(0, run.record));
    const auto preview = session->preview(0, "slope", "manual 40 MPa 150 MPa");
    ASSERT_TRUE(preview && preview->find("E")->value);
    ASSERT_TRUE(session->apply(edits::specimenOption(session->document(), 0, "slope", "manual 40 MPa 150 MPa", "")));
    const Outcome& kept = *session->specimenOutcome().outcome;
    EXPECT_EQ(*preview->find("E")->value, *kept.find("E")->value);
    EXPECT_EQ(*preview->find("Rm")->value, *kept.find("Rm")->value);
}

TEST_F(SessionTest, OnlyWhatChangedIsWorkedOutAnew)
{
    const Outcome* untouched = &*session->outcome().specimens[2].outcome;
    const double before = *untouched->find("E")->value;
    ASSERT_TRUE(session->apply(edits::note(session->document(), 0, "fracture", "slant")));
    EXPECT_DOUBLE_EQ(*session->outcome().specimens[2].outcome->find("E")->value, before);
    ASSERT_TRUE(session->apply(edits::option(session->document(), "area_from", "least")));
    EXPECT_NE(*session->outcome().specimens[2].outcome->find("E")->value, before);
}

TEST_F(SessionTest, TheOverviewFollows)
{
    const auto failed = [&] { return book->jobs("J-0101")[0].failed; };
    EXPECT_EQ(failed(), 0);
    ASSERT_TRUE(session->apply(edits::requirement(session->document(), "Rm", "900 MPa", "")));
    session->finish();
    EXPECT_EQ(failed(), 3);
    EXPECT_EQ(book->specimens("A1")[0].verdict, "fail");
}

TEST_F(SessionTest, DemoHasItsDefects)
{
    const auto open = [&](const QString& number) {
        for (const JobRow& row : book->jobs())
            if (row.number == number)
                return row.id;
        return std::int64_t{0};
    };
    EXPECT_TRUE(session->outcome().specimens[1].outcome->remarked("nominal-dimension"));
    ASSERT_TRUE(session->open(open("J-0102")));
    EXPECT_TRUE(session->outcome().specimens[2].outcome->remarked("extensometer-slip"));
    for (size_t i : {0u, 1u, 3u, 4u})
        EXPECT_FALSE(session->outcome().specimens[i].outcome->remarked("extensometer-slip")) << i;
    ASSERT_TRUE(session->open(open("J-0103")));
    for (const SpecimenOutcome& s : session->outcome().specimens)
        EXPECT_TRUE(s.outcome->find("ReH")->value);
}

} // namespace
} // namespace fortitor
