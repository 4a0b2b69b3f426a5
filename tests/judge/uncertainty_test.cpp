// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/uncertainty.h"

#include "methods/support.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor {
namespace {

TEST(ImproveFirst, NamesTheRemedyAndWhatItWouldBring)
{
    using Of = SourceKind;
    Budget budget;
    budget.expanded = 5;
    budget.ranked = {{"", {"K-50, class 1", Of::Cell}, 2.0, 0.64}, {"", {"C-07, ±0.02 mm", Of::LengthTool}, 1.5, 0.36}};
    EXPECT_EQ(improveFirst(budget, *findUnit("MPa")),
              "Improve first: a cell of better class, or a smaller one. ±5.0 would be ±3.0 MPa.");
    std::swap(budget.ranked[0].source, budget.ranked[1].source);
    EXPECT_TRUE(improveFirst(budget, *findUnit("MPa"))
                    .starts_with("Improve first: a finer length tool, such as a micrometer."));
    budget.ranked[0].source = "something odd";
    EXPECT_NE(improveFirst(budget, *findUnit("1")).find("a better instrument for something odd"), std::string::npos);
    EXPECT_TRUE(improveFirst({}, *findUnit("MPa")).empty());
}

/// The advice goes by the kind of a source, whatever it is called: each input of each method has one.
TEST(ImproveFirst, EverySourceOfEveryMethodHasAKind)
{
    size_t sources = 0;
    for (const CatalogueEntry& entry : catalogue()) {
        SpecimenInput in = test::simulatedInput(entry.name.c_str(), 3);
        in.instruments.forceName = in.instruments.extensionName = in.instruments.calliperName =
            "a name that says nothing";
        const auto outcome = findMethod(entry.method)->evaluate(in);
        ASSERT_TRUE(outcome) << entry.name << ": " << outcome.problem().text();
        for (const Result& r : outcome->results)
            for (const Contribution& c : r.budget.ranked) {
                EXPECT_NE(static_cast<int>(c.source.kind), static_cast<int>(SourceKind::Other))
                    << entry.name << ", " << r.symbol << ": " << c.source.words;
                ++sources;
            }
    }
    EXPECT_GT(sources, 200u);
}

} // namespace
} // namespace fortitor
