// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "sim/catalogue.h"

#include <map>
#include <memory>
#include <optional>
#include <string>

namespace fortitor {

/// A specimen loaded step by step on the bench, with what its instruments show: a strain indicator, a dial, a
/// torsion head. Values in base units, as coarse as the instruments show them.
class SteppedBench {
public:
    virtual ~SteppedBench() = default;
    /// Brings the stepped channel (N of force, rad of twist) to a target and reads every instrument there.
    /// Nothing when the specimen broke on the way; then it stays broken.
    virtual std::optional<std::map<std::string, double>> bringTo(double target) = 0;
    [[nodiscard]] bool broken() const { return broken_; }
    /// What is left to read after a break: the load the needle stopped at, the turns that were counted.
    [[nodiscard]] const std::map<std::string, double>& atBreak() const { return atBreak_; }

protected:
    bool broken_ = false;
    std::map<std::string, double> atBreak_;
};

/// nullptr for a kind of specimen that is not read by hand.
std::unique_ptr<SteppedBench> steppedBench(const CatalogueEntry& entry, const SimulatedSpecimen& specimen,
                                           std::uint64_t seed);

} // namespace fortitor
