// SPDX-License-Identifier: GPL-3.0-or-later
// Force zero, preload, and where the break is.
#include "methods/common/stress_strain_parts.h"

#include "curve/unloading.h"
#include "methods/common/extensometer.h"
#include "methods/common/figures.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// Whether the fall at a supposed break is the load being taken off, by what the record holds to tell by.
bool isUnloading(std::span<const double> force, const Way& way, double wayNoise, size_t from, size_t last)
{
    if (way.crosshead)
        return fallsByGoingBack(force, way.values, wayNoise, from, last);
    return way.values.empty() ? fallsSteadily(force, from, last)
                              : fallsAlongUnloading(force, way.values, wayNoise, from, last);
}

/// The break by the rule of the method. What falls because it was driven back is none.
std::optional<Fracture> findBreak(const PrepareRules& rules, std::span<const double> force, double noise,
                                  const Way& way, StressStrain& data)
{
    auto fracture = findFracture(force, noise, data.topAt);
    const auto ran = way.values.subspan(std::min(data.onset, way.values.size()));
    const double wayNoise = noiseOfDrive(ran);
    const auto turn = findTurn(way.values, data.onset, wayNoise);
    if (fracture && isUnloading(force, way, wayNoise, data.onset, fracture->last)) {
        data.turnedAt = std::min(turn ? turn->first : fracture->last, fracture->last);
        const auto before = force.first(*data.turnedAt + 1);
        fracture = findFracture(before, noise, indexOfGreatest(before));
    } else if (!fracture && turn
               && (way.crosshead || fallsAlongUnloading(force, way.values, wayNoise, data.onset, turn->last))) {
        data.turnedAt = turn->first;
    }
    if (!fracture || !rules.drawing)
        return fracture;
    // A neck that runs down the bar lets the force down too, only not at once.
    const size_t soon = std::min(fracture->last + std::max(size_t{3}, force.size() / 100), force.size() - 1);
    double least = force[fracture->last];
    for (size_t i = fracture->last; i <= soon; ++i)
        least = std::min(least, force[i]);
    return fracture->cutInFall || least < 0.7 * force[fracture->last] ? fracture : std::nullopt;
}

} // namespace

Way wayOf(const Channel* crosshead, const Channel* strain, const std::vector<size_t>& gaps, size_t topAt)
{
    Way way;
    const Channel* channel = crosshead ? crosshead : strain;
    if (!channel)
        return way;
    way.crosshead = crosshead != nullptr;
    way.values = channel->values.values();
    if (!gaps.empty() || channel->values.hasGaps()) {
        way.own = gatherWithout(channel->values, gaps);
        for (size_t i = 1; i < way.own.size(); ++i)
            if (std::isnan(way.own[i]))
                way.own[i] = way.own[i - 1];
        way.values = way.own;
    }
    if (way.values[topAt] < way.values.front()) {
        if (way.own.empty())
            way.own = channel->values.gather();
        for (double& v : way.own)
            v = -v;
        way.values = way.own;
    }
    return way;
}

/// What stands on the force channel before the climb, and what is asked of it.
struct ZeroAtStart {
    QuietStart quiet;
    double head = 0; ///< of the first one to three readings
    bool started = false; ///< it stands clear of its own doubt
    std::string option;

    [[nodiscard]] std::string told(double force) const
    {
        return fmt::format("{} ({} % of the maximum)", formatQuantity(force, baseUnit(Kind::Force), 3),
                           formatFixed(100 * std::abs(force) / quiet.top, 2));
    }
};

/// The zero is left as it came: why, and what it may be off by.
void leaveZero(const ZeroAtStart& zero, double noise, size_t readings, const PrepareRules& rules, StressStrain& data,
               std::vector<Remark>& remarks)
{
    const QuietStart& quiet = zero.quiet;
    const double top = quiet.top;
    const auto& broken = data.fracture;
    const bool residual = broken && broken->residualCount > 0;
    // One or two readings before the climb are hardly a quiet start; what follows the break may bear them out.
    const bool hardly = quiet.quiet == 0 && quiet.onset > 0 && quiet.onset < 3;
    if (zero.started && zero.option != "none") {
        data.zeroLeft = quiet.level;
        if (std::abs(quiet.level) > 0.001 * top)
            remarks.push_back(
                {"zero-offset", Severity::Caution, rules.stresses,
                 fmt::format("{} stands at the quiet start and was left in: zero error or preload "
                             "can't be told.",
                             zero.told(quiet.level)),
                 "Say on Set up whether it was there before the second grip closed (force zero: start or none).",
                 "force_zero"});
    } else if (quiet.quiet == 0 && residual && std::abs(broken->residual) > std::max(0.001 * top, 5 * noise)) {
        data.zeroLeft = broken->residual;
        remarks.push_back({"zero-offset", Severity::Caution, rules.stresses,
                           fmt::format("After the break {} is left on the force channel.", zero.told(broken->residual)),
                           "The zero may be off by that much; there is no quiet start to tell by.", "force_zero"});
    } else if (quiet.quiet == 0 && !residual && std::abs(zero.head) > std::max(0.003 * top, 5 * noise)
               && readings >= 60) {
        remarks.push_back(
            {"zero-offset", Severity::Caution, rules.stresses,
             fmt::format("The record starts at {}{} and shows no quiet end: load or zero error can't "
                         "be told.",
                         zero.told(zero.head), hardly ? " with hardly a quiet reading" : ""),
             "Record a moment before the start and after the break, and zero the force with nothing in the grips.",
             "force_zero"});
    } else if (zero.started && std::abs(quiet.level) > 0.001 * top) {
        data.zeroLeft = quiet.level;
        remarks.push_back({"zero-offset", Severity::Caution, rules.stresses,
                           fmt::format("{} at the quiet start is left in by choice.", zero.told(quiet.level)), "",
                           "force_zero"});
    }
}

