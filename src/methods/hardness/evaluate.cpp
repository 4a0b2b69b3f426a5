// SPDX-License-Identifier: GPL-3.0-or-later
// The figures of a piece or a block from its indents.
#include "methods/hardness/hardness.h"

#include "judge/statistics.h"
#include "methods/common/figures.h"
#include "methods/hardness/block.h"
#include "methods/hardness/conversion.h"
#include "methods/hardness/notation.h"
#include "methods/hardness/readings.h"
#include "methods/hardness/spacing.h"
#include "methods/hardness/traverse.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

namespace fortitor {
namespace {

/// All that is known of a piece while its figures are worked out.
struct Piece {
    Figures& f;
    const HardnessSetting& setting;
    std::vector<PieceIndent> indents;
    std::optional<Quantity> block; ///< the number stamped on it, when it is a reference block

    [[nodiscard]] const SpecimenInput& input() const { return f.input; }
    [[nodiscard]] std::vector<const PieceIndent*> counted() const
    {
        std::vector<const PieceIndent*> all;
        for (const PieceIndent& one : indents)
            if (one.counts())
                all.push_back(&one);
        return all;
    }
    [[nodiscard]] bool isTraverse() const
    {
        return std::ranges::any_of(indents, [](const PieceIndent& one) { return one.fromSurface.has_value(); });
    }
};

const std::vector<std::string> ofTheMean{"H", "H_sd", "H_min", "H_max"};

/// "Indents 2, 5 and 7"
std::string indentWords(const std::vector<size_t>& numbers)
{
    if (numbers.size() == 1)
        return fmt::format("Indent {}", numbers.front());
    std::string words = "Indents ";
    constexpr size_t most = 8;
    for (size_t i = 0; i < std::min(numbers.size(), most); ++i)
        words += (i == 0 ? "" : i + 1 == numbers.size() ? " and " : ", ") + std::to_string(numbers[i]);
    return numbers.size() > most ? words + fmt::format(" and {} more", numbers.size() - most) : words;
}

/// The remarks of the indents, each code once, with the indents that it concerns.
void remarkIndents(Piece& piece)
{
    std::vector<std::pair<const Remark*, std::vector<size_t>>> seen;
    for (const PieceIndent& one : piece.indents)
        for (const Remark& r : one.reading.remarks) {
            const auto it = std::ranges::find(seen, r.code, [](const auto& s) { return s.first->code; });
            if (it == seen.end())
                seen.push_back({&r, {one.number}});
            else if (it->second.back() != one.number)
                it->second.push_back(one.number);
        }
    for (const auto& [first, numbers] : seen) {
        Remark all = *first;
        all.text = indentWords(numbers) + (numbers.size() == 1 ? "" : fmt::format(". Indent {}", numbers.front()))
            + ": " + first->text;
        piece.f.outcome.remarks.push_back(std::move(all));
    }
}

/// A round piece gives way sideways; numbers are put right by what the laboratory states.
void correctCurved(Piece& piece)
{
    if (!piece.setting.cylinder)
        return;
    const double by = piece.setting.curvature;
    const bool rockwell = piece.setting.scale->by == HardnessScale::By::Rockwell;
    if (by == 0) {
        piece.f.remark(
            "curved-not-corrected", Severity::Caution, ofTheMean,
            "The piece is round, and no correction is stated: the numbers are lower than those of a flat one.",
            "State the correction of the laboratory's table for this diameter.", "curved_by");
        return;
    }
    for (PieceIndent& one : piece.indents) {
        if (!one.reading.read)
            continue;
        const Term c = Term::leaf("c", by, baseUnit(Kind::Number), 0, {}, "correction for the round");
        const Term& was = *one.reading.read;
        one.reading.read = (rockwell ? was + c : was * c)
                               .named(was.node().symbol, *piece.setting.unit, "hardness, put right for the round");
        one.reading.notation = hardnessNotation(*piece.setting.scale, one.reading.read->value(), piece.setting.pressed);
    }
}

/// What the tester itself may be off by, where nothing better is known than the limits of its block check.
Term testerOffset(const Piece& piece, double number, double across)
{
    const double limit = blockLimits(*piece.setting.scale, number, across).error;
    return Term::leaf("", 0, *piece.setting.unit, limit / rectangle,
                      "tester, within the limits of its block check (assumed)");
}

double meanAcross(const std::vector<const PieceIndent*>& counted)
{
    double sum = 0;
    for (const PieceIndent* one : counted)
        sum += one->reading.across / static_cast<double>(counted.size());
    return sum;
}

/// Mean, scatter, least and greatest of the indents that count.
void readMean(Piece& piece)
{
    Figures& f = piece.f;
    const auto counted = piece.counted();
    if (counted.empty()) {
        f.sayMissing(ofTheMean, "no-readings", "There is no reading that counts.", "Key the readings on Indent.");
        return;
    }
    std::vector<size_t> without;
    for (const PieceIndent* one : counted)
        if (!one->reading.read)
            without.push_back(one->number);
    if (!without.empty()) // their remarks say why, and reject
        return;
    std::vector<Term> terms;
    std::vector<double> values;
    for (const PieceIndent* one : counted) {
        terms.push_back(*one->reading.read);
        values.push_back(one->reading.read->value());
    }
    const SetStatistics s = setStatistics(values);
    const Unit& unit = *piece.setting.unit;
    constexpr size_t printed = 12;
    const Term mean = terms.size() <= printed
        ? Term::mean(terms)
        : Term::leaf("H", s.mean, unit, 0, {}, "mean").on(fmt::format("{} indents", values.size()));
    const double scatter = values.size() > 1 ? s.sd / std::sqrt(static_cast<double>(values.size())) : 0;
    const Term scattered = Term::leaf("", 0, unit, scatter, {"scatter of the indents", SourceKind::Noise});
    const auto plain = [&](const char* symbol, double value, const char* words) {
        f.set(symbol, Term::leaf(symbol, value, unit, 0, {}, words));
    };
    if (piece.isTraverse()) {
        f.notApplicable({"H", "H_sd"}, "The readings go across a case; their mean would say nothing of the piece.");
    } else {
        f.set("H",
              (mean + scattered + testerOffset(piece, s.mean, meanAcross(counted)))
                  .named("H", unit, fmt::format("mean of {} indents", values.size()), "", 5));
        if (values.size() > 1)
            plain("H_sd", s.sd, "standard deviation of the indents");
        else
            f.notApplicable({"H_sd"}, "One reading has no scatter.");
    }
    plain("H_min", s.min, "least");
    plain("H_max", s.max, "greatest");
    constexpr double oneKgf = 9.80665;
    const bool micro =
        piece.setting.scale->by != HardnessScale::By::Rockwell && piece.setting.pressed.force < 0.99 * oneKgf;
    if (micro && values.size() < 5 && !piece.isTraverse())
        f.remark("few-readings", Severity::Caution, {"H"},
                 fmt::format("{} indents under 1 kgf; five or more are wanted, for they scatter.", values.size()),
                 "Make more of them.");
}

/// The limit by the option, and its words.
Expected<CaseLimit> caseLimitOf(const SpecimenInput& input, const HardnessSetting& setting)
{
    const std::string text = optionOr(input, "case_limit", "550 HV");
    CaseLimit limit;
    std::string number = text;
    if (text.starts_with("core")) {
        limit.aboveCore = true;
        const size_t plus = text.find('+');
        if (plus == std::string::npos)
            return Problem{"options.case_limit", '"' + text + '"', "\"550 HV\" or \"core +50 HV\"", {}};
        number = text.substr(plus + 1);
    }
    auto read = parseQuantity(number, Kind::Hardness, setting.unit);
    if (!read || !(read->base > 0)) {
        if (!read && optionOr(input, "case_limit", "").empty()) { // the usual one belongs to HV
            limit.number = 0;
            return limit;
        }
        return Problem{"options.case_limit",
                       '"' + text + '"',
                       "\"550 HV\" or \"core +50 HV\", in the scale that is read, " + std::string(setting.unit->symbol),
                       {}};
    }
    limit.number = read->base;
    return limit;
}

Traverse traverseOf(const Piece& piece)
{
    Traverse traverse;
    for (const PieceIndent* one : piece.counted())
        if (one->fromSurface && one->reading.read)
            traverse.push_back({one->number, *one->fromSurface, *one->reading.read});
    return traverse;
}

void remarkTraverse(Piece& piece, Traverse& traverse)
{
    Figures& f = piece.f;
    if (!std::ranges::is_sorted(traverse, {}, &TraversePoint::depth)) {
        std::ranges::stable_sort(traverse, {}, &TraversePoint::depth);
        f.remark("traverse-order", Severity::Note, {"CHD"},
                 "The indents were not keyed in the order of their depth; they are read in that order.",
                 "Is every depth keyed right?");
    }
    for (size_t i = 1; i < traverse.size(); ++i)
        if (traverse[i].depth == traverse[i - 1].depth) {
            f.remark("traverse-order", Severity::Caution, {"CHD"},
                     fmt::format("Indents {} and {} are at the same depth, {} mm.", traverse[i - 1].number,
                                 traverse[i].number, formatSignificant(traverse[i].depth, 3)),
                     "Was one of them keyed wrong?");
            break;
        }
    if (const auto odd = oddPoints(traverse); !odd.empty())
        f.remark("traverse-point", Severity::Caution, {"CHD"},
                 indentWords(odd) + (odd.size() == 1 ? " stands" : " stand") + " apart from the neighbours.",
                 "Look at it again: a scratch, an inclusion, or a wrong figure.");
}

ScatterView profileView(const Piece& piece, const Traverse& traverse, std::optional<double> limit)
{
    ScatterView view{.xAxis = {"depth", Kind::Length},
                     .yAxis = {std::string(piece.setting.unit->symbol), Kind::Number}};
    for (const PieceIndent& one : piece.indents)
        if (one.fromSurface && one.value())
            view.points.push_back(
                {.x = *one.fromSurface, .y = *one.value(), .label = std::to_string(one.number), .left = !one.counts()});
    FittedLine line{.label = "between neighbours"};
    for (const TraversePoint& p : traverse) {
        line.x.push_back(p.depth);
        line.y.push_back(p.hardness.value());
    }
    if (!traverse.empty())
        view.lines.push_back(line);
    if (limit && !traverse.empty())
        view.lines.push_back({.label = fmt::format("limit {}", formatSignificant(*limit, 4)),
                              .x = {0, traverse.back().depth},
                              .y = {*limit, *limit}});
    return view;
}

Expected<Done> readTraverse(Piece& piece)
{
    Figures& f = piece.f;
    if (!piece.isTraverse()) {
        f.notApplicable({"CHD"}, "The readings have no depth below the surface.");
        return Done{};
    }
    const auto asked = caseLimitOf(f.input, piece.setting);
    if (!asked)
        return asked.problem();
    Traverse traverse = traverseOf(piece);
    remarkTraverse(piece, traverse);
    if (std::ranges::any_of(piece.counted(), [](const PieceIndent* one) { return !one->fromSurface; }))
        f.remark("traverse-order", Severity::Caution, {"CHD"}, "Some of the readings have no depth; they are left out.",
                 "Key the depth of each.");
    const auto limit = asked->number > 0 ? limitOf(*asked, traverse) : std::nullopt;
    if (!(asked->number > 0)) {
        f.notApplicable({"CHD"}, "No limit of the case is stated for this scale.");
    } else if (!limit) {
        f.sayMissing({"CHD"}, "case-not-crossed", "Too few points to tell the core by: five or more are wanted.",
                     "Go on into the core.");
    } else {
        const double middle = traverse.empty() ? 0 : traverse[traverse.size() / 2].hardness.value();
        const double share =
            middle > 0 ? blockLimits(*piece.setting.scale, middle, meanAcross(piece.counted())).error / middle : 0;
        const Term tester = factorDoubt(share, "tester, within the limits of its block check (assumed)");
        if (const auto depth = caseDepth(traverse, *limit, tester))
            f.set("CHD", depth->named("CHD", baseUnit(Kind::Length), "deepest place at the limit", "ISO 18203"));
        else
            f.sayMissing({"CHD"}, "case-not-crossed",
                         fmt::format("The hardness does not fall through {} {} between two indents.",
                                     formatSignificant(*limit, 4), piece.setting.unit->symbol),
                         "Go on deeper, or begin nearer to the surface.");
    }
    f.outcome.views.emplace_back(profileView(piece, traverse, limit));
    return Done{};
}

/// The number of another scale by the tables, with the remark that it was looked up.
std::optional<Term> onScale(Piece& piece, const Result& H, std::string_view wanted, std::vector<Remark>& remarks)
{
    const HardnessScale& to = *findHardnessScale(wanted);
    if (piece.setting.scale == &to)
        return H.derivation;
    const auto converted = convertHardness(*H.value, *piece.setting.scale, to);
    if (!converted)
        return std::nullopt;
    remarks.insert(remarks.end(), converted->remarks.begin(), converted->remarks.end());
    const double relative = H.budget.expanded > 0 ? H.budget.expanded / 2 / *H.value : 0;
    return Term::leaf(std::string(wanted), converted->value, unitOf(to), converted->value * relative,
                      "the hardness it was converted from", "by table: " + converted->table);
}

/// The tensile strength of plain steels, by both factors in use.
void estimateStrength(Piece& piece)
{
    Figures& f = piece.f;
    const std::vector<std::string> both{"Rm_from_HBW", "Rm_from_HV"};
    if (piece.block || piece.isTraverse())
        return f.notApplicable(both,
                               piece.block ? "A reference block's strength is not asked."
                                           : "The readings go across a case; one strength does not tell of it.");
    const MaterialFamily family = familyOf(f.input);
    if (family == MaterialFamily::Unknown) {
        f.sayMissing(both, "family-unknown",
                     "The kind of material is not known; the estimate holds for plain steels only.",
                     "State the kind of material on Plan.", "family");
        return;
    }
    if (family != MaterialFamily::PlainSteel)
        return f.notApplicable(both,
                               "The estimate holds for plain steels, not for austenitic or cold-worked ones or "
                               "other materials.");
    const Result* H = f.outcome.find("H");
    if (!H || !H->value)
        return f.sayMissing(both, "no-readings", "Without a mean there is no estimate of the strength.", "");
    std::vector<Remark> remarks;
    for (const auto& [name, scale, factor, written] : strengthFactors()) {
        const std::string symbol(name);
        constexpr double tenPercent = 0.05; // standard, so that twice of it is ten
        if (const auto number = onScale(piece, *H, scale, remarks)) {
            const Term k = Term::leaf(std::string(written), factor, MPa(), tenPercent * factor,
                                      "the estimate itself, ±10 %", "strength of one number");
            f.set(symbol, (k * *number).named(symbol, MPa(), "estimate for plain steels", "practice; ±10 %"));
        } else {
            f.sayMissing({symbol}, "not-converted",
                         fmt::format("{} {} stands in no table to {}.", formatSignificant(*H->value, 4),
                                     H->unit->symbol, scale),
                         "");
        }
    }
    for (Remark& r : remarks)
        if (!f.outcome.remarked(r.code)) {
            r.symbols = both;
            f.outcome.remarks.push_back(std::move(r));
        }
}

/// Error and spread on a reference block against their limits.
Expected<Done> readBlock(Piece& piece)
{
    Figures& f = piece.f;
    const std::vector<std::string> both{"block_error", "block_spread"};
    if (!piece.block) {
        f.notApplicable(both, "It is no reference block.");
        return Done{};
    }
    const auto H = f.value("H");
    if (!H) {
        f.sayMissing(both, "no-readings", "Without readings there is no check.", "");
        return Done{};
    }
    const Unit& unit = *piece.setting.unit;
    const auto stated = blockLimitsOf(f.input, piece.setting, piece.block->base);
    if (!stated)
        return stated.problem();
    const BlockLimits limits = *stated;
    const Term stamped = Term::leaf("Hb", piece.block->base, unit, 0, {}, "number of the block");
    f.set("block_error",
          (*f.outcome.find("H")->derivation - stamped).named("block_error", unit, "mean less block", "", 4));
    f.set("block_spread",
          (Term::leaf("Hmax", *f.value("H_max"), unit, 0, {}, "greatest")
           - Term::leaf("Hmin", *f.value("H_min"), unit, 0, {}, "least"))
              .named("block_spread", unit, "greatest less least", "", 4));
    const double error = *f.value("block_error");
    const double spread = *f.value("block_spread");
    constexpr double byTheDigit = 1e-9;
    if (std::abs(error) > limits.error + byTheDigit)
        f.remark(
            "block-out-of-limits", Severity::Reject, {"H", "block_error"},
            fmt::format("The tester reads {} {} on a block of {}: the limit is ±{}.",
                        (error > 0 ? "+" : "") + formatFixed(error, 2), unit.symbol,
                        formatSignificant(piece.block->base, 4), formatSignificant(limits.error, 3)),
            "Clean the indenter and the anvil, seat them by two readings, and check again; else have it adjusted.");
    if (spread > limits.spread + byTheDigit)
        f.remark("block-out-of-limits", Severity::Reject, {"H", "block_spread"},
                 fmt::format("The readings on the block spread over {} {}: the limit is {}.", formatFixed(spread, 2),
                             unit.symbol, formatSignificant(limits.spread, 3)),
                 "Is the block seated flat and clean, and the indenter whole?");
    return Done{};
}

/// Where the indents stand, and otherwise the readings in their order.
void addViews(Piece& piece)
{
    const std::string unit(piece.setting.unit->symbol);
    MapView map{.value = {unit, Kind::Number}};
    ScatterView order{.xAxis = {"indent", Kind::Number}, .yAxis = {unit, Kind::Number}};
    for (const PieceIndent& one : piece.indents) {
        if (!one.value())
            continue;
        order.points.push_back({.x = static_cast<double>(one.number),
                                .y = *one.value(),
                                .label = std::to_string(one.number),
                                .left = !one.counts()});
        if (one.x && one.y)
            map.points.push_back({*one.x, *one.y, *one.value(), std::to_string(one.number), !one.counts()});
    }
    if (!piece.isTraverse() && !order.points.empty())
        piece.f.outcome.views.emplace_back(std::move(order));
    if (!map.points.empty())
        piece.f.outcome.views.emplace_back(std::move(map));
}

void listReadings(Piece& piece)
{
    for (const PieceIndent& one : piece.indents) {
        SingleReading& single = piece.f.outcome.readings.emplace_back();
        single.value = one.value();
        single.unit = piece.setting.unit;
        single.notation = one.reading.notation;
        single.setAside = one.setAside || one.missed;
        single.remarks = one.reading.remarks;
    }
}

/// Statistics of each part of the piece, of the indents that count.
void groupByZones(Piece& piece)
{
    for (const auto& [name, numbers] : piece.f.input.zones) {
        ReadingGroup group{.name = name, .unit = piece.setting.unit};
        for (const size_t number : numbers) {
            if (number == 0 || number > piece.indents.size())
                continue;
            const PieceIndent& one = piece.indents[number - 1];
            if (one.counts() && one.value()) {
                group.readings.push_back(number);
                group.values.push_back(*one.value());
            }
        }
        if (group.values.empty())
            continue;
        const SetStatistics s = setStatistics(group.values);
        group.mean = s.mean;
        group.sd = s.sd;
        const auto ends = std::ranges::minmax(group.values);
        group.least = ends.min;
        group.greatest = ends.max;
        piece.f.outcome.groups.push_back(std::move(group));
    }
}

void nameMissed(Piece& piece)
{
    for (PieceIndent& one : piece.indents)
        if (one.missed)
            one.reading.remarks.push_back(
                {"reading-missed", Severity::Note, {}, "Not read, or only in part; it is left out.", {}, {}});
}

} // namespace

Expected<Outcome> evaluateHardness(const SpecimenInput& input)
{
    static const Method method = hardness();
    if (auto ok = checkOptions(input, method); !ok)
        return ok.problem();
    const auto setting = settingOf(input);
    if (!setting)
        return setting.problem();
    Figures f(input);
    f.begin(method);
    for (const char* symbol : {"H", "H_sd", "H_min", "H_max", "block_error", "block_spread"})
        std::ranges::find(f.outcome.results, symbol, &Result::symbol)->unit = setting->unit;
    auto indents = indentsOf(input, *setting);
    if (!indents)
        return indents.problem();
    Piece piece{f, *setting, std::move(*indents), {}};
    if (const std::string stamped = noteOf(input, "block"); !stamped.empty()) {
        auto block = parseQuantity(stamped, Kind::Hardness, setting->unit);
        if (!block || !(block->base > 0))
            return Problem{input.label + ", notes.block", '"' + stamped + '"',
                           "the number stamped on the block, in " + std::string(setting->unit->symbol),
                           block ? std::string() : block.problem().advice};
        piece.block = *block;
        f.outcome.apart = true;
    }
    if (setting->steelBall)
        f.remark("steel-ball", Severity::Note, {"H"}, "An old record with a ball of steel: numbers above 350 read low.",
                 "They are not to be mixed with those of a hard-metal ball.");
    if (setting->shopRule)
        f.remark(
            "spacing-shop", Severity::Caution, {"H"},
            "Indents are allowed two sizes apart, the looser rule of the shop; the standard asks for three or more.",
            "Say so in the report.", "spacing");
    nameMissed(piece);
    setSeatingAside(input, *setting, piece.indents);
    checkPlaces(*setting, pieceSizeOf(input), piece.indents);
    correctCurved(piece);
    remarkIndents(piece);
    readMean(piece);
    if (auto ok = readTraverse(piece); !ok)
        return ok.problem();
    if (auto ok = readBlock(piece); !ok)
        return ok.problem();
    estimateStrength(piece);
    addViews(piece);
    listReadings(piece);
    groupByZones(piece);
    f.sayMissing({"H", "H_sd", "H_min", "H_max"}, "no-readings", "There is no mean without readings that count.", "");
    f.sayRest();
    return std::move(f.outcome);
}

Expected<Outcome> evaluateHardnessSet(const SetInput& set)
{
    Outcome outcome;
    std::vector<std::string> since; // pieces read since the last good check
    std::vector<std::string> marked;
    std::string bad;
    for (size_t i = 0; i < set.inputs.size(); ++i) {
        const SpecimenInput& input = *set.inputs[i];
        if (noteOf(input, "block").empty()) {
            since.push_back(input.label);
            continue;
        }
        const Outcome* check = set.outcomes[i];
        if (!check || !check->find("H") || !check->find("H")->value)
            continue;
        if (check->remarked("block-out-of-limits")) {
            marked.insert(marked.end(), since.begin(), since.end());
            bad = input.label;
        }
        since.clear();
    }
    if (!marked.empty())
        outcome.remarks.push_back(
            {"block-out-of-limits",
             Severity::Reject,
             {"H"},
             fmt::format("The check on block {} was out of its limits. Read since the last good one: {}.", bad,
                         fmt::join(marked, ", ")),
             "Put the tester right, check it, and read these again.",
             {}});
    return outcome;
}

} // namespace fortitor
