// SPDX-License-Identifier: GPL-3.0-or-later
#include "units/reading.h"
#include "units/text.h"

#include <algorithm>
#include <fmt/format.h>

#include <cctype>
#include <cmath>
#include <numbers>
#include <vector>

namespace fortitor {
namespace {

bool startsNumber(std::string_view text, size_t at)
{
    return at < text.size()
        && (std::isdigit(static_cast<unsigned char>(text[at]))
            || ((text[at] == '.' || text[at] == ',') && at + 1 < text.size()
                && std::isdigit(static_cast<unsigned char>(text[at + 1]))));
}

/// "3 rev + 42 div" → "3 rev", "42 div"; a number alone, a fraction or an exponent stays whole.
std::vector<std::string> partsOf(std::string_view text)
{
    std::vector<std::string> parts(1);
    bool unitSeen = false;
    for (size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        const bool plus = c == '+' && unitSeen;
        const bool next = unitSeen && (i == 0 || text[i - 1] == ' ') && startsNumber(text, i);
        if (plus || next) {
            parts.emplace_back();
            unitSeen = false;
            if (plus)
                continue;
        }
        // A letter that no exponent accounts for begins a unit.
        const bool exponent = (c == 'e' || c == 'E') && i > 0 && std::isdigit(static_cast<unsigned char>(text[i - 1]))
            && (startsNumber(text, i + 1)
                || (i + 2 < text.size() && (text[i + 1] == '+' || text[i + 1] == '-') && startsNumber(text, i + 2)));
        if ((std::isalpha(static_cast<unsigned char>(c)) || static_cast<unsigned char>(c) > 127 || c == '"')
            && !exponent && !parts.back().empty())
            unitSeen = true;
        parts.back() += c;
    }
    return parts;
}

/// A part in divisions or turns of the scale: its base value and resolution.
Expected<std::optional<Quantity>> ofTheScale(const std::string& part, const ReadingScale& scale)
{
    const size_t letter = part.find_first_of("dr");
    if (letter == std::string::npos || letter == 0)
        return std::optional<Quantity>();
    const std::string word = trimmed(part.substr(letter));
    const bool division = word == "div" || word == "divs" || word == "d";
    const bool turn = (word == "rev" || word == "revs" || word == "r") && scale.kind != Kind::Angle;
    if (!division && !turn)
        return std::optional<Quantity>();
    const auto number = parseNumber(part.substr(0, letter));
    if (!number)
        return Problem{{}, '"' + part + '"', "a number before \"" + word + '"', {}};
    const double worth = division ? scale.division : scale.turn > 0 ? scale.turn : 100 * scale.division;
    if (!(worth > 0))
        return Problem{{},
                       '"' + part + '"',
                       "a scale whose division is known",
                       "State the division of the dial on Plan, or key the value with its unit."};
    return std::optional(Quantity{*number * worth, scale.unit, scale.division, part});
}

} // namespace

Expected<Quantity> parseReading(std::string_view text, const ReadingScale& scale)
{
    const Unit& unit = scale.unit ? *scale.unit : baseUnit(scale.kind);
    std::vector<std::string> parts = partsOf(text);
    std::optional<Quantity> sum;
    double sign = 0;
    for (const std::string& raw : parts) {
        const std::string part = trimmed(raw);
        auto own = ofTheScale(part, scale);
        if (!own)
            return own.problem();
        Expected<Quantity> one = *own ? Expected<Quantity>(**own) : parseQuantity(part, scale.kind, &unit);
        if (!one)
            return one.problem();
        if (!sum) {
            sum = *one;
            sign = part.starts_with('-') || part.starts_with("−") ? -1 : 1;
            if (parts.size() > 1 && !*own)
                sum->text = part;
            continue;
        }
        // "−3 rev + 42 div" is read off one scale: its parts go the same way.
        sum->base += sign * std::abs(one->base);
        sum->resolution = one->resolution;
        if (one->unit)
            sum->unit = one->unit;
    }
    if (parts.size() > 1 || sum->text.find("div") != std::string::npos || sum->text.find("rev") != std::string::npos) {
        const Unit& shown = sum->unit && sum->unit->symbol != "rev" ? *sum->unit : unit;
        const double places = sum->resolution > 0 ? -std::floor(std::log10(sum->resolution / shown.factor) + 1e-9) : 4;
        sum->unit = &shown;
        sum->text = formatFixed(shown.fromBase(sum->base), std::clamp(static_cast<int>(places), 0, 9)) + " "
            + std::string(shown.symbol);
    } else if (const size_t last = sum->text.find_last_not_of(' '); last != std::string::npos
               && (std::isdigit(static_cast<unsigned char>(sum->text[last])) || sum->text[last] == '.'
                   || sum->text[last] == ',')) {
        sum->text += " " + std::string(unit.symbol);
    }
    return *sum;
}

} // namespace fortitor
