// SPDX-License-Identifier: GPL-3.0-or-later
// The set: transition curve, lowest of a lot, kinds of break.
#include "methods/impact/impact.h"

#include "methods/common/figures.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace fortitor {
namespace {

const std::vector<std::string> ofTheCurve{"T_half", "K_upper", "K_lower", "C"};

std::string symbolOf(double level)
{
    return fmt::format("T_{:g}J", level);
}

/// A temperature with its interval.
void put(Outcome& outcome, const std::string& symbol, double value, TemperatureInterval interval,
         const std::string& words, const std::string& formula)
{
    auto r = std::ranges::find(outcome.results, symbol, &Result::symbol);
    if (r == outcome.results.end())
        return;
    r->value = value;
    r->derivation = Term::leaf(symbol, value, *r->unit, 0, {}, words).named(symbol, *r->unit, words, formula);
    r->interval = interval;
}

void putFigure(Figures& f, const std::string& symbol, double value, double doubt, const std::string& words)
{
    const Unit& unit = *f.outcome.find(symbol)->unit;
    f.set(symbol,
          Term::leaf(symbol, value, unit, doubt, {"scatter of the blows about the curve", SourceKind::Pieces}, words)
              .named(symbol, unit, words, "least squares of A + B·tanh((T − T0)/C)"));
}

/// Where every piece looked flat, and where every one looked fibrous.
std::vector<ScatterRegion> regionsOf(const SetInput& set, double low, double high)
{
    std::optional<double> brittle, ductile; // to, from
    double firstOther = high, lastOther = low;
    for (const SpecimenInput* input : set.inputs) {
        const auto t = temperatureOf(*input);
        const std::string look = noteOf(*input, "look");
        if (!t || !*t || look.empty())
            continue;
        if (look != "flat")
            firstOther = std::min(firstOther, **t);
        if (look != "fibrous")
            lastOther = std::max(lastOther, **t);
    }
    for (const SpecimenInput* input : set.inputs) {
        const auto t = temperatureOf(*input);
        const std::string look = noteOf(*input, "look");
        if (!t || !*t)
            continue;
        if (look == "flat" && **t < firstOther)
            brittle = std::max(brittle.value_or(**t), **t);
        if (look == "fibrous" && **t > lastOther)
            ductile = std::min(ductile.value_or(**t), **t);
    }
    std::vector<ScatterRegion> regions;
    if (brittle)
        regions.push_back({low, *brittle, "brittle"});
    if (ductile)
        regions.push_back({*ductile, high, "ductile"});
    return regions;
}

/// The pieces that are left, and the temperature at which they would tell most of the first level.
void adviseNext(Outcome& outcome, ScatterView& view, const SetInput& set, const std::vector<Blow>& blows,
                const Transition& fit, double level)
{
    std::vector<std::string> left;
    for (size_t i = 0; i < set.inputs.size(); ++i)
        if (const Result* K = set.outcomes[i] ? set.outcomes[i]->find("K") : nullptr; !K || !K->value)
            left.push_back(set.inputs[i]->label);
    if (!fit.temperatureAt(level))
        return;
    const auto [low, high] = std::ranges::minmax(blows, {}, &Blow::temperature);
    const int more = std::max(1, static_cast<int>(left.size()));
    const double now = halfWidthWith(fit, blows, level, fit.middle, 0);
    double best = low.temperature, least = now, otherAt = 0, other = 0;
    std::vector<double> halves;
    for (double t = std::ceil(low.temperature); t <= high.temperature; t += 1) {
        const double half = halfWidthWith(fit, blows, level, t, more);
        view.gainX.push_back(t);
        halves.push_back(half);
        if (half < least) {
            least = half;
            best = t;
        }
    }
    for (const double half : halves)
        view.gain.push_back(now > least ? std::max(0.0, (now - half) / (now - least)) : 0);
    if (left.empty() || !(least < 0.97 * now))
        return;
    otherAt = best + fit.width > high.temperature ? best - fit.width : best + fit.width;
    otherAt = std::round(otherAt / 5) * 5;
    other = halfWidthWith(fit, blows, level, otherAt, more);
    const std::string pieces =
        left.size() == 1 ? "One piece is left." : fmt::format("{} pieces are left.", left.size());
    NextStep next;
    next.words =
        fmt::format("{} Struck at {:.0f} °C {} would narrow the temperature at {:g} J from ± {:.1f} to ± {:.1f} K; at "
                    "{:.0f} °C to ± {:.1f} K. The gain of each temperature is drawn along the axis.",
                    pieces, best, left.size() == 1 ? "it" : "they", level, now, least, otherAt, other);
    next.act = left.size() == 1 ? fmt::format("Plan {} at {:.0f} °C", left.front(), best)
        : left.size() == 2      ? fmt::format("Plan both at {:.0f} °C", best)
                                : fmt::format("Plan all {} at {:.0f} °C", left.size(), best);
    next.labels = left;
    next.note = "temperature";
    next.value = fmt::format("{:.0f} °C", best);
    outcome.next = std::move(next);
}

/// The curve with its band over the temperatures that were struck.
ScatterView viewOf(const SetInput& set, const std::vector<Blow>& blows, const std::optional<Transition>& fit)
{
    ScatterView view{.xAxis = {"temperature", Kind::Temperature}, .yAxis = {"energy absorbed", Kind::Energy}};
    for (size_t i = 0; i < set.inputs.size(); ++i) {
        const Result* K = set.outcomes[i] ? set.outcomes[i]->find("K") : nullptr;
        const auto t = temperatureOf(*set.inputs[i]);
        if (!K || !K->value || !t || !*t)
            continue;
        view.points.push_back({.x = **t,
                               .y = *K->value,
                               .label = set.inputs[i]->label,
                               .open = false,
                               .left = K->bound == Result::Bound::AtLeast,
                               .look = noteOf(*set.inputs[i], "look")});
    }
    if (!fit)
        return view;
    const auto [low, high] = std::ranges::minmax(blows, {}, &Blow::temperature);
    const double span = high.temperature - low.temperature;
    FittedLine line{.label = "A + B·tanh((T − T0)/C), band 95 % by profile"};
    constexpr int points = 40;
    for (int i = 0; i <= points; ++i) {
        const double t = low.temperature - 0.06 * span + 1.12 * span * i / points;
        const auto band = intervalOfEnergy(*fit, blows, t);
        line.x.push_back(t);
        line.y.push_back(fit->at(t));
        line.low.push_back(band ? band->first : fit->at(t));
        line.high.push_back(band ? band->second : fit->at(t));
    }
    view.lines.push_back(std::move(line));
    return view;
}

void readCurve(Figures& f, const std::vector<Blow>& blows, const Transition& fit, const std::vector<double>& levels)
{
    putFigure(f, "K_upper", fit.upper, std::sqrt(fit.spread[1][1]), "upper shelf");
    putFigure(f, "K_lower", fit.lower, std::sqrt(fit.spread[0][0]), "lower shelf");
    putFigure(f, "C", fit.width, fit.width * std::sqrt(fit.spread[3][3]), "half the width of the transition");
    const double half = (fit.upper + fit.lower) / 2;
    put(f.outcome, "T_half", fit.middle, intervalOfTemperature(fit, blows, half), "half-way between the shelves", "T0");
    for (const double level : levels) {
        const auto t = fit.temperatureAt(level);
        const std::string symbol = symbolOf(level);
        if (!t) {
            f.remark("level-outside", Severity::Caution, {symbol},
                     fmt::format("{:g} J does not lie between the shelves, {:.1f} and {:.1f} J.", level, fit.lower,
                                 fit.upper),
                     "Another level, or none, fits this steel.", "level");
            continue;
        }
        const auto interval = intervalOfTemperature(fit, blows, level);
        if (!interval) {
            f.remark(
                "level-outside", Severity::Caution, {symbol},
                fmt::format("At {:g} J the curve is so level that no temperature can be told; it would be {:.0f} °C.",
                            level, *t),
                "Strike more pieces near that level.", "level");
            continue;
        }
        put(f.outcome, symbol, *t, interval, fmt::format("temperature at {:g} J", level), "T0 + C·atanh((K − A)/B)");
    }
}

/// A blow far off the curve, by its own scatter.
void remarkFar(Figures& f, const SetInput& set, const Transition& fit)
{
    constexpr double far = 3;
    for (size_t i = 0; i < set.inputs.size(); ++i) {
        const Result* K = set.outcomes[i] ? set.outcomes[i]->find("K") : nullptr;
        const auto t = temperatureOf(*set.inputs[i]);
        if (!K || !K->value || K->bound == Result::Bound::AtLeast || !t || !*t || !(fit.scatter() > 0))
            continue;
        const double off = (*K->value - fit.at(**t)) / fit.scatter();
        if (std::abs(off) > far)
            f.remark("far-from-curve", Severity::Caution, ofTheCurve,
                     fmt::format("{} lies {:.1f} standard deviations {} the curve.", set.inputs[i]->label,
                                 std::abs(off), off < 0 ? "below" : "above"),
                     "Look at its notch and its temperature. It stays in unless a person leaves it out with a reason.");
    }
}

/// One of a lot below 70 % of the mean that is wanted.
void remarkSingle(Figures& f, const SetInput& set)
{
    constexpr double share = 0.7;
    for (const Requirement& r : set.requirements) {
        if (!r.meanMin)
            continue;
        for (size_t i = 0; i < set.inputs.size(); ++i) {
            const Result* one = set.outcomes[i] ? set.outcomes[i]->find(r.symbol) : nullptr;
            if (!one || !one->value || one->bound == Result::Bound::AtLeast || *one->value >= share * *r.meanMin)
                continue;
            f.remark("single-below", Severity::Caution, {r.symbol},
                     fmt::format("{} of {} is {}, below 70 % of the mean of {} that is wanted.", r.symbol,
                                 set.inputs[i]->label, formatQuantity(*one->value, *one->unit),
                                 formatQuantity(*r.meanMin, *one->unit)),
                     "Most rules allow one of three below the mean, and none below 70 % of it.");
        }
    }
}

/// The blows of each lot that is noted; empty where all are of one.
std::map<std::string, std::vector<Blow>> lotsOf(const SetInput& set)
{
    std::map<std::string, SetInput> parts;
    for (size_t i = 0; i < set.inputs.size(); ++i) {
        SetInput& part = parts[noteOf(*set.inputs[i], "batch")];
        part.inputs.push_back(set.inputs[i]);
        part.outcomes.push_back(set.outcomes[i]);
    }
    std::map<std::string, std::vector<Blow>> lots;
    if (parts.size() > 1)
        for (const auto& [name, part] : parts)
            lots[name.empty() ? "no lot noted" : name] = blowsOf(part);
    return lots;
}

/// A curve for each lot, and how far apart their temperatures are at the first level.
void compareLots(Figures& f, ScatterView& view, const SetInput& set, double level, const std::vector<std::string>& all)
{
    struct Lot {
        std::string name;
        double temperature;
        std::pair<double, double> interval;
    };
    const auto lots = lotsOf(set);
    if (lots.empty())
        return;
    std::vector<Lot> told;
    std::string untold;
    for (const auto& [name, blows] : lots) {
        const auto fit = fitTransition(blows);
        if (!fit) {
            untold += (untold.empty() ? "" : ", ") + name;
            continue;
        }
        const auto [low, high] = std::ranges::minmax(blows, {}, &Blow::temperature);
        FittedLine line{.label = name};
        constexpr int places = 80;
        for (int k = 0; k <= places; ++k) {
            const double t = low.temperature + (high.temperature - low.temperature) * k / places;
            line.x.push_back(t);
            line.y.push_back(fit->at(t));
        }
        view.lines.push_back(std::move(line));
        const auto t = fit->temperatureAt(level);
        const auto interval = t ? intervalOfTemperature(*fit, blows, level) : std::nullopt;
        if (t && interval)
            told.push_back({name, *t, *interval});
        else
            untold += (untold.empty() ? "" : ", ") + name;
    }
    f.remark("several-lots", Severity::Caution, all,
             fmt::format("{} lots are noted; the figures of the set are those of all together.{}", lots.size(),
                         untold.empty() ? "" : " By itself nothing can be told of " + untold + "."),
             "Give each lot a job of its own where its figures are asked for.", "batch");
    for (size_t i = 1; i < told.size(); ++i) {
        const Lot &a = told.front(), &b = told[i];
        const TemperatureDifference d = differenceOf(a.temperature, a.interval, b.temperature, b.interval);
        f.remark(
            "lots-differ", Severity::Note, {symbolOf(level)},
            fmt::format("At {:g} J lot {} lies at {:.0f} °C and lot {} at {:.0f} °C: {:.0f} K apart (95 %: {:.0f} to "
                        "{:.0f} K){}.",
                        level, a.name, a.temperature, b.name, b.temperature, d.value, d.low, d.high,
                        d.told() ? "" : ", which may be none"));
    }
}

} // namespace

