// SPDX-License-Identifier: GPL-3.0-or-later
// A method that is none of the program's, with pages and verbs of its own, on the real bench; and records that no
// method of the job can read.
#include "support.h"

#include "app/bench/ribbon.h"
#include "jobs/edits.h"
#include "methods/spring.h"
#include "sim/catalogue.h"

namespace fortitor {
namespace {

Method springOnTheBench()
{
    Method m = spring::method();
    m.pages = {{Stage::Plan, "Plan", "plan"},
               {Stage::Measure, "Measure", "measure"},
               {Stage::Load, "Stretch", "load"},
               {Stage::Read, "Read", "page of another program"},
               {Stage::Judge, "Judge", "judge"}};
    return m;
}

class OtherMethod : public test::AppTest {
protected:
    void SetUp() override
    {
        furtherMethods() = {springOnTheBench()};
        AppTest::SetUp();
    }
    void TearDown() override
    {
        AppTest::TearDown();
        furtherMethods().clear();
    }
    /// Three springs, two of them read.
    std::int64_t springs()
    {
        const auto id = book->addJob(Json::parse(R"({
            "fortitor_job": 1, "method": "spring", "job": {"number": "S-1", "title": "stretcher springs"},
            "specimens": [
              {"label": "a", "readings": {"force": ["10 N", "20 N", "30 N"], "displacement": ["5 mm", "10 mm",
                "15 mm"]}},
              {"label": "b", "readings": {"force": ["10 N", "20 N", "30 N"], "displacement": ["5.1 mm", "10.3 mm",
                "15.2 mm"]}},
              {"label": "c"}]})"),
                                     "operator A", "test");
        EXPECT_TRUE(id) << (id ? "" : id.problem().text());
        return id ? *id : 0;
    }
};

TEST_F(OtherMethod, BringsItsOwnPagesAndVerbs)
{
    ASSERT_TRUE(window->openJob(springs(), 0, 0));
    settle();
    QStringList verbs;
    for (const PageSpec& page : find<Ribbon>("ribbon")->pages())
        verbs << QString::fromStdString(page.verb);
    EXPECT_EQ(verbs, (QStringList{"Plan", "Measure", "Stretch", "Read", "Judge"}));
    ASSERT_TRUE(session().specimenOutcome().outcome);
    EXPECT_NEAR(*session().specimenOutcome().outcome->find("c")->value, 2, 1e-9);
    // Each page can be gone to, also the one that is not there, and stages without a page; nothing is lost.
    const Json before = session().document().json();
    for (int stage = 0; stage < 7; ++stage)
        for (const size_t specimen : {0u, 2u}) {
            session().setCurrent(specimen);
            session().setStage(stage);
            settle();
            EXPECT_FALSE(window->grab().isNull());
        }
    EXPECT_EQ(session().document().json(), before);
    // Back to a test of the program: its own seven.
    ASSERT_TRUE(window->openJob(
        *book->addJob(edits::newJob("J-9", "tubes", *findMethod("tension-metal"), 1), "operator A", "test"), 0, 0));
    EXPECT_EQ(find<Ribbon>("ribbon")->pages().size(), 7u);
}

TEST_F(OtherMethod, CantBeRunOnAFrameAndSaysSo)
{
    Method onFrame = springOnTheBench();
    onFrame.intake.ways = {Intake::By::Frame};
    furtherMethods() = {onFrame};
    ASSERT_TRUE(window->openJob(springs(), 2, 2));
    settle();
    EXPECT_FALSE(window->frame().prepare().isEmpty());
    EXPECT_FALSE(window->frame().ready());
    window->frame().start();
    settle();
    EXPECT_FALSE(window->frame().running());
}

TEST_F(OtherMethod, ARecordItCantReadIsKeptAndNamed)
{
    const auto id = book->addJob(edits::newJob("J-8", "tubes", *findMethod("tension-metal"), 1), "operator A", "test");
    ASSERT_TRUE(id);
    ASSERT_TRUE(window->openJob(*id, 0, 4));
    settle();
    ASSERT_TRUE(session().apply(
        edits::reading(session().document(), 0, *session().job().method->findField("diameter"), 0, "10 mm")));
    // Of a shaft in the torsion head: torque and twist, of which a tension test knows nothing.
    const SimulatedRun run = simulateRun(*findCatalogueEntry("sill-pin"), 3);
    ASSERT_TRUE(session().attach(0, run.record));
    settle();
    const SpecimenOutcome& out = session().specimenOutcome();
    ASSERT_TRUE(out.problem);
    EXPECT_NE(out.problem->text().find("force"), std::string::npos) << out.problem->text();
    for (int stage = 0; stage < 7; ++stage) {
        session().setStage(stage);
        settle();
        EXPECT_FALSE(window->grab().isNull());
    }
    // Kept as it came.
    const auto kept = book->loadRecord(QString::fromStdString(session().job().specimens[0].recordId));
    ASSERT_TRUE(kept) << (kept ? "" : kept.problem().text());
    ASSERT_EQ((*kept)->rows(), run.record.rows());
    for (const Channel& c : run.record.channels) {
        ASSERT_TRUE((*kept)->find(c.name)) << c.name;
        for (size_t i = 0; i < c.values.size(); ++i)
            if (std::isfinite(c.values[i])) {
                EXPECT_EQ((*kept)->find(c.name)->values[i], c.values[i]) << c.name << " " << i;
            }
    }
}

} // namespace
} // namespace fortitor
