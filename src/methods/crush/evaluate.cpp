// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/crush/crush.h"
#include "methods/crush/figures.h"

#include "curve/maximum.h"
#include "curve/signal.h"
#include "methods/common/figures.h"
#include "methods/common/section.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// Times the running mean: the piece is crushed together.
constexpr double together = 2;

/// Where the force last falls below twice the running mean before it climbs for good.
size_t crushedTogether(const CrushFigures& f)
{
    double energy = 0;
    size_t last = f.end - 1;
    bool below = false;
    for (size_t i = f.touch + 1; i < f.end; ++i) {
        energy += 0.5 * (f.force[i] + f.force[i - 1]) * (f.travel[i] - f.travel[i - 1]);
        const double mean = f.travel[i] > 0 ? energy / f.travel[i] : 0;
        if (f.force[i] < together * mean) {
            last = i;
            below = true;
        }
    }
    return below ? last : f.end - 1;
}

double energyTo(const CrushFigures& f, double crush)
{
    double energy = 0; // N·mm
    for (size_t i = f.touch + 1; i < f.end; ++i) {
        const double from = std::max(0.0, f.travel[i - 1]);
        const double to = std::min(f.travel[i], crush);
        if (to > from && f.travel[i] > f.travel[i - 1]) {
            const auto at = [&](double d) {
                return f.force[i - 1]
                    + (f.force[i] - f.force[i - 1]) * (d - f.travel[i - 1]) / (f.travel[i] - f.travel[i - 1]);
            };
            energy += 0.5 * (at(from) + at(to)) * (to - from);
        }
        if (f.travel[i] >= crush)
            break;
    }
    return energy;
}

Expected<Done> crushLength(CrushFigures& f)
{
    const auto stated = optionQuantity(f.input, "crush_to", Kind::Length);
    if (!stated)
        return stated.problem();
    f.end = indexOfGreatest(f.travel) + 1;
    if (*stated) {
        if (!(**stated > 0))
            return Problem{"options.crush_to", formatSignificant(**stated, 3) + " mm", "a crush above zero", {}};
        f.crush = **stated;
        if (f.travel[f.end - 1] < f.crush * (1 - 1e-9)) {
            f.remark("crush-not-reached", Severity::Caution, {"W", "F_mean", "efficiency", "crush"},
                     fmt::format("The piece was crushed by {} mm only; the energy is asked up to {} mm.",
                                 formatFixed(f.travel[f.end - 1], 1), formatFixed(f.crush, 1)),
                     "State a lesser crush, or run further.", "crush_to");
            f.crush = 0;
            f.crushEnd = f.end - 1;
            return Done{};
        }
        f.crushEnd = f.touch;
        while (f.crushEnd + 1 < f.end && f.travel[f.crushEnd] < f.crush)
            ++f.crushEnd;
        return Done{};
    }
    f.crushEnd = crushedTogether(f);
    f.crush = f.travel[f.crushEnd];
    if (f.crushEnd + 1 >= f.end)
        f.remark("not-crushed-together", Severity::Note, {"W", "F_mean"},
                 "The piece was not crushed together: the energy counts to the end of the travel.",
                 "State the crush on Plan to compare pieces.", "crush_to");
    return Done{};
}

/// A peak before the last climb: the force must fall by a tenth after it (and clear of the noise). Where the folds
/// carry more than half of it, the last climb passes it before the piece counts as crushed together.
std::optional<PeakFit> firstPeak(const CrushFigures& f)
{
    constexpr double share = 0.1;
    size_t top = f.touch;
    size_t low = f.touch;
    bool fell = false;
    for (size_t i = f.touch; i < f.end; ++i) {
        if (f.force[i] > f.force[top]) {
            if (fell)
                break;
            top = low = i;
        } else if (f.force[i] < f.force[low]) {
            low = i;
            fell = f.force[low] < (1 - share) * f.force[top] - 5 * f.noise;
        }
    }
    if (!fell)
        return std::nullopt;
    const auto n = low - f.touch + 1;
    PeakFit peak = smoothPeak(std::span(f.travel).subspan(f.touch, n), std::span(f.force).subspan(f.touch, n), f.noise);
    peak.index += f.touch;
    return peak;
}

