// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/cai/cai.h"

#include "curve/line_fit.h"
#include "curve/maximum.h"
#include "curve/record_faults.h"
#include "curve/signal.h"
#include "methods/cai/gauges.h"
#include "methods/common/figures.h"
#include "methods/common/section.h"
#include "methods/common/segment_slope.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double mostBending = 0.10;
const std::vector<std::string> ofStrain{"E_CAI", "By_max", "By_mid"};

struct Plate {
    Figures& f;
    std::vector<double> force{}; ///< N, compression positive
    std::array<std::vector<double>, 4> strain{}; ///< shortening positive, zero at the quiet start; empty: no channel
    std::array<bool, 4> backwards{}; ///< one that goes the other way from the start: its wires
    std::array<size_t, 4> until{}; ///< how long each can be believed
    std::vector<double> displacement{};
    double noise = 0;
    size_t onset = 0;
    PeakFit peak{};

    [[nodiscard]] FourStrains at(size_t i) const
    {
        FourStrains s;
        for (size_t g = 0; g < s.size(); ++g)
            s[g] = i < until[g] && !strain[g].empty() ? strain[g][i] : std::numeric_limits<double>::quiet_NaN();
        return s;
    }
    /// The same with those gauges only that hold to `last`: none drops out on the way.
    [[nodiscard]] FourStrains heldTo(size_t i, size_t last) const
    {
        FourStrains s = at(i);
        for (size_t g = 0; g < s.size(); ++g)
            if (until[g] <= last)
                s[g] = std::numeric_limits<double>::quiet_NaN();
        return s;
    }
};

/// Strains about a reading without their noise, by the gauges that hold there: short lines through [from, to).
FourStrains strainsAround(const Plate& p, size_t at, size_t from, size_t to, size_t held)
{
    FourStrains s = p.heldTo(at, held);
    for (size_t g = 0; g < s.size(); ++g) {
        if (std::isnan(s[g]) || to < from + 5)
            continue;
        const auto y = std::span(p.strain[g]).subspan(from, to - from);
        const auto x = std::span(p.force).subspan(from, to - from);
        const LineFit line = fitLine(x, y);
        if (line.valid())
            s[g] = line.at(p.force[at]);
    }
    return s;
}

