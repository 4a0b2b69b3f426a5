// SPDX-License-Identifier: GPL-3.0-or-later
// The loads of a proof test as they follow each other in a record: put on, held, taken off; at the end, to the end.
#pragma once

#include <cstddef>
#include <optional>
#include <span>
#include <vector>

namespace fortitor {

/// One load. Places are readings.
struct ProofPull {
    size_t from = 0; ///< the last reading at no force before it
    size_t top = 0; ///< the highest reading
    size_t holdFirst = 0, holdLast = 0; ///< between the ramp up and the way down
    bool held = false; ///< else it was turned at once
    double load = 0; ///< N; the mean of the hold, else the highest reading
    std::optional<size_t> off; ///< the first reading at no force behind it: it was taken off
    double left = 0, wayLeft = 0; ///< N that stayed on it then, and mm where it stood
    std::optional<size_t> breakAt; ///< the last reading before the force was gone by itself
};

/// Force and the way it went, both rising as the part is pulled; time in s, or empty.
struct ProofData {
    std::vector<double> time, way, force; ///< s, mm, N
    double noise = 0, wayNoise = 0;
};

/// All loads of a record, in their order. Nothing where no force stands clear of the noise.
std::vector<ProofPull> findPulls(const ProofData& data);

/// A straight line through a flank between two shares of a load: F over way. `up`: put on, else taken off. Not valid
/// where fewer than five readings lie there.
struct Flank {
    double slope = 0; ///< N/mm
    double way = 0, force = 0; ///< a point on it, in the middle
    double slopeError = 0; ///< relative, standard
    size_t n = 0;
    [[nodiscard]] bool valid() const { return n >= 5 && slope > 0; }
    [[nodiscard]] double wayAt(double f) const { return way + (f - force) / slope; }
};
Flank flankOf(const ProofData& data, const ProofPull& pull, bool up, double load, double low = 0.2, double high = 0.8);

/// Where lasting yield begins on a pull: the force at which the slope has fallen to half of `k` for good.
struct Knee {
    size_t at = 0;
    double way = 0, force = 0, doubt = 0; ///< `doubt`: of the force, standard
};
std::optional<Knee> halfSlopeKnee(const ProofData& data, const ProofPull& pull, double k, double fromForce);

} // namespace fortitor
