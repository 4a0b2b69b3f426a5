// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/family.h"
#include "sim/family_parts.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr auto metals = {"rigger-tube",  "backstay-bar", "backstay-twin", "mild-bar",
                         "tempered-bar", "titanium-bar", "brass-bar",     "strip-5083"};

constexpr auto plastics = {"footplate-along", "footplate-crossed", "footplate-across", "gate-nylon",
                           "fairing-polyethylene"};

constexpr auto laminates = {"shell-skin", "shell-skin-0", "deck-skin"};

/// As the shelf draws them, the force zeroed: the plainest good records.
template <auto& names> FamilyRun plain(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    const CatalogueEntry& entry = oneOf(dice, names);
    return started(entry, wellZeroed(entry, seed), seed);
}

/// Readings at uneven times and fewer of them; what follows the break is a handful.
FamilyRun unevenly(FamilyRun out, Random& dice)
{
    const size_t end = loadEnd(out.run.record);
    const double share = dice.between(0.4, 0.9);
    const auto after = static_cast<size_t>(dice.between(5, 12));
    keepRows(out.run.record, [&](size_t i) { return i < end ? dice.even() < share : i < end + after; });
    return out;
}

template <auto& names> FamilyRun uneven(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    const CatalogueEntry& entry = oneOf(dice, names);
    return unevenly(started(entry, wellZeroed(entry, seed), seed), dice);
}

FamilyRun metalStopped(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    const CatalogueEntry& entry = oneOf(dice, metals);
    const auto& model = std::get<MetalModel>(entry.model);
    const double from = model.upper > 0 ? model.plateau + 0.01 : 0.006;
    FamilyRun out = stopped(entry, seed, dice.between(from, 0.8 * model.uniform), dice);
    out.lost = {"Rm", "Agt", "Ag", "At", "A_ext", "Ut", "n", "K", "yield_ratio"};
    return out;
}

FamilyRun plasticStopped(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    const CatalogueEntry& entry = oneOf(dice, plastics);
    const auto& model = std::get<PlasticModel>(entry.model);
    FamilyRun out =
        stopped(entry, seed, dice.between(0.3, 0.75) * std::min(model.yieldStrain, model.breakStrain), dice);
    out.lost = {"sigma_m", "sigma_y", "sigma_b", "eps_m", "eps_y", "eps_b", "eps_tb"};
    return out;
}

FamilyRun laminateStopped(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    const CatalogueEntry& entry = oneOf(dice, laminates);
    FamilyRun out = stopped(entry, seed, dice.between(0.5, 0.8) * lawOf(entry.model).strain.back(), dice);
    out.lost = {"sigma_max", "eps_max"};
    return out;
}

/// Taken off while the run goes on: the hand pulls it for a few readings, then it lies somewhere.
FamilyRun takenOff(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    CatalogueEntry entry =
        oneOf(dice, {"rigger-tube", "backstay-bar", "backstay-twin", "mild-bar", "brass-bar", "strip-5083"});
    const auto& model = std::get<MetalModel>(entry.model);
    const double from = model.upper > 0 ? model.plateau + 0.006 : 0.006;
    entry.removeAtStrain = dice.between(from, 0.8 * model.uniform);
    entry.changeAt = dice.even() < 0.5 ? entry.removeAtStrain : entry.changeAt;
    FamilyRun out = started(entry, wellZeroed(entry, seed), seed, dice.between(900, 8000));
    Record& record = out.run.record;
    const Column extension = record.find("extension")->values;
    // The first reading after it was off: from there on it no longer moves.
    size_t off = extension.size() - 1;
    while (off > 0 && std::abs(extension[off - 1] - extension[extension.size() - 1]) < 4e-3)
        --off;
    const double rest =
        dice.even() < 0.3 ? 0 : extension[off] + (dice.even() < 0.5 ? -1 : 1) * std::pow(10, dice.between(-1.5, 0.7));
    const auto pulled = static_cast<size_t>(dice.between(0, 6));
    const double drift = dice.even() < 0.3 ? dice.between(-0.02, 0.02) : 0;
    const double end = extension[extension.size() - 1];
    change(record, "extension", [&](size_t i, double v) {
        if (i < off)
            return v;
        if (i < off + pulled)
            return extension[off] + dice.between(-1, 1) * (std::abs(rest - extension[off]) + 0.3);
        return rest + (v - end) + drift * static_cast<double>(i - off) / static_cast<double>(extension.size() - off);
    });
    record.events.clear(); // nobody wrote it down
    return out;
}

/// The knives jump along the bar.
FamilyRun slipped(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    const CatalogueEntry& entry = oneOf(dice, metals);
    SimulatedSpecimen specimen = wellZeroed(entry, seed);
    const double yield = specimen.trueValue("ReH") > 0 ? specimen.trueValue("ReH") : specimen.trueValue("Rp0.2");
    specimen.conditions.slipAtStrain = dice.between(0.2, 0.9) * yield / specimen.trueValue("E");
    specimen.conditions.slipStep =
        (dice.even() < 0.5 ? -1 : 1) * std::max(12 * specimen.conditions.extensionNoise, dice.between(0.004, 0.05));
    FamilyRun out = started(entry, std::move(specimen), seed, dice.between(2000, 8000));
    return out;
}

