// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/comparison.h"

#include <fmt/format.h>

#include <algorithm>

namespace fortitor {
namespace {

std::string quoted(const std::string& text)
{
    std::string out = "\"";
    for (const char c : text)
        out += c == '"' ? std::string("\"\"") : std::string(1, c);
    return out + '"';
}

} // namespace

Comparison compareGroups(const std::vector<ComparedSpecimen>& specimens)
{
    Comparison c;
    std::vector<std::pair<std::string, const Unit*>> symbols;
    for (const ComparedSpecimen& s : specimens) {
        if (std::ranges::find(c.groups, s.group) == c.groups.end())
            c.groups.push_back(s.group);
        for (const Result& r : s.outcome->results)
            if (std::ranges::find(symbols, r.symbol, &std::pair<std::string, const Unit*>::first) == symbols.end())
                symbols.emplace_back(r.symbol, r.unit);
    }
    for (const auto& [symbol, unit] : symbols) {
        std::vector<std::vector<double>> values(c.groups.size());
        for (const ComparedSpecimen& s : specimens) {
            const Result* r = s.outcome->find(symbol);
            if (r && r->value && r->unit->kind == unit->kind)
                values[static_cast<size_t>(std::ranges::find(c.groups, s.group) - c.groups.begin())].push_back(
                    unit->fromBase(*r->value));
        }
        if (std::ranges::count_if(values, [](const auto& v) { return !v.empty(); })
            < std::min<std::ptrdiff_t>(2, static_cast<std::ptrdiff_t>(c.groups.size())))
            continue;
        ComparedFigure figure;
        figure.symbol = symbol;
        figure.unit = unit;
        for (size_t g = 0; g < values.size(); ++g) {
            figure.groups.push_back(setStatistics(values[g]));
            figure.against.push_back(g == 0 ? std::nullopt : welch(values[0], values[g]));
        }
        c.figures.push_back(std::move(figure));
    }
    return c;
}

std::string comparisonCsv(const Comparison& c, const std::vector<ComparedSpecimen>& specimens)
{
    std::string out = "figure,unit,group,n,mean,s,difference to first,interval ±,degrees of freedom\n";
    for (const ComparedFigure& f : c.figures)
        for (size_t g = 0; g < c.groups.size(); ++g) {
            const SetStatistics& s = f.groups[g];
            out += fmt::format("{},{},{},{},{},{}", quoted(f.symbol), quoted(std::string(f.unit->symbol)),
                               quoted(c.groups[g]), s.n, s.n > 0 ? fmt::format("{}", s.mean) : "",
                               s.n > 1 ? fmt::format("{}", s.sd) : "");
            out += f.against[g]
                ? fmt::format(",{},{},{}\n", f.against[g]->difference, f.against[g]->halfWidth, f.against[g]->degrees)
                : std::string(",,,\n");
        }
    out += "\nspecimen,group";
    for (const ComparedFigure& f : c.figures)
        out += "," + quoted(f.symbol + ", " + std::string(f.unit->symbol));
    out += '\n';
    for (const ComparedSpecimen& s : specimens) {
        out += quoted(s.label) + "," + quoted(s.group);
        for (const ComparedFigure& f : c.figures) {
            const Result* r = s.outcome->find(f.symbol);
            out += r && r->value ? fmt::format(",{}", f.unit->fromBase(*r->value)) : std::string(",");
        }
        out += '\n';
    }
    return out;
}

std::string curvesCsv(const std::vector<ComparedSpecimen>& specimens)
{
    std::string out;
    size_t rows = 0;
    for (const ComparedSpecimen& s : specimens) {
        const CurveView& v = *s.outcome->curve();
        rows = std::max(rows, v.x.size());
        for (const CurveAxis* axis : {&v.xAxis, &v.yAxis})
            out += (out.empty() ? "" : ",")
                + quoted(s.label + " " + axis->title + ", " + std::string(baseUnit(axis->kind).symbol)
                         + (v.bundled > 1 ? fmt::format(" (least and greatest of every {} readings)", v.bundled) : ""));
    }
    out += '\n';
    for (size_t i = 0; i < rows; ++i) {
        for (size_t k = 0; k < specimens.size(); ++k) {
            const CurveView& v = *specimens[k].outcome->curve();
            out += k > 0 ? "," : "";
            if (i < v.x.size())
                fmt::format_to(std::back_inserter(out), "{},{}", v.x[i], v.y[i]);
            else
                out += ',';
        }
        out += '\n';
    }
    return out;
}

} // namespace fortitor
