// SPDX-License-Identifier: GPL-3.0-or-later
// The other way to put damage in: an indenter pressed into the plate, force over displacement.
#include "methods/drop_weight/figures.h"

#include "curve/line_fit.h"
#include "curve/maximum.h"
#include "curve/record_faults.h"
#include "curve/signal.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

struct Press {
    std::vector<double> way, force; ///< mm from the touch, N
    double noise = 0;
    size_t touch = 0, deepest = 0, end = 0; ///< `end`: one past the last reading in contact
    PeakFit peak;
};

/// The touch: the climb run back to no force.
Expected<Press> fromTouch(Figures& f, ForceOver data)
{
    Press p;
    const auto compliance = optionQuantity(f.input, "compliance", Kind::Compliance);
    if (!compliance)
        return compliance.problem();
    const size_t top = indexOfGreatest(data.force);
    if (data.x[top] < data.x.front()) {
        for (double& d : data.x)
            d = -d;
        f.remark("sign-turned", Severity::Note, {}, "The displacement was recorded as negative; the sign was turned.");
    }
    p.noise = noiseOf(data.force);
    const QuietStart quiet = findQuietStart(data.force, p.noise, data.force[top]);
    p.touch = quiet.onset;
    if (quiet.quiet > 0 && optionOr(f.input, "force_zero", "auto") != "none") {
        for (double& F : data.force)
            F -= quiet.level;
        remarkZero(f, quiet.level, quiet.top, "the touch");
    } else if (quiet.quiet == 0) {
        f.remark("no-gap", Severity::Caution, {"d_at_max", "E_at_max", "E_a"},
                 "The record starts under load: the touch can't be seen.",
                 "Leave a small visible gap before the start.");
    }
    for (size_t i = 0; i < data.x.size(); ++i)
        data.x[i] -= compliance->value_or(0) * data.force[i];
    // Two feet are common: a straight line through the first twentieth of the climb.
    size_t later = p.touch;
    while (later < top && data.force[later] < 0.05 * data.force[top])
        ++later;
    double at = data.x[p.touch];
    if (later > p.touch + 5) {
        const size_t n = later - p.touch;
        const LineFit line = fitLine(std::span(data.x).subspan(p.touch, n), std::span(data.force).subspan(p.touch, n));
        if (line.valid() && line.slope > 0)
            at = std::clamp(line.meanX - line.meanY / line.slope, data.x.front(), data.x[p.touch]);
    }
    for (double& d : data.x)
        d -= at;
    p.way = std::move(data.x);
    p.force = std::move(data.force);
    p.deepest = indexOfGreatest(p.way);
    p.end = p.deepest + 1;
    constexpr double gone = 0.01; // of the peak
    while (p.end < p.way.size() && p.force[p.end - 1] > std::max(gone * p.force[top], 3 * p.noise))
        ++p.end;
    p.peak = smoothPeak(p.way, p.force, p.noise);
    return p;
}

double energyBetween(const Press& p, size_t from, size_t to)
{
    double sum = 0; // N·mm
    for (size_t i = from + 1; i <= to; ++i)
        sum += 0.5 * (p.force[i] + p.force[i - 1]) * (p.way[i] - p.way[i - 1]);
    return sum / 1000;
}

/// A fall of at least 8 % within a hundredth of the travel that is not made up within a twentieth.
std::optional<size_t> firstLoss(const Press& p)
{
    constexpr double share = 0.08, soon = 0.01, later = 0.05;
    const double travel = p.way[p.deepest];
    size_t top = p.touch;
    for (size_t i = p.touch + 1; i <= p.deepest; ++i) {
        if (p.force[i] >= p.force[top]) {
            top = i;
            continue;
        }
        if (p.way[i] - p.way[top] > soon * travel || p.force[top] - p.force[i] < share * p.force[top] + 3 * p.noise
            || p.force[top] < 0.05 * p.peak.value)
            continue;
        double best = 0;
        for (size_t k = i; k <= p.deepest && p.way[k] < p.way[top] + later * travel; ++k)
            best = std::max(best, p.force[k]);
        if (best < p.force[top])
            return top;
        top = i;
    }
    return std::nullopt;
}

