// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/live_curve.h"

#include "curve/line_fit.h"

#include <algorithm>
#include <cmath>
#include <span>

namespace fortitor {

namespace {

constexpr size_t mostPoints = 1 << 15;

} // namespace

void LiveCurve::add(double time, double force, double extension, double displacement, bool extensometerOn)
{
    // No reading is no point; an extensometer off its scale counts as off.
    if (!(section_ > 0) || !std::isfinite(time) || !std::isfinite(force) || !std::isfinite(displacement))
        return;
    extensometerOn = extensometerOn && std::isfinite(extension);
    if (wasOn_ && !extensometerOn) {
        offStrain_ = strain_.empty() ? 0 : strain_.back();
        offDisplacement_ = displacement;
    }
    wasOn_ = extensometerOn;
    if (!time_.empty() && time - lastKept_ < minStep_)
        return;
    lastKept_ = time;
    double strain = 0;
    if (extensometerOn && gauge_ > 0)
        strain = extension / gauge_;
    else if (parallel_ > 0)
        strain = offStrain_ + (displacement - offDisplacement_) / parallel_;
    time_.push_back(time);
    stress_.push_back(force / section_);
    strain_.push_back(strain);
    crosshead_.push_back(parallel_ > 0 ? displacement / parallel_ : 0);
    if (time_.size() < mostPoints)
        return;
    minStep_ = 2 * (time_.back() - time_.front()) / static_cast<double>(time_.size() - 1) * 0.999;
    for (auto* values : {&time_, &strain_, &stress_, &crosshead_}) {
        for (size_t i = 0; 2 * i < values->size(); ++i)
            (*values)[i] = (*values)[2 * i];
        values->resize(values->size() / 2);
    }
}

std::optional<double> LiveCurve::rate(const std::vector<double>& y, double span) const
{
    if (time_.size() < 5)
        return std::nullopt;
    const auto from = static_cast<size_t>(std::ranges::lower_bound(time_, time_.back() - span) - time_.begin());
    if (time_.size() - from < 5)
        return std::nullopt;
    const LineFit line = fitLine(std::span(time_).subspan(from), std::span(y).subspan(from));
    return line.valid() ? std::optional(line.slope) : std::nullopt;
}

std::optional<double> LiveCurve::strainRate(double span) const
{
    return rate(strain_, span);
}

std::optional<double> LiveCurve::crossheadRate(double span) const
{
    return parallel_ > 0 ? rate(crosshead_, span) : std::nullopt;
}

} // namespace fortitor