Expected<Done> readChannels(Plate& p)
{
    const Record& record = *p.f.input.record;
    const Channel* force = record.find("force");
    if (!force || force->values.size() < 10)
        return Problem{p.f.input.label + ", record",
                       force ? std::to_string(force->values.size()) + " rows" : "no force",
                       "a force channel with at least ten readings",
                       {}};
    std::vector<size_t> rows;
    for (size_t i = 0; i < force->values.size(); ++i)
        if (!std::isnan(force->values[i]))
            rows.push_back(i);
    if (rows.size() < 10)
        return Problem{
            p.f.input.label + ", record", std::to_string(rows.size()) + " rows with a force", "at least ten", {}};
    if (rows.size() < force->values.size())
        p.f.remark("reading-missed", Severity::Note, {},
                   fmt::format("{} of {} rows lack a force and were left out.", force->values.size() - rows.size(),
                               force->values.size()));
    const auto take = [&](const Channel& c) {
        std::vector<double> values;
        values.reserve(rows.size());
        for (const size_t i : rows)
            values.push_back(c.values[i]);
        return values;
    };
    p.force = take(*force);
    if (const Channel* way = record.find("displacement"))
        p.displacement = take(*way);
    const Extremes ends = extremesOf(p.force);
    bool turned = -ends.least > 3 * std::abs(ends.greatest);
    if (turned)
        for (double& F : p.force)
            F = -F;
    p.noise = noiseOf(p.force);
    const size_t top = indexOfGreatest(p.force);
    const QuietStart quiet = findQuietStart(p.force, p.noise, p.force[top]);
    p.onset = quiet.onset;
    if (quiet.quiet > 0 && optionOr(p.f.input, "force_zero", "auto") != "none") {
        for (double& F : p.force)
            F -= quiet.level;
        constexpr double told = 0.0005, large = 0.005;
        if (std::abs(quiet.level) > told * quiet.top)
            p.f.remark("zero-offset", std::abs(quiet.level) > large * quiet.top ? Severity::Caution : Severity::Note,
                       {"F_CAI", "E_CAI", "left_over"},
                       fmt::format("{} before the load came on was taken off.",
                                   formatQuantity(quiet.level, baseUnit(Kind::Force), 3)),
                       "", "force_zero");
    }
    std::vector<std::string> missing;
    int falls = 0, rises = 0;
    std::array<double, 4> way{};
    for (size_t g = 0; g < p.strain.size(); ++g) {
        const Channel* c = record.find(cornerChannels[g]);
        if (!c) {
            missing.emplace_back(cornerWords[g]);
            continue;
        }
        auto& s = p.strain[g];
        s = take(*c);
        double zero = 0;
        size_t n = 0;
        for (size_t i = 0; i < quiet.quiet; ++i)
            if (!std::isnan(s[i])) {
                zero += s[i];
                ++n;
            }
        if (n > 0)
            for (double& e : s)
                e -= zero / static_cast<double>(n);
        // Which way it goes while the load is still small.
        const double third = p.force[top] / 3;
        size_t at = p.onset;
        while (at < top && p.force[at] < third)
            ++at;
        way[g] = valueAround(s, at);
        if (way[g] < 0)
            ++falls;
        else if (way[g] > 0)
            ++rises;
    }
    const double sign = falls > rises ? -1 : 1;
    turned = turned || sign < 0;
    for (size_t g = 0; g < p.strain.size(); ++g) {
        if (p.strain[g].empty())
            continue;
        if (sign < 0)
            for (double& e : p.strain[g])
                e = -e;
        if (way[g] * sign < 0) {
            const bool alone = std::min(falls, rises) == 1 && falls + rises > 2;
            p.backwards[g] = alone;
            p.f.remark("gauge-sign", Severity::Caution, ofStrain,
                       fmt::format("The {} gauge lengthens where the others shorten, from the first load on{}.",
                                   cornerWords[g], alone ? "; it is left out" : ""),
                       "Are its wires exchanged? Else the plate bends from the start.");
        }
    }
    if (turned)
        p.f.remark("sign-turned", Severity::Note, {}, "Compression was recorded as negative; the sign was turned.");
    if (!missing.empty() && missing.size() < 4)
        p.f.remark("gauge-missing", Severity::Caution, ofStrain,
                   fmt::format("No channel holds the {} gauge{}.", fmt::join(missing, ", the "),
                               missing.size() > 1 ? "s" : ""),
                   "Four gauges, two a face, tell bending from twisting.");
    return Done{};
}

void findPeak(Plate& p)
{
    std::vector<double> index(p.force.size());
    for (size_t i = 0; i < index.size(); ++i)
        index[i] = static_cast<double>(i);
    const auto& x = p.displacement.size() == p.force.size() ? p.displacement : index;
    p.peak = smoothPeak(x, p.force, p.noise);
    for (size_t g = 0; g < p.strain.size(); ++g) {
        if (p.strain[g].empty())
            continue;
        const GaugeLife life = gaugeLife(p.strain[g], p.force, p.onset, p.peak.index);
        p.until[g] = p.backwards[g] ? 0 : life.until;
        if (!life.why.empty() && !p.backwards[g])
            p.f.remark("gauge-lost", Severity::Caution, ofStrain,
                       fmt::format("The {} gauge {} at {}; it is left out from there on.", cornerWords[g], life.why,
                                   formatQuantity(p.force[std::min(life.until, p.force.size() - 1)],
                                                  baseUnit(Kind::Force), 3)),
                       "Look at its bond and its wire.");
    }
    // Whether it was the plate's own maximum: the force fell again.
    double least = p.peak.raw;
    for (size_t i = p.peak.index; i < p.force.size(); ++i)
        least = std::min(least, p.force[i]);
    constexpr double fall = 0.02;
    if (least > (1 - fall) * p.peak.raw)
        p.f.remark("no-maximum", Severity::Caution, {"F_CAI", "left_over"},
                   "The force did not fall before the record ends: whether the plate failed can't be seen.",
                   "Record on until the force has fallen.");
}

std::string percentText(double share)
{
    return formatFixed(100 * share, 1) + " %";
}

