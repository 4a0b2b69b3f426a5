// SPDX-License-Identifier: GPL-3.0-or-later
// The set in sentences: each part, and each kind of them, marked and unmarked.
#include "methods/common/figures.h"
#include "methods/proof_load/proof.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

namespace fortitor {
namespace {

using proof::valueOf;

std::string bounded(const Result& r, const std::string& words)
{
    return (r.bound == Result::Bound::AtLeast ? "at least " : "") + words;
}

std::string sentenceOf(const Outcome& outcome)
{
    std::vector<std::string> parts;
    if (const Result* most = valueOf(outcome, "F_max")) {
        std::string words = "carried " + bounded(*most, proof::inKilonewton(*most->value));
        if (const Result* factor = valueOf(outcome, "factor"))
            words += fmt::format(", {:.3g} × working load", *factor->value);
        parts.push_back(words);
    } else {
        parts.emplace_back("not pulled to the end");
    }
    if (const Result* knee = valueOf(outcome, "F_knee"))
        parts.push_back("yields from " + proof::inKilonewton(*knee->value));
    if (const Result* set = valueOf(outcome, "set_1"))
        parts.push_back(fmt::format("set {:.2f} mm", *set->value));
    if (const Result* lost = valueOf(outcome, "F_function"); lost && lost->interval)
        parts.push_back(fmt::format("moved free up to {}, no more after {}", proof::inKilonewton(lost->interval->first),
                                    proof::inKilonewton(lost->interval->second)));
    std::string text = fmt::format("{}", fmt::join(parts, "; "));
    text[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(text[0])));
    text += ".";
    for (const RuleVerdict& rule : outcome.rules)
        text += fmt::format(" {}: {}.", rule.name, saysName(rule.says));
    return text;
}

ToldRow::State stateOf(const Outcome& outcome)
{
    const auto any = [&](RuleVerdict::Says says) {
        return std::ranges::find(outcome.rules, says, &RuleVerdict::says) != outcome.rules.end();
    };
    return any(RuleVerdict::Says::Failed)                       ? ToldRow::State::Bad
        : any(RuleVerdict::Says::Open) || outcome.rules.empty() ? ToldRow::State::Open
                                                                : ToldRow::State::Good;
}

/// The parts of one kind.
struct KindOf {
    size_t count = 0, pulled = 0, bounds = 0, met = 0, judged = 0;
    double least = 0, most = 0, leastFactor = 0;
    double perMass = 0, perPrice = 0; ///< of the last that states it
    std::string currency{};
};

void add(KindOf& kind, const SpecimenInput& input, const Outcome& outcome)
{
    ++kind.count;
    if (!outcome.rules.empty()) {
        ++kind.judged;
        kind.met += stateOf(outcome) == ToldRow::State::Good;
    }
    const Result* most = valueOf(outcome, "F_max");
    if (!most)
        return;
    kind.least = kind.pulled == 0 ? *most->value : std::min(kind.least, *most->value);
    kind.most = std::max(kind.most, *most->value);
    kind.bounds += most->bound == Result::Bound::AtLeast;
    if (const Result* factor = valueOf(outcome, "factor"))
        kind.leastFactor = kind.pulled == 0 ? *factor->value : std::min(kind.leastFactor, *factor->value);
    ++kind.pulled;
    if (const auto mass = parseQuantity(noteOf(input, "part_mass"), Kind::Mass); mass && mass->base > 0)
        kind.perMass = *most->value / 1000 / mass->base;
    const std::string price = noteOf(input, "price");
    if (const size_t end = price.find_first_not_of("0123456789.,"); end != 0 && !price.empty())
        if (const auto figure = parseNumber(price.substr(0, end)); figure && *figure > 0) {
            kind.perPrice = *most->value / 1000 / *figure;
            const size_t word = end == std::string::npos ? end : price.find_first_not_of(' ', end);
            kind.currency = word == std::string::npos ? "price" : price.substr(word);
        }
}

std::string kindWords(const KindOf& kind)
{
    if (kind.pulled == 0)
        return fmt::format("{} part{}, none pulled to the end.", kind.count, kind.count == 1 ? "" : "s");
    std::string text = kind.least == kind.most || kind.bounds == kind.pulled
        ? fmt::format("Carried {}{}", kind.bounds > 0 ? "at least " : "", proof::inKilonewton(kind.least))
        : fmt::format("Carried {} to {}{}", proof::inKilonewton(kind.least), kind.bounds > 0 ? "at least " : "",
                      proof::inKilonewton(kind.most));
    if (kind.leastFactor > 0)
        text += fmt::format("; the weakest {:.3g} × working load", kind.leastFactor);
    if (kind.bounds > 0)
        text += fmt::format("; {} of {} did not break", kind.bounds, kind.pulled);
    if (kind.perMass > 0)
        text += fmt::format("; {:.3g} kN for each kg", kind.perMass);
    if (kind.perPrice > 0)
        text += fmt::format("; {:.3g} kN for each {}", kind.perPrice, kind.currency);
    text += ".";
    if (kind.judged > 0)
        text += fmt::format(" {} of {} met all rules.", kind.met, kind.judged);
    return text;
}

} // namespace

std::string markedOrNot(const SpecimenInput& input)
{
    return noteOf(input, "marking").empty() ? "unmarked" : "marked";
}

Expected<Outcome> evaluateProofSet(const SetInput& set)
{
    Outcome out;
    ToldGroup parts{.heading = "each part", .rows = {}, .note = {}};
    std::map<std::string, KindOf> kinds;
    for (size_t i = 0; i < set.inputs.size(); ++i) {
        const Outcome* one = set.outcomes[i];
        if (!one || (!valueOf(*one, "F_max") && !valueOf(*one, "set_1")))
            continue;
        parts.rows.push_back({.label = set.inputs[i]->label + ", " + markedOrNot(*set.inputs[i]),
                              .words = sentenceOf(*one),
                              .state = stateOf(*one),
                              .more = {}});
        add(kinds[markedOrNot(*set.inputs[i])], *set.inputs[i], *one);
    }
    if (parts.rows.empty())
        return out;
    ToldGroup byKind{
        .heading = "each kind",
        .rows = {},
        .note = "What a part may still be used for is not decided here: a competent person and local rules do. "
                "Pulled parts are scrap."};
    for (const auto& [name, kind] : kinds)
        byKind.rows.push_back(
            {.label = fmt::format("{}, {}", name, kind.count), .words = kindWords(kind), .state = {}, .more = {}});
    out.told = {std::move(byKind), std::move(parts)};
    return out;
}

} // namespace fortitor
