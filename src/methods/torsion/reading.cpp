// SPDX-License-Identifier: GPL-3.0-or-later
// What was read of a twisted bar: sizes, steps, and the straight parts among them.
#include "methods/torsion/figures.h"

#include "methods/common/section.h"
#include "methods/common/stepped.h"
#include "methods/torsion/gauge_loss.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {

const std::vector<std::string> allOfTorsion{"G",     "G_twist", "tau_p", "tau_max", "tau_u",
                                            "tau_N", "T_max",   "turns", "gamma_b"};
const std::vector<std::string> ofTorsionLine{"G", "G_twist", "tau_p"};

namespace {

constexpr double noStrain = 0.2; // no gauge reads a strain of twenty per cent
constexpr double gaugeDivision = 2e-6; // in shear strain, of an indicator that shows whole microstrain
constexpr double radian = degreesOfRadian;

double gaugeOf(const TorsionFigures& f, double one, double other)
{
    if (optionOr(f.input, "gauge_at", "one at 45°") == "one at 45°" && std::isnan(other))
        return 2 * one;
    if (std::isnan(one) || std::isnan(other))
        return 2 * (std::isnan(one) ? -other : one);
    return one * other <= 0 ? one - other
                            : std::copysign(std::abs(one) + std::abs(other), one); // keyed without its sign
}

/// The line of one way to the shear strain, over the readings up to the greatest torque.
std::optional<TorsionLine> lineOf(const TorsionFigures& f, double division,
                                  double (*strainAt)(const TorsionFigures&, const TorsionRow&), size_t to)
{
    std::vector<double> torque;
    std::vector<double> strain;
    TorsionLine line;
    for (size_t i = 0; i < to; ++i) {
        const double g = strainAt(f, f.rows[i]);
        if (std::isnan(g))
            continue;
        torque.push_back(f.rows[i].torque);
        strain.push_back(g);
        line.rows.push_back(i);
    }
    const auto found = findStepLimit(torque, strain, division);
    if (!found || !(found->line.slope > 0))
        return std::nullopt;
    line.limit = *found;
    line.modulus = f.stress(1 / found->line.slope);
    line.origin = found->line.at(0);
    line.last = f.stress(torque[found->limit]);
    return line;
}

double byGauge(const TorsionFigures&, const TorsionRow& r)
{
    return r.gauge;
}
double byTwist(const TorsionFigures& f, const TorsionRow& r)
{
    return f.shear(r.twist);
}

void findGaugeLoss(TorsionFigures& f)
{
    std::vector<double> gauge, twist, torque;
    for (const TorsionRow& r : f.rows) {
        gauge.push_back(r.gauge);
        twist.push_back(f.shear(r.twist));
        torque.push_back(r.torque);
    }
    f.lost = gaugeLost(gauge, twist, torque);
    if (!f.lost)
        return;
    f.remark("gauge-lost", Severity::Note, {},
             fmt::format("The gauge was lost at reading {}, after a shear strain of {} %.", f.rows[*f.lost].number,
                         formatFixed(100 * (*f.lost > 0 ? f.rows[*f.lost - 1].gauge : 0), 2)),
             "What comes after it stands on the twist.");
    for (size_t i = *f.lost; i < f.rows.size(); ++i)
        f.rows[i].gauge = unread;
}

/// A slip that makes the twist's modulus what it is: degree for radian, columns exchanged. True when named.
bool twistSlip(TorsionFigures& f)
{
    const double G = f.byTwist->modulus;
    const auto is = [](double value, double wanted) { return value > 0.75 * wanted && value < 1.3 * wanted; };
    const auto expected = f.byGauge ? std::optional(f.byGauge->modulus) : expectedShearModulus(f.input);
    const double most = f.stress(f.rows[f.top].torque);
    const auto say = [&](const char* code, const std::string& text, const std::string& advice) {
        std::vector<std::string> symbols{"G_twist", "turns", "gamma_b", "tau_N"};
        if (!f.byGauge)
            symbols.insert(symbols.end(), {"G", "tau_p"});
        f.remark(code, Severity::Reject, symbols, text, advice);
        for (TorsionRow& r : f.rows)
            r.twist = unread;
        f.byTwist.reset();
        return true;
    };
    const std::string found = fmt::format("The twist gives G = {} GPa", formatSignificant(G / 1000, 3));
    if (expected && is(G * radian, *expected))
        return say("degree-for-radian",
                   found
                       + fmt::format(", {} GPa is near what it should be: degrees were taken for radian.",
                                     formatSignificant(G * radian / 1000, 3)),
                   "Key the twist with its unit, such as 5 °.");
    if (expected && is(G / radian, *expected))
        return say("degree-for-radian", found + ": radians were taken for degrees.",
                   "Key the twist with its unit, such as 0.09 rad.");
    if (expected) {
        // The numbers the other way round: N·m read as degrees, degrees as N·m.
        const double perTwist = f.stress(1) / f.shear(1);
        const double swapped = perTwist * perTwist * 1e6 * radian * radian / G;
        if (is(swapped, *expected) && (G > 3 * *expected || G < *expected / 3))
            return say("columns-swapped", found + ": torque and twist look exchanged.", "Look at the first reading.");
    }
    if (!expected && most > 60 && G < 1500)
        return say(
            "degree-for-radian",
            found
                + ": too little for a bar that carries such a stress. Degrees taken for radian, or columns exchanged?",
            "Key the twist with its unit, such as 5 °.");
    return false;
}

/// A reading of the torque that falls before the yield, a step keyed twice.
void checkOrder(TorsionFigures& f)
{
    std::vector<double> way, torque;
    std::vector<size_t> numbers, ofTorque;
    for (size_t i = 0; i < f.rows.size(); ++i) {
        const double x = std::isnan(f.rows[i].twist) ? f.rows[i].gauge : f.rows[i].twist;
        if (!std::isnan(x) && (!std::isnan(f.rows[i].twist) || i <= f.top)) {
            way.push_back(x);
            numbers.push_back(f.rows[i].number);
        }
    }
    if (way.size() <= mostKeyed)
        checkSteps(f, way, numbers, ofTorsionLine, "twist");
    if (f.rows.size() > mostKeyed)
        return;
    std::vector<size_t> falls;
    for (size_t i = 1; i <= f.top; ++i)
        if (f.rows[i].torque < f.rows[i - 1].torque - 0.03 * f.rows[f.top].torque)
            falls.push_back(f.rows[i].number);
    if (!falls.empty())
        f.remark("load-decreasing", Severity::Caution, {"tau_p", "tau_max"},
                 fmt::format("The torque falls at reading {}.", stepsText(falls)),
                 "A digit left out, a slipping chuck, or readings in another order?");
}

} // namespace

