// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/proof_load/rules.h"

#include "methods/common/figures.h"
#include "methods/proof_load/proof.h"
#include "units/gravity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

using proof::valueOf;

using Says = RuleVerdict::Says;

/// One thing that is asked, and what came of it. A failure outweighs what is open, that what is met.
void say(RuleVerdict& verdict, bool& any, Says says, const std::string& words)
{
    if (!any)
        verdict.says = says;
    else if (says == Says::Failed || (says == Says::Open && verdict.says == Says::Met))
        verdict.says = says;
    any = true;
    verdict.text += (verdict.text.empty() ? "" : "; ") + words;
}

void judgeBreak(const AcceptanceRule& rule, const Outcome& outcome, const SpecimenInput& input, RuleVerdict& verdict,
                bool& any)
{
    if (!rule.breakFactorMin && !rule.breakForceMin)
        return;
    const auto loads = proofLoadsOf(input);
    const auto least = leastBreak(rule, loads ? loads->working : std::nullopt);
    if (!least)
        return say(verdict, any, Says::Open, "what its breaking load is a multiple of is not stated");
    const Result* greatest = valueOf(outcome, "F_max");
    if (!greatest)
        return say(verdict, any, Says::Open, fmt::format("{} asked, not pulled to the end", proof::inN(*least)));
    const bool bound = greatest->bound == Result::Bound::AtLeast;
    const std::string found = (bound ? "at least " : "") + proof::inN(*greatest->value);
    const bool enough = *greatest->value >= *least;
    say(verdict, any,
        enough      ? Says::Met
            : bound ? Says::Open
                    : Says::Failed,
        fmt::format("{} asked, {} carried", proof::inN(*least), found));
}

void judgeSet(const AcceptanceRule& rule, const Outcome& outcome, RuleVerdict& verdict, bool& any)
{
    if (!rule.setMax)
        return;
    const Result *first = valueOf(outcome, "set_1"), *second = valueOf(outcome, "set_2");
    if (!first)
        return say(verdict, any, Says::Open, "no set was read");
    const double most = std::max(*first->value, second ? *second->value : *first->value);
    say(verdict, any, most <= *rule.setMax ? Says::Met : Says::Failed,
        fmt::format("set up to {:g} mm asked, {:.2f} mm left", *rule.setMax, most));
}

void judgeFunction(const AcceptanceRule& rule, const SpecimenInput& input, RuleVerdict& verdict, bool& any)
{
    if (rule.function.empty())
        return;
    const auto rank = [](const std::string& state) { return state == "free" ? 0 : state == "tool" ? 1 : 2; };
    bool checked = false;
    for (const char* key : {"function_1", "function_2"}) { // the pull to the end spends the part
        const std::string state = noteOf(input, key);
        if (state.empty())
            continue;
        checked = true;
        if (rank(state) > rank(rule.function))
            return say(verdict, any, Says::Failed,
                       fmt::format("it {} after a proof load", state == "stuck" ? "was stuck" : "needed a tool"));
    }
    say(verdict, any, checked ? Says::Met : Says::Open,
        checked ? "it moved as asked after the proof loads" : "the function was not checked");
}

void judgeProof(const AcceptanceRule& rule, const Outcome& outcome, const SpecimenInput& input, RuleVerdict& verdict,
                bool& any)
{
    const auto loads = proofLoadsOf(input);
    constexpr double near = 0.99;
    if (rule.proofFactor) {
        if (!loads || !loads->working || !loads->proof)
            say(verdict, any, Says::Open, "working load or proof load are not stated");
        else
            say(verdict, any,
                outcome.remarked("proof-load-low") || *loads->proof < near * *rule.proofFactor * *loads->working
                    ? Says::Failed
                    : valueOf(outcome, "set_1") ? Says::Met
                                                : Says::Open,
                fmt::format("proof of {:g} × working load asked, tested at {}", *rule.proofFactor,
                            proof::inN(*loads->proof)));
    }
    if (rule.hold) {
        const auto asked = optionQuantity(input, "hold", Kind::Time);
        const bool held = asked && *asked;
        const bool kept = !outcome.remarked("hold-missing") && !outcome.remarked("hold-short");
        say(verdict, any,
            !held                                      ? Says::Open
                : kept && **asked >= near * *rule.hold ? Says::Met
                                                       : Says::Failed,
            fmt::format("a hold of {:g} s asked{}", *rule.hold,
                        !held      ? ", the time it was held for is not stated"
                            : kept ? fmt::format(", held for {:g} s", **asked)
                                   : ", it was not held that long"));
    }
    if (rule.cycles)
        say(verdict, any,
            !loads                                                                   ? Says::Open
                : loads->cycles >= *rule.cycles && !outcome.remarked("cycles-count") ? Says::Met
                                                                                     : Says::Failed,
            fmt::format("{} proof cycle{} asked", *rule.cycles, *rule.cycles == 1 ? "" : "s"));
}

} // namespace

std::optional<double> leastBreak(const AcceptanceRule& rule, std::optional<double> workingLoad)
{
    std::optional<double> least = rule.breakForceMin;
    if (rule.breakFactorMin && rule.against != AcceptanceRule::Against::Force) {
        const auto load = rule.against == AcceptanceRule::Against::GrossMass && rule.grossMass
            ? std::optional(*rule.grossMass * standardGravity)
            : rule.against == AcceptanceRule::Against::WorkingLoad ? workingLoad
                                                                   : std::nullopt;
        if (!load)
            return std::nullopt;
        least = std::max(least.value_or(0), *rule.breakFactorMin * *load);
    }
    return least;
}

RuleVerdict judgeRule(const AcceptanceRule& rule, const Outcome& outcome, const SpecimenInput& input)
{
    RuleVerdict verdict{.name = rule.name};
    bool any = false;
    judgeProof(rule, outcome, input, verdict, any);
    judgeSet(rule, outcome, verdict, any);
    judgeFunction(rule, input, verdict, any);
    judgeBreak(rule, outcome, input, verdict, any);
    return verdict;
}

std::string stricter(const AcceptanceRule& a, const AcceptanceRule& b, std::optional<double> workingLoad)
{
    const auto one = leastBreak(a, workingLoad), other = leastBreak(b, workingLoad);
    if (!one || !other || std::abs(*one - *other) <= 1e-9 * *one)
        return {};
    return *one > *other ? a.name : b.name;
}

std::string strictestRule(std::span<const AcceptanceRule> rules, const SpecimenInput& input)
{
    const auto loads = proofLoadsOf(input);
    const auto working = loads ? loads->working : std::nullopt;
    const AcceptanceRule* strict = nullptr;
    size_t compared = 0;
    bool apart = false;
    for (const AcceptanceRule& rule : rules) {
        if (!leastBreak(rule, working))
            continue;
        ++compared;
        if (!strict)
            strict = &rule;
        else if (const std::string name = stricter(*strict, rule, working); !name.empty()) {
            apart = true;
            strict = name == rule.name ? &rule : strict;
        }
    }
    if (compared < 2)
        return {};
    if (!apart)
        return "All ask for the same breaking load.";
    return fmt::format("The stricter one is {}: it asks for {}.", strict->name,
                       proof::inN(*leastBreak(*strict, working)));
}

} // namespace fortitor