void strength(Plate& p, const std::optional<Term>& section)
{
    Figures& f = p.f;
    if (!section)
        return;
    const Unit& N = baseUnit(Kind::Force);
    const bool raw = optionOr(f.input, "peak", "smooth") == "raw";
    const Term force = (Term::leaf("F", raw ? p.peak.raw : p.peak.value, N, p.noise / 3,
                                   {"noise of the force", SourceKind::Noise}, "greatest force")
                        * forceDoubt(f.input))
                           .named("Pmax", *findUnit("kN"), "greatest force", {}, 4)
                           .on(fmt::format("reading {}", p.peak.index + 1));
    const Term stress = (force / *section).named("F_CAI", MPa(), "strength after the blow", "ASTM D7137", 4);
    f.set("F_CAI", stress);
    if (const auto clipped = findClipped(p.force, [&] { return p.displacement; }))
        f.remark("force-clipped", Severity::Reject, {"F_CAI", "left_over"},
                 "The force stands at its greatest value: the cell or its amplifier was full.",
                 "Choose a larger cell.");
    const auto undamaged = optionQuantity(f.input, "undamaged", Kind::Stress);
    if (!undamaged || !*undamaged) {
        f.notApplicable({"left_over"}, "No strength of undamaged plates is stated on Plan.");
        return;
    }
    const Term whole = Term::leaf("F_0", **undamaged, MPa(), 0, {}, "strength of undamaged plates, as stated");
    f.set("left_over", (stress / whole).named("left_over", percentUnit(), "strength that is left", "F_CAI/F_0", 3));
    if (stress.value() > 1.02 * **undamaged)
        f.remark("left-over-high", Severity::Caution, {"left_over"},
                 "The struck plate is stronger than the undamaged ones are said to be.",
                 "Look at the stated strength, its unit, and the section.", "undamaged");
}

/// Bending at a load, and what is said of it.
void setBending(Plate& p, const char* symbol, const PlateStrains& s, const std::string& where, size_t at)
{
    p.f.set(symbol,
            Term::leaf(symbol, s.bending, percentUnit(), 0, {},
                       "(front − back)/(front + back), means of the faces, " + where)
                .named(symbol, percentUnit(), "bending " + where, "ASTM D7137", 3)
                .on(fmt::format("reading {}", at + 1)));
}

/// Left and right that bend oppositely are twisting, or two wires exchanged.
bool crossed(const PlateStrains& s)
{
    constexpr double clear = 0.05;
    return std::abs(s.leftBending) > clear && std::abs(s.rightBending) > clear && s.leftBending * s.rightBending < 0
        && std::abs(s.leftBending + s.rightBending) < 0.6 * std::abs(s.leftBending - s.rightBending) / 2;
}

/// Strains that turn back, or part from each other, before the force does.
std::string buckles(const Plate& p)
{
    const size_t last = p.peak.index;
    if (last < p.onset + 20)
        return {};
    constexpr double turnedBack = 0.03; // of its greatest
    for (size_t g = 0; g < p.strain.size(); ++g) {
        if (p.strain[g].empty() || p.until[g] <= last)
            continue;
        const auto& s = p.strain[g];
        const size_t n = last - p.onset;
        const size_t half = std::max<size_t>(1, n / 200);
        const auto mean = smoothed(std::span(s).subspan(p.onset, n), half);
        const double noise = noiseOf(std::span(s).subspan(p.onset, n));
        const double most = *std::ranges::max_element(mean);
        const double end = mean[n > half + 1 ? n - half - 1 : 0];
        if (most - end > std::max(turnedBack * most, 6 * noise))
            return fmt::format("The {} gauge turns back by {:.0f} µε before the greatest force.", cornerWords[g],
                               1e6 * (most - end));
    }
    // Bending is in step with the load; what goes beyond the line through its middle part is buckling.
    constexpr double from = 0.25, to = 0.6, apart = 0.05; // of the force; of the mean strain
    for (const auto& pair : {std::pair(0, 1), std::pair(2, 3)}) {
        if (p.strain[pair.first].empty() || p.strain[pair.second].empty() || p.until[pair.first] <= last
            || p.until[pair.second] <= last)
            continue;
        std::vector<double> mean, part;
        for (size_t i = p.onset; i < last; ++i)
            if (p.force[i] > from * p.peak.value && p.force[i] < to * p.peak.value) {
                mean.push_back((p.strain[pair.first][i] + p.strain[pair.second][i]) / 2);
                part.push_back((p.strain[pair.first][i] - p.strain[pair.second][i]) / 2);
            }
        const LineFit line = fitLine(mean, part);
        if (!line.valid() || mean.size() < 10)
            continue;
        const size_t back = std::max<size_t>(2, (last - p.onset) / 100);
        double endMean = 0, endPart = 0;
        for (size_t i = last - back; i < last; ++i) {
            endMean += (p.strain[pair.first][i] + p.strain[pair.second][i]) / 2 / static_cast<double>(back);
            endPart += (p.strain[pair.first][i] - p.strain[pair.second][i]) / 2 / static_cast<double>(back);
        }
        const double off = std::abs(endPart - line.at(endMean)) / std::abs(endMean);
        if (off > apart)
            return fmt::format("Front and back strains part on the {} side: {} of the mean beyond the straight line of "
                               "their bending.",
                               pair.first == 0 ? "left" : "right", percentText(off));
    }
    return {};
}