/// Read ever faster, as the run gets long: the drive changes its speed two or three times, not before that strain.
template <auto& names, double earliest> FamilyRun hurried(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    CatalogueEntry entry = oneOf(dice, names);
    entry.changeAt = std::max(earliest, entry.changeAt * dice.between(0.8, 2));
    if (const auto* metal = std::get_if<MetalModel>(&entry.model); metal && metal->upper > 0)
        entry.changeAt = metal->plateau + 0.012;
    entry.fastRate = entry.slowRate * dice.between(5, 60);
    return started(entry, wellZeroed(entry, seed), seed, dice.between(2500, 8000));
}

/// One of two faces jumps while the other goes on.
FamilyRun oneFaceSlipped(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    const CatalogueEntry& entry = oneOf(dice, {"shell-skin", "shell-skin-0"});
    FamilyRun out = started(entry, wellZeroed(entry, seed), seed);
    const double end = out.run.specimen.bar.law.strain.back();
    const double at = dice.between(0.45, 0.85) * end;
    const double step = (dice.even() < 0.5 ? -1 : 1) * dice.between(4e-4, 1.5e-3);
    const char* face = dice.even() < 0.5 ? "strain" : "strain_2";
    bool gone = false;
    change(out.run.record, face, [&](size_t, double v) {
        gone = gone || v >= at;
        return gone ? v + step : v;
    });
    out.lost = {"eps_max"};
    return out;
}

/// Zeroed with something on it, hardly a quiet start, cut soon after the break.
FamilyRun notZeroed(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    const CatalogueEntry& entry = oneOf(dice,
                                        {"rigger-tube", "backstay-bar", "tempered-bar", "titanium-bar", "brass-bar",
                                         "strip-5083", "shell-skin", "deck-skin"});
    SimulatedSpecimen specimen = wellZeroed(entry, seed);
    const double peak = *std::ranges::max_element(specimen.bar.law.stress) * specimen.bar.section;
    specimen.conditions.zeroOffset = (dice.even() < 0.5 ? -1 : 1) * dice.between(0.008, 0.04) * peak;
    specimen.conditions.slack = 0;
    FamilyRun out = started(entry, std::move(specimen), seed);
    Record& record = out.run.record;
    const Column& way = record.find("displacement")->values;
    size_t moved = 0;
    while (moved + 1 < way.size() && std::abs(way[moved]) < 2e-3)
        ++moved;
    const auto quiet = static_cast<size_t>(dice.between(1, 9));
    const size_t from = moved > quiet ? moved - quiet : 0;
    const size_t end = loadEnd(record) + (dice.even() < 0.5 ? 0 : static_cast<size_t>(dice.between(1, 8)));
    keepRows(record, [&](size_t i) { return i >= from && i < end; });
    return out;
}

/// The cell or its amplifier comes to its end before the specimen does.
FamilyRun clipped(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    const CatalogueEntry& entry = oneOf(dice, metals);
    FamilyRun out = started(entry, wellZeroed(entry, seed), seed);
    const double top = out.run.specimen.trueValue("Rm") * out.run.specimen.bar.section * dice.between(0.9, 0.985);
    change(out.run.record, "force", [&](size_t, double v) { return std::min(v, top); });
    out.lost = {"Rm", "Agt", "Ag", "n", "K", "yield_ratio", "Ut"};
    return out;
}

/// Rubber bands pulled to the break: soft, flatter, then ever stiffer.
FamilyRun rubberPulled(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    CatalogueEntry entry = *findCatalogueEntry("footplate-along");
    SoftModel model;
    model.modulus = dice.between(2, 12);
    model.plateau = 0;
    model.end = dice.between(1, 4);
    model.stiffening = model.modulus * dice.between(0.02, 0.1);
    entry.name = "rubber-band";
    entry.material.clear();
    entry.direction.clear();
    entry.model = model;
    entry.cell = 3 * model.stress(model.end) * 40;
    entry.changeAt = 0.01;
    entry.fastRate = 0.02;
    entry.points = 12000;
    SimulatedSpecimen specimen = wellZeroed(entry, seed);
    specimen.conditions.forceNoise = 3e-6 * entry.cell;
    specimen.conditions.forceStep = 0;
    specimen.conditions.extensionNoise = 2e-4;
    return started(entry, std::move(specimen), seed);
}

/// A bar of the shelf with another law.
template <class F> FamilyRun otherLaw(const CatalogueEntry& shelf, std::uint64_t seed, double points, F change)
{
    CatalogueEntry entry = shelf;
    change(std::get<MetalModel>(entry.model));
    entry.removeAtStrain = 0;
    return started(entry, wellZeroed(entry, seed), seed, points);
}

/// Upper yield, a deep first dip, teeth after it.
FamilyRun deepDip(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    return otherLaw(oneOf(dice, {"mild-bar", "backstay-twin"}), seed, dice.between(2500, 9000), [&](MetalModel& m) {
        m.upper = m.limit * dice.between(1.03, 1.2);
        m.transient = dice.even() < 0.7 ? dice.between(0.005, 0.04) * m.limit : 0;
        m.serration = dice.between(0, 0.02) * m.limit;
        m.plateau = dice.between(0.008, 0.03);
    });
}

