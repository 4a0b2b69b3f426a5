// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/proof_load/proof.h"

#include "curve/maximum.h"
#include "curve/proof_point.h"
#include "curve/record_faults.h"
#include "curve/signal.h"
#include "methods/common/force_over.h"
#include "methods/proof_load/cycles.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {

std::string proof::inN(double force)
{
    return formatQuantity(force, force >= 1000 ? *findUnit("kN") : baseUnit(Kind::Force), 4);
}

std::string proof::inKilonewton(double force)
{
    return formatQuantity(force, *findUnit("kN"), 3);
}

namespace {

using namespace proof;

/// Channels, signs, zero, compliance.
Expected<Done> readChannels(Proof& p)
{
    Figures& f = p.f;
    const Channel* way = f.input.record->find("displacement");
    if (!way)
        return Problem{f.input.label + ", record", "no displacement", "force and displacement", {}};
    auto read = forceOver(f, *way, ofTheWay, f.input.record->find("time"));
    if (!read)
        return read.problem();
    p.data.time = std::move(read->third);
    p.data.way = std::move(read->x);
    p.data.force = std::move(read->force);
    auto& F = p.data.force;
    p.data.noise = noiseOf(F);
    const size_t top = indexOfGreatest(F);
    const QuietStart quiet = findQuietStart(F, p.data.noise, F[top]);
    if (quiet.quiet > 0 && optionOr(f.input, "force_zero", "auto") != "none") {
        const double told = 0.0005 * quiet.top, large = 0.01 * quiet.top;
        if (std::abs(quiet.level) > told)
            f.remark("zero-offset", std::abs(quiet.level) > large ? Severity::Caution : Severity::Note, ofThePull,
                     inN(quiet.level) + " before the first load was taken off.", "", "force_zero");
        for (double& force : F)
            force -= quiet.level;
    } else if (quiet.quiet == 0) {
        f.remark("no-quiet-start", Severity::Caution, {"slack", "set_1", "d_knee", "d_max"},
                 "The record starts under load: its zero and its start can't be seen.",
                 "Zero the force with the part free, then start the record.");
    }
    if (p.data.way[top] < p.data.way.front()) {
        for (double& x : p.data.way)
            x = -x;
        f.remark("sign-turned", Severity::Note, {}, "The displacement was recorded as negative; the sign was turned.");
    }
    const auto compliance = optionQuantity(f.input, "compliance", Kind::Compliance);
    if (!compliance)
        return compliance.problem();
    if (*compliance)
        for (size_t i = 0; i < F.size(); ++i)
            p.data.way[i] -= **compliance * F[i];
    else
        f.remark("crosshead-displacement", Severity::Caution, {"k", "set_1", "set_2", "d_knee", "d_max"},
                 "The displacement is that of the ram, with grips, yokes and frame in it.",
                 "State the compliance of the load train, or measure on the part.", "compliance");
    p.data.wayNoise = noiseOfDrive(p.data.way);
    p.start = p.data.way.front();
    return Done{};
}

/// Which loads are proof cycles, and which is the pull to the end.
void sortPulls(Proof& p, std::vector<ProofPull> pulls)
{
    Figures& f = p.f;
    constexpr double alike = 0.1, beyond = 1.15; // of the proof load
    const std::string ended = noteOf(f.input, "end");
    double proof = p.loads.proof.value_or(0);
    if (!(proof > 0)) {
        proof = pulls.front().load;
        f.remark("proof-load-unknown", Severity::Caution, ofTheCycles,
                 "The proof load is not stated: the first load, " + inN(proof) + ", is taken for it.",
                 "State working load and proof factor on Plan.", "working_load");
    }
    size_t touched = 0;
    for (ProofPull& one : pulls) {
        const bool last = &one == &pulls.back();
        if (one.off && one.load < beyond * proof && one.load > (1 - alike) * proof)
            p.cycles.push_back(one);
        else if (last)
            p.pull = one;
        else if (one.load < (1 - alike) * proof)
            ++touched;
        else
            f.remark("overloaded", Severity::Reject, ofTheCycles,
                     fmt::format("A load before the last one reached {}, {:.0f} % of the proof load.", inN(one.load),
                                 100 * one.load / proof),
                     "What it has yielded then is in all later figures.");
    }
    if (p.pull && p.pull->off && p.pull->load < (1 - alike) * proof) {
        ++touched;
        p.pull.reset();
    }
    if (touched > 0)
        f.remark("smaller-loads", Severity::Note, {},
                 fmt::format("{} load{} under nine tenths of the proof load {} left out of the cycles.", touched,
                             touched == 1 ? "" : "s", touched == 1 ? "was" : "were"));
    if (p.cycles.size() != static_cast<size_t>(p.loads.cycles))
        f.remark("cycles-count", Severity::Caution, ofTheCycles,
                 fmt::format("{} proof cycle{} in the record; {} {} asked.", p.cycles.size(),
                             p.cycles.size() == 1 ? "" : "s", p.loads.cycles, p.loads.cycles == 1 ? "is" : "are"),
                 "Is the record whole, and the proof load as stated?", "cycles");
    for (size_t c = 0; c < p.cycles.size(); ++c) {
        const double off = p.cycles[c].load / proof - 1;
        constexpr double low = 0.01, high = 0.05;
        if (off < -low)
            f.remark("proof-load-low", Severity::Caution, ofTheCycles,
                     fmt::format("Cycle {} reached {}, {:.1f} % under the proof load.", c + 1, inN(p.cycles[c].load),
                                 -100 * off),
                     "A proof load that is not reached proves nothing.");
        else if (off > high)
            f.remark("proof-load-high", Severity::Caution, ofTheCycles,
                     fmt::format("Cycle {} reached {}, {:.1f} % over the proof load.", c + 1, inN(p.cycles[c].load),
                                 100 * off),
                     "The part may have yielded by the test itself.");
    }
}

Term wayTerm(const Proof& p, const std::string& symbol, double value, double doubt, const std::string& words)
{
    const double step = std::max(p.data.wayNoise, 0.001);
    return Term::leaf(symbol, value, baseUnit(Kind::Length), std::hypot(doubt, step),
                      {"displacement", SourceKind::Crosshead}, words);
}

void setWay(Proof& p, const std::string& symbol, double value, double doubt, const std::string& words,
            const std::string& rule)
{
    p.f.set(symbol, wayTerm(p, "d", value, doubt, words).named(symbol, baseUnit(Kind::Length), words, rule));
}

/// mm that a flank is off at its own middle.
double doubtOf(const Flank& flank)
{
    return flank.slopeError * std::abs(flank.force / flank.slope) / 2;
}

/// Stiffness, set, slack, creep and loop of the cycles.
void readCycles(Proof& p)
{
    Figures& f = p.f;
    if (p.cycles.empty())
        return f.sayMissing(ofTheCycles, "no-cycle", "No load that was put on and taken off again is seen.",
                            "Was the way back recorded?");
    const auto flanksOf = [&](const ProofPull& pull, double load) {
        return std::pair(flankOf(p.data, pull, true, load), flankOf(p.data, pull, false, load));
    };
    const auto [up, down] = flanksOf(p.cycles.back(), p.cycles.back().load);
    const Unit& stiff = *findUnit("N/mm");
    if (up.valid() && down.valid()) {
        const Term loading = Term::leaf("k_up", up.slope, stiff, up.slope * up.slopeError, {"fit", SourceKind::Fit},
                                        "slope while the load is put on, 20 to 80 %");
        const Term unloading = Term::leaf("k_down", down.slope, stiff, down.slope * down.slopeError,
                                          {"fit", SourceKind::Fit}, "slope while it is taken off, 20 to 80 %");
        f.set("k",
              (Term::mean({loading, unloading}) * p.cell)
                  .named("k", stiff, "stiffness of the last proof cycle", "mean of both flanks", 4));
        constexpr double apart = 0.2;
        if (std::abs(up.slope / down.slope - 1) > apart)
            f.remark("flanks-differ", Severity::Caution, {"k"},
                     fmt::format("Loading {:.4g} and unloading {:.4g} N/mm differ by {:.0f} %.", up.slope, down.slope,
                                 100 * std::abs(up.slope / down.slope - 1)),
                     "Slip, friction or yield: look at the loop.");
    } else {
        f.sayMissing({"k"}, "no-flank", "Too few readings lie between 20 and 80 % of the proof load.",
                     "Record faster, or ramp more slowly.");
    }
    const double load = p.cycles.front().load;
    // Each next load climbs as far from the one before as that has left. Low on the climb, where little of its own set
    // has come about yet; the first one's free travel lies below.
    constexpr double lowest = 0.1, compared = 0.2, highest = 0.3;
    std::vector<Flank> climbs;
    for (const ProofPull& each : p.cycles)
        climbs.push_back(flankOf(p.data, each, true, load, lowest, highest));
    if (p.pull)
        climbs.push_back(flankOf(p.data, *p.pull, true, load, lowest, highest));
    const auto moved = [&](size_t c) -> std::optional<std::pair<double, double>> {
        if (c + 1 >= climbs.size() || !climbs[c].valid() || !climbs[c + 1].valid())
            return std::nullopt;
        return std::pair(climbs[c + 1].wayAt(compared * load) - climbs[c].wayAt(compared * load),
                         std::hypot(doubtOf(climbs[c]), doubtOf(climbs[c + 1])));
    };
    const ProofPull& one = p.cycles.front();
    const double after = one.wayLeft - (f.has("k") ? one.left / *f.value("k") : 0);
    constexpr double off = 0.02; // of the load
    if (std::abs(one.left) > off * load)
        f.remark("not-unloaded", Severity::Caution, {"set_1", "slack"},
                 fmt::format("{} stayed on the part after the first cycle.", inN(one.left)),
                 "Bring the force back to zero between the cycles.");
    if (const auto first = moved(0)) {
        setWay(p, "set_1", first->first, first->second, "set of the first cycle",
               "how far the next climb has moved, at 20 % of the load");
        const double slack = after - p.start - first->first;
        setWay(p, "slack", slack, first->second, "slack taken up in the first cycle",
               "what was left at no force, less the set");
        constexpr double toldFrom = 0.01; // mm
        if (slack > toldFrom)
            f.remark("slack-told", Severity::Note, {"set_1", "slack"},
                     fmt::format("{:.2f} of the {:.2f} mm left after the first cycle were slack being taken up.", slack,
                                 after - p.start));
    } else {
        const double foot = climbs.front().valid() ? climbs.front().wayAt(0) : p.start;
        setWay(p, "set_1", after - foot, climbs.front().valid() ? doubtOf(climbs.front()) : 0, "set of the first cycle",
               "from the foot of the climb to no force behind it");
        setWay(p, "slack", foot - p.start, 0, "free travel before the first load", "to the foot of the climb");
        f.remark("slack-open", Severity::Caution, {"set_1", "slack"},
                 "With one load alone, slack and set can't be told apart by comparing cycles.",
                 "A second proof cycle tells them.");
    }
    if (p.cycles.size() >= 2) {
        auto second = moved(1);
        const bool byClimb = second.has_value();
        if (!second) { // nothing was put on it again: the ways down are compared
            const Flank first = flankOf(p.data, p.cycles[0], false, load, lowest, highest);
            const Flank next = flankOf(p.data, p.cycles[1], false, load, lowest, highest);
            if (first.valid() && next.valid())
                second = std::pair(next.wayAt(compared * load) - first.wayAt(compared * load),
                                   std::hypot(doubtOf(first), doubtOf(next)));
        }
        if (second)
            setWay(p, "set_2", second->first, second->second, "set of the second cycle",
                   byClimb ? "how far the next climb has moved, at 20 % of the load"
                           : "how far its way down has moved, at 20 % of the load");
    } else {
        f.notApplicable({"set_2"}, "There is no second proof cycle.");
    }
    for (size_t c = 0; c < 2; ++c) {
        const std::string symbol = c == 0 ? "creep_1" : "creep_2";
        if (c >= p.cycles.size() || !p.cycles[c].held) {
            f.notApplicable({symbol}, c >= p.cycles.size() ? "There is no such cycle." : "The load was not held.");
            continue;
        }
        const ProofPull& held = p.cycles[c];
        setWay(p, symbol, valueAround(p.data.way, held.holdLast) - valueAround(p.data.way, held.holdFirst),
               p.data.wayNoise, "travel during the hold", "from its first to its last reading");
    }
    const ProofPull& last = p.cycles.back();
    double loop = 0; // N·mm
    for (size_t i = last.from + 1; i <= *last.off; ++i)
        loop += 0.5 * (p.data.force[i] + p.data.force[i - 1]) * (p.data.way[i] - p.data.way[i - 1]);
    f.set("W_h",
          (Term::leaf("∮F·ds", loop / 1000, baseUnit(Kind::Energy), 0, {}, "loop of the last proof cycle") * p.cell)
              .named("W_h", baseUnit(Kind::Energy), "energy lost in the last proof cycle", "by trapezoids", 3));
}

/// Onset of lasting yield, on the first load that shows it.
void readKnee(Proof& p)
{
    Figures& f = p.f;
    const auto k = f.value("k");
    if (!k)
        return f.sayMissing({"F_knee", "d_knee"}, "no-stiffness", "Without a stiffness no knee can be told.", "");
    std::vector<ProofPull> pulls = p.cycles;
    for (ProofPull& one : pulls)
        if (one.held)
            one.top = one.holdFirst; // what creeps in the hold is no yield
    if (p.pull)
        pulls.push_back(*p.pull);
    const bool byOffset = optionOr(f.input, "knee", "half-slope") == "offset";
    const auto offset = optionQuantity(f.input, "knee_offset", Kind::Length);
    std::optional<Knee> knee;
    for (const ProofPull& one : pulls) {
        const double load = p.cycles.empty() ? one.load : std::min(one.load, p.cycles.front().load);
        if (!byOffset) {
            knee = halfSlopeKnee(p.data, one, *k, 0.4 * load);
        } else if (&one == &pulls.back()) {
            const Flank line = flankOf(p.data, one, true, load);
            const size_t end = (one.breakAt ? *one.breakAt : one.top) + 1;
            const std::span way(p.data.way.data(), end), force(p.data.force.data(), end);
            if (line.valid())
                if (const auto at = offsetPoint(way, force, *k, line.wayAt(0),
                                                offset && *offset ? **offset : usualOffset, one.from))
                    knee = Knee{at->before, at->strain, at->stress, p.data.noise};
        }
        if (knee)
            break;
    }
    const auto byHand = optionQuantity(f.input, "knee_at", Kind::Length);
    if (byHand && *byHand && p.pull) {
        const double at = p.start + **byHand;
        size_t i = p.pull->from;
        while (i < p.pull->top && p.data.way[i] < at)
            ++i;
        knee = Knee{i, p.data.way[i], valueAround(p.data.force, i), p.data.noise};
        f.remark("knee-by-hand", Severity::Note, {"F_knee", "d_knee"}, "The knee was put there by hand.", "",
                 "knee_at");
    }
    if (!knee)
        return f.notApplicable({"F_knee", "d_knee"}, "No lasting yield is seen up to the greatest load.");
    const Unit& N = baseUnit(Kind::Force);
    f.set("F_knee",
          (Term::leaf("F", knee->force, N, knee->doubt, {"fit", SourceKind::Fit}, "force where lasting yield begins")
           * p.cell)
              .named("F_knee", N, "onset of lasting yield",
                     byHand && *byHand ? "put there by hand"
                         : byOffset    ? "offset from the foot of the pull"
                                       : "slope fallen to half of k for good",
                     4)
              .on(fmt::format("reading {}", knee->at + 1)));
    constexpr double doubtful = 0.03; // of the force, standard
    if (knee->doubt > doubtful * knee->force)
        f.remark("knee-doubtful", Severity::Caution, {"F_knee", "d_knee"},
                 fmt::format(
                     "The slope falls so slowly, or the record is so noisy, that the knee is known to {:.0f} % only.",
                     200 * knee->doubt / knee->force),
                 "Record faster, or put the knee where it is seen.", "knee_at");
    setWay(p, "d_knee", knee->way - p.start, 0, "way from the start to the knee", "from the record's start");
    if (p.loads.proof && knee->force < *p.loads.proof)
        f.remark("yields-below-proof", Severity::Caution, {"F_knee", "set_1"},
                 fmt::format("It yields at {}, below the proof load of {}.", inN(knee->force), inN(*p.loads.proof)),
                 "Such a part is scrapped.");
}

/// Greatest load, break, or "at least" at a stop.
void readEnd(Proof& p)
{
    Figures& f = p.f;
    const std::string end = noteOf(f.input, "end");
    const Unit& N = baseUnit(Kind::Force);
    if (end == "none" || (!p.pull && end.empty())) {
        f.notApplicable(ofThePull, "It was not pulled to the end.");
        return;
    }
    if (!p.pull) {
        f.sayMissing(ofThePull, "no-pull",
                     "The note says that it was pulled to the end; no such load is in the record.",
                     "Is the record whole?", "end");
        return;
    }
    const ProofPull& pull = *p.pull;
    const PeakFit peak = smoothPeakAt(std::span(p.data.way).first(pull.breakAt ? *pull.breakAt + 1 : pull.top + 1),
                                      std::span(p.data.force).first(pull.breakAt ? *pull.breakAt + 1 : pull.top + 1),
                                      pull.top, p.data.noise);
    const Term load =
        Term::leaf("F", peak.value, N, p.data.noise / 3, {"noise of the force", SourceKind::Noise}, "greatest force")
        * p.cell;
    f.set("F_max", load.named("F_max", N, "greatest force", "of the last pull", 4));
    setWay(p, "d_max", peak.x - p.start, peak.half / rectangle, "way from the start to the greatest force",
           "from the record's start");
    if (p.loads.working)
        f.set("factor",
              (load / Term::leaf("F_w", *p.loads.working, N, 0, {}, "working load"))
                  .named("factor", *findUnit("1"), "greatest force over working load", "", 3));
    else
        f.sayMissing({"factor"}, "working-load-unknown", "The working load is not stated.",
                     "State it on Plan; marked parts carry it.", "working_load");
    const bool broke = pull.breakAt.has_value();
    if (broke)
        f.set("F_break",
              (Term::leaf("F", p.data.force[*pull.breakAt], N, p.data.noise, {"noise of the force", SourceKind::Noise},
                          "force before it was gone")
               * p.cell)
                  .named("F_break", N, "force at the break", "the last reading before the fall", 4));
    else
        f.notApplicable({"F_break"}, "It did not break.");
    if ((end == "broken" && !broke) || (end == "stopped" && broke))
        f.remark("end-disagrees", Severity::Caution, {"F_max", "F_break"},
                 broke ? "It is noted as stopped; the force falls by itself as at a break."
                       : "It is noted as broken; no fall of the force by itself is seen.",
                 "Which of the two holds?", "end");
    if (broke)
        return;
    for (const char* symbol : {"F_max", "factor"})
        for (Result& r : f.outcome.results)
            if (r.symbol == symbol && r.value)
                r.bound = Result::Bound::AtLeast;
    constexpr double near = 0.02;
    const bool atLimit = p.loads.fixture && peak.value > (1 - near) * *p.loads.fixture;
    f.remark("stopped-at-limit", Severity::Note, {"F_max", "factor"},
             fmt::format("It did not break: {} is a lower bound{}.", inN(peak.value),
                         atLimit ? ", at the limit of the fixture" : ""));
}

/// Between which loads the part ceased to move free, by the checks.
void readFunction(Proof& p)
{
    Figures& f = p.f;
    struct Check {
        std::string state;
        double load;
    };
    std::vector<Check> checks;
    for (size_t c = 0; c < p.cycles.size() && c < 2; ++c)
        checks.push_back({noteOf(f.input, fmt::format("function_{}", c + 1)), p.cycles[c].load});
    if (p.pull)
        checks.push_back({noteOf(f.input, "function_end"), p.data.force[p.pull->top]});
    double free = 0;
    const Unit& N = baseUnit(Kind::Force);
    bool any = false;
    for (const Check& check : checks) {
        if (check.state.empty())
            continue;
        any = true;
        if (check.state == "free") {
            free = std::max(free, check.load);
            continue;
        }
        f.set("F_function",
              (Term::leaf("F", check.load, N, 0, {}, "first load after which it did not move free by hand") * p.cell)
                  .named("F_function", N, "function lost at or below", "by the checks between the loads", 3));
        for (Result& r : f.outcome.results)
            if (r.symbol == "F_function")
                r.interval = std::pair(free, check.load);
        f.remark("function-lost", Severity::Caution, {"F_function"},
                 fmt::format("After {} it {}.", inN(check.load),
                             check.state == "stuck" ? "is stuck" : "needs a tool to move"),
                 "A part that no longer moves free is scrapped.");
        return;
    }
    if (!any)
        return f.sayMissing({"F_function"}, "function-unchecked", "No check of the function is noted.",
                            "After each load: free by hand, needs a tool, or stuck.", "function_1");
    f.notApplicable({"F_function"}, fmt::format("It moved free by hand up to {}.", inN(free)));
}

} // namespace