/// Chord modulus and bending at the chord's middle.
Expected<Done> chord(Plate& p, const std::optional<Term>& section, std::vector<double>& mean)
{
    Figures& f = p.f;
    const auto ends = twoStrains(optionOr(f.input, "chord", "1000 ue 3000 ue"), "chord");
    if (!ends)
        return ends.problem();
    const auto [from, to] = *ends;
    // The gauges that hold up to the chord's end; first seen with all that are there.
    const size_t limit = p.peak.index + 1;
    size_t held = p.onset;
    for (size_t i = p.onset; i < limit; ++i)
        if (const PlateStrains s = plateStrains(p.at(i)); s.mean >= to) {
            held = i;
            break;
        }
    for (size_t i = 0; i < limit; ++i)
        mean.push_back(plateStrains(p.heldTo(i, held)).mean);
    const bool told = std::isfinite(mean[p.onset]);
    if (!told) {
        f.sayMissing(ofStrain, "no-strain", "A face has no gauge that holds: its strain can't be told.",
                     "Two gauges on each face are needed.");
        return Done{};
    }
    const auto x = std::span(mean).subspan(p.onset, limit - p.onset);
    const auto y = std::span(p.force).subspan(p.onset, limit - p.onset);
    const auto part = chordBetweenStrains(x, y, from, to);
    const double reached = *std::ranges::max_element(x);
    if (!part || held == p.onset) {
        f.remark("chord-not-reached", Severity::Caution, {"E_CAI", "By_mid"},
                 fmt::format("The mean strain runs to {:.0f} µε; the chord is from {:.0f} to {:.0f} µε.", 1e6 * reached,
                             1e6 * from, 1e6 * to),
                 "State a lower chord on Plan where your procedure has one.", "chord");
    } else if (section) {
        const double share = f.input.instruments.extensionError / rectangle;
        const Term slope =
            Term::leaf("ΔF/Δε", part->slope(), *findUnit("N"), std::abs(part->slope()) * share / 2,
                       {"four gauges", SourceKind::Gauges},
                       fmt::format("force over mean strain from {:.0f} to {:.0f} µε", 1e6 * from, 1e6 * to));
        f.set("E_CAI",
              (slope * forceDoubt(f.input) / *section)
                  .named("E_CAI", MPa(), "chord modulus", "ASTM D7137", 4)
                  .on(pointsText(p.onset + part->begin, p.onset + part->end)));
    }
    const double middle = (from + to) / 2;
    const auto at = static_cast<size_t>(std::ranges::find_if(x, [&](double e) { return e >= middle; }) - x.begin());
    if (at < x.size() && held > p.onset) {
        size_t a = at, b = at;
        while (a > 0 && middle - x[a - 1] < 0.05 * (to - from))
            --a;
        while (b < x.size() && x[b] - middle < 0.05 * (to - from))
            ++b;
        const PlateStrains s = plateStrains(strainsAround(p, p.onset + at, p.onset + a, p.onset + b, held));
        setBending(p, "By_mid", s, "at the middle of the chord", p.onset + at);
    }
    return Done{};
}

