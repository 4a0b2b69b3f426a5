// SPDX-License-Identifier: GPL-3.0-or-later
// What is shown of a part's record: its curve, and what was found between the loads.
#include "methods/proof_load/proof.h"

#include "methods/common/stress_strain.h"

#include <fmt/format.h>

#include <algorithm>

namespace fortitor::proof {
namespace {

/// "0.8 t, 7.845 kN": as it was stated, and as a force.
std::string statedAs(const Proof& p, const char* option, double load)
{
    const std::string stated = optionOr(p.f.input, option, "");
    const std::string force = inN(load);
    return stated.empty() || stated == force ? force : stated + ", " + force;
}

} // namespace

const Result* valueOf(const Outcome& outcome, const char* symbol)
{
    const Result* r = outcome.find(symbol);
    return r && r->value ? r : nullptr;
}

void drawProof(Proof& p)
{
    CurveView view;
    view.xAxis = {"displacement", Kind::Length};
    view.yAxis = {"force", Kind::Force};
    constexpr size_t enough = 20000; // points: more are not seen
    const size_t stride = std::max<size_t>(1, p.data.force.size() / enough);
    for (size_t i = 0; i < p.data.force.size(); i += stride) {
        view.x.push_back(p.data.way[i] - p.start);
        view.y.push_back(p.data.force[i]);
    }
    for (size_t c = 0; c < p.cycles.size(); ++c)
        view.parts.push_back({p.cycles[c].from / stride, std::min(view.x.size(), *p.cycles[c].off / stride + 1),
                              fmt::format("cycle {}", c + 1)});
    if (p.f.has("W_h")) { // what the last cycle encloses
        const CurvePart& loop = view.parts.back();
        view.areas.push_back({"W_h", view.x[loop.from], view.x[loop.to - 1], true});
    }
    if (!p.cycles.empty()) {
        const ProofPull& one = p.cycles.front();
        // Near the axis the loads part: as far up as what was left, and as much again and a half.
        view.footTo = std::max(0.3 * (p.data.way[one.top] - p.start), 2.5 * (one.wayLeft - p.start));
    }
    if (const auto k = p.f.value("k"); k && p.pull && !p.cycles.empty()) {
        const double load = p.cycles.front().load;
        if (const Flank line = flankOf(p.data, *p.pull, true, load); line.valid()) {
            view.slope = *k;
            view.lineFrom = line.wayAt(0) - p.start;
            view.straightLow = 0.2 * load;
            view.straightHigh = 0.8 * load;
            view.straightPoints = line.n;
        }
    }
    if (p.f.value("F_knee") && optionOr(p.f.input, "knee", "half-slope") == "offset") {
        const auto offset = optionQuantity(p.f.input, "knee_offset", Kind::Length);
        view.offset = offset && *offset ? **offset : usualOffset;
        view.offsetOption = "knee_offset";
        view.offsetMark = "F_knee";
    }
    if (const auto slack = p.f.value("slack"), set = p.f.value("set_1"); slack && set) {
        view.marks.push_back({.id = "set_1",
                              .label = fmt::format("{:.2f} mm left", *slack + *set),
                              .x = *slack + *set,
                              .y = 0,
                              .option = {},
                              .early = true,
                              .side = CurveMark::Side::Right});
    }
    if (const auto F = p.f.value("F_knee"))
        view.marks.push_back({"F_knee", "knee", *p.f.value("d_knee"), *F, "knee_at"});
    if (const auto F = p.f.value("F_max"))
        view.marks.push_back({"F_max",
                              p.pull && p.pull->breakAt ? "greatest load" : "stopped, not broken",
                              *p.f.value("d_max"),
                              *F,
                              {}});
    if (p.loads.working)
        view.levels.push_back(
            {*p.loads.working, "working load " + statedAs(p, "working_load", *p.loads.working), false});
    if (p.loads.proof)
        view.levels.push_back({*p.loads.proof,
                               p.loads.working
                                   ? fmt::format("proof load {:.3g} × working load", *p.loads.proof / *p.loads.working)
                                   : "proof load " + inN(*p.loads.proof),
                               false});
    if (p.loads.fixture)
        view.levels.push_back({*p.loads.fixture, "limit of the fixture " + inN(*p.loads.fixture), true});
    p.f.outcome.views.emplace_back(std::move(view));
}

void tellChecks(Proof& p)
{
    ToldGroup group{.heading = "between the loads", .rows = {}, .note = {}};
    const auto add = [&](const std::string& key, const std::string& label) {
        const std::string state = noteOf(p.f.input, key);
        const auto distance = parseQuantity(noteOf(p.f.input, key + "_distance"), Kind::Length);
        const double before = firstLength(p.f.input, "eye");
        using State = ToldRow::State;
        group.rows.push_back({.label = label,
                              .words = state == "free" ? "free by hand"
                                  : state == "tool"    ? "needs a tool"
                                  : state == "stuck"   ? "stuck"
                                                       : "not checked",
                              .state = state.empty() ? State::Open
                                  : state == "free"  ? State::Good
                                                     : State::Bad,
                              .more = distance && before > 0
                                  ? fmt::format("distance {:.2f} mm, {:+.2f}", distance->base, distance->base - before)
                                  : std::string()});
    };
    for (size_t c = 0; c < p.cycles.size() && c < 2; ++c)
        add(fmt::format("function_{}", c + 1), fmt::format("after cycle {}", c + 1));
    if (p.pull)
        add("function_end", p.pull->breakAt ? "after the break" : "after the pull");
    const auto rested = parseQuantity(noteOf(p.f.input, "set_after_rest"), Kind::Length);
    if (const auto first = p.f.value("set_1"); rested && first) {
        const double left = *first + p.f.value("set_2").value_or(0);
        const std::string rest = noteOf(p.f.input, "rest");
        group.rows.push_back(
            {.label = rest.empty() ? "after a rest" : "after a rest of " + rest,
             .words = fmt::format("set {:.2f} mm; {:.2f} mm came back", rested->base, left - rested->base),
             .state = ToldRow::State::Plain,
             .more = {}});
    }
    if (!group.rows.empty())
        p.f.outcome.told.push_back(std::move(group));
}

} // namespace fortitor::proof
