// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/stepped_bench.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

constexpr double degree = std::numbers::pi / 180;

double shown(double value, double division)
{
    return std::round(value / division) * division;
}

/// A gauged strip in the frame, held at each step and read on a strain indicator.
class GaugedStrip : public SteppedBench {
public:
    GaugedStrip(const CatalogueEntry& entry, const SimulatedSpecimen& specimen, std::uint64_t seed)
        : frame_(specimen.bar, quiet(specimen.conditions), seed * 104729 + 3), section_(specimen.bar.section),
          speed_(0.0005 * entry.parallelLength)
    {
        Random random(seed * 131 + 9);
        for (double& b : balance_)
            b = 2e-6 * random.normal();
        frame_.closeTopGrip();
        frame_.closeBottomGrip();
    }
    std::optional<std::map<std::string, double>> bringTo(double target) override
    {
        constexpr double dt = 0.05;
        const auto force = [&] { return frame_.trueStress() * section_; };
        const bool up = target > force();
        frame_.setSpeed(up ? speed_ : -speed_);
        for (long i = 0; i < 200000 && !frame_.broken() && (up ? force() < target : force() > target); ++i)
            frame_.step(dt);
        frame_.setSpeed(0);
        broken_ = frame_.broken();
        if (broken_)
            return std::nullopt;
        double sums[4] = {};
        constexpr int looks = 10;
        for (int i = 0; i < looks; ++i) {
            const FrameSample s = frame_.step(dt);
            const double seen[4] = {s.force, s.front, s.back, s.transverse};
            for (int c = 0; c < 4; ++c)
                sums[c] += seen[c] / looks;
        }
        return std::map<std::string, double>{{"force", shown(sums[0], 10)},
                                             {"strain", shown(sums[1] + balance_[0], 1e-6)},
                                             {"strain_2", shown(sums[2] + balance_[1], 1e-6)},
                                             {"transverse_strain", shown(sums[3] + balance_[2], 1e-6)}};
    }

private:
    static FrameConditions quiet(FrameConditions c)
    {
        c.clampLoad = 0;
        return c;
    }
    VirtualFrame frame_;
    double section_;
    double speed_;
    double balance_[3] = {};
};

/// A beam loaded to its steps and read by eye on a dial.
class DialedBeam : public SteppedBench {
public:
    DialedBeam(const SimulatedSpecimen& specimen, std::uint64_t seed)
        : frame_(specimen.bar, specimen.conditions, seed * 104729 + 3)
    {
        frame_.closeTopGrip();
        frame_.closeBottomGrip();
        frame_.balanceExtensometer();
    }
    std::optional<std::map<std::string, double>> bringTo(double target) override
    {
        if (broken_)
            return std::nullopt;
        FrameSample s;
        double greatest = 0;
        frame_.setSpeed(0.1);
        for (long i = 0; i < 1000000 && !frame_.broken() && frame_.trueStress() < target; ++i) {
            s = frame_.step(0.02);
            greatest = std::max(greatest, frame_.trueStress());
        }
        broken_ = frame_.broken();
        if (broken_) {
            atBreak_ = {{"force", shown(greatest, 5)}};
            return std::nullopt;
        }
        return std::map<std::string, double>{{"force", target}, {"deflection", shown(s.extension, 0.01)}};
    }

private:
    VirtualFrame frame_;
};

/// A bar in the torsion head: twist on the head's scale, chucks and all, torque and a 45° gauge while it lives.
class TwistedBar : public SteppedBench {
public:
    TwistedBar(const SimulatedSpecimen& specimen, std::uint64_t seed)
        : law_(std::get<ShaftModel>(specimen.model)), random_(seed * 977 + 5), give_(specimen.conditions.compliance)
    {
        gaugeLife_ = random_.between(0.012, 0.03);
        gain_ = 1 + 0.001 * random_.normal();
        zero_ = 1e-6 * random_.normal();
    }
    std::optional<std::map<std::string, double>> bringTo(double target) override
    {
        // The head turns bar and chucks: θ + C·T(θ).
        double low = 0;
        double high = target;
        for (int i = 0; i < 60; ++i) {
            const double middle = 0.5 * (low + high);
            (middle + give_ * torque(middle) < target ? low : high) = middle;
        }
        const double twist = 0.5 * (low + high);
        if (!broken_ && twist > law_.breakTwist) {
            broken_ = true;
            const double most = torque(law_.breakTwist);
            atBreak_ = {{"torque", shown(most, 100)}, {"twist", shown(law_.breakTwist + give_ * most, degree)}};
        }
        if (broken_)
            return std::nullopt;
        std::map<std::string, double> seen{{"twist", target},
                                           {"torque", shown(torque(twist) * (1 + 0.0008 * random_.normal()), 100)}};
        const double strain = 0.5 * law_.shear * twist;
        if (2 * strain < gaugeLife_)
            frozen_ = shown(gain_ * strain + zero_ + 0.7e-6 * random_.normal(), 1e-6);
        else
            frozen_ += shown(3e-6 * random_.normal(), 1e-6); // off its bond: it stands where it was, and wanders
        seen["strain"] = frozen_;
        return seen;
    }

private:
    [[nodiscard]] double torque(double twist) const { return law_.torque(twist); }
    ShaftModel law_;
    Random random_;
    double give_;
    double gaugeLife_ = 0.02;
    double gain_ = 1;
    double zero_ = 0;
    double frozen_ = 0;
};

} // namespace

std::unique_ptr<SteppedBench> steppedBench(const CatalogueEntry& entry, const SimulatedSpecimen& specimen,
                                           std::uint64_t seed)
{
    if (entry.gauges && std::holds_alternative<MetalModel>(entry.model))
        return std::make_unique<GaugedStrip>(entry, specimen, seed);
    if (std::holds_alternative<BeamModel>(entry.model))
        return std::make_unique<DialedBeam>(specimen, seed);
    if (std::holds_alternative<ShaftModel>(entry.model))
        return std::make_unique<TwistedBar>(specimen, seed);
    return nullptr;
}

} // namespace fortitor