void bendingAtMaximum(Plate& p)
{
    const size_t top = p.peak.index;
    size_t from = top;
    while (from > p.onset && p.force[from - 1] > 0.97 * p.peak.value && top - from < 2000)
        --from;
    // The last readings before the top: at it the plate is already giving way.
    const size_t last = top > p.onset + 1 ? top - 1 : top;
    const PlateStrains s = plateStrains(strainsAround(p, last, from, last + 1, top));
    if (std::isfinite(s.bending))
        setBending(p, "By_max", s, "at the greatest force", last);
    else
        p.f.sayMissing({"By_max"}, "no-strain", "A face has no gauge that holds up to the greatest force.",
                       "Two gauges on each face are needed.");
}

/// The remarks on bending, crossing and buckling.
void judgeBending(Plate& p)
{
    Figures& f = p.f;
    double worst = 0;
    for (const char* symbol : {"By_max", "By_mid"})
        if (const auto by = f.value(symbol); by && std::abs(*by) > std::abs(worst))
            worst = *by;
    if (std::abs(worst) > mostBending)
        f.remark("bending", Severity::Caution, {"F_CAI", "E_CAI", "left_over", "By_max", "By_mid"},
                 fmt::format("Front and back differ by {} bending, over 10 %.", percentText(std::abs(worst))),
                 "Align the fixture under a small load, until all four corners carry alike.");
    const size_t top = p.peak.index;
    const size_t half = p.onset
        + static_cast<size_t>(std::ranges::find_if(std::span(p.force).subspan(p.onset),
                                                   [&](double F) { return F > 0.5 * p.peak.value; })
                              - std::span(p.force).subspan(p.onset).begin());
    if (half < top) {
        const size_t about = std::max<size_t>(3, (top - p.onset) / 60);
        const PlateStrains s = plateStrains(
            strainsAround(p, half, half - std::min(about, half - p.onset), std::min(half + about, top), half));
        if (crossed(s))
            f.remark("gauges-crossed", Severity::Caution, ofStrain,
                     fmt::format("The left side bends by {} and the right by {}, oppositely: is a front gauge crossed "
                                 "with its back one?",
                                 percentText(s.leftBending), percentText(s.rightBending)),
                     fmt::format("If so the plate bends by about {}. Look at the wires; else it twists.",
                                 percentText((std::abs(s.leftBending) + std::abs(s.rightBending)) / 2)));
        else if (std::abs(s.sideways) > mostBending)
            f.remark("uneven-sides", Severity::Note, {},
                     fmt::format("The {} side carries more: {} of the mean apart.", s.sideways > 0 ? "left" : "right",
                                 percentText(std::abs(s.sideways))),
                     "Plate square in the fixture?");
    }
    if (const std::string why = buckles(p); !why.empty())
        f.remark("buckling", Severity::Reject, {"F_CAI", "E_CAI", "left_over", "By_max"}, why,
                 "The strength is that of a buckled plate: side supports, thickness, alignment.");
}

void failure(Figures& f)
{
    const std::string note = noteOf(f.input, "failure");
    if (note.empty())
        f.remark("failure-not-noted", Severity::Note, {}, "Where the plate failed is not noted.",
                 "Note it on Read: through the damage, beside it, at an end.", "failure");
    else if (note != "through")
        f.remark("failure-not-through-damage", Severity::Caution, {"F_CAI", "left_over"},
                 note == "end" ? "The plate was crushed at an end, not through the damage."
                               : "The plate failed beside the damage, not through it.",
                 "The damage is then not what the strength stands for.", "failure");
}

/// Valid or not and why, in one sentence.
void verdict(Figures& f)
{
    if (!f.has("F_CAI"))
        return;
    const auto has = [&](const char* code) { return f.outcome.remarked(code); };
    const auto by = f.value("By_max");
    std::string words = has("buckling")     ? "Not valid: the plate buckled."
        : has("force-clipped")              ? "Not valid: the force was clipped."
        : has("bending")                    ? "Not valid without a look: it bent over 10 %."
        : has("gauges-crossed")             ? "Open: left and right bend oppositely."
        : has("failure-not-through-damage") ? "Not valid without a look: it did not fail through the damage."
        : !by                               ? "Open: its bending could not be told."
        : noteOf(f.input, "failure").empty()
        ? fmt::format("Valid by its strains, bent by {} at most; where it failed is not noted.",
                      percentText(std::max(std::abs(*by), std::abs(f.value("By_mid").value_or(0)))))
        : fmt::format("Valid: it failed through the damage, bent by {} at most.",
                      percentText(std::max(std::abs(*by), std::abs(f.value("By_mid").value_or(0)))));
    f.remark("validity", Severity::Note, {}, words);
}

