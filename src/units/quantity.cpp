// SPDX-License-Identifier: GPL-3.0-or-later
#include "units/quantity.h"

#include <fast_float/fast_float.h>
#include <fmt/format.h>

#include <cmath>

namespace fortitor {
namespace {

bool isDigit(char c)
{
    return c >= '0' && c <= '9';
}

/// Blanks and minus signs of all sorts become the plain ones.
std::string plain(std::string_view text)
{
    std::string out;
    for (size_t i = 0; i < text.size(); ++i) {
        const std::string_view rest = text.substr(i);
        if (rest.starts_with("\u2212")) {
            out += '-';
            i += 2;
        } else if (rest.starts_with("\u00a0")) {
            out += ' ';
            i += 1;
        } else if (rest.starts_with("\u2009") || rest.starts_with("\u202f")) {
            out += ' ';
            i += 2;
        } else {
            out += text[i] == '\t' ? ' ' : text[i];
        }
    }
    const size_t first = out.find_first_not_of(' ');
    const size_t last = out.find_last_not_of(' ');
    return first == std::string::npos ? std::string() : out.substr(first, last - first + 1);
}

struct NumberHead {
    double value = 0;
    double resolution = 0;
    size_t length = 0; ///< characters used
};

/// Digits with one decimal mark and an exponent at the start of the text.
std::optional<NumberHead> readDecimal(std::string_view text)
{
    size_t i = 0;
    if (i < text.size() && (text[i] == '+' || text[i] == '-'))
        ++i;
    const size_t firstDigit = i;
    size_t digits = 0;
    int decimals = 0;
    for (; i < text.size() && isDigit(text[i]); ++i)
        ++digits;
    if (i < text.size() && (text[i] == '.' || text[i] == ',')) {
        ++i;
        for (; i < text.size() && isDigit(text[i]); ++i, ++digits)
            ++decimals;
    }
    if (digits == 0)
        return std::nullopt;
    int exponent = 0;
    if (i + 1 < text.size() && (text[i] == 'e' || text[i] == 'E')) {
        size_t j = i + 1;
        if (text[j] == '+' || text[j] == '-')
            ++j;
        size_t k = j;
        while (k < text.size() && isDigit(text[k]))
            ++k;
        if (k > j && k - j <= 4) {
            exponent = std::stoi(std::string(text.substr(i + 1, k - i - 1)));
            i = k;
        }
    }
    std::string number(text.substr(text[0] == '+' ? 1 : 0, i - (text[0] == '+' ? 1 : 0)));
    for (char& c : number)
        if (c == ',')
            c = '.';
    NumberHead head;
    const auto [end, error] = fast_float::from_chars(number.data(), number.data() + number.size(), head.value);
    if (error != std::errc() || end != number.data() + number.size() || !std::isfinite(head.value))
        return std::nullopt;
    head.resolution = std::pow(10.0, exponent - decimals);
    head.length = i;
    return firstDigit < i ? std::optional(head) : std::nullopt;
}

std::optional<unsigned long> readWhole(std::string_view text, size_t& at)
{
    const size_t from = at;
    while (at < text.size() && isDigit(text[at]))
        ++at;
    if (at == from || at - from > 9)
        return std::nullopt;
    return std::stoul(std::string(text.substr(from, at - from)));
}

/// "3/16" or "1 5/16" at the start of the text.
std::optional<NumberHead> readFraction(std::string_view text)
{
    size_t at = 0;
    const bool negative = text.starts_with('-');
    if (negative)
        ++at;
    const auto first = readWhole(text, at);
    if (!first || at >= text.size())
        return std::nullopt;
    unsigned long whole = 0;
    unsigned long numerator = *first;
    if (text[at] == ' ') {
        while (at < text.size() && text[at] == ' ')
            ++at;
        whole = *first;
        const auto second = readWhole(text, at);
        if (!second)
            return std::nullopt;
        numerator = *second;
    }
    if (at >= text.size() || text[at] != '/')
        return std::nullopt;
    ++at;
    const auto denominator = readWhole(text, at);
    if (!denominator || *denominator == 0)
        return std::nullopt;
    const double size = static_cast<double>(whole) + static_cast<double>(numerator) / static_cast<double>(*denominator);
    // Read from a scale that is divided so: half of its last step either way.
    return NumberHead{negative ? -size : size, 1 / static_cast<double>(*denominator), at};
}

std::optional<NumberHead> readNumber(std::string_view text)
{
    if (const auto fraction = readFraction(text))
        return fraction;
    return readDecimal(text);
}

std::string exampleOf(Kind kind, const std::string& number)
{
    return number + " " + std::string(baseUnit(kind).symbol);
}

} // namespace

std::optional<double> parseNumber(std::string_view text)
{
    const std::string clean = plain(text);
    const auto head = readNumber(clean);
    if (!head || head->length != clean.size())
        return std::nullopt;
    return head->value;
}

Expected<Quantity> parseQuantity(std::string_view text, Kind wanted, const Unit* assumed)
{
    const std::string clean = plain(text);
    const std::string kind(kindName(wanted));
    const auto head = readNumber(clean);
    if (!head)
        return Problem{{}, '"' + clean + '"', "a " + kind + " such as " + exampleOf(wanted, "10.02"), {}};
    size_t at = head->length;
    while (at < clean.size() && clean[at] == ' ')
        ++at;
    const std::string spelling = clean.substr(at);
    if (!spelling.empty() && (isDigit(spelling[0]) || spelling[0] == '.' || spelling[0] == ','))
        return Problem{{},
                       '"' + clean + '"',
                       "one number with its unit",
                       "Grouping marks are not accepted; a comma is a decimal mark."};
    if (spelling.empty()) {
        if (wanted == Kind::Number)
            return Quantity{head->value, &baseUnit(Kind::Number), head->resolution, clean};
        if (!assumed)
            return Problem{{},
                           '"' + clean + "\" without a unit",
                           "a " + kind + " with its unit, such as " + exampleOf(wanted, clean),
                           "Units of " + kind + ": " + listUnits(wanted) + "."};
        return Quantity{assumed->toBase(head->value), assumed, head->resolution * assumed->factor, clean};
    }
    const Unit* unit = findUnit(spelling, wanted);
    if (!unit)
        return Problem{
            {}, "unknown unit \"" + spelling + '"', "a " + kind, "Units of " + kind + ": " + listUnits(wanted) + "."};
    if (unit->kind != wanted)
        return Problem{{},
                       '"' + clean + "\", a " + std::string(kindName(unit->kind)),
                       "a " + kind,
                       "Units of " + kind + ": " + listUnits(wanted) + "."};
    if (wanted == Kind::Hardness && assumed && unit != assumed)
        return Problem{{},
                       '"' + clean + '"',
                       "a hardness in " + std::string(assumed->symbol),
                       "No factor leads from one scale to another; look it up in a table of conversion."};
    return Quantity{unit->toBase(head->value), unit, head->resolution * unit->factor, clean};
}

double roundToStep(double value, double step, HalfRule rule)
{
    if (!std::isfinite(value) || !(step > 0))
        return value;
    const double quotient = value / step;
    const double below = std::floor(quotient);
    const double part = quotient - below;
    double whole = part < 0.5 ? below : below + 1;
    if (std::abs(part - 0.5) < 1e-9) {
        if (rule == HalfRule::ToEven)
            whole = std::fmod(below, 2.0) == 0 ? below : below + 1;
        else
            whole = value >= 0 ? below + 1 : below;
    }
    // Dividing by 1/step keeps 0.1-like steps on the nearest double of the decimal.
    const double inverse = std::round(1 / step);
    return step < 1 && std::abs(inverse * step - 1) < 1e-12 ? whole / inverse : whole * step;
}

std::string formatFixed(double value, int decimals)
{
    if (!std::isfinite(value))
        return "–";
    std::string text = fmt::format("{:.{}f}", value, decimals);
    if (text.starts_with('-') && text.find_first_of("123456789") == std::string::npos)
        text.erase(0, 1);
    return text;
}

std::string formatSignificant(double value, int digits)
{
    if (!std::isfinite(value))
        return "–";
    if (value == 0)
        return "0";
    const double size = std::abs(value);
    if (size < 1e-5 || size >= 1e7)
        return fmt::format("{:.{}e}", value, digits - 1);
    const int exponent = static_cast<int>(std::floor(std::log10(size)));
    return formatFixed(value, std::max(0, digits - 1 - exponent));
}

std::string formatQuantity(double base, const Unit& unit, int digits)
{
    const std::string number = formatSignificant(unit.fromBase(base), digits);
    return unit.symbol == "1" ? number : number + " " + std::string(unit.symbol);
}

} // namespace fortitor
