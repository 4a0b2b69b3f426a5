// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/spectrum/spectrum.h"

#include "history/block_program.h"
#include "history/rainflow.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

std::string rangeTitle(const Unit& unit)
{
    return unit.kind == Kind::Stress ? "stress range" : "strain range";
}

/// Down to the last chance above zero; steps as the classes have them.
FittedLine exceedanceLine(const std::vector<Exceedance>& list, const Unit& unit, std::string label)
{
    FittedLine line{.label = std::move(label)};
    for (const Exceedance& e : list)
        if (e.chance > 0) {
            line.x.push_back(unit.toBase(e.range));
            line.y.push_back(e.chance);
        }
    return line;
}

ScatterView exceedanceView(const HistoryFigures& h)
{
    const Unit& unit = *h.spectrum.unit;
    const Counts& c = h.spectrum.counts;
    ScatterView view{.xAxis = {rangeTitle(unit), unit.kind},
                     .yAxis = {"exceedance", Kind::Number, Scale::Log}};
    view.lines.push_back(exceedanceLine(c.exceedanceAll, unit, "counted"));
    FittedLine rayleigh{.label = "Rayleigh"};
    const double least = view.lines.front().y.empty() ? 1e-6 : view.lines.front().y.back();
    const double share = c.allCycles > 0 ? c.cycles / c.allCycles : 0; // of the same chance as the others
    constexpr int places = 120;
    for (int k = 0; k <= places; ++k) {
        const double range = c.rangeMax * k / places, chance = share * rayleighExceedance(range, c.rmsRange);
        if (chance < least)
            break;
        rayleigh.x.push_back(unit.toBase(range));
        rayleigh.y.push_back(chance);
    }
    view.lines.push_back(std::move(rayleigh));
    if (c.cutAt > 0)
        view.marks.push_back({unit.toBase(c.cutAt), true, fmt::format("cut {:.3g}", c.cutAt)});
    if (c.rangeLowChance > 0)
        view.marks.push_back({unit.toBase(c.rangeLowChance), true, "0.25 %"});
    return view;
}

std::vector<double> edgesOf(const std::vector<double>& centres, const Unit& unit)
{
    std::vector<double> edges;
    if (centres.empty())
        return edges;
    const double half = centres.size() > 1 ? (centres[1] - centres[0]) / 2 : 0.5;
    for (const double centre : centres)
        edges.push_back(unit.toBase(centre - half));
    edges.push_back(unit.toBase(centres.back() + half));
    return edges;
}

/// Both ways in one picture: from below to above, and back; rows from, columns to.
MatrixView transitionsView(const HistoryFigures& h)
{
    const Unit& unit = *h.spectrum.unit;
    const Counts& c = h.spectrum.counts;
    MatrixView view{.xAxis = {"to", unit.kind}, .yAxis = {"from", unit.kind}, .value = {"transitions", Kind::Number}};
    view.xEdges = view.yEdges = edgesOf(c.levels, unit);
    view.cells.resize(c.peakToValley.size());
    for (size_t i = 0; i < view.cells.size(); ++i)
        view.cells[i] = c.peakToValley[i] + c.valleyToPeak[i];
    return view;
}

MatrixView rangeMeanView(const HistoryFigures& h)
{
    const Unit& unit = *h.spectrum.unit;
    const Counts& c = h.spectrum.counts;
    MatrixView view{
        .xAxis = {rangeTitle(unit), unit.kind}, .yAxis = {"mean", unit.kind}, .value = {"cycles", Kind::Number}};
    for (const RangeBin& bin : c.histogram)
        view.xEdges.push_back(unit.toBase(bin.from));
    if (!c.histogram.empty())
        view.xEdges.push_back(unit.toBase(c.histogram.back().to));
    view.yEdges = edgesOf(c.levels, unit);
    view.cells = c.rangeMean;
    return view;
}

/// How often each level is crossed upwards.
ScatterView crossingsView(const HistoryFigures& h)
{
    const Unit& unit = *h.spectrum.unit;
    const Counts& c = h.spectrum.counts;
    ScatterView view{.xAxis = {"level", unit.kind}, .yAxis = {"upward crossings", Kind::Number, Scale::Log}};
    FittedLine line{.label = "crossings"};
    const size_t n = c.levels.size();
    for (size_t level = 1; level < n; ++level) {
        double up = 0;
        for (size_t from = 0; from < level; ++from)
            for (size_t to = level; to < n; ++to)
                up += c.valleyToPeak[from * n + to];
        if (up > 0) {
            line.x.push_back(unit.toBase((c.levels[level - 1] + c.levels[level]) / 2));
            line.y.push_back(up);
        }
    }
    view.lines.push_back(std::move(line));
    return view;
}

