// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/step_doubt.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double doubtfulShare = 0.03;

double tolerance(const StraightSoFar& s, double expected, double division)
{
    return std::max({3 * s.line.residualRms, doubtfulShare * std::abs(expected), 1.5 * division});
}

} // namespace

StraightSoFar straightSoFar(std::span<const double> x, std::span<const double> y, double division)
{
    StraightSoFar out;
    std::vector<double> xs;
    std::vector<double> ys;
    int off = 0;
    for (std::size_t i = 0; i < std::min(x.size(), y.size()); ++i) {
        if (std::isnan(x[i]) || std::isnan(y[i]))
            continue;
        if (xs.size() >= 3 && std::abs(y[i] - out.line.at(x[i])) > tolerance(out, out.line.at(x[i]), division)) {
            if (++off == 2) {
                out.left = true;
                break;
            }
            continue;
        }
        off = 0;
        xs.push_back(x[i]);
        ys.push_back(y[i]);
        out.on.push_back(i);
        if (xs.size() >= 3)
            out.line = fitLine(xs, ys);
    }
    return out;
}

std::optional<StepDoubt> doubtStep(std::span<const double> x, std::span<const double> y, double newX, double newY,
                                   double division)
{
    const StraightSoFar so = straightSoFar(x, y, division);
    if (!so.line.valid() || std::isnan(newX) || std::isnan(newY))
        return std::nullopt;
    double lastX = 0, lastY = 0, beforeX = 0, beforeY = 0;
    for (std::size_t i = 0; i < std::min(x.size(), y.size()); ++i)
        if (!std::isnan(x[i]) && !std::isnan(y[i])) {
            beforeX = lastX;
            beforeY = lastY;
            lastX = x[i];
            lastY = y[i];
        }
    const double byLine = so.line.at(newX);
    const double off = newY - byLine;
    if (newX < lastX)
        return std::nullopt; // on the way back
    // While the line holds it says what is expected; then the last step does.
    const double lastSlope = lastX != beforeX ? (lastY - beforeY) / (lastX - beforeX) : so.line.slope;
    const double onward = so.left ? lastY + lastSlope * (newX - lastX) : byLine;
    if (!so.left && std::abs(off) <= tolerance(so, byLine, division))
        return std::nullopt;
    const auto near = [&](double value) {
        return std::abs(value - onward) <= std::max(0.15 * std::abs(onward), 2 * division)
            && std::abs(onward) > 2 * division;
    };
    if (near(-newY) && newY * onward < 0)
        return StepDoubt{onward, StepDoubt::Kind::Sign};
    if (near(10 * newY) || near(newY / 10))
        return StepDoubt{onward, StepDoubt::Kind::Ten};
    if (newX > lastX && newY == lastY && std::abs(onward - lastY) > 3 * division)
        return StepDoubt{onward, StepDoubt::Kind::Same};
    if (!so.left)
        return StepDoubt{onward, StepDoubt::Kind::OffLine};
    const double grown = newY - lastY;
    const double usual = std::max(std::abs(lastSlope), std::abs(so.line.slope)) * std::abs(newX - lastX);
    if (std::abs(grown) > 4 * usual + 3 * division)
        return StepDoubt{onward, StepDoubt::Kind::Jump};
    if (grown * so.line.slope < 0 && std::abs(grown) > 0.05 * std::abs(lastY) + 3 * division)
        return StepDoubt{onward, StepDoubt::Kind::Back};
    return std::nullopt;
}

} // namespace fortitor
