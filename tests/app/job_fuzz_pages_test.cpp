// SPDX-License-Identifier: GPL-3.0-or-later
// Jobs that are wrong in every way, opened in the real window and led through every page.
#include "support.h"

#include "fuzz/mutations.h"

#include <cstdlib>

namespace fortitor {
namespace {

constexpr int parts = 4; // of the same jobs, side by side

class JobFuzzPages : public test::AppTest, public testing::WithParamInterface<int> { };

INSTANTIATE_TEST_SUITE_P(Parts, JobFuzzPages, testing::Range(0, parts));

TEST_P(JobFuzzPages, EveryPageStands)
{
    for (const InstrumentRow& row : demoInstruments())
        ASSERT_TRUE(book->keepInstrument(row, "operator A"));
    const char* more = std::getenv("FORTITOR_FUZZ");
    const int rounds = 120 * std::max(1, more ? std::atoi(more) : 1);
    Random random(21);
    const auto jobs = test::everyKeyJobs();
    int opened = 0;
    for (int i = 0; i < rounds; ++i) {
        const Json job = test::mutatedAtRandom(jobs[static_cast<size_t>(i) % jobs.size()], random);
        if (i % parts != GetParam())
            continue;
        auto id = book->addJob(job, "operator A", "fuzz");
        if (!id) { // too deep to be read back
            EXPECT_FALSE(id.problem().text().empty());
            continue;
        }
        try {
            if (!window->openJob(*id, 0, 0)) {
                EXPECT_FALSE(window->told().isEmpty()) << "refused without a word";
                continue;
            }
            ++opened;
            for (int stage = 0; stage < 7; ++stage) {
                session().setStage(stage);
                QApplication::processEvents();
                window->grab();
            }
            for (size_t k = 1; k < session().job().specimens.size(); ++k)
                session().setCurrent(k);
            QApplication::processEvents();
        } catch (const std::exception& e) {
            ADD_FAILURE() << e.what() << " by " << job.dump().substr(0, 4000);
        }
    }
    EXPECT_GT(opened, rounds / parts / 12);
    for (const int place : {MainWindow::Today, MainWindow::Jobs, MainWindow::Compare, MainWindow::Instruments,
                            MainWindow::LogbookPlace}) {
        window->go(place);
        window->grab();
    }
}

} // namespace
} // namespace fortitor
