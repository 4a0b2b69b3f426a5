// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/hardness/setting.h"

#include "methods/common/figures.h"
#include "reference/tables.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <string_view>
#include <vector>

namespace fortitor {
namespace {

/// A bare number by option; Problem when it is none or lies below the least.
Expected<double> numberOption(const SpecimenInput& input, const std::string& key, double fallback, double least)
{
    const std::string text = optionOr(input, key, "");
    if (text.empty())
        return fallback;
    const auto value = parseNumber(text);
    if (!value || *value < least)
        return Problem{"options." + key, '"' + text + '"', "a number from " + formatSignificant(least, 3), {}};
    return *value;
}

Expected<double> neededQuantity(const SpecimenInput& input, const std::string& key, Kind kind, const char* example)
{
    auto read = optionQuantity(input, key, kind);
    if (!read)
        return read.problem();
    if (!*read)
        return Problem{"options." + key, "none", std::string(example), {}};
    if (!(**read > 0))
        return Problem{"options." + key, '"' + optionOr(input, key, "") + '"', "a value above zero", {}};
    return **read;
}

Expected<Done> readPressed(const SpecimenInput& input, HardnessSetting& setting)
{
    using enum HardnessScale::By;
    if (auto dwell = optionQuantity(input, "dwell", Kind::Time); !dwell)
        return dwell.problem();
    else
        setting.pressed.dwell = *dwell;
    if (setting.pressed.dwell && !(*setting.pressed.dwell > 0))
        return Problem{"options.dwell", '"' + optionOr(input, "dwell", "") + '"', "a time above zero", {}};
    if (setting.scale->by == Rockwell) {
        setting.pressed.force = setting.scale->total;
        setting.pressed.ball = setting.scale->ball;
        return Done{};
    }
    auto force = neededQuantity(input, "force", Kind::Force, "the test force, such as \"98.07 N\" or \"10 kgf\"");
    if (!force)
        return force.problem();
    setting.pressed.force = *force;
    if (setting.scale->by != Brinell)
        return Done{};
    auto ball = neededQuantity(input, "ball", Kind::Length, "the ball's diameter, such as \"10 mm\"");
    if (!ball)
        return ball.problem();
    setting.pressed.ball = *ball;
    return Done{};
}

Expected<Done> readFilar(const SpecimenInput& input, HardnessSetting& setting)
{
    for (const auto& [key, into, least] :
         {std::tuple("filar_barrel", &setting.barrel, 0.0), std::tuple("filar_drum", &setting.drum, 1e-9),
          std::tuple("filar_zero", &setting.zero, -1e9)}) {
        auto value = numberOption(input, key, *into, least);
        if (!value)
            return value.problem();
        *into = *value;
    }
    auto unit = optionQuantity(input, "filar_factor", Kind::Length);
    if (!unit)
        return unit.problem();
    if (*unit && !(**unit > 0))
        return Problem{
            "options.filar_factor", '"' + optionOr(input, "filar_factor", "") + '"', "a length above zero", {}};
    setting.filarUnit = unit->value_or(0);
    return Done{};
}

std::string lowered(std::string text)
{
    std::ranges::transform(text, text.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return text;
}

bool digit(char c)
{
    return c >= '0' && c <= '9';
}

size_t digitsFrom(std::string_view word, size_t at)
{
    size_t count = 0;
    while (at + count < word.size() && digit(word[at + count]))
        ++count;
    return count;
}

/// "x5crni18-10", "1.4301"
bool isHighAlloy(std::string_view word)
{
    if (word.starts_with("1.4") && digitsFrom(word, 2) >= 4)
        return true;
    const size_t carbon = word.starts_with('x') ? digitsFrom(word, 1) : 0;
    return carbon > 0 && 1 + carbon < word.size() && std::isalpha(static_cast<unsigned char>(word[1 + carbon]));
}

/// "c45", "s355j2", "42crmo4", "16mncr5"
bool isPlainSteel(std::string_view word)
{
    constexpr std::string_view kinds = "csepl";
    if (!word.empty() && kinds.find(word.front()) != std::string_view::npos) {
        const size_t count = digitsFrom(word, 1);
        return count == 2 || count == 3;
    }
    const size_t carbon = digitsFrom(word, 0);
    if (carbon == 0 || carbon > 3)
        return false;
    const std::string_view rest = word.substr(carbon);
    constexpr std::string_view elements[] = {"mn", "cr", "ni", "mo", "si", "v", "b", "s"};
    return std::ranges::any_of(elements, [&](std::string_view e) { return rest.starts_with(e); })
        && std::ranges::any_of(rest, digit);
}

std::vector<std::string_view> wordsOf(std::string_view text)
{
    std::vector<std::string_view> words;
    const auto belongs = [](char c) { return std::isalnum(static_cast<unsigned char>(c)) || c == '.' || c == '-'; };
    for (size_t at = 0; at < text.size();) {
        size_t end = at;
        while (end < text.size() && belongs(text[end]))
            ++end;
        if (end > at)
            words.push_back(text.substr(at, end - at));
        at = end + 1;
    }
    return words;
}

/// By the usual short names: "C45", "42CrMo4", "16MnCr5", "S355" are plain steels, "X5CrNi18-10" and "1.4301" are not.
MaterialFamily familyByName(const std::string& name)
{
    const std::string text = lowered(name);
    const auto words = wordsOf(text);
    const auto says = [&](std::initializer_list<const char*> any) {
        return std::ranges::any_of(any, [&](const char* word) { return text.find(word) != std::string::npos; });
    };
    if (says({"austenit", "stainless", "cold-work", "cold work", "cold drawn", "cold rolled"})
        || std::ranges::any_of(words, isHighAlloy))
        return MaterialFamily::OtherSteel;
    if (says({"iron"}))
        return MaterialFamily::Iron;
    if (says({"copper", "brass", "bronze", "cu-", "cuzn", "cusn"}))
        return MaterialFamily::Copper;
    if (says({"aluminium", "aluminum", "magnesium", "alsi", "almg"}))
        return MaterialFamily::Light;
    if (says({"titanium", "nickel", "ti6al", "lead", "tin ", "plastic"}))
        return MaterialFamily::Other;
    if (says({"steel"}) || std::ranges::any_of(words, isPlainSteel))
        return MaterialFamily::PlainSteel;
    return MaterialFamily::Unknown;
}

} // namespace

Expected<HardnessSetting> settingOf(const SpecimenInput& input)
{
    HardnessSetting setting;
    const std::string name = optionOr(input, "scale", "");
    setting.steelBall = name == "HBS";
    setting.scale = findHardnessScale(setting.steelBall ? "HBW" : name);
    if (!setting.scale) {
        std::string known;
        for (const HardnessScale& one : hardnessScales())
            known += std::string(one.name) + ", ";
        return Problem{"options.scale", name.empty() ? "none" : '"' + name + '"', "one of " + known + "HBS", {}};
    }
    setting.unit = setting.steelBall ? findUnit("HBS", Kind::Hardness) : &unitOf(*setting.scale);
    if (auto ok = readPressed(input, setting); !ok)
        return ok.problem();
    if (auto ok = readFilar(input, setting); !ok)
        return ok.problem();

    const bool rockwell = setting.scale->by == HardnessScale::By::Rockwell;
    auto seating = numberOption(input, "seating", rockwell ? 2 : 0, 0);
    if (!seating)
        return seating.problem();
    setting.seating = static_cast<int>(*seating);
    setting.shopRule = optionOr(input, "spacing", "standard") == "shop";
    const bool light = familyOf(input) == MaterialFamily::Light;
    if (!rockwell && setting.scale->by != HardnessScale::By::Brinell && light) {
        setting.apart = 6;
        setting.fromEdge = 3;
    }
    if (setting.shopRule)
        setting.apart = 2;
    setting.cylinder = optionOr(input, "curved", "none") == "cylinder";
    auto curvature = numberOption(input, "curved_by", 0, -100);
    if (!curvature)
        return curvature.problem();
    setting.curvature = *curvature;
    return setting;
}

MaterialFamily familyOf(const SpecimenInput& input)
{
    using enum MaterialFamily;
    const std::string said = optionOr(input, "family", "by name");
    if (said == "plain steel")
        return noteOf(input, "conditioning").find("cold") == std::string::npos ? PlainSteel : OtherSteel;
    if (said == "austenitic or cold-worked steel")
        return OtherSteel;
    if (said == "cast iron")
        return Iron;
    if (said == "copper alloy")
        return Copper;
    if (said == "light metal")
        return Light;
    if (said == "other")
        return Other;
    return familyByName(input.material + " " + noteOf(input, "conditioning"));
}

std::string fittedOn(const HardnessSetting& setting)
{
    const HardnessScale& scale = *setting.scale;
    const double ball = scale.by == HardnessScale::By::Rockwell ? scale.ball : setting.pressed.ball;
    const double force = scale.by == HardnessScale::By::Rockwell ? scale.total : setting.pressed.force;
    using enum HardnessScale::By;
    const std::string indenter = ball > 0 ? fmt::format("ball {:g} mm", ball)
        : scale.by == Vickers             ? "pyramid"
        : scale.by == Knoop               ? "long pyramid"
                                          : "cone";
    return fmt::format("{}, {:.5g} N", indenter, force);
}

std::map<std::string, std::string> notesOfChange()
{
    return {{"after_change", "yes"}};
}

} // namespace fortitor
