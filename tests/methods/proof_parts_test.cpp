// SPDX-License-Identifier: GPL-3.0-or-later
// Parts through the simulated frame: the ram's travel with a known compliance, held by force, taken off by force rate.
#include "methods/proof_load/proof_load.h"

#include "plan/load_train.h"
#include "sim/catalogue.h"
#include "sim/random.h"
#include "sim/test_frame.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstdlib>

namespace fortitor::proof_parts_test {
namespace {

int parts()
{
    const char* asked = std::getenv("FAMILY_RECORDS");
    return asked ? std::atoi(asked) : 120;
}

TEST(ProofParts, OfTheFrameAreReadAsTheyWereMade)
{
    const int n = parts();
    int k = 0, knee = 0, knees = 0, most = 0, mosts = 0, counted = 0, slack = 0, silent = 0;
    for (int i = 0; i < n; ++i) {
        const bool strap = i % 3 == 2;
        CatalogueEntry entry = *findCatalogueEntry(strap            ? "trestle-strap"
                                                       : i % 3 == 1 ? "lifting-eye-unmarked"
                                                                    : "lifting-eye");
        if (i % 2 == 0)
            entry.options.erase("fixture_limit"); // to the break
        SimulatedRun run = simulateRun(entry, static_cast<std::uint64_t>(1000 + i));
        SpecimenInput in;
        in.label = "P";
        in.options = entry.options;
        in.notes = run.specimen.notes;
        in.record = std::make_shared<const Record>(std::move(run.record));
        const auto out = evaluateProofLoad(in);
        ASSERT_TRUE(out) << out.problem().text();
        const auto near = [&](const char* symbol, double share) {
            const Result* r = out->find(symbol);
            const bool fits = r && r->value && std::abs(*r->value / run.specimen.trueValue(symbol) - 1) < share;
            if (!fits && r && r->value && std::ranges::none_of(out->remarks, [&](const Remark& one) {
                    return one.severity != Severity::Note
                        && std::ranges::find(one.symbols, std::string(symbol)) != one.symbols.end();
                }))
                ++silent;
            return fits;
        };
        k += near("k", 0.01);
        counted += !out->remarked("cycles-count");
        const double told = out->find("slack")->value.value_or(99);
        slack += std::abs(told - run.specimen.trueValue("slack")) < (strap ? 0.1 : 0.02);
        if (run.specimen.truth.contains("F_knee")) {
            ++knees;
            knee += near("F_knee", 0.03);
        }
        if (run.specimen.truth.contains("F_max")) {
            ++mosts;
            most += near("F_max", 0.002);
            EXPECT_EQ(out->find("F_max")->bound, Result::Bound::Exact) << i;
        } else {
            EXPECT_EQ(out->find("F_max")->bound, Result::Bound::AtLeast) << i;
        }
    }
    std::printf("%d parts: k %d, slack %d, knee %d of %d, F_max %d of %d, cycles %d, silent %d\n", n, k, slack, knee,
                knees, most, mosts, counted, silent);
    EXPECT_EQ(counted, n);
    EXPECT_GE(k, 0.98 * n);
    EXPECT_GE(slack, 0.98 * n);
    EXPECT_GE(knee, 0.98 * knees);
    EXPECT_EQ(most, mosts);
    EXPECT_EQ(silent, 0);
}

TEST(ProofParts, TheFrameWaitsForTheCheck)
{
    const CatalogueEntry& entry = *findCatalogueEntry("lifting-eye");
    SpecimenInput in;
    in.options = entry.options;
    const Method method = proofLoad();
    const auto rates = planRates(method, in, {});
    const auto program = proofProgram({in, {}, *rates});
    ASSERT_TRUE(program);
    FrameSpec spec;
    spec.cell = 100000;
    TestFrame frame(spec);
    ASSERT_TRUE(frame.mount({.specimen = entry.name, .seed = 4}));
    ASSERT_TRUE(frame.closeTop());
    ASSERT_TRUE(frame.zero());
    ASSERT_TRUE(frame.closeBottom());
    ASSERT_TRUE(frame.setGuard(true));
    StopLimits limits;
    limits.force = 60000;
    limits.time = 900;
    limits.forceDrop = 0.4; // taking a load off is no drop
    ASSERT_TRUE(frame.start(*program, limits));
    const auto untilAsked = [&] {
        for (int i = 0; i < 50 * 400 && frame.status().state == DriveState::Running; ++i)
            frame.step();
    };
    untilAsked();
    ASSERT_EQ(frame.status().state, DriveState::Waiting) << frame.status().endedWords;
    EXPECT_TRUE(frame.status().disabled);
    EXPECT_LT(std::abs(frame.force()), 0.03 * 15691);
    const double stood = frame.position();
    EXPECT_TRUE(frame.setGuard(false)); // hands reach in
    EXPECT_EQ(frame.status().state, DriveState::Waiting);
    for (int i = 0; i < 50 * 3600; ++i)
        frame.step();
    EXPECT_EQ(frame.status().state, DriveState::Waiting); // for an hour, past the limit of the time
    EXPECT_EQ(frame.position(), stood); // whatever is told it
    EXPECT_FALSE(frame.answer()); // not with an open guard
    EXPECT_FALSE(frame.jog(0.1));
    EXPECT_TRUE(frame.setGuard(true));
    EXPECT_TRUE(frame.answer());
    EXPECT_FALSE(frame.status().disabled);
    untilAsked();
    ASSERT_EQ(frame.status().state, DriveState::Waiting);
    EXPECT_TRUE(frame.answer());
    for (int i = 0; i < 50 * 900 && frame.status().state != DriveState::Ended; ++i)
        frame.step();
    EXPECT_TRUE(frame.status().ended == "end" || frame.status().ended == "broken") << frame.status().ended;
    // An open guard while it runs stops it as ever.
    ASSERT_TRUE(frame.mount({.specimen = entry.name, .seed = 5}));
    ASSERT_TRUE(frame.closeTop());
    ASSERT_TRUE(frame.closeBottom());
    ASSERT_TRUE(frame.setGuard(true));
    ASSERT_TRUE(frame.start(*program, limits));
    for (int i = 0; i < 200; ++i)
        frame.step();
    EXPECT_TRUE(frame.setGuard(false));
    EXPECT_EQ(frame.status().ended, "guard");
}

} // namespace
} // namespace fortitor::proof_parts_test
