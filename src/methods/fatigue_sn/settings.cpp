// SPDX-License-Identifier: GPL-3.0-or-later
// Options, readings and notes as numbers.
#include "methods/fatigue_sn/fatigue_sn.h"

#include "methods/common/figures.h"

#include <fmt/format.h>

#include <cmath>

namespace fortitor {
namespace {

Expected<double> share(const SpecimenInput& input, const std::string& key)
{
    const std::string text = optionOr(input, key, "95 %");
    const auto read = parseQuantity(text, Kind::Strain, findUnit("%", Kind::Strain));
    if (!read || !(read->base >= 0.5) || !(read->base < 1))
        return Problem{"options." + key, '"' + text + '"', "a share from 50 % to below 100 %, such as 95 %", {}};
    return read->base;
}

Expected<std::optional<double>> fixedSlope(const std::string& text)
{
    if (text == "free")
        return std::optional<double>();
    const auto value = text.starts_with("fixed ") ? parseNumber(text.substr(6)) : std::nullopt;
    if (!value || !(*value > 0) || !(*value <= 100))
        return Problem{
            "options.slope", '"' + text + '"', "free, or fixed with a number above zero, such as fixed 3", {}};
    return value;
}

Expected<std::optional<double>> stress(const SpecimenInput& input, const std::string& key)
{
    const std::string text = optionOr(input, key, "");
    if (text.empty())
        return std::optional<double>();
    const auto read = parseQuantity(text, Kind::Stress, findUnit("MPa"));
    if (!read || !(read->base > 0))
        return Problem{"options." + key, '"' + text + '"', "a stress range above zero, such as 71 MPa", {}};
    return std::optional(read->base);
}

std::optional<double> single(const SpecimenInput& input, const char* name)
{
    const auto it = input.readings.find(name);
    return it != input.readings.end() && !it->second.empty() && it->second.front()
        ? std::optional(it->second.front()->base)
        : std::nullopt;
}

/// "412 000", with narrow spaces.
std::string grouped(double whole)
{
    const std::string digits = fmt::format("{:.0f}", whole);
    std::string out;
    for (size_t i = 0; i < digits.size(); ++i) {
        if (i > 0 && digits.size() > 4 && (digits.size() - i) % 3 == 0)
            out += "\u202f";
        out += digits[i];
    }
    return out;
}

} // namespace

Expected<SnSettings> snSettings(const SpecimenInput& input)
{
    SnSettings s;
    s.staircase = optionOr(input, "kind", "sn") == "staircase";
    s.variable = optionOr(input, "kind", "sn") == "variable";
    auto slope = fixedSlope(optionOr(input, "slope", "free"));
    if (!slope)
        return slope.problem();
    s.rule.slope = *slope;
    s.rule.runOuts = optionOr(input, "run_outs", "likelihood") == "likelihood";
    s.bound.by =
        optionOr(input, "bound", "prediction") == "tolerance" ? SnBound::By::Tolerance : SnBound::By::Prediction;
    const auto confidence = share(input, "confidence");
    if (!confidence)
        return confidence.problem();
    const auto survival = share(input, "survival");
    if (!survival)
        return survival.problem();
    s.bound.confidence = *confidence;
    s.bound.survival = *survival;
    const std::string reference = optionOr(input, "reference_cycles", "2e6");
    const auto cycles = parseNumber(reference);
    if (!cycles || !(*cycles >= 1) || !(*cycles <= 1e12))
        return Problem{"options.reference_cycles", '"' + reference + '"', "a number of cycles, such as 2e6", {}};
    s.reference = *cycles;
    const auto detail = stress(input, "class");
    if (!detail)
        return detail.problem();
    s.detailClass = *detail;
    const auto step = stress(input, "step");
    if (!step)
        return step.problem();
    s.step = step->value_or(0);
    s.meanStress = meanStressNamed(optionOr(input, "mean_stress", "none"));
    return s;
}

Expected<std::optional<double>> keyedRange(const SpecimenInput& input)
{
    const auto range = single(input, fatigueKeys::range), amplitude = single(input, fatigueKeys::amplitude);
    constexpr double alike = 0.005;
    if (range && amplitude && std::abs(*range - 2 * *amplitude) > alike * std::abs(*range))
        return Problem{input.label + ", readings",
                       fmt::format("a range of {:.4g} MPa and an amplitude of {:.4g} MPa", *range, *amplitude),
                       "one of them, or a range of twice the amplitude",
                       "The range is greatest less least stress, the amplitude half of it."};
    return range ? range : amplitude ? std::optional(2 * *amplitude) : std::nullopt;
}

Expected<std::optional<double>> notedRatio(const SpecimenInput& input)
{
    const std::string text = noteOf(input, fatigueKeys::ratio);
    if (text.empty())
        return std::optional<double>();
    const auto value = parseNumber(text);
    if (!value || !std::isfinite(*value))
        return Problem{
            input.label + ", notes.ratio", '"' + text + '"', "a number, least over greatest stress, such as 0.1", {}};
    return value;
}

double notedFrequency(const SpecimenInput& input)
{
    const auto read = parseQuantity(noteOf(input, fatigueKeys::frequency), Kind::Frequency, findUnit("Hz"));
    return read && read->base > 0 ? read->base : 0;
}

std::optional<double> plannedRange(const SpecimenInput& input)
{
    const auto read = parseQuantity(noteOf(input, fatigueKeys::planned), Kind::Stress, findUnit("MPa"));
    return read && read->base > 0 ? std::optional(read->base) : std::nullopt;
}

std::string cyclesText(double cycles)
{
    if (!(cycles >= 1e6))
        return grouped(std::round(cycles));
    const double power = std::floor(std::log10(cycles) + 1e-12);
    static constexpr const char* raised[] = {"⁰", "¹", "²", "³", "⁴", "⁵", "⁶", "⁷", "⁸", "⁹"};
    std::string up;
    for (const char digit : fmt::format("{:.0f}", power))
        up += raised[digit - '0'];
    const std::string head = fmt::format("{:.3g}", cycles / std::pow(10, power));
    return head == "1" ? "10" + up : head + "·10" + up;
}

std::string spanText(double seconds)
{
    constexpr double minute = 60, hour = 3600, day = 86400;
    if (seconds < hour)
        return fmt::format("{:.0f} min", std::ceil(seconds / minute));
    if (seconds < 2 * day)
        return fmt::format("{:.3g} h", seconds / hour);
    return fmt::format("{:.3g} days", seconds / day);
}

} // namespace fortitor
