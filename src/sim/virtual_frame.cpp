// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/virtual_frame.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

double quantised(double value, double step)
{
    return step > 0 ? std::round(value / step) * step : value;
}

} // namespace

VirtualFrame::VirtualFrame(VirtualBar bar, FrameConditions conditions, std::uint64_t seed)
    : bar_(std::move(bar)), conditions_(conditions), random_(seed), second_(seed * 31 + 7),
      path_(barPath(bar_.law, bar_.parallelLength, bar_.section, conditions.compliance))
{
}

void VirtualFrame::closeTopGrip()
{
    topClosed_ = true;
    if (bottomClosed_)
        pull();
}

void VirtualFrame::closeBottomGrip()
{
    bottomClosed_ = true;
    if (topClosed_)
        pull();
}

void VirtualFrame::pull()
{
    // Closing pulls the bar: the same force as so much crosshead motion.
    const double stretch = (conditions_.clampLoad / bar_.section / bar_.law.modulus * bar_.parallelLength
                            + conditions_.compliance * conditions_.clampLoad);
    gripPosition_ = position_ - stretch - (conditions_.clampLoad > 0 ? 0 : -conditions_.slack);
    furthest_ = 0;
    at_ = 0;
    findState();
}

void VirtualFrame::openGrips()
{
    topClosed_ = bottomClosed_ = false;
    stress_ = strain_ = 0;
}

void VirtualFrame::zeroForce()
{
    forceZero_ += readForce();
}

void VirtualFrame::balanceExtensometer()
{
    extensionZero_ += readExtension();
    if (bar_.twoExtensometers)
        extension2Zero_ += readExtension2();
}

void VirtualFrame::takeExtensometerOff()
{
    if (!extensometerOn_)
        return;
    frozen_ = readExtension();
    extensometerOn_ = false;
}

void VirtualFrame::findState()
{
    if (!gripped() || broken_)
        return;
    const double stretch = position_ - gripPosition_;
    if (stretch <= 0) {
        stress_ = 0;
        return;
    }
    if (stretch < furthest_) {
        // Back along the modulus line of bar and machine together.
        const double stiffness = 1 / (bar_.parallelLength / (bar_.section * bar_.law.modulus) + conditions_.compliance);
        stress_ = std::max(0.0, topStress_ - (furthest_ - stretch) * stiffness / bar_.section);
        strain_ = topStrain_ - (topStress_ - stress_) / bar_.law.modulus;
        return;
    }
    furthest_ = stretch;
    while (at_ + 1 < path_.crosshead.size() && path_.crosshead[at_ + 1] <= stretch)
        ++at_;
    if (at_ + 1 >= path_.crosshead.size() && !bar_.law.breaks)
        return; // nothing is known beyond; the run is to end before it
    if (at_ + 1 >= path_.crosshead.size()) {
        broken_ = true;
        falling_ = 0.25 * stress_ * bar_.section;
        stress_ = 0;
        return;
    }
    const double share = (stretch - path_.crosshead[at_]) / (path_.crosshead[at_ + 1] - path_.crosshead[at_]);
    stress_ = path_.stress[at_] + share * (path_.stress[at_ + 1] - path_.stress[at_]);
    strain_ = path_.strain[at_] + share * (path_.strain[at_ + 1] - path_.strain[at_]);
    topStress_ = stress_;
    topStrain_ = strain_;
    if (conditions_.slipAtStrain > 0 && strain_ >= conditions_.slipAtStrain)
        slipped_ = conditions_.slipStep;
}

/// What is held gives way, the less the longer; joints rub against the way they go.
void VirtualFrame::giveWay(double seconds)
{
    constexpr double rubTravel = 0.02, creepTime = 9; // mm to turn the friction, s
    rubs_ = std::clamp(rubs_ + 2 * speed_ * seconds / rubTravel, -1.0, 1.0);
    if (!(bar_.creepLoad > 0) || !gripped() || broken_)
        return;
    const double share = std::clamp(stress_ * bar_.section / bar_.creepLoad, 0.0, 1.0);
    const double more = (bar_.creep * share - crept_) * (1 - std::exp(-seconds / creepTime));
    if (more > 0) {
        crept_ += more;
        gripPosition_ += more;
    }
}

double VirtualFrame::readForce()
{
    const double force =
        ((broken_ ? falling_ : stress_ * bar_.section * (1 + bar_.rub * rubs_)) + foreign_) * conditions_.forceScale
        + conditions_.zeroOffset;
    return quantised(force + conditions_.forceNoise * random_.normal(), conditions_.forceStep) - forceZero_;
}

double VirtualFrame::readExtension()
{
    const double noise = conditions_.extensionNoise * random_.normal();
    if (reference_)
        return quantised(*reference_ * conditions_.extensionScale + conditions_.extensionOffset + noise,
                         conditions_.extensionStep)
            - extensionZero_;
    if (!extensometerOn_)
        return quantised(frozen_ + noise, conditions_.extensionStep);
    const double seating =
        conditions_.footStrain * bar_.gaugeLength * (1 - std::exp(-stress_ * bar_.section / conditions_.seatForce));
    const double extension = strain_ * bar_.gaugeLength + seating + slipped_ + conditions_.extensionOffset;
    return quantised(extension + noise, conditions_.extensionStep) - extensionZero_;
}

double VirtualFrame::readExtension2()
{
    const double noise = conditions_.extensionNoise * second_.normal();
    const double extension =
        extensometerOn_ ? strain_ * (1 - bar_.bending) * bar_.gaugeLength - 0.6 * conditions_.extensionOffset : 0;
    return quantised(extension + noise, conditions_.extensionStep) - extension2Zero_;
}

double VirtualFrame::readGauge(double strain)
{
    return quantised(strain + conditions_.gaugeNoise * random_.normal(), 1e-7);
}

FrameSample VirtualFrame::step(double seconds)
{
    time_ += seconds;
    position_ += speed_ * seconds;
    if (broken_)
        falling_ *= 0.25;
    giveWay(seconds);
    findState();
    FrameSample sample{time_, readForce(), readExtension(), quantised(position_, 1e-4)};
    if (bar_.gauges) {
        const double strain = broken_ ? 0 : strain_;
        const double left = strain * (1 + bar_.sideways);
        sample.front = readGauge(left * (1 + bar_.bending));
        sample.back = readGauge(left * (1 - bar_.bending));
        sample.transverse = readGauge(-bar_.poisson * strain);
        sample.fourth =
            quantised(-bar_.poisson * strain * (1 - bar_.bending) + conditions_.gaugeNoise * second_.normal(), 1e-7);
    }
    if (bar_.plate) {
        const double right = broken_ ? 0 : strain_ * (1 - bar_.sideways);
        const auto read = [&](double e) { return quantised(e + conditions_.gaugeNoise * second_.normal(), 1e-7); };
        sample.frontRight = read(right * (1 + bar_.bending));
        sample.backRight = read(right * (1 - bar_.bending));
    }
    if (bar_.twoExtensometers)
        sample.extension2 = readExtension2();
    return sample;
}

} // namespace fortitor
