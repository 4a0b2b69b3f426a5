// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/hardness/indent.h"

#include "methods/common/figures.h"
#include "methods/hardness/notation.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <span>
#include <utility>

namespace fortitor {
namespace {

constexpr double onTheLine = 1e-9; // what stands on a limit to the digit is inside it

Term readAs(const std::string& symbol, const Quantity& q, const std::string& words)
{
    return Term::leaf(symbol, q.base, baseUnit(Kind::Length), q.resolution / 2 / rectangle,
                      {"resolution of the readings", SourceKind::Digits}, words);
}

Expected<Done> aboveZero(double value, const char* what, const std::string& found)
{
    if (std::isfinite(value) && value > 0)
        return Done{};
    return Problem{what, '"' + found + '"', "a value above zero", {}};
}

/// What was pressed in, and how.
Expected<Done> checkPressed(const Pressed& pressed, bool byBall)
{
    if (auto ok = aboveZero(pressed.force, "force", formatSignificant(pressed.force, 4) + " N"); !ok)
        return ok;
    if (byBall)
        if (auto ok = aboveZero(pressed.ball, "ball", formatSignificant(pressed.ball, 4) + " mm"); !ok)
            return ok;
    if (pressed.dwell && !(*pressed.dwell > 0))
        return Problem{"dwell", formatSignificant(*pressed.dwell, 3) + " s", "a time above zero", {}};
    return Done{};
}

Expected<Done> checkLengths(std::span<const Quantity> lengths, const char* what)
{
    for (const Quantity& one : lengths)
        if (auto ok = aboveZero(one.base, what, one.text); !ok)
            return ok;
    return Done{};
}

Expected<Done> checkLengths(std::span<const Term> lengths, const char* what)
{
    for (const Term& one : lengths)
        if (auto ok = aboveZero(one.value(), what, formatSignificant(one.value(), 4) + " mm"); !ok)
            return ok;
    return Done{};
}

std::array<Term, 2> asTerms(const std::array<Quantity, 2>& lengths, const std::string& what)
{
    return {readAs("d1", lengths[0], what), readAs("d2", lengths[1], what + " across")};
}

Term meanOfTwo(const std::array<Term, 2>& lengths, const std::string& what)
{
    return Term::mean({lengths[0], lengths[1]}).named("d", baseUnit(Kind::Length), "mean " + what);
}

Term forceTerm(const Pressed& pressed)
{
    return Term::leaf("F", pressed.force, baseUnit(Kind::Force), pressed.forceDoubt,
                      {"test force, ±1 % as of a verified tester"}, "force");
}

void say(IndentReading& indent, const char* code, Severity severity, std::string text, std::string advice = {})
{
    indent.remarks.push_back({code, severity, {"H"}, std::move(text), std::move(advice), {}});
}

/// Flagged, not set aside.
void compareTwo(IndentReading& indent, double a, double b, double limit, const char* what)
{
    const double share = std::abs(a - b) / std::max(a, b);
    if (share > limit + onTheLine)
        say(indent, "indent-uneven", Severity::Caution,
            fmt::format("The {} differ by {:.1f} %, over {:g} %.", what, share * 100, limit * 100),
            "Is the surface square to the indenter? Look at the corners again.");
}

} // namespace

void checkPyramid(IndentReading& indent)
{
    constexpr double least = 0.020; // mm
    if (indent.across < least)
        say(indent, "indent-small", Severity::Caution,
            fmt::format("The diagonal is {} µm, under 20 µm.", formatFixed(indent.across * 1000, 1)),
            "Its reading takes up most of the uncertainty; use more force where the layer allows it.");
}

void checkBrinell(IndentReading& indent, double number, double share, double slack)
{
    if (share < 0.24 - slack || share > 0.6 + slack)
        say(indent, "indent-size", Severity::Reject,
            fmt::format("The indent is {:.3f} of the ball's diameter; it counts from 0.24 to 0.60.", share),
            share < 0.24 ? "Use more force, or a smaller ball." : "Use less force, or a larger ball.");
    const HardnessScale& scale = *findHardnessScale("HBW");
    if (number > scale.highest + onTheLine)
        say(indent, "hbw-over-650", Severity::Reject,
            fmt::format("{:.1f} is over 650 HBW: the ball gives way.", number), "Use HRC or HV.");
}

Remark outOfBand(const HardnessScale& scale, double number)
{
    const bool under = number < scale.lowest;
    const std::string_view other = under ? scale.softer : scale.harder;
    return {"scale-out-of-range",
            Severity::Reject,
            {"H"},
            fmt::format("{} {} lies {} the band of the scale, {:g} to {:g}.", formatSignificant(number, 4), scale.name,
                        under ? "under" : "over", scale.lowest, scale.highest),
            other.empty() ? "Use a scale whose band holds it." : fmt::format("Use {}.", other),
            {}};
}

double rockwellAcross(const HardnessScale& scale, double depth)
{
    const double forces = scale.total / scale.preload;
    const double whole = depth / (1 - 1 / (scale.ball > 0 ? forces : std::sqrt(forces)));
    constexpr double halfCone = std::numbers::pi / 3; // of 120°
    return scale.ball > 0 ? 2 * std::sqrt(std::max(0.0, whole * (scale.ball - whole))) : 2 * whole * std::tan(halfCone);
}

Expected<IndentReading> rockwellIndent(const HardnessScale& scale, const Quantity& depth)
{
    if (scale.by != HardnessScale::By::Rockwell)
        return Problem{"scale", std::string(scale.name), "a Rockwell scale, such as HRC", {}};
    if (!std::isfinite(depth.base) || depth.base < 0)
        return Problem{"depth", '"' + depth.text + '"', "a lasting depth of zero or more", {}};
    IndentReading indent{.depth = depth.base, .leastThickness = depth.base * (scale.ball > 0 ? 15 : 10)};
    const Term number = Term::constant(scale.full) - readAs("h", depth, "lasting depth") / Term::constant(scale.step);
    if (number.value() < scale.lowest - onTheLine || number.value() > scale.highest + onTheLine) {
        indent.remarks.push_back(outOfBand(scale, number.value()));
        return indent;
    }
    indent.read = number.named("HR", unitOf(scale), "hardness from the lasting depth", "ISO 6508-1");
    indent.notation = hardnessNotation(scale, number.value(), {});
    return indent;
}

double verifiedForceDoubt(double force)
{
    return 0.01 * force / rectangle;
}

Expected<IndentReading> brinellIndent(const Pressed& pressed, const std::array<Quantity, 2>& diameters)
{
    if (auto ok = checkLengths(diameters, "diameter"); !ok)
        return ok.problem();
    return brinellFrom(pressed, asTerms(diameters, "diameter"));
}

Expected<IndentReading> brinellFrom(const Pressed& pressed, const std::array<Term, 2>& diameters)
{
    if (auto ok = checkPressed(pressed, true); !ok)
        return ok.problem();
    if (auto ok = checkLengths(diameters, "diameter"); !ok)
        return ok.problem();
    const Term d = meanOfTwo(diameters, "diameter");
    const double D = pressed.ball;
    if (d.value() >= D)
        return Problem{"diameter", formatSignificant(d.value(), 4) + " mm",
                       "less than the ball, " + formatSignificant(D, 4) + " mm", "Is the unit right?"};
    const Term ball = Term::leaf("D", D, baseUnit(Kind::Length), 0, {}, "ball");
    const Term cap = ball - root(square(ball) - square(d));
    IndentReading indent{.depth = cap.value() / 2, .across = d.value(), .leastThickness = 8 * cap.value() / 2};
    compareTwo(indent, diameters[0].value(), diameters[1].value(), 0.05, "diameters");
    const Term number =
        Term::constant(0.102, "0.102") * Term::constant(2) * forceTerm(pressed) / (Term::pi() * ball * cap);
    const double share = d.value() / D;
    checkBrinell(indent, number.value(), share, onTheLine);
    if (std::ranges::any_of(indent.remarks, [](const Remark& r) { return r.severity == Severity::Reject; }))
        return indent;
    const HardnessScale& scale = *findHardnessScale("HBW");
    indent.read = number.named("HBW", unitOf(scale), "hardness from the diameter", "ISO 6506-1");
    indent.notation = hardnessNotation(scale, number.value(), pressed);
    return indent;
}

Expected<IndentReading> vickersIndent(const Pressed& pressed, const std::array<Quantity, 2>& diagonals)
{
    if (auto ok = checkLengths(diagonals, "diagonal"); !ok)
        return ok.problem();
    return vickersFrom(pressed, asTerms(diagonals, "diagonal"));
}

Expected<IndentReading> vickersFrom(const Pressed& pressed, const std::array<Term, 2>& diagonals)
{
    if (auto ok = checkPressed(pressed, false); !ok)
        return ok.problem();
    if (auto ok = checkLengths(diagonals, "diagonal"); !ok)
        return ok.problem();
    const Term d = meanOfTwo(diagonals, "diagonal");
    // A square pyramid of 136° between faces is a seventh of its diagonal deep.
    IndentReading indent{.depth = d.value() / 7, .across = d.value(), .leastThickness = 1.5 * d.value()};
    compareTwo(indent, diagonals[0].value(), diagonals[1].value(), 0.05, "diagonals");
    checkPyramid(indent);
    const HardnessScale& scale = *findHardnessScale("HV");
    indent.read = (Term::constant(0.1891, "0.1891") * forceTerm(pressed) / square(d))
                      .named("HV", unitOf(scale), "hardness from the diagonals", "ISO 6507-1");
    indent.notation = hardnessNotation(scale, indent.read->value(), pressed);
    return indent;
}

Expected<IndentReading> knoopIndent(const Pressed& pressed, const std::vector<Quantity>& diagonalOrHalves)
{
    if (auto ok = checkLengths(diagonalOrHalves, "long diagonal"); !ok)
        return ok.problem();
    std::vector<Term> terms;
    const bool two = diagonalOrHalves.size() == 2;
    for (size_t i = 0; i < diagonalOrHalves.size(); ++i)
        terms.push_back(readAs(two ? "L" + std::to_string(i + 1) : "L", diagonalOrHalves[i],
                               !two         ? "long diagonal"
                                   : i == 0 ? "half of the long diagonal"
                                            : "the other half"));
    return knoopFrom(pressed, terms);
}

Expected<IndentReading> knoopFrom(const Pressed& pressed, const std::vector<Term>& diagonalOrHalves)
{
    if (auto ok = checkPressed(pressed, false); !ok)
        return ok.problem();
    if (auto ok = checkLengths(diagonalOrHalves, "long diagonal"); !ok)
        return ok.problem();
    if (diagonalOrHalves.empty() || diagonalOrHalves.size() > 2)
        return Problem{"long diagonal",
                       std::to_string(diagonalOrHalves.size()) + " lengths",
                       "the long diagonal, or its two halves",
                       {}};
    const bool halves = diagonalOrHalves.size() == 2;
    const Term L = halves
        ? (diagonalOrHalves[0] + diagonalOrHalves[1]).named("L", baseUnit(Kind::Length), "long diagonal")
        : diagonalOrHalves[0];
    IndentReading indent{.depth = L.value() / 30.5, .across = L.value(), .leastThickness = L.value() / 3};
    if (halves)
        compareTwo(indent, diagonalOrHalves[0].value(), diagonalOrHalves[1].value(), 0.10,
                   "halves of the long diagonal");
    checkPyramid(indent);
    const HardnessScale& scale = *findHardnessScale("HK");
    indent.read = (Term::constant(1.451, "1.451") * forceTerm(pressed) / square(L))
                      .named("HK", unitOf(scale), "hardness from the long diagonal", "ISO 4545-1");
    indent.notation = hardnessNotation(scale, indent.read->value(), pressed);
    return indent;
}

} // namespace fortitor