Expected<std::vector<double>> levelsOf(const SpecimenInput& input)
{
    std::string text = optionOr(input, "level", "27 J");
    std::vector<double> levels;
    size_t from = 0;
    while (from <= text.size()) {
        const size_t to = std::min(text.find(';', from), text.size());
        const std::string one = text.substr(from, to - from);
        from = to + 1;
        if (one.find_first_not_of(" \t") == std::string::npos)
            continue;
        const auto level = parseQuantity(one, Kind::Energy);
        if (!level || !(level->base > 0))
            return Problem{"options.level",
                           '"' + one + '"',
                           "an energy above zero, such as 27 J; several with a semicolon between",
                           {}};
        if (std::ranges::find(levels, level->base) == levels.end())
            levels.push_back(level->base);
    }
    return levels;
}

std::vector<Blow> blowsOf(const SetInput& set)
{
    std::vector<Blow> blows;
    for (size_t i = 0; i < set.inputs.size(); ++i) {
        const Result* K = set.outcomes[i] ? set.outcomes[i]->find("K") : nullptr;
        const auto t = temperatureOf(*set.inputs[i]);
        if (K && K->value && K->bound == Result::Bound::Exact && t && *t)
            blows.push_back({**t, *K->value});
    }
    return blows;
}

Expected<Outcome> evaluateImpactSet(const SetInput& set)
{
    static const Method method = impact();
    const SpecimenInput none;
    const SpecimenInput& first = set.inputs.empty() ? none : *set.inputs.front();
    Figures f{first};
    f.begin(method, ResultSpec::Of::Set);
    auto levels = levelsOf(first);
    if (!levels)
        return levels.problem();
    for (const double level : *levels)
        if (!f.outcome.find(symbolOf(level)))
            f.outcome.results.insert(f.outcome.results.begin(),
                                     {.symbol = symbolOf(level), .unit = &baseUnit(Kind::Temperature)});
    const auto blows = blowsOf(set);
    std::set<double> temperatures;
    for (const Blow& b : blows)
        temperatures.insert(b.temperature);
    remarkSingle(f, set);
    std::vector<std::string> all = ofTheCurve;
    for (const Result& r : f.outcome.results)
        if (std::ranges::find(all, r.symbol) == all.end())
            all.push_back(r.symbol);
    std::optional<Transition> fit;
    if (temperatures.size() < 2) {
        f.notApplicable(all, "All were struck at one temperature: there is no transition to be told.");
    } else if (const ImpactGeometry* g = geometryOf(first); g && g->plastic && temperatures.size() < 4) {
        f.notApplicable(all, "A plastic at a few temperatures: no transition is asked.");
    } else if (auto fitted = fitTransition(blows); !fitted) {
        f.remark("no-transition", Severity::Caution, all,
                 "The transition can't be told: " + fitted.problem().found + "; " + fitted.problem().wanted
                     + " is wanted.",
                 fitted.problem().advice);
    } else {
        fit = *fitted;
        readCurve(f, blows, *fit, *levels);
        remarkFar(f, set, *fit);
        size_t left = 0;
        for (const Outcome* one : set.outcomes)
            left += one && one->remarked("not-broken");
        f.remark("curve-rests-on", Severity::Note, all,
                 fmt::format("The curve rests on {} blows at {} temperatures.{} Intervals by profile, 95 %.",
                             blows.size(), temperatures.size(),
                             left ? fmt::format(" {} not broken {} left out.", left, left == 1 ? "is" : "are") : ""));
    }
    if (temperatures.size() >= 2) {
        ScatterView view = viewOf(set, blows, fit);
        const auto [low, high] = std::ranges::minmax(temperatures);
        view.regions = regionsOf(set, low - 0.06 * (high - low), high + 0.06 * (high - low));
        if (fit && !levels->empty()) {
            adviseNext(f.outcome, view, set, blows, *fit, levels->front());
            for (const double level : *levels)
                if (const Result* r = f.outcome.find(symbolOf(level)); r->value && r->interval) {
                    view.marks.push_back({level, false, fmt::format("{:g} J", level)});
                    view.marks.push_back({*r->value, true, fmt::format("{:.0f} °C", *r->value)});
                    view.regions.push_back({r->interval->first, r->interval->second, {}, true});
                }
        }
        if (!levels->empty())
            compareLots(f, view, set, levels->front(), all);
        f.outcome.views.emplace_back(std::move(view));
    }
    f.sayRest();
    return std::move(f.outcome);
}

} // namespace fortitor
