// SPDX-License-Identifier: GPL-3.0-or-later
// Which channel the strain comes from, and whether it can be trusted: slips, lost gauges, an extensometer taken off.
#include "methods/common/stress_strain_parts.h"

#include "curve/unloading.h"
#include "methods/common/extensometer.h"
#include "methods/common/figures.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// Strain after the extensometer is off: ε = ε_j + ((δ−δ_j) − C(F−F_j))/Lc.
void continueFromCrosshead(StressStrain& data, std::span<const double> force, double compliance)
{
    const size_t j = *data.removedAt;
    const double sign =
        data.displacement[data.strain.size() - 1] < data.displacement[0] ? -1 : 1; // written as negative by some frames
    for (size_t i = j + 1; i < data.strain.size(); ++i)
        data.strain[i] = data.strain[j]
            + (sign * (data.displacement[i] - data.displacement[j]) - compliance * (force[i] - force[j]))
                / data.parallelLength;
    data.crossheadAfterRemoval = true;
}

/// What an extension (mm) shows besides the specimen.
struct Watched {
    std::optional<size_t> removedAt;
    std::optional<ExtensometerSlip> slip;
};

Watched watch(std::span<const double> extension, std::span<const double> force, double forceNoise,
              const StressStrain& data)
{
    Watched seen;
    const size_t topAt = data.topAt < data.end ? data.topAt : indexOfGreatest(force.first(data.end));
    const std::span<const double> crosshead = data.displacement.empty() ? std::span<const double>() : data.way;
    const double noise = crosshead.empty() ? noiseOf(extension.first(data.end))
                                           : noiseAlong(crosshead.first(data.end), extension.first(data.end));
    if (!crosshead.empty())
        seen.removedAt = findExtensometerOff(extension, crosshead, data.onset, data.end, noise);
    else
        seen.removedAt = findFrozen(extension, force, data.onset, data.end, noise, forceNoise);
    size_t until = seen.removedAt.value_or(std::min(data.end, topAt + 1));
    // Once yielding drops the force, the bar itself moves by steps.
    until = firstDip(force.first(until), data.onset, 0.2 * force[topAt], 0.996, 6 * forceNoise);
    seen.slip = findSlip(extension, force, crosshead, data.onset, until, noise, forceNoise);
    return seen;
}

void remarkSlip(const ExtensometerSlip& slip, const std::string& which, const PrepareRules& rules,
                std::span<const double> force, std::vector<Remark>& remarks)
{
    remarks.push_back(
        {"extensometer-slip",
         Severity::Caution,
         rules.strains,
         fmt::format("{} steps by {} µm at {} with no event in the force.", which, formatFixed(slip.step * 1000, 1),
                     formatQuantity(force[slip.at], *findUnit("kN"), 3)),
         "It slipped. Clean the knives, set the clip force, and look where the step stands against the straight part.",
         {}});
}

double travelOf(std::span<const double> x, size_t from, size_t to)
{
    const Extremes e = extremesOf(x.subspan(from, to - from));
    return e.greatest - e.least;
}

} // namespace

StrainChoice chooseStrain(const SpecimenInput& input, const PrepareRules& rules, std::vector<Remark>& remarks)
{
    const Record& record = *input.record;
    const bool wantsCrosshead = optionOr(input, "strain_from", "extensometer") == "crosshead";
    if (!wantsCrosshead) {
        if (const Channel* strain = record.find("strain"))
            return {strain, record.find("strain_2"), StrainSource::StrainChannel};
        if (const Channel* extension = record.find("extension")) {
            if (dimensionOf(input, "extensometer_gauge_length"))
                return {extension, record.find("extension_2"), StrainSource::Extensometer};
            remarks.push_back(
                {"missing-dimension", Severity::Caution, rules.strains,
                 "The gauge length of the extensometer is not given; its extension can't be made a strain.",
                 "Enter the gauge length of the extensometer on Measure.", "extensometer_gauge_length"});
        }
    }
    if (const Channel* crosshead = record.find("displacement"))
        return {crosshead, nullptr, StrainSource::Crosshead};
    return {};
}

