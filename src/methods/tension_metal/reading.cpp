// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/tension_metal/reading.h"

#include "curve/line_fit.h"
#include "curve/signal.h"

#include <Eigen/Core>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// Area under the curve from the corrected origin to a point, MJ/m³; the foot is replaced by the line.
double areaTo(const StressStrain& data, const StraightPart& straight, double origin, double strain, double stress)
{
    const size_t begin = straight.begin;
    const double foot = straight.line.at(data.strain[begin]);
    double area = 0.5 * foot * (data.strain[begin] - origin);
    const size_t end = firstAtLeast(std::span(data.strain).first(data.end), begin + 1, strain);
    if (end <= begin + 1)
        return area + 0.5 * (stress + foot) * (strain - data.strain[begin]);
    area += 0.5 * (data.stress[begin + 1] + foot) * (data.strain[begin + 1] - data.strain[begin]);
    using Values = Eigen::Map<const Eigen::ArrayXd>;
    const auto n = static_cast<Eigen::Index>(end - begin - 2);
    const double* x = data.strain.data() + begin + 1;
    const double* y = data.stress.data() + begin + 1;
    // Summed in several lanes, which loses fewer digits than one after the other.
    area += 0.5 * ((Values(y + 1, n) + Values(y, n)) * (Values(x + 1, n) - Values(x, n))).sum();
    return area + 0.5 * (stress + y[n]) * (strain - x[n]);
}

/// ln σt on ln of true strain between 2 % engineering strain (or the end of Ae) and Ag.
void readHardening(const SpecimenInput& input, const StressStrain& data, TensionReading& reading)
{
    const double slope = reading.straight.slope();
    double from = reading.origin + 0.02;
    if (reading.drop)
        from = std::max(from, data.strain[reading.drop->hardeningIndex] + 0.002);
    const double to = reading.maximum.x;
    const bool total = optionOr(input, "hardening_strain", "plastic") == "total";
    std::vector<double> x;
    std::vector<double> y;
    // Dense records are thinned: the line does not gain from neighbours within one noise width.
    const size_t stride = std::max(size_t{1}, (data.end - reading.straight.end) / 20000);
    const size_t last = std::min(data.end, reading.maximum.index + 1);
    x.reserve(last > reading.straight.end ? (last - reading.straight.end) / stride + 1 : 0);
    y.reserve(x.capacity());
    for (size_t i = reading.straight.end; i < last; i += stride) {
        const double e = data.strain[i] - reading.origin;
        if (data.strain[i] < from || data.strain[i] > to)
            continue;
        const double trueStress = data.stress[i] * (1 + e);
        const double trueStrain = std::log1p(e) - (total ? 0 : trueStress / slope);
        if (trueStrain > 0 && trueStress > 0) {
            x.push_back(std::log(trueStrain));
            y.push_back(std::log(trueStress));
        }
    }
    reading.hardeningPoints = x.size();
    if (x.size() < 10)
        return;
    const LineFit line = fitLine(x, y);
    if (!line.valid())
        return;
    reading.hardeningExponent = line.slope;
    reading.hardeningCoefficient = std::exp(line.intercept);
}

} // namespace

Expected<TensionReading> readTensionCurve(const SpecimenInput& input, const StressStrain& data, double offset,
                                          const std::vector<std::pair<std::string, double>>& also)
{
    TensionReading reading;
    auto straight = straightPartByOption(input, data);
    if (!straight)
        return straight.problem();
    reading.straight = *straight;
    reading.origin = straight->origin();
    reading.toe = std::max(0.0, reading.origin - data.strain[data.onset]); // a record that begins on the climb has none
    const auto x = std::span(data.strain).first(data.end);
    const auto y = std::span(data.stress).first(data.end);
    const double slope = straight->slope();
    const auto later = [&](CurvePoint p, size_t by) {
        p.before += by;
        p.after += by;
        return p;
    };

    const size_t from = straight->begin;
    const double top =
        data.topAt >= from && data.topAt < data.end ? data.stress[data.topAt] : extremesOf(y.subspan(from)).greatest;
    if (auto drop = findYieldDrop(x.subspan(from), y.subspan(from), slope, reading.origin, data.noise, top)) {
        drop->upperIndex += from;
        drop->lowerIndex += from;
        drop->hardeningIndex += from;
        reading.drop = drop;
    }
    const size_t search = straight->begin + (straight->end - straight->begin) / 2;
    const auto proofAt = [&](double off) -> std::optional<CurvePoint> {
        auto p = offsetPoint(x.subspan(search), y.subspan(search), slope, reading.origin, off, 0);
        return p ? std::optional(later(*p, search)) : std::nullopt;
    };
    reading.proof = proofAt(offset);
    reading.proof02 = offset == 0.002 ? reading.proof : proofAt(0.002);
    for (const auto& [symbol, other] : also)
        reading.also.push_back(proofAt(other));
    if (const auto p = pointAtStrain(x.subspan(from), y.subspan(from), reading.origin + 0.005))
        reading.underLoad = later(*p, from);

    // With discontinuous yield the strength is the greatest after the plateau began.
    const size_t rmFrom = reading.drop ? reading.drop->lowerIndex : data.onset;
    const bool known = data.topAt >= rmFrom && data.topAt < data.end;
    const size_t topAt = known ? data.topAt - rmFrom : indexOfGreatest(y.subspan(rmFrom));
    reading.maximum = smoothPeakAt(x.subspan(rmFrom), y.subspan(rmFrom), topAt, data.noise);
    reading.maximum.index += rmFrom;

    readHardening(input, data, reading);
    if (reading.drop)
        reading.resilience = areaTo(data, *straight, reading.origin, reading.drop->upperStrain, reading.drop->upper);
    else if (reading.proof)
        reading.resilience = areaTo(data, *straight, reading.origin, reading.proof->strain, reading.proof->stress);
    if (data.fracture && data.end > straight->end)
        reading.toughness =
            areaTo(data, *straight, reading.origin, data.strain[data.end - 1], data.stress[data.end - 1]);
    return reading;
}

} // namespace fortitor
