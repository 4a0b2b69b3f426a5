// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/hardness/setting.h"

#include "methods/common/figures.h"
#include "reference/tables.h"

#include <algorithm>
#include <cctype>
#include <charconv>
#include <regex>

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

/// By the usual short names: "C45", "42CrMo4", "16MnCr5", "S355" are plain steels, "X5CrNi18-10" and "1.4301" are not.
MaterialFamily familyByName(const std::string& name)
{
    static const std::regex plain(
        R"((^|[^a-z0-9.])(([csepl]\d{2,3}[a-z0-9]*)|(\d{1,3}(mn|cr|ni|mo|si|v|b|s)[a-z]*\d[0-9-]*))($|[^a-z0-9]))");
    static const std::regex highAlloy(R"((^|[^a-z0-9])(x\d+[a-z]+[0-9-]*|1\.4\d{3}))");
    const std::string text = lowered(name);
    const auto says = [&](std::initializer_list<const char*> words) {
        return std::ranges::any_of(words, [&](const char* word) { return text.find(word) != std::string::npos; });
    };
    if (says({"austenit", "stainless", "cold-work", "cold work", "cold drawn", "cold rolled"})
        || std::regex_search(text, highAlloy))
        return MaterialFamily::OtherSteel;
    if (says({"iron"}))
        return MaterialFamily::Iron;
    if (says({"copper", "brass", "bronze", "cu-", "cuzn", "cusn"}))
        return MaterialFamily::Copper;
    if (says({"aluminium", "aluminum", "magnesium", "alsi", "almg"}))
        return MaterialFamily::Light;
    if (says({"titanium", "nickel", "ti6al", "lead", "tin ", "plastic"}))
        return MaterialFamily::Other;
    if (says({"steel"}) || std::regex_search(text, plain))
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

} // namespace fortitor
