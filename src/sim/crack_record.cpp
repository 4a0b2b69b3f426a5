// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/crack_record.h"

#include "sim/random.h"

#include <algorithm>
#include <cmath>
#include <string>

namespace fortitor {

double potentialRatio(double depth)
{
    constexpr double plate = 12; // mm
    return 1 / (1 - 0.75 * depth / plate);
}

Record simulatedCrack(const CrackHistory& h, std::uint64_t seed)
{
    Random random(seed);
    Record record;
    record.source = "simulated crack watch";
    for (const char* name : {"cycles", "strain", "strain_2", "strain_3", "strain_4", "potential"})
        record.add(name);
    constexpr double places[] = {-8, -1, 6, 13}; // mm from the start, along the toe
    constexpr double modulus = 206000, concentration = 1.8, widthOfDepth = 2.4; // half length over depth
    const double start = h.startShare * h.life;
    double slow[4]{}, zero[4]{};
    for (double& one : zero)
        one = 20e-6 * random.normal();
    for (size_t i = 0; i < h.readings; ++i) {
        const double n = h.life * static_cast<double>(i) / static_cast<double>(h.readings);
        // Depth by the closed form of growth with the third power of ΔK.
        double depth = 0;
        if (n > start) {
            const double share = (n - start) / (h.life - start);
            const double root = 1 / std::sqrt(h.first) + share * (1 / std::sqrt(h.last) - 1 / std::sqrt(h.first));
            depth = 1 / (root * root);
        }
        record.channels[0].values.append(n);
        for (size_t k = 0; k < std::size(places); ++k) {
            const double half = widthOfDepth * depth, off = std::abs(places[k]);
            // The crack takes the strain off the toe where it has passed.
            const double relief = depth > 0 ? 0.7 / (1 + std::exp((off - half) / 1.5)) * std::min(1.0, depth / 3) : 0;
            slow[k] = 0.995 * slow[k] + 0.4e-6 * random.normal();
            const double seating = 45e-6 * std::exp(-n / (0.012 * h.life)), stop = n > h.life / 3 ? 9e-6 : 0;
            const double strain = h.range / 0.9 / modulus * concentration * (1 - relief) + zero[k] + seating + stop;
            record.channels[k + 1].values.append(strain + slow[k] + 2.5e-6 * random.normal());
        }
        record.channels[5].values.append(4.2e-3 * potentialRatio(depth) * (1 + 0.0012 * random.normal()));
    }
    return record;
}

} // namespace fortitor
