// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/report.h"

#include "jobs/rules.h"
#include "report/sentences.h"

#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>

namespace fortitor {
namespace {

/// Headline results that the set has, the ones asked for first in their place.
std::vector<std::string> columnsOf(const Job& job, const JobOutcome& outcome)
{
    std::vector<std::string> symbols;
    const auto known = [&](const std::string& symbol) {
        return std::ranges::any_of(outcome.specimens, [&](const SpecimenOutcome& s) {
            const Result* r = s.outcome ? s.outcome->find(symbol) : nullptr;
            return r && r->value;
        });
    };
    const auto asked = [&](const std::string& symbol) {
        return std::ranges::find(job.requirements, symbol, &Requirement::symbol) != job.requirements.end();
    };
    for (const ResultSpec& spec : job.method->results)
        if (spec.of == ResultSpec::Of::Specimen && (asked(spec.symbol) || (spec.headline && known(spec.symbol))))
            symbols.push_back(spec.symbol);
    for (const Requirement& r : job.requirements)
        if (specFor(*job.method, r.symbol).of == ResultSpec::Of::Specimen
            && std::ranges::find(symbols, r.symbol) == symbols.end())
            symbols.push_back(r.symbol);
    return symbols;
}

std::vector<std::string> dimensionTexts(const Specimen& s, const Method& method)
{
    std::vector<std::string> out;
    for (const FieldSpec& field : method.fields) {
        const auto it = s.input.dimensions.find(field.key);
        if (it == s.input.dimensions.end())
            continue;
        std::vector<std::string> values;
        for (const Quantity& q : it->second)
            values.push_back(q.text);
        out.push_back(field.label + " " + fmt::format("{}", fmt::join(values, ", ")));
    }
    return out;
}

void addColumns(Report& report, const Job& job, const std::vector<std::string>& symbols)
{
    for (const std::string& symbol : symbols) {
        const ResultSpec spec = specFor(*job.method, symbol);
        ReportColumn column{symbol, showValue(spec, 0.0, 0, report.choices.rounding, report.choices.units).unit, {}};
        if (column.unit == "1")
            column.unit.clear();
        const auto r = std::ranges::find(job.requirements, symbol, &Requirement::symbol);
        if (r != job.requirements.end())
            column.wanted = limitText(*r, spec);
        report.columns.push_back(column);
    }
}

ReportRow rowOf(const Job& job, const Specimen& specimen, const SpecimenOutcome& s, const ReportChoices& choices,
                const std::vector<std::string>& symbols)
{
    ReportRow row;
    row.label = s.label;
    row.verdict = verdictName(s.verdict);
    row.excludedBecause = s.excludedBecause;
    row.problem = s.problem ? s.problem->text() : "";
    row.dimensions = dimensionTexts(specimen, *job.method);
    for (const std::string& symbol : symbols) {
        ReportCell cell;
        const Result* r = s.outcome ? s.outcome->find(symbol) : nullptr;
        if (r && r->value) {
            const auto shown = showFigure(specFor(*job.method, symbol), *r, choices.rounding, choices.units);
            cell = {shown.text, shown.value, true, false, shown.uncertainty};
            // A number of another scale than the column's says so, and is no figure of that column.
            if (r->unit->kind == Kind::Hardness && r->unit->symbol != specFor(*job.method, symbol).unit)
                cell = {shown.text + " " + shown.unit, 0, false, false, {}};
        }
        for (const Check& c : s.checks)
            cell.failed |= c.requirement.symbol == symbol && c.verdict == Verdict::Fail;
        row.cells.push_back(cell);
    }
    return row;
}

/// Remarks, curve and derivations of one specimen.
void addOutcome(Report& report, const Job& job, const Specimen& specimen, const SpecimenOutcome& s)
{
    for (const Remark& remark : s.outcome->remarks) {
        ReportRemark out{s.label, remark, {}};
        const auto settled = std::ranges::find(specimen.settled, remark.code, &Settlement::code);
        if (settled != specimen.settled.end())
            out.settledBy = fmt::format("accepted by {}{}: {}", settled->who,
                                        settled->when.empty() ? "" : ", " + settled->when, settled->why);
        if (remark.severity != Severity::Note || !out.settledBy.empty() || remark.code == "extensometer-removed")
            report.remarks.push_back(std::move(out));
    }
    if (report.choices.curves && s.outcome->curve() && s.excludedBecause.empty())
        report.curves.push_back({s.label, s.outcome->curve()});
    if (report.choices.derivations)
        for (const Result& r : s.outcome->results)
            if (r.derivation) {
                const auto shown = showFigure(specFor(*job.method, r.symbol), r);
                report.derivations.push_back(
                    {s.label, r.symbol, workingLines(*r.derivation), r.budget, shown.perBase, shown.unit});
            }
}

/// What the method gives of the set as a whole.
void addSet(Report& report, const Job& job, const JobOutcome& outcome)
{
    for (const Result& r : outcome.set->results) {
        const ResultSpec spec = specFor(*job.method, r.symbol);
        const auto shown = showFigure(spec, r, report.choices.rounding, report.choices.units);
        ReportSetFigure figure{r.symbol,
                               spec.name,
                               shown.text,
                               shown.unit,
                               shown.interval.empty() ? shown.uncertainty : shown.interval,
                               {},
                               {},
                               whyMissing(*outcome.set, r.symbol)};
        for (const Check& c : outcome.setChecks)
            if (c.requirement.symbol == r.symbol) {
                figure.wanted = limitText(c.requirement, spec);
                figure.verdict = verdictName(c.verdict);
            }
        report.set.push_back(std::move(figure));
        if (report.choices.derivations && r.derivation)
            report.derivations.push_back(
                {"set", r.symbol, workingLines(*r.derivation), r.budget, shown.perBase, shown.unit});
    }
    for (const Remark& remark : outcome.set->remarks)
        if (remark.severity != Severity::Note)
            report.remarks.push_back({"set", remark, {}});
}

/// How a required figure is spread; nothing of few, where nothing can be said about it.
std::optional<std::string> scatterLine(const Job& job, const SetFigure& f, const ReportChoices& choices)
{
    if (f.statistics.n < 8 || !f.bounds)
        return {};
    const ResultSpec spec = specFor(*job.method, f.symbol);
    const auto shown = [&](double own) {
        const auto v = showValue(spec, f.unit->toBase(own), 0, choices.rounding);
        return v.text + (v.unit.empty() ? "" : " " + v.unit);
    };
    std::string line = fmt::format("{}: with 95 % confidence 90 % of all lie above {} (B), 99 % above {} (A).",
                                   symbolText(f.symbol), shown(f.bounds->b), shown(f.bounds->a));
    if (f.normality && f.normality->doubted())
        line = fmt::format("{}: not normally spread (Anderson–Darling p = {}); no tolerance bounds are given.",
                           symbolText(f.symbol), formatSignificant(f.normality->p, 2));
    if (const std::string from = scatterSentence(f); !from.empty())
        line += " " + from;
    return line;
}

/// The rows under the table: a figure of the set in the unit of its column, a spread with two figures.
void addStatistics(Report& report, const Job& job, const std::vector<SetFigure>& batch,
                   const std::vector<std::string>& symbols, const std::string& of)
{
    if (!job.method->averaged)
        return;
    enum class As { Figure, Spread, Percent };
    struct Statistic {
        const char* name;
        double SetStatistics::*value;
        size_t least; ///< specimens
        As as;
    };
    constexpr Statistic rows[] = {{"mean", &SetStatistics::mean, 1, As::Figure},
                                  {"s", &SetStatistics::sd, 2, As::Spread},
                                  {"CV, %", &SetStatistics::cvPercent, 2, As::Percent},
                                  {"± 95 %", &SetStatistics::ciHalfWidth, 2, As::Spread}};
    const auto& rounding = report.choices.rounding;
    const auto& units = report.choices.units;
    for (const Statistic& row : rows) {
        std::vector<std::string> texts;
        for (const std::string& symbol : symbols) {
            const auto it = std::ranges::find(batch, symbol, &SetFigure::symbol);
            const bool unknown =
                it != batch.end() && it->statistics.atLeast > 0 && row.value == &SetStatistics::ciHalfWidth;
            if (it == batch.end() || it->statistics.n < row.least || unknown) {
                texts.emplace_back("–");
                continue;
            }
            const double v = it->statistics.*row.value;
            const ResultSpec spec = specFor(*job.method, symbol);
            if (row.as == As::Figure)
                texts.push_back(showValue(spec, it->unit->toBase(v), 0, rounding, units).text);
            else if (row.as == As::Percent)
                texts.push_back(formatSignificant(v, 2));
            else
                texts.push_back(
                    formatSignificant(v * it->unit->factor * showValue(spec, 0.0, 0, rounding, units).perBase, 2));
        }
        if (of.empty() || row.as != As::Percent) // of each lot mean and spread
            report.statistics.emplace_back(row.name + of, texts);
    }
}

} // namespace

Report makeReport(const Job& job, const JobOutcome& outcome, const ReportChoices& choices)
{
    Report report;
    report.choices = choices;
    report.number = job.number;
    report.title = job.title;
    report.material = job.materialName;
    report.method = job.method->name;
    report.standards = job.method->standards;
    report.wanted = wantedText(job);
    report.verdict = verdictSentence(job, outcome);
    const auto symbols = columnsOf(job, outcome);
    addColumns(report, job, symbols);
    for (size_t i = 0; i < outcome.specimens.size(); ++i) {
        report.rows.push_back(rowOf(job, job.specimens[i], outcome.specimens[i], choices, symbols));
        if (outcome.specimens[i].outcome)
            report.rows.back().readings = readingLines(*outcome.specimens[i].outcome);
        if (outcome.specimens[i].outcome)
            addOutcome(report, job, job.specimens[i], outcome.specimens[i]);
    }
    if (outcome.set)
        addSet(report, job, outcome);
    if (outcome.set && choices.curves && !outcome.set->views.empty())
        report.figure = &outcome.set->views.front();
    for (const Requirement& r : job.requirements) {
        const auto f = std::ranges::find(outcome.batch, r.symbol, &SetFigure::symbol);
        if (f != outcome.batch.end())
            if (auto line = scatterLine(job, *f, choices))
                report.scatter.push_back(std::move(*line));
    }
    const auto open = [&](const std::vector<SetFigure>& figures, const std::string& of) {
        for (const SetFigure& f : figures)
            if (f.statistics.atLeast > 0 && std::ranges::find(symbols, f.symbol) != symbols.end())
                report.scatter.push_back(fmt::format(
                    "{}{}: {} of {} are lower bounds; mean and s are those of a {} law fitted by likelihood.",
                    symbolText(f.symbol), of, f.statistics.atLeast, f.statistics.n, f.statistics.law));
    };
    open(outcome.batch, {});
    for (const LotFigures& lot : outcome.lots)
        open(lot.figures, " of " + lot.name);
    for (const AcceptanceRule& rule : job.rules)
        report.rules.push_back(rule.name + ": " + askedWords(rule) + " (" + sourceWords(rule) + ").");
    if (outcome.set)
        for (const ToldGroup& group : outcome.set->told)
            for (const ToldRow& row : group.rows)
                report.told.push_back(row.label + ": " + row.words);
    if (outcome.lots.empty())
        addStatistics(report, job, outcome.batch, symbols, {});
    for (const LotFigures& lot : outcome.lots)
        addStatistics(report, job, lot.figures, symbols, ", " + lot.name);
    if (!job.specimens.empty() && !job.method->intake.has(Intake::By::History)) {
        const Instruments& tools = job.specimens.front().input.instruments;
        report.instruments = {tools.forceName, tools.extensionName, tools.calliperName};
    }
    return report;
}

std::string reportCsv(const JobOutcome& outcome, const std::string& journal)
{
    const auto quoted = [](std::string s) {
        // A spreadsheet takes a text that begins so for a formula; a plain number stays one.
        if (!s.empty() && std::string_view("=+-@\t\r").find(s[0]) != std::string_view::npos && !parseNumber(s))
            s.insert(s.begin(), '\'');
        if (s.find_first_of(",\"\n\r") == std::string::npos)
            return s;
        std::string out = "\"";
        for (char c : s)
            out += c == '"' ? std::string("\"\"") : std::string(1, c);
        return out + "\"";
    };
    std::string out = "specimen";
    std::vector<std::pair<std::string, const Unit*>> symbols;
    for (const SpecimenOutcome& s : outcome.specimens)
        if (s.outcome)
            for (const Result& r : s.outcome->results)
                if (std::ranges::find(symbols, r.symbol, &std::pair<std::string, const Unit*>::first) == symbols.end())
                    symbols.emplace_back(r.symbol, r.unit);
    for (const auto& [symbol, unit] : symbols)
        out += "," + symbol + " (" + std::string(unit->symbol) + ")," + symbol + " U k=2";
    out += ",verdict,excluded\n";
    for (const SpecimenOutcome& s : outcome.specimens) {
        out += quoted(s.label);
        for (const auto& [symbol, unit] : symbols) {
            const Result* r = s.outcome ? s.outcome->find(symbol) : nullptr;
            out += ",";
            if (r && r->value)
                out += (r->bound == Result::Bound::AtLeast ? ">=" : "") + fmt::format("{}", unit->fromBase(*r->value));
            out += ",";
            if (r && r->value && r->budget.expanded > 0)
                out += fmt::format("{}", r->budget.expanded / unit->factor);
        }
        out += "," + std::string(verdictName(s.verdict)) + "," + quoted(s.excludedBecause) + "\n";
    }
    const auto line = [&](const char* name, auto value) {
        out += name;
        for (const auto& [symbol, unit] : symbols) {
            const auto it = std::ranges::find(outcome.batch, symbol, &SetFigure::symbol);
            out += ",";
            if (it != outcome.batch.end())
                out += value(it->statistics);
            out += ",";
        }
        out += ",,\n";
    };
    line("n", [](const SetStatistics& s) { return std::to_string(s.n); });
    line("mean", [](const SetStatistics& s) { return fmt::format("{}", s.mean); });
    line("s", [](const SetStatistics& s) { return s.n > 1 ? fmt::format("{}", s.sd) : std::string(); });
    line("CV %", [](const SetStatistics& s) { return s.n > 1 ? fmt::format("{}", s.cvPercent) : std::string(); });
    if (!journal.empty())
        out += quoted(journal) + std::string(2 * symbols.size() + 2, ',') + "\n";
    return out;
}

} // namespace fortitor
