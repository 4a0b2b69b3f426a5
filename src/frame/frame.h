// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>
#include <string>

namespace fortitor {

/// What a test frame is built of. Lengths mm, forces N; of a torsion head rad and N·mm in their place.
struct FrameSpec {
    bool hydraulic = false; ///< else a screw drive
    double maxSpeed = 8.3; ///< mm/s
    double acceleration = 20; ///< mm/s²
    double creep = 0; ///< mm/s that a hydraulic drive gives way when it is held under force
    double cell = 50000; ///< N, capacity of the load cell
    double overload = 1.2; ///< of the capacity, where the frame stops by itself
    double travel = 1000; ///< mm between the limit switches, the start in the middle
    double extensometerTravel = 25; ///< mm
    double forceScale = 1; ///< what the cell reads over what is true
    double extensionScale = 1; ///< the same of the extensometer, on its calibrator
    double gaugeRange = 0.03; ///< strain, beyond it the indicator is off its scale
    double rate = 50; ///< samples a second, 5 to 5000
    std::string fixture = "grips"; ///< "grips", "platens", "bending", "torsion"
};

/// What is usual for a fixture: a torsion head turns slowly.
inline FrameSpec frameSpecFor(const std::string& fixture)
{
    FrameSpec spec;
    spec.fixture = fixture;
    if (fixture == "torsion") {
        spec.maxSpeed = 0.5;
        spec.acceleration = 1;
        spec.travel = 200;
    }
    return spec;
}

/// What the frame is told about the specimen; 0: as the catalogue has it.
struct MountSpec {
    std::string specimen{}; ///< a name of the catalogue
    std::uint64_t seed = 1;
    double section = 0; ///< mm²
    double length = 0; ///< mm
    double gaugeLength = 0; ///< mm
    bool twoExtensometers = false;
};

struct FrameEvent {
    double time = 0; ///< s of the frame's clock
    std::string code{};
    std::string text{};
};

enum class DriveState { Ready, Running, Holding, Waiting, Returning, Ended };

/// What there is to know of the frame besides its samples.
struct FrameStatus {
    DriveState state = DriveState::Ready;
    bool mounted = false, top = false, bottom = false, guard = false, emergency = false, handSet = false,
         extensometer = true, easing = false,
         disabled = false; ///< the drive has no power, so that hands may reach in
    int stage = 0; ///< of the program, from 0
    std::string words{}; ///< what it does
    std::string prompt{}; ///< what it waits for
    std::string ended{}; ///< code of the end: "broken", "end", "stop", "limit", "guard" …
    std::string endedWords{};
    bool operator==(const FrameStatus&) const = default;
};

} // namespace fortitor
