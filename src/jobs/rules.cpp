// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/rules.h"

#include "units/nearest.h"
#include "units/quantity.h"

#include <fmt/format.h>

#include <array>
#include <cmath>

namespace fortitor {
namespace {

constexpr std::array<std::string_view, 3> againsts{"working-load", "gross-mass", "force"};
constexpr std::array<std::string_view, 2> functions{"free", "tool"};

/// The texts of a rule, once for reading and for writing.
auto texts(auto& rule)
{
    return std::array{std::pair("name", &rule.name), std::pair("source", &rule.source), std::pair("place", &rule.place),
                      std::pair("edition", &rule.edition), std::pair("date", &rule.date)};
}

struct Figure {
    const char* key;
    Kind kind;
    std::optional<double> AcceptanceRule::*member;
    const char* example;
};
constexpr Figure figures[] = {
    {"gross_mass", Kind::Mass, &AcceptanceRule::grossMass, "850 kg"},
    {"break_factor_min", Kind::Number, &AcceptanceRule::breakFactorMin, "5"},
    {"break_force_min", Kind::Force, &AcceptanceRule::breakForceMin, "40 kN"},
    {"proof_factor", Kind::Number, &AcceptanceRule::proofFactor, "2"},
    {"hold", Kind::Time, &AcceptanceRule::hold, "60 s"},
    {"set_max", Kind::Length, &AcceptanceRule::setMax, "0.2 mm"},
};

/// A quantity in quotes, or a plain number where it has no unit.
Expected<std::optional<double>> figureAt(const Json& json, const char* key, Kind kind, const std::string& path,
                                         const std::string& example)
{
    const auto it = json.find(key);
    if (it == json.end() || it->is_null())
        return std::optional<double>();
    if (it->is_number() && kind == Kind::Number)
        return std::optional(it->get<double>());
    if (it->is_string() && it->get<std::string>().empty())
        return std::optional<double>();
    if (it->is_string()) {
        const auto read = parseQuantity(it->get<std::string>(), kind);
        if (read && std::isfinite(read->base))
            return std::optional(read->base);
    }
    const bool load = kind == Kind::Force;
    return Problem{path + key, it->dump(-1, ' ', true, Json::error_handler_t::replace).substr(0, 40),
                   "a figure such as " + example,
                   load ? "A mass is no force: a fixed force is stated in N or kN." : ""};
}

} // namespace

const std::set<std::string>& ruleKeys()
{
    static const std::set<std::string> keys = [] {
        std::set<std::string> all{"break_against", "cycles", "function"};
        AcceptanceRule rule;
        for (const auto& [key, text] : texts(rule))
            all.insert(key);
        for (const Figure& figure : figures)
            all.insert(figure.key);
        return all;
    }();
    return keys;
}

Expected<AcceptanceRule> ruleFrom(const Json& json, const std::string& path)
{
    if (!json.is_object())
        return Problem{path,
                       json.dump(-1, ' ', true, Json::error_handler_t::replace).substr(0, 40),
                       "an object with name and source",
                       {}};
    AcceptanceRule rule;
    const auto text = [&](const char* key) -> Expected<std::string> {
        const auto it = json.find(key);
        if (it == json.end() || it->is_null())
            return std::string();
        if (it->is_string())
            return it->get<std::string>();
        return Problem{
            path + key, it->dump(-1, ' ', true, Json::error_handler_t::replace).substr(0, 40), "a text in quotes", {}};
    };
    for (const auto& [key, into] : texts(rule)) {
        auto read = text(key);
        if (!read)
            return read.problem();
        *into = std::move(*read);
    }
    for (const Figure& figure : figures) {
        const auto read = figureAt(json, figure.key, figure.kind, path, figure.example);
        if (!read)
            return read.problem();
        rule.*figure.member = *read;
    }
    const auto cycles = figureAt(json, "cycles", Kind::Number, path, "2");
    if (!cycles)
        return cycles.problem();
    if (*cycles) {
        if (**cycles != std::floor(**cycles) || std::abs(**cycles) > 1000)
            return Problem{path + "cycles", formatSignificant(**cycles, 4), "a whole number", {}};
        rule.cycles = static_cast<int>(**cycles);
    }
    const auto choice = [&](const char* key, const auto& words, size_t& chosen) -> Expected<bool> {
        const auto read = text(key);
        if (!read)
            return read.problem();
        if (read->empty())
            return false;
        for (chosen = 0; chosen < words.size(); ++chosen)
            if (words[chosen] == *read)
                return true;
        std::vector<std::string> all(words.begin(), words.end());
        return Problem{path + key, '"' + *read + '"', fmt::format("one of: {}", fmt::join(all, ", ")),
                       nearestWords(*read, all)};
    };
    size_t chosen = 0;
    if (const auto any = choice("break_against", againsts, chosen); !any)
        return any.problem();
    else if (*any)
        rule.against = static_cast<AcceptanceRule::Against>(chosen);
    if (const auto any = choice("function", functions, chosen); !any)
        return any.problem();
    else if (*any)
        rule.function = functions[chosen];
    if (auto wrong = ruleProblem(rule)) {
        wrong->place = path + (wrong->place == "rule" ? "" : " " + wrong->place);
        return *wrong;
    }
    return rule;
}

Json ruleJson(const AcceptanceRule& rule)
{
    Json json = Json::object();
    for (const auto& [key, text] : texts(rule))
        if (!text->empty())
            json[key] = *text;
    json["break_against"] = againsts[static_cast<size_t>(rule.against)];
    for (const Figure& figure : figures)
        if (const auto& value = rule.*figure.member)
            json[figure.key] = fmt::format("{:.15g}", *value)
                + (figure.kind == Kind::Number     ? std::string()
                       : figure.kind == Kind::Mass ? " kg"
                                                   : " " + std::string(baseUnit(figure.kind).symbol));
    if (rule.cycles)
        json["cycles"] = std::to_string(*rule.cycles);
    if (!rule.function.empty())
        json["function"] = rule.function;
    return json;
}

std::string askedWords(const AcceptanceRule& rule)
{
    std::vector<std::string> asked;
    const auto force = [](double N) {
        return formatQuantity(N, N >= 1000 ? *findUnit("kN") : baseUnit(Kind::Force), 4);
    };
    if (rule.proofFactor)
        asked.push_back(fmt::format("proof {:g} × working load", *rule.proofFactor));
    if (rule.hold)
        asked.push_back(fmt::format("hold {:g} s", *rule.hold));
    if (rule.cycles)
        asked.push_back(fmt::format("{} cycle{}", *rule.cycles, *rule.cycles == 1 ? "" : "s"));
    if (rule.setMax)
        asked.push_back(fmt::format("set up to {:g} mm", *rule.setMax));
    if (!rule.function.empty())
        asked.push_back(rule.function == functions[0] ? "moves free after it" : "moves with a tool after it");
    if (rule.breakFactorMin && rule.against != AcceptanceRule::Against::Force)
        asked.push_back(rule.against == AcceptanceRule::Against::GrossMass && rule.grossMass
                            ? fmt::format("break at {:g} × {:g} kg or more", *rule.breakFactorMin, *rule.grossMass)
                            : fmt::format("break at {:g} × working load or more", *rule.breakFactorMin));
    if (rule.breakForceMin)
        asked.push_back("break at " + force(*rule.breakForceMin) + " or more");
    return fmt::format("{}", fmt::join(asked, ", "));
}

std::string sourceWords(const AcceptanceRule& rule)
{
    std::vector<std::string> words;
    for (const auto& [before, one] :
         {std::pair("", &rule.source), {"", &rule.place}, {"edition ", &rule.edition}, {"", &rule.date}})
        if (!one->empty())
            words.push_back(before + *one);
    return fmt::format("{}", fmt::join(words, ", "));
}

} // namespace fortitor
