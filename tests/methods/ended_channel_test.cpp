// SPDX-License-Identifier: GPL-3.0-or-later
// An extensometer that shows "beyond my range" once it is off must not take the force with it.
#include "methods/support.h"

#include <cmath>

namespace fortitor::test {
namespace {

TEST(EndedChannel, TheForceGoesOnWhereTheExtensionHasNoMoreReadings)
{
    auto in = simulatedInput("mild-bar", 6); // its extensometer stays on
    const Outcome whole = evaluated("tension-metal", in);
    auto cut = std::make_shared<Record>(*in.record);
    Channel& extension = *std::ranges::find(cut->channels, "extension", &Channel::name);
    const auto values = extension.values.gather();
    Column ended;
    for (const double v : values)
        ended.append(v > 3 || (!ended.empty() && std::isnan(ended.back())) ? std::nan("") : v); // from 6 % strain on
    extension.values = std::move(ended);
    in.record = cut;
    const Outcome o = evaluated("tension-metal", in);
    EXPECT_NEAR(*valueOf(o, "Rm") / *valueOf(whole, "Rm"), 1, 1e-3);
    EXPECT_NEAR(*valueOf(o, "A_ext") / *valueOf(whole, "A_ext"), 1, 0.03) << "by the crosshead from there on";
    EXPECT_TRUE(o.remarked("extensometer-removed"));
}

} // namespace
} // namespace fortitor::test
