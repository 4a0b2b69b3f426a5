// SPDX-License-Identifier: GPL-3.0-or-later
// Extensometers that stop telling where no crosshead is there to show it.
#include "support.h"

#include "methods/common/extensometer.h"

namespace fortitor::frozen_test {
namespace {

using namespace test;

TEST(Frozen, SeenByItsStandingStillWhileTheForceGoesOn)
{
    std::vector<double> extension;
    std::vector<double> force;
    for (int i = 0; i < 4000; ++i) {
        extension.push_back(std::min(i, 2500) * 1e-3);
        force.push_back(10000.0 * (1 - std::exp(-i / 900.0)));
    }
    const auto at = findFrozen(extension, force, 0, extension.size(), 1e-5, 1);
    ASSERT_TRUE(at);
    EXPECT_NEAR(static_cast<double>(*at), 2500, 5);
    // A hold, where the force stands still too, is none.
    for (int i = 2500; i < 4000; ++i)
        force[static_cast<size_t>(i)] = force[2500];
    EXPECT_FALSE(findFrozen(extension, force, 0, extension.size(), 1e-5, 1));
    // Nor is one that follows to the end.
    for (int i = 0; i < 4000; ++i)
        extension[static_cast<size_t>(i)] = i * 1e-3;
    EXPECT_FALSE(findFrozen(extension, force, 0, extension.size(), 1e-5, 1));
    EXPECT_FALSE(findFrozen({}, {}, 0, 0, 0, 0));
}

TEST(Frozen, TheStrengthStaysWithTheForce)
{
    // Taken off at 3 %; the greatest force comes later, at some 8 %.
    SpecimenInput in = simulatedInput("rigger-tube", 3);
    const double whole = *valueOf(evaluated("tension-metal", in), "Rm");
    in.record = without(*in.record, "displacement");
    const Outcome o = evaluated("tension-metal", in);
    EXPECT_NEAR(*valueOf(o, "Rm"), whole, 0.002 * whole);
    for (const char* symbol : {"Agt", "Ag", "At", "A_ext", "n", "K", "Ut"}) {
        EXPECT_FALSE(valueOf(o, symbol)) << symbol;
        EXPECT_TRUE(explained(o, symbol)) << symbol;
    }
    EXPECT_TRUE(valueOf(o, "Rp0.2"));
    EXPECT_TRUE(valueOf(o, "Ur"));
    ASSERT_TRUE(o.curve());
    EXPECT_LT(o.curve()->x.back(), 0.035); // nothing is drawn beyond what the strain tells
    EXPECT_FALSE(o.curve()->find("Rm"));
}

TEST(Frozen, AStrainGaugeThatGoesOffIsNamed)
{
    SpecimenInput in = simulatedInput("rigger-tube", 3);
    auto record = std::make_shared<Record>(*in.record);
    for (Channel& c : record->channels)
        if (c.name == "extension") {
            Column strain;
            for (size_t i = 0; i < c.values.size(); ++i)
                strain.append(std::min(c.values[i] / 50, 0.02));
            c.name = "strain";
            c.kind = Kind::Strain;
            c.unitFound = "µε";
            c.values = std::move(strain);
        }
    in.record = record;
    const Outcome o = evaluated("tension-metal", in);
    EXPECT_TRUE(remarkOf(o, "gauge-lost"));
    EXPECT_FALSE(remarkOf(o, "extensometer-removed"));
    EXPECT_TRUE(valueOf(o, "At")); // the crosshead goes on over the parallel length
}

} // namespace
} // namespace fortitor::frozen_test
