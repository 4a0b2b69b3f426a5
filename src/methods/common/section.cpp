// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/section.h"

#include "judge/statistics.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

bool isRectangle(std::string_view shape)
{
    return shape == "rectangular" || shape == "plate";
}

const std::vector<Quantity>* readingsOf(const SpecimenInput& input, const std::string& key)
{
    const auto it = input.dimensions.find(key);
    return it == input.dimensions.end() || it->second.empty() ? nullptr : &it->second;
}

/// Each reading with its half digit, plus one calibration error that all share.
std::vector<Term> readingTerms(const SpecimenInput& input, const std::string& key, const std::string& symbol)
{
    std::vector<Term> terms;
    const auto* readings = readingsOf(input, key);
    if (!readings)
        return terms;
    const Unit& mm = baseUnit(Kind::Length);
    const Term calliper = Term::leaf("", 0, mm, input.instruments.calliperError / std::sqrt(3.0),
                                     {input.instruments.calliperName, SourceKind::LengthTool});
    int number = 0;
    for (const Quantity& q : *readings) {
        const std::string name = readings->size() > 1 ? symbol + std::to_string(++number) : symbol;
        const Unit& unit = q.unit ? *q.unit : mm;
        const int digits =
            std::clamp(static_cast<int>(std::floor(std::log10(std::max(std::abs(q.base), 1e-9)))) + 3, 3, 6);
        // A number typed with fewer places than the calliper shows was read as exactly all the same.
        const double step =
            input.instruments.calliperChosen ? std::min(q.resolution, input.instruments.calliperError) : q.resolution;
        const Term read = Term::leaf(name, q.base, unit, step / 2 / std::sqrt(3.0),
                                     {"resolution of the readings", SourceKind::Digits});
        terms.push_back((read + calliper).named(name, unit, {}, {}, digits));
    }
    return terms;
}

std::string letterOf(const std::string& key)
{
    if (key == "diameter")
        return "d";
    if (key == "outer_diameter")
        return "D";
    if (key == "inner_diameter")
        return "di";
    if (key == "width")
        return "b";
    if (key == "depth")
        return "h";
    return "a";
}

/// One section for each place where all readings stand; means of the rest when the counts differ.
std::vector<Term> paired(std::vector<Term> first, std::vector<Term> second, Term (*section)(const Term&, const Term&),
                         bool least)
{
    if (first.empty() || second.empty())
        return {};
    std::vector<Term> out;
    if (first.size() == second.size()) {
        for (size_t i = 0; i < first.size(); ++i)
            out.push_back(section(first[i], second[i]));
        return out;
    }
    const auto one = [&](const std::vector<Term>& t) { return least ? Term::least(t) : Term::mean(t); };
    return {section(one(first), one(second))};
}

std::vector<Term> placesOf(const SpecimenInput& input, const std::string& prefix, bool least)
{
    const auto read = [&](const std::string& key) {
        const std::string letter = letterOf(key) + (prefix.empty() ? "" : "u");
        return readingTerms(input, prefix + key, letter);
    };
    if (input.shape == "round") {
        auto diameters = read("diameter");
        // Two readings across a neck are one oval place: the section is that of their mean.
        if (!prefix.empty() && diameters.size() > 1)
            diameters = {Term::mean(diameters)};
        for (Term& d : diameters)
            d = Term::pi() * square(d) / Term::constant(4);
        return diameters;
    }
    if (isRectangle(input.shape))
        return paired(
            read("width"), read(readingsOf(input, prefix + "thickness") ? "thickness" : "depth"),
            [](const Term& b, const Term& a) { return b * a; }, least);
    if (input.shape == "tube" && readingsOf(input, prefix + "wall"))
        return paired(
            read("outer_diameter"), read("wall"), [](const Term& d, const Term& a) { return Term::pi() * a * (d - a); },
            least);
    if (input.shape == "tube")
        return paired(
            read("outer_diameter"), read("inner_diameter"),
            [](const Term& d, const Term& i) { return Term::pi() * (square(d) - square(i)) / Term::constant(4); },
            least);
    return {};
}

bool isRoundFigure(const Quantity& q)
{
    // Half a millimetre or a sixteenth of an inch, whatever smaller unit it was typed in.
    const bool inch = q.unit && (q.unit->symbol == "in" || q.unit->symbol == "mil" || q.unit->symbol == "thou");
    const double step = inch ? 25.4 / 16 : 0.5;
    return std::abs(q.base / step - std::round(q.base / step)) < 1e-9;
}

} // namespace

std::optional<Term> lengthTerm(const SpecimenInput& input, const std::string& key, const std::string& symbol,
                               const std::string& description)
{
    const auto terms = readingTerms(input, key, symbol);
    if (terms.empty())
        return std::nullopt;
    const Term value = terms.size() == 1 ? terms.front() : Term::mean(terms);
    return value.named(symbol, baseUnit(Kind::Length), description);
}