Expected<Done> findPeak(CrushFigures& f)
{
    const auto byHand = optionQuantity(f.input, "peak_at", Kind::Length);
    if (!byHand)
        return byHand.problem();
    const size_t n = f.crushEnd + 1 - f.touch;
    f.peak = smoothPeak(std::span(f.travel).subspan(f.touch, n), std::span(f.force).subspan(f.touch, n), f.noise);
    f.peak.index += f.touch;
    if (f.peak.index + 3 >= f.crushEnd)
        if (const auto first = firstPeak(f))
            f.peak = *first;
    if (*byHand) {
        f.peak = {};
        f.peak.index = f.touch;
        while (f.peak.index + 1 < f.end && f.travel[f.peak.index] < **byHand)
            ++f.peak.index;
        f.peak.x = f.travel[f.peak.index];
        f.peak.raw = f.peak.value = valueAround(f.force, f.peak.index);
        f.remark("moved-by-hand", Severity::Note, {"F_peak", "d_peak", "efficiency"},
                 fmt::format("The peak was set by hand at {} mm.", formatFixed(**byHand, 2)),
                 "R on Read goes back to automatic.");
    } else if (f.peak.index + 3 >= f.crushEnd) {
        f.remark("no-peak", Severity::Caution, {"F_peak", "d_peak", "efficiency"},
                 "The force climbs all the way: there is no peak before the piece is crushed together.",
                 "A foam or a filled piece? State the crush and use the mean force.");
    }
    return Done{};
}

/// How much higher the peak may be than its highest reading, N: as much as the climb gained in one reading before it,
/// whether the peak lies before or behind that reading.
double besidePeak(const CrushFigures& f)
{
    const size_t i = f.peak.index;
    return i < 2 || i + 1 >= f.force.size()
        ? 0
        : std::max({0.0, f.force[i] - f.force[i - 1], f.force[i - 1] - f.force[i - 2]});
}

/// Between two readings of a sharp peak the true top may hide.
void checkSampling(CrushFigures& f)
{
    const double step = besidePeak(f) - 4 * f.noise;
    if (step > 0.01 * f.peak.raw)
        f.remark("sampling-coarse", Severity::Caution, {"F_peak", "d_peak", "efficiency"},
                 fmt::format("The readings next to the peak differ from it by {} %: the true top may lie between them.",
                             formatFixed(100 * step / f.peak.raw, 1)),
                 "Record faster, or run slower to the peak.");
}

void figures(CrushFigures& f)
{
    const Term force = forceDoubt(f.input);
    const Unit& N = baseUnit(Kind::Force);
    const Unit& mm = baseUnit(Kind::Length);
    const bool raw = optionOr(f.input, "peak", "smooth") == "raw";
    const bool peaked = !f.outcome.remarked("no-peak");
    const Term top =
        (Term::leaf("F", raw ? f.peak.raw : f.peak.value, N,
                    std::max({f.noise / 3, besidePeak(f) / rectangle, std::abs(f.peak.raw - f.peak.value) / rectangle}),
                    {"how sharp the peak is read", SourceKind::Rate}, "greatest force before it is crushed together")
         * force)
            .named("F_peak", N, "greatest force before it is crushed together", "own procedure")
            .on(fmt::format("reading {}", f.peak.index + 1));
    if (peaked) {
        f.set("F_peak", top);
        f.set("d_peak",
              Term::leaf("d", f.peak.x, mm, 0.01 / rectangle, {"crosshead", SourceKind::Crosshead},
                         "travel from the touch to the peak")
                  .named("d_peak", mm, "travel at the peak", "from the touch"));
    }
    if (!(f.crush > 0))
        return;
    const double energy = energyTo(f, f.crush);
    const Unit& J = *findUnit("J");
    const Term area = Term::leaf("∫F·ds", energy / 1000, J, 0, {}, "area under force over travel, by trapezoids");
    const Term W = (area * force)
                       .named("W", J, "energy up to the stated crush", "own procedure")
                       .on(pointsText(f.touch, f.crushEnd + 1));
    f.set("W", W);
    const Term crush =
        Term::leaf("s", f.crush, mm, 0.01 / rectangle, {"crosshead", SourceKind::Crosshead}, "crush that is counted");
    f.set("crush",
          crush.named("crush", mm, "crush that is counted",
                      optionOr(f.input, "crush_to", "").empty() ? "force last below twice the running mean"
                                                                : "as stated"));
    const Term mean = (W * Term::constant(1000) / crush).named("F_mean", N, "mean crush force", "energy over crush");
    f.set("F_mean", mean);
    if (peaked)
        f.set("efficiency",
              (mean / top).named("efficiency", baseUnit(Kind::Number), "crush efficiency", "mean over peak force", 3));
}

