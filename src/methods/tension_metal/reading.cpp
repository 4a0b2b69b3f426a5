// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/tension_metal/reading.h"

#include "curve/line_fit.h"

#include <algorithm>
#include <cmath>
#include <sstream>

namespace fortitor {
namespace {

/// "secant 40 MPa 200 MPa" → the two quantities behind the word.
Expected<std::pair<Quantity, Quantity>> twoQuantities(const std::string& option, const std::string& word, Kind kind)
{
    std::istringstream in(option.substr(word.size()));
    std::vector<std::string> parts;
    for (std::string part; in >> part;)
        parts.push_back(part);
    const Problem wrong{"options.slope", '"' + option + '"', word + " and two " + std::string(kindName(kind)) + " values with units, such as \"" + word + (kind == Kind::Strain ? " 0.05 % 0.25 %\"" : " 40 MPa 200 MPa\""), {}};
    if (parts.size() == 2 && !parts[0].empty()) // "0.05% 0.25%"
        parts = {parts[0], "", parts[1], ""};
    if (parts.size() != 4)
        return wrong;
    auto a = parseQuantity(parts[0] + " " + parts[1], kind);
    auto b = parseQuantity(parts[2] + " " + parts[3], kind);
    if (!a || !b || !(b->base > a->base))
        return wrong;
    return std::pair{*a, *b};
}

StraightPart shifted(StraightPart part, size_t by)
{
    part.begin += by;
    part.end += by;
    return part;
}

/// Area under the curve from the corrected origin to a point, MJ/m³; the foot is replaced by the line.
double areaTo(const StressStrain& data, const StraightPart& straight, double origin, double strain, double stress)
{
    const size_t begin = straight.begin;
    const double foot = straight.line.at(data.strain[begin]);
    double area = 0.5 * foot * (data.strain[begin] - origin);
    double lastX = data.strain[begin];
    double lastY = foot;
    for (size_t i = begin + 1; i < data.end && data.strain[i] < strain; ++i) {
        area += 0.5 * (data.stress[i] + lastY) * (data.strain[i] - lastX);
        lastX = data.strain[i];
        lastY = data.stress[i];
    }
    return area + 0.5 * (stress + lastY) * (strain - lastX);
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
    for (size_t i = reading.straight.end; i < data.end && i <= reading.maximum.index; i += stride) {
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

Expected<StraightPart> straightPartByOption(const SpecimenInput& input, const StressStrain& data)
{
    const size_t topAt = data.onset + indexOfGreatest(std::span(data.stress).subspan(data.onset, data.end - data.onset));
    const size_t limit = std::min(topAt + 1, data.removedAt ? *data.removedAt + 1 : data.end);
    const size_t first = std::min(data.onset, limit);
    const auto x = std::span(data.strain).subspan(first, limit - first);
    const auto y = std::span(data.stress).subspan(first, limit - first);
    const std::string option = optionOr(input, "slope", "auto");
    const auto moved = [&](Expected<StraightPart> part) -> Expected<StraightPart> {
        if (!part)
            return part;
        return shifted(*part, first);
    };
    if (option == "auto")
        return moved(findStraightPart(x, y, data.noise));
    if (option.starts_with("secant") || (option.starts_with("manual") && option.find('%') == std::string::npos && option.find("mm/mm") == std::string::npos)) {
        const std::string word = option.substr(0, 6);
        auto ends = twoQuantities(option, word, Kind::Stress);
        if (!ends)
            return ends.problem();
        if (word == "manual")
            return moved(straightPartBetweenStresses(x, y, ends->first.base, ends->second.base));
        // A secant joins the two points where the climb first has these stresses.
        const auto at = [&](double stress) { return static_cast<size_t>(std::ranges::find_if(y, [&](double v) { return v >= stress; }) - y.begin()); };
        const size_t a = at(ends->first.base);
        const size_t b = at(ends->second.base);
        if (b >= y.size() || a >= b)
            return Problem{"options.slope", '"' + option + '"', "two stresses that the climb reaches", {}};
        return moved(chordBetweenStrains(x, y, x[a], x[b]));
    }
    const bool chord = option.starts_with("chord");
    if (!chord && !option.starts_with("manual"))
        return Problem{"options.slope", '"' + option + '"', "auto, chord A B, secant A B or manual A B", {}};
    auto ends = twoQuantities(option, option.substr(0, chord ? 5 : 6), Kind::Strain);
    if (!ends)
        return ends.problem();
    // Strains of a rule count from the corrected origin: two rounds settle it.
    auto part = findStraightPart(x, y, data.noise);
    for (int round = 0; part && round < 3; ++round) {
        const double origin = part->origin();
        if (chord) {
            part = chordBetweenStrains(x, y, origin + ends->first.base, origin + ends->second.base);
        } else {
            const auto a = static_cast<size_t>(std::ranges::find_if(x, [&](double v) { return v >= origin + ends->first.base; }) - x.begin());
            const auto b = static_cast<size_t>(std::ranges::find_if(x, [&](double v) { return v > origin + ends->second.base; }) - x.begin());
            if (b < a + 3)
                return Problem{"options.slope", '"' + option + '"', "strains with at least three points between them", {}};
            part = fitStraightPart(x, y, a, b);
        }
    }
    return moved(part);
}

Expected<TensionReading> readTensionCurve(const SpecimenInput& input, const StressStrain& data, double offset)
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
    if (auto drop = findYieldDrop(x.subspan(from), y.subspan(from), slope, reading.origin, data.noise)) {
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
    reading.proof02 = proofAt(0.002);
    if (const auto p = pointAtStrain(x.subspan(from), y.subspan(from), reading.origin + 0.005))
        reading.underLoad = later(*p, from);

    // With discontinuous yield the strength is the greatest after the plateau began.
    const size_t rmFrom = reading.drop ? reading.drop->lowerIndex : data.onset;
    reading.maximum = smoothPeak(x.subspan(rmFrom), y.subspan(rmFrom));
    reading.maximum.index += rmFrom;

    readHardening(input, data, reading);
    if (reading.drop)
        reading.resilience = areaTo(data, *straight, reading.origin, reading.drop->upperStrain, reading.drop->upper);
    else if (reading.proof)
        reading.resilience = areaTo(data, *straight, reading.origin, reading.proof->strain, reading.proof->stress);
    if (data.fracture && data.end > straight->end)
        reading.toughness = areaTo(data, *straight, reading.origin, data.strain[data.end - 1], data.stress[data.end - 1]);
    return reading;
}

} // namespace fortitor