Expected<Done> readTorsionBar(TorsionFigures& f)
{
    const SpecimenInput& in = f.input;
    static const Unit cubic{"mm³", Kind::Number, 1};
    const auto known = [&](const std::optional<Term>& term, const char* key) -> Expected<Done> {
        if (term && !(term->value() > 0))
            return Problem{in.label + ", " + key, formatSignificant(term->value(), 4), "above zero",
                           "Measure it again."};
        return Done{};
    };
    const bool tube = in.shape == "tube";
    const char* key = tube ? "outer_diameter" : "diameter";
    const auto outer = lengthTerm(in, key, tube ? "D" : "d", tube ? "mean outer diameter" : "mean diameter");
    const auto length = lengthTerm(in, "gauge_length", "L", "length of the twist");
    auto inner = tube ? lengthTerm(in, "inner_diameter", "di", "mean inner diameter") : std::nullopt;
    const auto wall = tube ? lengthTerm(in, "wall", "a", "mean wall") : std::nullopt;
    for (const auto& ok :
         {known(outer, key), known(length, "gauge_length"), known(inner, "inner_diameter"), known(wall, "wall")})
        if (!ok)
            return ok;
    if (!outer || (tube && !inner && !wall)) {
        f.remark("missing-dimension", Severity::Reject, allOfTorsion,
                 fmt::format("The {} is not measured; no stress can be given.",
                             outer      ? "wall"
                                 : tube ? "outer diameter"
                                        : "diameter"),
                 "Enter it on Measure.", outer ? "wall" : key);
        return Done{};
    }
    if (tube && !inner)
        inner = (*outer - Term::constant(2) * *wall).named("di", baseUnit(Kind::Length), "inner diameter", "D − 2a");
    if (inner && !(inner->value() >= 0 && inner->value() < outer->value()))
        return Problem{in.label + ", " + (wall ? "wall" : "inner_diameter"),
                       formatQuantity(wall ? wall->value() : inner->value(), baseUnit(Kind::Length)),
                       "less than the outer diameter leaves", "Wall and inner diameter exchanged?"};
    const auto cube = [](const Term& t) { return square(t) * t; };
    const Term D = *outer;
    const Term W = (inner ? Term::pi() * (square(square(D)) - square(square(*inner))) / (Term::constant(16) * D)
                          : Term::pi() * cube(D) / Term::constant(16))
                       .named("Wp", cubic, "polar section modulus", inner ? "π(D⁴−d⁴)/(16D)" : "πd³/16", 5);
    const Term S =
        (inner ? Term::pi() * (cube(D) - cube(*inner)) / Term::constant(12) : Term::pi() * cube(D) / Term::constant(12))
            .named("Sp", cubic, "torque of a unit stress over the section", inner ? "π(D³−d³)/12" : "πd³/12", 5);
    f.bar = TorsionBar{D, inner, W, S, length};
    return Done{};
}