/// Tops of all shapes: long before and short behind, short before and long behind, level for a while.
FamilyRun oddTop(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    return otherLaw(oneOf(dice, {"rigger-tube", "brass-bar", "titanium-bar", "backstay-bar", "strip-5083"}), seed,
                    dice.between(600, 8000), [&](MetalModel& m) {
                        m.uniform *= dice.between(0.6, 1.2);
                        m.slowStrain *= dice.between(0.6, 2);
                        m.level = dice.even() < 0.4 ? dice.between(0.1, 0.4) * m.uniform : 0;
                        m.level = std::min(m.level, 0.1);
                        m.fracture = m.uniform + m.level + std::min(0.16, m.uniform * dice.between(0.15, 0.9));
                        m.neckDrop = dice.between(0.04, 0.35);
                    });
}

/// A clock that starts again, leaps, or goes back.
FamilyRun disorderedTime(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    const CatalogueEntry& entry = oneOf(dice, metals);
    FamilyRun out = started(entry, wellZeroed(entry, seed), seed);
    const size_t rows = out.run.record.rows();
    const auto at = static_cast<size_t>(dice.between(0.2, 0.8) * static_cast<double>(rows));
    const double from = out.run.record.find("time")->values[at];
    const double span = out.run.record.find("time")->values[rows - 1];
    const double shift = dice.even() < 0.5 ? -from : dice.even() < 0.5 ? -0.3 * from - 2 : 3 * span;
    change(out.run.record, "time", [&](size_t i, double v) { return i < at ? v : v + shift; });
    return out;
}

constexpr auto cores = {"shell-sandwich"};

constexpr auto canisters = {"canister", "canister-negative"};

constexpr auto strips = {"rigger-strip"};

} // namespace

const std::vector<Family>& families()
{
    static const std::vector<Family> list{
        {"metal-plain", "metal bars, good records", "", plain<metals>},
        {"plastic-plain", "plastic bars, good records", "", plain<plastics>},
        {"laminate-plain", "laminates, good records", "", plain<laminates>},
        {"core-plain", "bonded blocks, good records", "", plain<cores>},
        {"block-plain", "blocks pressed, good records", "", blockPlain},
        {"canister-plain", "canisters crushed, good records", "", plain<canisters>},
        {"strip-plain", "strips with gauges, good readings", "", plain<strips>},
        {"shaft-plain", "shafts twisted, good readings", "", shaftPlain},
        {"deep-dip", "upper yield, a deep first dip, serrations", "", deepDip},
        {"odd-top", "tops that are level or lopsided", "", oddTop},
        {"disordered-time", "clocks that start again, leap or go back", "time-disorder", disorderedTime},
        {"core-uneven", "bonded blocks read at uneven times", "", uneven<cores>},
        {"canister-uneven", "canisters read at uneven times", "", uneven<canisters>},
        {"metal-uneven", "metal bars read at uneven times, few readings after the break", "", uneven<metals>},
        {"plastic-uneven", "plastic bars read at uneven times, few readings after the break", "", uneven<plastics>},
        {"laminate-uneven", "laminates read at uneven times, few readings after the break", "", uneven<laminates>},
        {"metal-hurried", "metal bars whose drive changes its speed", "", hurried<metals, 0.012>},
        {"plastic-hurried", "plastic bars whose drive changes its speed", "", hurried<plastics, 0.004>},
        {"taken-off", "the extensometer taken off by hand in mid-run", "extensometer-removed", takenOff},
        {"slipped", "knives that jump along the bar before yield", "extensometer-slip", slipped},
        {"one-face-slipped", "one gauge of two jumps", "extensometer-slip", oneFaceSlipped},
        {"not-zeroed", "a zero error, few quiet readings, hardly a tail", "zero-offset", notZeroed},
        {"clipped", "a cell that comes to its end", "force-clipped", clipped},
        {"metal-stopped", "metal bars stopped before the greatest force and unloaded", "no-fracture", metalStopped},
        {"plastic-stopped", "plastic bars stopped before yield and unloaded", "no-fracture", plasticStopped},
        {"laminate-stopped", "laminates stopped and unloaded", "no-fracture", laminateStopped},
        {"core-stopped", "bonded blocks stopped and unloaded", "no-fracture", coreStopped},
        {"soft-pressed", "foams and elastomers, stress at a stated strain", "crosshead-strain", softPressed},
        {"rubber-pulled", "elastomers pulled to the break", "", rubberPulled},
        {"folded-stoutly", "shells whose folds carry over half of the peak, no crush stated", "", foldedStoutly},
        {"beam-steps", "battens under steps, coarse and fine", "", beamSteps},
        {"beam-stopped", "battens unloaded before they broke, as records", "lower-bound", beamStopped},
        {"block-stopped", "metal blocks pressed to a strain and unloaded", "no-maximum", blockStopped},
    };
    return list;
}

} // namespace fortitor
