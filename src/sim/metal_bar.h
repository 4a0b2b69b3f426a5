// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <vector>

namespace fortitor {

/// A virtual metal: engineering stress as a function of plastic engineering strain p.
/// Rounded: s = limit + B(1−e^(−p/p1)) + C(1−e^(−p/p2)) − D·p², D so that the top stands at
/// `uniform`; behind it a neck softens. With a yield point: a drop from `upper`, a transient, a
/// serrated plateau at `lower` of length `plateau`, then the same hardening from there.
struct MetalModel {
    double modulus = 70000; ///< MPa
    double limit = 200; ///< MPa, end of the straight part (the lower yield when it drops)
    double quick = 60; ///< B, MPa
    double quickStrain = 0.001;
    double slow = 70; ///< C, MPa
    double slowStrain = 0.02;
    double uniform = 0.08; ///< plastic strain at the greatest force
    double fracture = 0.12; ///< plastic strain at break
    double neckDrop = 0.15; ///< share of Rm lost between top and break
    double upper = 0; ///< ReH, MPa; 0: rounded
    double plateau = 0; ///< plastic strain where hardening starts
    double serration = 0; ///< height of the serrations, MPa
    double level = 0; ///< plastic strain over which the greatest stress stands before the neck softens
    double transient = 0; ///< how far the first minimum lies below the lower yield, MPa

    [[nodiscard]] double stress(double plastic) const;
};

/// What is true of a virtual specimen, for holding the reading against.
struct MetalTruth {
    double modulus = 0;
    double proof02 = 0; ///< 0 when it yields with a drop
    double upper = 0;
    double lower = 0;
    double yieldExtension = 0;
    double strength = 0;
    double totalAtMaximum = 0;
    double plasticAtBreak = 0;
    double elongation = 0; ///< between the marks, fitted halves
    double necking = 0;
};

MetalTruth truthOf(const MetalModel& model);

/// The way a bar in a frame goes: crosshead, stress, strain, at rising plastic strain. Where the
/// machine springs back faster than the bar yields, the crosshead stands and the bar jumps on.
struct BarPath {
    std::vector<double> crosshead; ///< mm, rising
    std::vector<double> stress; ///< MPa
    std::vector<double> strain; ///< 1
};

} // namespace fortitor