Expected<Done> readTorsionRows(TorsionFigures& f)
{
    const Record& record = *f.input.record;
    const Channel* torque = record.find("torque");
    if (!torque || (!record.find("twist") && !record.find("strain")))
        return Problem{f.input.label + ", record",
                       torque ? "a torque, neither twist nor strain" : "no torque",
                       "torque with twist, or with the strain of a 45° gauge",
                       {}};
    const auto column = [&](const char* name, size_t i) {
        const Channel* c = record.find(name);
        return c && i < c->values.size() ? c->values[i] : unread;
    };
    std::vector<size_t> missed;
    double signT = 0, signG = 0, signA = 0;
    double strain = 0;
    for (size_t i = 0; i < record.rows(); ++i) {
        TorsionRow r{i + 1, torque->values[i], gaugeOf(f, column("strain", i), column("strain_2", i)),
                     column("twist", i)};
        for (const char* name : {"strain", "strain_2"})
            strain = std::max(strain, std::isnan(column(name, i)) ? 0 : std::abs(column(name, i)));
        if (std::isnan(r.torque) || (record.find("twist") && std::isnan(r.twist)))
            missed.push_back(r.number);
        if (std::isnan(r.torque))
            continue;
        f.rows.push_back(r);
        if (std::abs(r.torque) > std::abs(signT)) {
            signT = r.torque;
            f.top = f.rows.size() - 1;
        }
        if (!std::isnan(r.gauge) && std::abs(r.gauge) > std::abs(signG))
            signG = r.gauge;
        if (!std::isnan(r.twist) && std::abs(r.twist) > std::abs(signA))
            signA = r.twist;
    }
    for (TorsionRow& r : f.rows) {
        r.torque = std::copysign(1, signT) * r.torque;
        r.gauge = std::copysign(1, signG) * r.gauge;
        r.twist = std::copysign(1, signA) * r.twist;
    }
    if (signT < 0 || signA < 0)
        f.remark("sign-turned", Severity::Note, {}, "The readings turn the other way round; the sign was turned.");
    if (!missed.empty())
        f.remark("reading-missed", Severity::Note, {},
                 fmt::format("Reading {} lacks its torque or its twist.", stepsText(missed)));
    if (strain > noStrain) {
        f.remark(
            "unit-slip", Severity::Reject, allOfTorsion,
            fmt::format(
                "A strain of {} is no strain a gauge can read: microstrain taken for strain, or columns exchanged?",
                formatSignificant(strain, 3)),
            "Key it with its unit, such as 275 µε.");
        f.rows.clear();
    }
    return Done{};
}

std::optional<double> expectedShearModulus(const SpecimenInput& in)
{
    const auto find = [&](const char* key) {
        const auto it = in.published.find(key);
        return it == in.published.end() ? std::nullopt : std::optional(it->second);
    };
    if (const auto G = find("G"))
        return G;
    const auto E = find("E");
    return E ? std::optional(*E / (2 * (1 + find("nu").value_or(0.3)))) : std::nullopt;
}

void findTorsionLines(TorsionFigures& f, double twistDivision)
{
    const size_t to = f.top + 1;
    f.byTwist = lineOf(f, std::abs(f.shear(twistDivision)), &byTwist, to);
    f.byGauge = lineOf(f, gaugeDivision, &byGauge, to);
    if (f.byTwist)
        twistSlip(f); // a twist in a wrong unit says nothing of the gauge
    findGaugeLoss(f);
    f.byGauge = lineOf(f, gaugeDivision, &byGauge, f.lost ? std::min(to, *f.lost) : to);
    checkOrder(f);
}

} // namespace fortitor
