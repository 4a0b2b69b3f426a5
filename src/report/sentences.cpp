// SPDX-License-Identifier: GPL-3.0-or-later
// What a report says in sentences: what was wanted, of the lot, of the set, of each verdict.
#include "report/report.h"
#include "report/sentences.h"

#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>

namespace fortitor {

std::string limitText(const Requirement& r, const ResultSpec& spec)
{
    const auto one = [&](const char* sign, std::optional<double> v) {
        return v ? std::string(sign) + " " + formatSignificant(showValue(spec, v, 0, RoundingRule::FourDigits).value, 6)
                 : std::string();
    };
    std::string text = one("≥", r.min);
    const std::string top = one("≤", r.max);
    if (!text.empty() && !top.empty())
        text += ", ";
    text += top;
    // Trailing zeros of the figure say nothing here.
    std::string out;
    for (size_t i = 0; i < text.size();) {
        size_t k = i;
        while (k < text.size() && (std::isdigit(static_cast<unsigned char>(text[k])) || text[k] == '.'))
            ++k;
        if (k == i) {
            out += text[i++];
            continue;
        }
        out += fmt::format("{:g}", std::stod(text.substr(i, k - i)));
        i = k;
    }
    return out;
}

std::vector<std::string> readingLines(const Outcome& outcome)
{
    std::vector<std::string> counted, aside, lines;
    std::string_view unit;
    for (const SingleReading& one : outcome.readings) {
        if (!one.value)
            continue;
        unit = one.unit->symbol;
        (one.setAside ? aside : counted).push_back(formatSignificant(*one.value, *one.value < 100 ? 3 : 4));
    }
    if (!counted.empty() || !aside.empty())
        lines.push_back(fmt::format("{} {}{}", fmt::join(counted, ", "), unit,
                                    aside.empty() ? "" : fmt::format("; set aside {}", fmt::join(aside, ", "))));
    for (const ReadingGroup& group : outcome.groups)
        lines.push_back(
            fmt::format("{}: mean {} of {}{}, {} to {} {}", group.name, formatSignificant(group.mean, 4),
                        group.values.size(), group.values.size() > 1 ? ", s " + formatSignificant(group.sd, 2) : "",
                        formatSignificant(group.least, 4), formatSignificant(group.greatest, 4), group.unit->symbol));
    return lines;
}

std::string wantedText(const Job& job)
{
    std::string text;
    for (const Requirement& r : job.requirements) {
        if (!r.ofSpecimen())
            continue;
        const ResultSpec spec = specFor(*job.method, r.symbol);
        const auto unit = showValue(spec, 0.0, 0).unit;
        text += (text.empty() ? "" : " · ") + symbolText(r.symbol) + " " + limitText(r, spec)
            + (unit.empty() ? "" : " " + unit);
    }
    for (const AcceptanceRule& rule : job.rules)
        text += (text.empty() ? "" : " · ") + rule.name;
    return text;
}

std::string lotSentence(const Job& job, const JobOutcome& outcome)
{
    std::string text;
    for (const LotCheck& c : outcome.lot) {
        const ResultSpec spec = specFor(*job.method, c.symbol);
        const auto shown = [&](double base) {
            const auto v = showValue(spec, base, 0);
            return v.text + (v.unit.empty() ? "" : " " + v.unit);
        };
        const std::string what = fmt::format("{}{} {}", text.empty() ? "" : " ", c.bound ? "Lower bound of" : "Mean of",
                                             symbolText(c.symbol));
        if (!c.value)
            text += fmt::format("{}: open, {}.", what, c.why);
        else
            text += fmt::format("{} {}, {} at least {}.", what, shown(*c.value),
                                c.verdict == Verdict::Pass ? "meets" : "does not meet", shown(c.limit));
    }
    return text;
}

std::string setSentence(const Job& job, const JobOutcome& outcome)
{
    std::string text;
    for (const Check& c : outcome.setChecks) {
        const ResultSpec spec = specFor(*job.method, c.requirement.symbol);
        const auto shown = showValue(spec, c.value, 0);
        text += (text.empty() ? "" : " ")
            + fmt::format("{} of the set is {}{}{}, {}{}{} is wanted: {}.", symbolText(c.requirement.symbol),
                          shown.text, shown.unit.empty() ? "" : " ", shown.unit, limitText(c.requirement, spec),
                          shown.unit.empty() ? "" : " ", shown.unit, verdictName(c.verdict));
    }
    return text;
}

std::string verdictSentence(const Job& job, const JobOutcome& outcome)
{
    std::string lot = lotSentence(job, outcome);
    if (const std::string set = setSentence(job, outcome); !set.empty())
        lot = lot.empty() ? set : set + " " + lot;
    const auto ofSet = [&](const std::string& symbol) {
        return specFor(*job.method, symbol).of == ResultSpec::Of::Set;
    };
    const bool onlySet = !job.requirements.empty() && std::ranges::all_of(job.requirements, [&](const Requirement& r) {
        return !r.ofSpecimen() || ofSet(r.symbol);
    });
    if (onlySet && !lot.empty())
        return lot;
    size_t pass = 0;
    size_t fail = 0;
    size_t counted = 0;
    std::string failing;
    std::string open;
    size_t waiting = 0;
    for (const SpecimenOutcome& s : outcome.specimens) {
        if (!s.excludedBecause.empty() || (s.outcome && s.outcome->apart))
            continue;
        ++counted;
        pass += s.verdict == Verdict::Pass;
        fail += s.verdict == Verdict::Fail;
        if (s.verdict == Verdict::Fail) {
            std::string why;
            for (const Check& c : s.checks)
                if (c.verdict == Verdict::Fail) {
                    const auto shown = showValue(specFor(*job.method, c.requirement.symbol), c.value, 0);
                    why += (why.empty() ? "" : ", ") + symbolText(c.requirement.symbol) + " " + shown.text
                        + (shown.unit.empty() ? "" : " " + shown.unit);
                }
            if (s.outcome)
                for (const RuleVerdict& rule : s.outcome->rules)
                    if (rule.says == RuleVerdict::Says::Failed)
                        why += (why.empty() ? "" : ", ") + rule.name;
            failing += (failing.empty() ? "" : ", ") + s.label + " (" + why + ")";
        } else if (s.verdict == Verdict::Open) {
            ++waiting;
            if (waiting <= 6)
                open += (open.empty() ? "" : ", ") + s.label;
        }
    }
    const std::string wanted = wantedText(job);
    if (wanted.empty() && !lot.empty())
        return lot;
    if (wanted.empty())
        return "No requirement is set, so nothing is judged. Say on Plan what is wanted.";
    if (counted == 0)
        return "No specimen counts yet.";
    std::string text = fmt::format("{} of {} meet {}.", pass, counted, wanted);
    if (pass == counted)
        text = fmt::format("All {} meet {}.", counted, wanted);
    if (fail > 0)
        text += fmt::format(" Not met by {}.", failing);
    if (!open.empty())
        text += fmt::format(" Still open: {}{}.", open, waiting > 6 ? fmt::format(" and {} more", waiting - 6) : "");
    if (!lot.empty())
        text += " " + lot;
    return text;
}

} // namespace fortitor