void drawPress(Figures& f, const Press& p, std::optional<size_t> loss)
{
    CurveView view;
    view.xAxis = {"displacement", Kind::Length};
    view.yAxis = {"force", Kind::Force};
    const size_t from = p.touch > 20 ? p.touch - 20 : 0;
    view.x.assign(p.way.begin() + static_cast<std::ptrdiff_t>(from),
                  p.way.begin() + static_cast<std::ptrdiff_t>(p.end));
    view.y.assign(p.force.begin() + static_cast<std::ptrdiff_t>(from),
                  p.force.begin() + static_cast<std::ptrdiff_t>(p.end));
    if (loss)
        view.marks.push_back({"F_1", "F_1", p.way[*loss], p.force[*loss], {}});
    view.marks.push_back({"F_max", "F_max", p.peak.x, p.peak.value, {}});
    view.areas.push_back({"E_at_max", 0, p.peak.x});
    f.outcome.views.emplace_back(std::move(view));
}

} // namespace

Expected<Done> readPress(Figures& f)
{
    auto data = forceOver(f, *f.input.record->find("displacement"), forceResults());
    if (!data)
        return data.problem();
    auto pressed = fromTouch(f, std::move(*data));
    if (!pressed)
        return pressed.problem();
    const Press& p = *pressed;
    f.notApplicable({"v_i", "E_i", "t_contact"}, "An indenter pressed into the plate has no speed of its own.");
    if (!(p.peak.value > 12 * p.noise) || p.deepest <= p.touch + 5) {
        f.remark("no-contact", Severity::Reject, {"F_1", "F_max", "d_at_max", "E_at_max", "E_a"},
                 "No force stands clear of the noise: no contact is seen.", "Is it the right channel?");
        return Done{};
    }
    if (const auto clipped = findClipped(p.force, [&] { return p.way; }))
        f.remark("force-clipped", Severity::Reject, {"F_max", "d_at_max", "E_at_max", "E_a"},
                 "The force stands at its greatest value: the cell or its amplifier was full.",
                 "Choose a larger range.");
    const Unit &N = baseUnit(Kind::Force), &mm = baseUnit(Kind::Length), &J = baseUnit(Kind::Energy);
    const Term cell = forceDoubt(f.input);
    const bool raw = optionOr(f.input, "peak", "smooth") == "raw";
    f.set("F_max",
          (Term::leaf("F", raw ? p.peak.raw : p.peak.value, N, p.noise / 3, {"noise of the force", SourceKind::Noise},
                      "greatest force")
           * cell)
              .named("F_max", N, "greatest force", "own procedure", 4));
    f.set("d_at_max",
          Term::leaf("d", p.peak.x, mm, 0.01 / rectangle, {"crosshead", SourceKind::Crosshead},
                     "travel from the touch to the greatest force")
              .named("d_at_max", mm, "travel at the greatest force", "from the touch"));
    const size_t touch =
        static_cast<size_t>(std::ranges::find_if(p.way, [](double d) { return d >= 0; }) - p.way.begin());
    f.set("E_at_max",
          (Term::leaf("∫F·ds", energyBetween(p, touch, p.peak.index), J, 0, {}, "area to the peak") * cell)
              .named("E_at_max", J, "energy to the greatest force", "by trapezoids", 4));
    constexpr double ended = 0.05; // of the peak
    if (p.force[p.end - 1] < ended * p.peak.value)
        f.set("E_a",
              (Term::leaf("∮F·ds", energyBetween(p, touch, p.end - 1), J, 0, {}, "area of the loop") * cell)
                  .named("E_a", J, "energy that stayed in the plate", "by trapezoids", 4));
    else
        f.remark("record-ends-early", Severity::Reject, {"E_a"},
                 fmt::format("The record ends with {} still on the plate.", formatQuantity(p.force.back(), N, 3)),
                 "Record the way back too.");
    const auto loss = firstLoss(p);
    if (loss)
        f.set("F_1",
              (Term::leaf("F", p.force[*loss], N, p.noise, {"noise of the force", SourceKind::Noise},
                          "force before the first sudden loss")
               * cell)
                  .named("F_1", N, "force before the first sudden loss",
                         "a fall of 8 % within a hundredth of the travel", 4)
                  .on(fmt::format("reading {}", *loss + 1)));
    else
        f.notApplicable({"F_1"}, "No sudden loss of 8 % is seen.");
    f.remark("crosshead-displacement", Severity::Note, {"d_at_max", "E_at_max", "E_a"},
             "The travel is that of the crosshead, with what the frame gives way.", "State the compliance on Plan.",
             "compliance");
    drawPress(f, p, loss);
    return Done{};
}

} // namespace fortitor
