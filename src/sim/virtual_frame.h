// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "sim/law.h"
#include "sim/random.h"

#include <cstdint>
#include <optional>

namespace fortitor {

/// What frame, grips and instruments add to the truth.
struct FrameConditions {
    double compliance = 6e-6; ///< mm/N
    double forceNoise = 4; ///< N
    double forceStep = 0.8; ///< N, one count of the converter
    double extensionNoise = 2e-4; ///< mm
    double extensionStep = 1e-4; ///< mm
    double zeroOffset = 0; ///< N left on the force channel
    double extensionOffset = 0; ///< mm left on the extensometer
    double forceScale = 1; ///< what the cell reads over what is true
    double extensionScale = 1; ///< what the extensometer reads over what is true, on its calibrator
    double clampLoad = 1400; ///< N that the second grip puts on when it closes
    double slack = 0.05; ///< mm of crosshead before the grips have seated
    double footStrain = 0; ///< strain of seating that the extensometer sees
    double seatForce = 600; ///< N over which seating fades
    double slipAtStrain = 0; ///< the extensometer slips there; 0: never
    double slipStep = 0; ///< mm
    double gaugeNoise = 1e-6; ///< strain
};

/// The bar as it hangs in the frame.
struct VirtualBar {
    Law law;
    double section = 78.5; ///< mm², true
    double parallelLength = 60; ///< mm
    double gaugeLength = 50; ///< mm, of the extensometer
    double poisson = 0.3; ///< strain across over strain along
    double bending = 0; ///< share by which the strains of front and back differ from their mean
    bool gauges = false; ///< front, back and transverse gauges are read
    bool pressed = false; ///< under compression: nothing is gripped, a gap is left before the touch
    bool twoExtensometers = false; ///< a second one on the opposite face
    bool plate = false; ///< two gauges a face, left and right
    double sideways = 0; ///< share by which left and right differ from their mean
    double rub = 0; ///< friction, as a share of the load: more on the way up, less on the way down
    double creep = 0; ///< mm that it gives while it is held at `creepLoad`
    double creepLoad = 0; ///< N
};

struct FrameSample {
    double time = 0; ///< s
    double force = 0; ///< N, as the cell reads
    double extension = 0; ///< mm, as the extensometer reads
    double displacement = 0; ///< mm of the crosshead
    double front = 0, back = 0, transverse = 0; ///< strains, as gauges read
    double fourth = 0; ///< a second gauge across, on the back
    double extension2 = 0; ///< mm, the extensometer on the opposite face
    double frontRight = 0, backRight = 0; ///< strains of a plate; `front` and `back` are its left ones
};

/// A test frame without a clock: physics moved on by steps. Force may be zeroed, grips closed, the
/// extensometer taken off, the speed set; the bar yields and breaks as its model says.
class VirtualFrame {
public:
    VirtualFrame(VirtualBar bar, FrameConditions conditions, std::uint64_t seed);

    /// Either grip may close first; the second one pulls the bar by the clamp load.
    void closeTopGrip();
    void closeBottomGrip();
    void openGrips();
    void zeroForce();
    void balanceExtensometer();
    void takeExtensometerOff();
    /// The knives jump along the bar by so many mm.
    void slipExtensometer(double millimetres) { slipped_ += millimetres; }
    /// Cut through the specimen's hold: it carries nothing from here on.
    void letGo() { openGrips(); }
    /// N on the cell from elsewhere than the specimen: reference weights, a knock.
    void setForeignForce(double force) { foreign_ = force; }
    /// The extensometer on its calibrator instead of a bar, mm; nothing: back on the bar.
    void setReferenceExtension(std::optional<double> millimetres) { reference_ = millimetres; }
    /// A plate's fixture is set anew: so much less bending to the front, and less load to the left.
    void align(double front, double left)
    {
        bar_.bending -= front;
        bar_.sideways -= left;
    }
    void setSpeed(double millimetresPerSecond) { speed_ = millimetresPerSecond; }
    /// Moves time on and reads the instruments.
    FrameSample step(double seconds);

    [[nodiscard]] bool broken() const { return broken_; }
    [[nodiscard]] bool gripped() const { return topClosed_ && bottomClosed_; }
    [[nodiscard]] bool topGripped() const { return topClosed_; }
    [[nodiscard]] bool bottomGripped() const { return bottomClosed_; }
    [[nodiscard]] bool extensometerOn() const { return extensometerOn_; }
    [[nodiscard]] double speed() const { return speed_; }
    /// mm of the crosshead, as it is.
    [[nodiscard]] double position() const { return position_; }
    /// True strain and stress, for the one who checks.
    [[nodiscard]] double trueStrain() const { return strain_; }
    [[nodiscard]] double trueStress() const { return stress_; }

private:
    void pull();
    void findState();
    void giveWay(double seconds);
    double readForce();
    double readExtension();
    double readExtension2();
    double readGauge(double strain);

    VirtualBar bar_;
    FrameConditions conditions_;
    Random random_;
    Random second_; ///< of what was added later, so that the first one's numbers stay as they are
    BarPath path_;
    size_t at_ = 0;
    double time_ = 0;
    double position_ = 0;
    double speed_ = 0;
    double gripPosition_ = 0; ///< crosshead position where the bar is stretched by nothing
    double furthest_ = 0; ///< greatest stretch so far; less than it unloads along the modulus
    double forceZero_ = 0;
    double extensionZero_ = 0;
    double topStress_ = 0; ///< where it was turned back
    double topStrain_ = 0;
    double stress_ = 0;
    double strain_ = 0;
    double slipped_ = 0;
    double frozen_ = 0;
    double foreign_ = 0;
    double extension2Zero_ = 0;
    std::optional<double> reference_;
    double falling_ = 0; ///< force still there after the break
    double rubs_ = 0; ///< −1 to 1: which way the joints rub
    double crept_ = 0; ///< mm
    bool topClosed_ = false;
    bool bottomClosed_ = false;
    bool extensometerOn_ = true;
    bool broken_ = false;
};

} // namespace fortitor