Expected<std::optional<Term>> sectionTerm(const SpecimenInput& input, const std::string& prefix,
                                          const std::string& symbol)
{
    const auto option = input.options.find("area_from");
    const bool least = option != input.options.end() && option->second == "least";
    std::optional<Term> area;
    if (const auto* given = readingsOf(input, prefix + "area")) {
        area = Term::leaf("S", given->front().base, baseUnit(Kind::Area),
                          given->front().resolution / 2 / std::sqrt(3.0), {"section as stated", SourceKind::Digits});
    } else {
        const auto places = placesOf(input, prefix, least);
        if (places.empty())
            return std::optional<Term>();
        area = places.size() == 1 ? places.front() : least ? Term::least(places) : Term::mean(places);
    }
    if (!(area->value() > 0) || !std::isfinite(area->value()))
        return Problem{input.label + ", dimensions", "a section of " + formatSignificant(area->value(), 4) + " mm²",
                       "a section above zero", "Measure the specimen again; check wall against diameter for a tube."};
    return std::optional(
        area->named(symbol, baseUnit(Kind::Area),
                    prefix.empty() ? (least ? "least section" : "mean section") : "section at the neck",
                    least ? "least section (option)" : "mean of the sections (ISO 6892-1)"));
}

std::vector<std::string> sectionKeys(const SpecimenInput& input)
{
    if (readingsOf(input, "area"))
        return {"area"};
    if (input.shape == "round")
        return {"diameter"};
    if (isRectangle(input.shape))
        return {"width", "thickness"};
    if (input.shape == "tube")
        return {"outer_diameter", readingsOf(input, "inner_diameter") ? "inner_diameter" : "wall"};
    return {};
}

double slipFactor(double reading, double others)
{
    if (!(reading > 0) || !(others > 0))
        return 0;
    for (const double factor : {10.0, 25.4, 2.0, 0.1, 1 / 25.4, 0.5, 100.0, 0.01})
        if (std::abs(reading / others / factor - 1) < 0.08)
            return factor;
    return 0;
}

std::string readingQuery(double reading, const std::vector<double>& onThePiece, const std::vector<double>& piecesBefore,
                         const Unit& unit)
{
    constexpr double aFifth = 0.2;
    const auto query = [&](double other, const char* whose) -> std::string {
        if (!(other > 0) || std::abs(reading - other) <= aFifth * other)
            return {};
        const std::string against = std::string(whose) + " (" + formatQuantity(other, unit, 4) + ")";
        if (const double factor = slipFactor(reading, other); factor != 0)
            return fmt::format("That is {:.3g} times {}. Decimal point or unit?", factor, against);
        return fmt::format("That is {} % {} {}. Read it again.",
                           formatFixed(100 * std::abs(reading - other) / other, 0), reading < other ? "below" : "above",
                           against);
    };
    if (!onThePiece.empty()) {
        const double nearest =
            *std::ranges::min_element(onThePiece, {}, [&](double other) { return std::abs(other - reading); });
        if (auto words = query(nearest, "the other readings on this piece"); !words.empty())
            return words;
    }
    if (piecesBefore.empty())
        return {};
    std::vector<double> sorted = piecesBefore;
    std::ranges::sort(sorted);
    return query(sorted[sorted.size() / 2], "this place on the pieces before");
}

std::vector<Remark> checkReadings(const SpecimenInput& input)
{
    return checkDimensions(input, sectionKeys(input));
}

std::vector<Remark> checkDimensions(const SpecimenInput& input, const std::vector<std::string>& keys)
{
    std::vector<Remark> remarks;
    for (const std::string& key : keys) {
        const auto* readings = readingsOf(input, key);
        if (!readings || key == "area")
            continue;
        std::vector<double> values;
        for (const Quantity& q : *readings)
            values.push_back(q.base);
        const SetStatistics s = setStatistics(values);
        std::string word = key;
        std::ranges::replace(word, '_', ' ');
        if (s.max == s.min && isRoundFigure(readings->front()))
            remarks.push_back({"nominal-dimension",
                               Severity::Caution,
                               {},
                               values.size() > 1 ? fmt::format("The {} {} readings are all exactly {}.", values.size(),
                                                               word, readings->front().text)
                                                 : fmt::format("The {} is exactly {}.", word, readings->front().text),
                               "Nominal size keyed in? Measure again, or accept.",
                               key});
        for (size_t i = 0; i < values.size() && values.size() > 1; ++i) {
            std::vector<double> rest = values;
            rest.erase(rest.begin() + static_cast<std::ptrdiff_t>(i));
            std::ranges::sort(rest);
            // Of three the one that differs slipped, not the two that agree.
            const bool othersAgree = rest.back() < 1.2 * rest.front();
            if (const double factor = slipFactor(values[i], rest[rest.size() / 2]);
                factor != 0 && othersAgree && (rest.size() > 1 || i > 0)) {
                remarks.push_back({"reading-slip",
                                   Severity::Caution,
                                   {},
                                   fmt::format("Reading {} of {} ({}) is {:.3g} times the others.", i + 1, word,
                                               (*readings)[i].text, factor),
                                   "A decimal mark or a unit slipped? Read it again.",
                                   key});
            }
        }
        if (values.size() > 1 && s.max - s.min > 0.01 * s.mean)
            remarks.push_back({"dimension-spread",
                               Severity::Caution,
                               {},
                               fmt::format("The {} readings spread by {} % of their mean.", word,
                                           formatFixed(100 * (s.max - s.min) / s.mean, 1)),
                               "Over 1 %: measure again; if it is so, think of the least section.",
                               key});
    }
    return remarks;
}

} // namespace fortitor