void draw(CrushFigures& f)
{
    CurveView view;
    view.xAxis = {"crush", Kind::Length};
    view.yAxis = {"force", Kind::Force};
    const size_t from = f.touch > 20 ? f.touch - 20 : 0;
    view.x.assign(f.travel.begin() + static_cast<std::ptrdiff_t>(from),
                  f.travel.begin() + static_cast<std::ptrdiff_t>(f.end));
    view.y.assign(f.force.begin() + static_cast<std::ptrdiff_t>(from),
                  f.force.begin() + static_cast<std::ptrdiff_t>(f.end));
    view.marks.push_back({"touch", "touch", 0, f.force[f.touch], "touch_at", false, {}, CurveMark::Side::Right});
    if (f.has("F_peak"))
        view.marks.push_back({"F_peak", "F_peak", f.peak.x, f.peak.value, "peak_at"});
    if (f.crush > 0) {
        view.marks.push_back({"crush end", "counted to", f.travel[f.crushEnd], f.force[f.crushEnd], "crush_to"});
        view.areas.push_back({"W", 0, f.crush, true});
    }
    f.outcome.views.emplace_back(std::move(view));
}

} // namespace

Expected<Outcome> evaluateCrush(const SpecimenInput& input)
{
    static const Method method = crush();
    if (auto ok = checkOptions(input, method); !ok)
        return ok.problem();
    CrushFigures f{input};
    f.begin(method);
    if (noteOf(input, "condition") == "dented")
        f.remark(
            "dented", Severity::Caution, {"F_peak", "efficiency"}, "The piece was dented before the test.",
            "A dent lowers the peak of a thin shell; leave it out of the set with a reason if soundness was asked.",
            "condition");
    if (input.record) {
        if (auto ok = readChannels(f); !ok)
            return ok.problem();
        if (auto ok = findTouch(f); !ok)
            return ok.problem();
        if (f.travel.empty()) {
            f.remark("no-travel", Severity::Caution, {"d_peak", "W", "F_mean", "efficiency", "crush"},
                     "There is no displacement channel: only the greatest force can be read.",
                     "Import the displacement column with its unit.");
            const size_t top = indexOfGreatest(f.force);
            const Term force = forceDoubt(input);
            f.set("F_peak",
                  (Term::leaf("F", f.force[top], baseUnit(Kind::Force), f.noise,
                              {"noise of the force", SourceKind::Noise}, "greatest force of the record")
                   * force)
                      .named("F_peak", baseUnit(Kind::Force), "greatest force of the record", "own procedure"));
            f.remark("peak-not-told", Severity::Caution, {"F_peak"},
                     "Without travel the peak can't be told from the force of a piece crushed together.", "");
        } else {
            if (auto ok = crushLength(f); !ok)
                return ok.problem();
            if (auto ok = findPeak(f); !ok)
                return ok.problem();
            checkSampling(f);
            figures(f);
            draw(f);
        }
    }
    f.sayRest();
    return std::move(f.outcome);
}

} // namespace fortitor