/// The S–N line of the class, and the life of this spectrum over its greatest range.
ScatterView gassnerView(const HistoryFigures& h)
{
    const Counts& c = h.spectrum.counts;
    const DamageCurve& curve = *h.settings.counts.curve;
    ScatterView view{.xAxis = {"cycles", Kind::Number, Scale::Log},
                     .yAxis = {"greatest stress range", Kind::Stress, Scale::Log}};
    FittedLine gassner{.label = "this spectrum (Gassner)"};
    for (const GassnerPoint& point : gassnerLine(c, curve)) {
        gassner.x.push_back(point.cycles);
        gassner.y.push_back(point.greatest);
    }
    if (gassner.x.empty())
        return view;
    FittedLine constant{.label = fmt::format("class {:.4g}, constant range", curve.detail)};
    const auto [low, high] = std::ranges::minmax(gassner.y);
    constexpr int places = 80;
    for (int k = 0; k <= places; ++k) {
        const double range = low * std::pow(high / low, static_cast<double>(k) / places);
        if (const double damage = curve.perCycle(range); damage > 0) {
            constant.x.push_back(curve.sum / damage);
            constant.y.push_back(range);
        }
    }
    view.lines.push_back(std::move(gassner));
    view.lines.push_back(std::move(constant));
    if (c.damage && *c.damage > 0)
        view.points.push_back({.x = c.cycles / *c.damage, .y = c.rangeMax, .label = "as measured"});
    return view;
}

} // namespace

std::vector<View> spectrumViews(const HistoryFigures& figures)
{
    std::vector<View> views;
    if (!(figures.spectrum.counts.rangeMax > 0))
        return views;
    views.emplace_back(exceedanceView(figures));
    if (!figures.spectrum.counts.levels.empty()) {
        views.emplace_back(transitionsView(figures));
        views.emplace_back(rangeMeanView(figures));
        views.emplace_back(crossingsView(figures));
    }
    if (figures.spectrum.counts.damage)
        if (ScatterView gassner = gassnerView(figures); !gassner.lines.empty())
            views.emplace_back(std::move(gassner));
    return views;
}

std::vector<View> spectrumSetViews(const SetInput& set)
{
    std::vector<View> views;
    std::vector<std::pair<const Counts*, std::string>> all;
    const Unit* unit = nullptr;
    double low = INFINITY, high = -INFINITY;
    size_t bins = 0;
    for (size_t i = 0; i < set.outcomes.size(); ++i) {
        const Outcome* outcome = set.outcomes[i];
        if (!outcome || !outcome->history || outcome->history->spectrum.counts.levels.size() < 2)
            continue;
        const Spectrum& s = outcome->history->spectrum;
        if (unit && unit != s.unit)
            return views;
        unit = s.unit;
        low = std::min(low, s.counts.levels.front());
        high = std::max(high, s.counts.levels.back());
        bins = std::max(bins, s.counts.levels.size());
        all.emplace_back(&s.counts, set.inputs[i]->label);
    }
    if (!unit || !(high > low))
        return views;
    ScatterView over{.xAxis = {rangeTitle(*unit), unit->kind},
                     .yAxis = {"exceedance", Kind::Number, Scale::Log}};
    std::vector<double> centres(bins), cells(bins * bins, 0.0);
    const double step = (high - low) / static_cast<double>(bins - 1);
    for (size_t k = 0; k < bins; ++k)
        centres[k] = low + step * static_cast<double>(k);
    const auto classOf = [&](double level) {
        return std::min(bins - 1, static_cast<size_t>(std::max(0.0, (level - low) / step + 0.5)));
    };
    for (const auto& [c, label] : all) {
        over.lines.push_back(exceedanceLine(c->exceedance, *unit, label));
        const size_t n = c->levels.size();
        for (size_t from = 0; from < n; ++from)
            for (size_t to = 0; to < n; ++to)
                cells[classOf(c->levels[from]) * bins + classOf(c->levels[to])] +=
                    c->peakToValley[from * n + to] + c->valleyToPeak[from * n + to];
    }
    views.emplace_back(std::move(over));
    MatrixView summed{
        .xAxis = {"to", unit->kind}, .yAxis = {"from", unit->kind}, .value = {"transitions", Kind::Number}};
    summed.xEdges = summed.yEdges = edgesOf(centres, *unit);
    summed.cells = std::move(cells);
    views.emplace_back(std::move(summed));
    return views;
}

View overlaidExceedance(const HistoryFigures& figures, const std::vector<double>& drawn)
{
    const Counts& c = figures.spectrum.counts;
    const Unit& unit = *figures.spectrum.unit;
    ScatterView view{.xAxis = {rangeTitle(unit), unit.kind},
                     .yAxis = {"exceedance", Kind::Number, Scale::Log}};
    view.lines.push_back(exceedanceLine(c.exceedance, unit, "counted, after the cut"));
    const size_t bins = c.histogram.size();
    std::vector<double> over(bins, 0);
    double all = 0;
    countRainflow(drawn, Residue::Half, [&](double from, double to, double count) {
        const double range = std::abs(to - from);
        if (range < c.cutAt || bins == 0)
            return;
        all += count;
        for (size_t k = 0; k < bins && c.histogram[k].from <= range; ++k)
            over[k] += count;
    });
    FittedLine line{.label = fmt::format("synthetic, {} turning points", drawn.size())};
    for (size_t k = 0; k < bins; ++k)
        if (over[k] > 0) {
            line.x.push_back(unit.toBase(c.histogram[k].from));
            line.y.push_back(over[k] / all);
        }
    view.lines.push_back(std::move(line));
    return view;
}

} // namespace fortitor