Expected<Outcome> evaluateProofLoad(const SpecimenInput& input)
{
    static const Method method = proofLoad();
    if (auto ok = checkOptions(input, method); !ok)
        return ok.problem();
    auto loads = proofLoadsOf(input);
    if (!loads)
        return loads.problem();
    Figures f{input};
    f.begin(method);
    if (!input.record) {
        f.sayRest();
        return std::move(f.outcome);
    }
    Proof p{
        .f = f, .loads = std::move(*loads), .data = {}, .cycles = {}, .pull = {}, .all = {}, .cell = forceDoubt(input)};
    if (auto ok = readChannels(p); !ok)
        return ok.problem();
    if (const auto clipped = findClipped(p.data.force, [&] { return p.data.way; }))
        f.remark("force-clipped", Severity::Reject, {"F_max", "factor"},
                 "The force stands at its greatest value: the cell or its amplifier was full.",
                 "Choose a larger range.");
    auto pulls = findPulls(p.data);
    if (pulls.empty()) {
        f.remark("no-load", Severity::Reject, ofTheWay, "No force stands clear of the noise.",
                 "Is it the right channel?");
        f.sayRest();
        return std::move(f.outcome);
    }
    p.all = pulls;
    sortPulls(p, std::move(pulls));
    readCycles(p);
    readKnee(p);
    readEnd(p);
    readFunction(p);
    lookAtLoads(p);
    drawProof(p);
    tellChecks(p);
    f.sayRest();
    return std::move(f.outcome);
}

} // namespace fortitor
