// SPDX-License-Identifier: GPL-3.0-or-later
// What is counted of turning points: ranges, exceedance, transitions, damage.
#pragma once

#include "history/damage.h"
#include "history/rainflow.h"
#include "units/unit.h"

#include <cmath>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// Which counted cycles are dropped as too small.
struct CutRule {
    enum class Of { LowChance, Greatest, Fixed, Nothing } of = Of::LowChance;
    double share = 0.25; ///< of the range below
    double chance = 0.0025; ///< of a range to be exceeded that the share is taken of
    double fixed = 0; ///< the range itself
    Kind kind = Kind::Stress; ///< of that
};
/// "25 % of 0.25 %", "25 % of max", "12 MPa", "none". Refuses a cut of zero or below.
Expected<CutRule> readCut(const std::string& text);

struct Counts;
/// The range it cuts at, by what was counted; a fixed one is in the unit of the counts.
double cutOf(const CutRule& rule, const Counts& found);

struct CountSettings {
    CutRule cut{};
    Residue residue = Residue::Half;
    size_t bins = 64;
    std::optional<DamageCurve> curve{}; ///< nothing: ranges are no stress, and there is no damage
    double exponent = 3; ///< of the equivalent range
};

struct RangeBin {
    double from = 0, to = 0, count = 0;
};
struct Exceedance {
    double range = 0, chance = 0;
};

struct Counts {
    std::uint64_t turningPoints = 0; ///< before the cut
    double cycles = 0; ///< kept, halves as halves
    double allCycles = 0; ///< before the cut
    double rangeMax = 0, rangeLowChance = 0, cutAt = 0;
    std::optional<double> damage{}, damageCutShare{};
    std::optional<double> equivalentRange{};
    std::vector<RangeBin> histogram{}; ///< from the cut to the greatest, the last closed
    std::vector<Exceedance> exceedance{}, exceedanceAll{};
    std::vector<double> levels{}; ///< centres of the classes of the transitions
    std::vector<double> peakToValley{}, valleyToPeak{}; ///< rows from, columns to
    std::vector<double>
        rangeMean{}; ///< kept cycles: rows classes of the mean, over the levels; columns of the histogram
    double rmsRange = 0; ///< root mean square of kept cycles
};

/// Four times over the turning points: all ranges, those about the one that the cut is a share of, the cut, what is
/// kept. Refuses a cut above the greatest range, bins that are none, and a disk that has no room for what is kept.
Expected<Counts> countAll(const LongTurning& points, const CountSettings& settings);
/// The same of turning points in memory.
inline Expected<Counts> countAll(std::span<const double> points, const CountSettings& settings)
{
    return countAll(LongTurning::of(points), settings);
}

/// Takes closed cycles below the cut out of turning points; small ranges at either end of what is left too.
void dropSmall(std::vector<double>& points, double cut);

/// The sum of many figures to the last digits (Neumaier): what an addition loses is kept beside.
class LongSum {
public:
    void add(double value)
    {
        const double next = sum_ + value;
        lost_ += std::abs(sum_) >= std::abs(value) ? (sum_ - next) + value : (value - next) + sum_;
        sum_ = next;
    }
    [[nodiscard]] double value() const { return sum_ + lost_; }

private:
    double sum_ = 0, lost_ = 0;
};

} // namespace fortitor