/// ExtensometerSlip and removal, seen on the extension itself (mm). Of two faces each is looked at by itself: the
/// mean shows
/// half of what happens to one. Where one is lost, the other's increments go on.
void watchExtensometer(Readings& extension, double perUnit, const PrepareRules& rules, std::span<const double> force,
                       double forceNoise, StressStrain& data, std::vector<Remark>& remarks)
{
    if (data.front.empty() || data.back.empty()) {
        const Watched seen = watch(extension.values, force, forceNoise, data);
        data.removedAt = seen.removedAt;
        if (seen.slip)
            remarkSlip(*seen.slip, "The extensometer", rules, force, remarks);
        return;
    }
    std::vector<double> faces[2];
    Watched seen[2];
    for (size_t k = 0; k < 2; ++k) {
        const RowView& view = k == 0 ? data.front : data.back;
        faces[k].resize(view.size());
        for (size_t i = 0; i < view.size(); ++i)
            faces[k][i] = view[i] * perUnit;
        seen[k] = watch(faces[k], force, forceNoise, data);
    }
    for (size_t k = 0; k < 2; ++k)
        if (seen[k].slip)
            remarkSlip(*seen[k].slip, k == 0 ? "The first face" : "The second face", rules, force, remarks);
    if (seen[0].removedAt && seen[1].removedAt) {
        data.removedAt = std::min(*seen[0].removedAt, *seen[1].removedAt);
        return;
    }
    for (size_t k = 0; k < 2; ++k) {
        if (!seen[k].removedAt)
            continue;
        const size_t j = *seen[k].removedAt;
        const auto mean = extension.toChange();
        for (size_t i = j + 1; i < mean.size(); ++i)
            mean[i] = mean[j] + faces[1 - k][i] - faces[1 - k][j];
        remarks.push_back({"gauge-lost",
                           Severity::Caution,
                           rules.strains,
                           fmt::format("The {} face stops following at {}; beyond it the strain stands on the other.",
                                       k == 0 ? "first" : "second", formatQuantity(force[j], *findUnit("kN"), 3)),
                           "A gauge, a wire or a clip came off. Bending can't be told from there on.",
                           {}});
    }
}

/// What becomes of the strain once the extensometer is off.
void goOnWithoutExtensometer(const PrepareRules& rules, const Channel& channel, std::span<const double> force,
                             double compliance, StressStrain& data, std::vector<Remark>& remarks)
{
    const double at = data.strain[*data.removedAt];
    const bool gauge = channel.kind == Kind::Strain && channel.unitFound != "%" && channel.unitFound != "mm/mm"
        && channel.unitFound != "1";
    const std::string code = gauge ? "gauge-lost" : "extensometer-removed";
    const std::string what = gauge ? "The strain gauge" : "The extensometer";
    if (data.parallelLength > 0 && !data.displacement.empty()) {
        continueFromCrosshead(data, force, compliance);
        remarks.push_back(
            {code,
             Severity::Note,
             rules.late,
             fmt::format("{} stopped following at {} % strain.", what, formatFixed(at * 100, 2)),
             "Strain after the extensometer was off comes from the crosshead over the parallel length, and is "
             "marked so.",
             {}});
        return;
    }
    remarks.push_back(
        {code, Severity::Caution, rules.late,
         fmt::format("{} stopped following at {} % strain, and without {} nothing can take over.", what,
                     formatFixed(at * 100, 2), data.displacement.empty() ? "a crosshead channel" : "a parallel length"),
         data.displacement.empty() ? "Import the crosshead column too."
                                   : "Enter the parallel length or the grip distance on Measure.",
         data.displacement.empty() ? "" : "parallel_length"});
    if (rules.cutWithStrain)
        data.end = std::min(data.end, *data.removedAt + 1);
}

/// The chosen channel as it was read: an extension in mm, or a strain; of two faces the mean. A face
/// that does not move while the other does is dead, and left out with a caution.
Readings readStrainChannel(const StrainChoice& choice, const PrepareRules& rules, const std::vector<size_t>& gaps,
                           StressStrain& data, std::vector<Remark>& remarks)
{
    constexpr double dead = 0.05;
    Readings one(choice.first->values, gaps);
    if (!choice.second)
        return one;
    Readings other(choice.second->values, gaps);
    const double first = travelOf(one.values, data.onset, data.end);
    const double second = travelOf(other.values, data.onset, data.end);
    if (std::min(first, second) < dead * std::max(first, second)) {
        const bool firstDead = first < second;
        remarks.push_back({"gauge-lost",
                           Severity::Caution,
                           rules.strains,
                           fmt::format("\"{}\" does not move while the other face does; it was left out.",
                                       firstDead ? choice.first->name : choice.second->name),
                           "A gauge, a wire or a clip came off. The figures stand on one face; bending can't be told.",
                           {}});
        return firstDead ? std::move(other) : std::move(one);
    }
    const auto mean = one.toChange();
    for (size_t i = 0; i < mean.size(); ++i)
        mean[i] = 0.5 * (mean[i] + other.values[i]);
    data.front = RowView(choice.first->values, gaps);
    data.back = RowView(choice.second->values, gaps);
    return one;
}

} // namespace fortitor
