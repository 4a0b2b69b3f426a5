// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <optional>
#include <vector>

namespace fortitor {

/// A stress–strain curve that grows as samples come, for the eye: no foot is taken off and nothing
/// is judged. However long the run, some thousands of points are kept, evenly in time. Strain from the extensometer
/// while it is on, then from the crosshead.
class LiveCurve {
public:
    /// mm², mm, mm; lengths of 0 are not known and give no strain.
    LiveCurve(double section = 0, double gaugeLength = 0, double parallelLength = 0)
        : section_(section), gauge_(gaugeLength), parallel_(parallelLength)
    {
    }

    /// s, N, mm, mm.
    void add(double time, double force, double extension, double displacement, bool extensometerOn);

    [[nodiscard]] const std::vector<double>& strain() const { return strain_; }
    [[nodiscard]] const std::vector<double>& stress() const { return stress_; }
    [[nodiscard]] bool empty() const { return strain_.empty(); }
    /// Least-squares strain rate over the last `span` seconds, 1/s; nothing before there are five samples.
    [[nodiscard]] std::optional<double> strainRate(double span = 1.0) const;
    /// Crosshead speed over the parallel length, over the same span, 1/s.
    [[nodiscard]] std::optional<double> crossheadRate(double span = 1.0) const;

private:
    [[nodiscard]] std::optional<double> rate(const std::vector<double>& y, double span) const;
    double section_, gauge_, parallel_;
    double offStrain_ = 0;
    double offDisplacement_ = 0;
    double lastKept_ = 0, minStep_ = 0; ///< s
    bool wasOn_ = true;
    std::vector<double> time_, strain_, stress_, crosshead_;
};

} // namespace fortitor