/// The zero is taken off, and why it may be.
void takeZero(const ZeroAtStart& zero, const std::string& why, const PrepareRules& rules, Readings& force,
              StressStrain& data, std::vector<Remark>& remarks)
{
    const double level = zero.quiet.level;
    data.zeroTaken = level;
    data.peakRaw -= level;
    force.take(scaled(force.values, level, 1));
    const bool large = std::abs(level) > 0.005 * zero.quiet.top;
    remarks.push_back({"zero-offset", large ? Severity::Caution : Severity::Note, rules.stresses,
                       fmt::format("{} at the quiet start was taken off; {}.", zero.told(level), why),
                       large ? "Zero the force with nothing in the grips before each specimen." : "", "force_zero"});
}

/// Force at the quiet start: a zero error, real preload, or not known.
void settleZero(const SpecimenInput& input, const PrepareRules& rules, Readings& readings, double noise, const Way& way,
                StressStrain& data, std::vector<Remark>& remarks)
{
    const auto force = readings.values;
    const QuietStart quiet = findQuietStart(force, noise, force[data.topAt]);
    data.onset = quiet.onset;
    const double top = quiet.top;
    data.peakRaw = top;
    data.fracture = findBreak(rules, force, noise, way, data);
    const auto& broken = data.fracture;
    const bool residual = broken && broken->residualCount > 0;
    const double certain =
        3 * std::max(quiet.scatter, noise) / std::sqrt(static_cast<double>(std::max(quiet.quiet, size_t{1})));
    const bool started = quiet.quiet > 0 && std::abs(quiet.level) > std::max(certain, 1e-6 * top);
    const std::string option = optionOr(input, "force_zero", "auto");
    const bool toldOpen = input.record->has("force-zero-open");
    const bool agrees = residual && quiet.quiet > 0
        && std::abs(quiet.level - broken->residual)
            <= std::max({0.15 * std::abs(quiet.level),
                         4 * noise / std::sqrt(static_cast<double>(broken->residualCount)), 5e-4 * top});
    const double head = medianOf(
        {force.begin(), force.begin() + static_cast<std::ptrdiff_t>(std::clamp(quiet.onset, size_t{1}, size_t{3}))});
    const bool take =
        option == "start" ? started : option == "auto" && started && (agrees || toldOpen || rules.compression);
    const ZeroAtStart zero{quiet, head, started, option};
    if (take) {
        const std::string left = residual ? formatQuantity(broken->residual, baseUnit(Kind::Force), 3) : std::string();
        const std::string why = option == "start" ? "by the chosen rule"
            : rules.compression                   ? "nothing lay between the platens before the touch"
            : toldOpen                            ? "it was taken before the second grip closed"
                                                  : "the force left after the break (" + left + ") agrees";
        takeZero(zero, why, rules, readings, data, remarks);
        return;
    }
    leaveZero(zero, noise, force.size(), rules, data, remarks);
}

void remarkPreload(const SpecimenInput& input, const PrepareRules& rules, const StressStrain& data, double section,
                   std::vector<Remark>& remarks)
{
    size_t closed = 0;
    for (const Event& event : input.record->events) {
        if (event.code == "grip-closed")
            ++closed;
        if (event.code == "force-zero" && closed >= 2)
            remarks.push_back(
                {"preload-zeroed", Severity::Caution, rules.stresses,
                 "The force was zeroed after both grips had closed.",
                 "Clamp load is taken off with the fine wheel, not by zeroing: the zero may hide real force.",
                 "force_zero"});
    }
    const auto yield = input.published.find("yield");
    if (data.zeroLeft > 0 && yield != input.published.end() && data.zeroLeft / section > 0.05 * yield->second)
        remarks.push_back(
            {"grip-preload",
             Severity::Caution,
             {},
             fmt::format("The grips left {} on the specimen before the start, over 5 % of the expected yield.",
                         formatQuantity(data.zeroLeft, baseUnit(Kind::Force), 3)),
             "Ease it off with the fine wheel before balancing strain.",
             {}});
}

} // namespace fortitor