void draw(Plate& p, const std::optional<Term>& section, const std::vector<double>& mean)
{
    CurveView view;
    view.section = section ? section->value() : 0;
    const size_t from = p.onset > 20 ? p.onset - 20 : 0;
    if (section && !mean.empty() && std::isfinite(mean[p.onset])) {
        for (size_t i = from; i < mean.size(); ++i) {
            view.x.push_back(mean[i]);
            view.y.push_back(p.force[i] / section->value());
        }
        constexpr size_t places = 120;
        for (size_t k = 1; k <= places; ++k) {
            const size_t i = p.onset + (p.peak.index - p.onset) * k / places;
            const size_t about = std::max<size_t>(3, (p.peak.index - p.onset) / 100);
            const size_t low = i > p.onset + about ? i - about : p.onset;
            const PlateStrains s = plateStrains(strainsAround(p, i, low, std::min(i + about, p.peak.index), i));
            if (std::isfinite(s.bending) && s.mean > 0.03 * mean[p.peak.index]) {
                view.bending.push_back(s.bending);
                view.bendingX.push_back(mean[i]);
            }
        }
        view.marks.push_back({"F_CAI", "F_CAI", mean.back(), p.peak.value / section->value(), {}});
        p.f.outcome.views.emplace_back(std::move(view));
    }
    if (p.displacement.empty())
        return;
    CurveView travel;
    travel.xAxis = {"displacement", Kind::Length};
    travel.yAxis = {"force", Kind::Force};
    const double way = p.displacement[p.peak.index] < p.displacement[from] ? -1 : 1;
    for (size_t i = from; i < p.force.size(); ++i) {
        travel.x.push_back(way * (p.displacement[i] - p.displacement[p.onset]));
        travel.y.push_back(p.force[i]);
    }
    travel.marks.push_back(
        {"F_CAI", "Pmax", way * (p.displacement[p.peak.index] - p.displacement[p.onset]), p.peak.value, {}});
    p.f.outcome.views.emplace_back(std::move(travel));
}

} // namespace

Expected<Outcome> evaluateCai(const SpecimenInput& input)
{
    static const Method method = compressionAfterImpact();
    if (auto ok = checkOptions(input, method); !ok)
        return ok.problem();
    for (const auto& [key, kind] : {std::pair("undamaged", Kind::Stress)})
        if (auto read = optionQuantity(input, key, kind); !read)
            return read.problem();
        else if (*read && !(**read > 0))
            return Problem{"options.undamaged", formatSignificant(**read, 3) + " MPa", "above zero", {}};
    Figures f{input};
    f.begin(method);
    auto section = sectionTerm(input, "", "S0");
    if (!section)
        return section.problem();
    f.outcome.remarks = checkReadings(input);
    if (!*section)
        f.remark("missing-dimension", Severity::Reject, {"F_CAI", "E_CAI", "left_over"},
                 "The section is not measured; no stress can be given.", "Enter the readings on Measure.", "width");
    if (input.record) {
        Plate p{f};
        if (auto ok = readChannels(p); !ok)
            return ok.problem();
        findPeak(p);
        if (!(p.peak.value > 12 * p.noise)) {
            f.remark("no-load", Severity::Reject, {"F_CAI", "E_CAI", "left_over", "By_max", "By_mid"},
                     "No force stands clear of the noise.", "Is it the right channel?");
        } else {
            strength(p, *section);
            std::vector<double> mean;
            if (std::ranges::all_of(p.strain, [](const auto& s) { return s.empty(); })) {
                f.sayMissing(ofStrain, "no-strain", "The record has no strain channel.",
                             "Four gauges, two a face; import their columns with the unit.");
            } else {
                if (auto ok = chord(p, *section, mean); !ok)
                    return ok.problem();
                bendingAtMaximum(p);
                judgeBending(p);
            }
            failure(f);
            verdict(f);
            draw(p, *section, mean);
        }
    }
    f.sayRest();
    return std::move(f.outcome);
}

} // namespace fortitor
