// SPDX-License-Identifier: GPL-3.0-or-later
// Which scale, by what is known of the piece.
#include "methods/hardness/adviser.h"

#include "methods/common/figures.h"
#include "methods/hardness/conversion.h"
#include "methods/hardness/readings.h"
#include "methods/hardness/setting.h"
#include "methods/hardness/spacing.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace fortitor {
namespace {

using By = HardnessScale::By;

/// A scale with its force and ball, as laboratories have them.
struct Candidate {
    const HardnessScale* scale;
    double kgf = 0;
    double ball = 0;
};

std::vector<Candidate> candidates()
{
    std::vector<Candidate> all;
    for (const HardnessScale& scale : hardnessScales())
        if (scale.by == By::Rockwell)
            all.push_back({&scale});
    constexpr std::array<std::pair<double, double>, 9> balls{
        {{10, 3000}, {5, 750}, {2.5, 187.5}, {10, 1000}, {5, 250}, {2.5, 62.5}, {10, 500}, {5, 125}, {10, 250}}};
    for (const auto& [ball, kgf] : balls)
        all.push_back({findHardnessScale("HBW"), kgf, ball});
    for (const double kgf : {30.0, 10.0, 5.0, 1.0, 0.5, 0.3, 0.1})
        all.push_back({findHardnessScale("HV"), kgf});
    for (const double kgf : {1.0, 0.5, 0.1})
        all.push_back({findHardnessScale("HK"), kgf});
    return all;
}

/// 0.102·F/D² that belongs to a material at its hardness; 0 where every one will do.
double forceDegree(MaterialFamily family, double number)
{
    using enum MaterialFamily;
    switch (family) {
    case Iron: return number < 140 ? 10 : 30;
    case Copper: return number < 35 ? 5 : number <= 200 ? 10 : 30;
    case Light: return number < 35 ? 2.5 : number <= 80 ? 5 : 10;
    case PlainSteel:
    case OtherSteel: return 30;
    case Unknown:
    case Other: break;
    }
    return 0;
}

/// What is known and wanted.
struct Wish {
    std::optional<Quantity> expected;
    MaterialFamily family = MaterialFamily::Unknown;
    PieceSize size;
    std::string finish, asked;
    bool mayMark = true;
};

/// The number that is expected on a scale: as it was stated, or by the tables; nothing where none leads there.
std::optional<double> expectedOn(const HardnessScale& scale, const Wish& wish)
{
    const HardnessScale* from = findHardnessScale(wish.expected->unit->symbol);
    // For the choice of a scale the steel tables are near enough on other metals too.
    const auto by = [&](const HardnessScale& to) -> std::optional<double> {
        if (from == &to)
            return wish.expected->base;
        const auto there = from ? convertHardness(wish.expected->base, *from, to) : Expected<Converted>(Problem{});
        return there ? std::optional(there->value) : std::nullopt;
    };
    if (const auto there = by(scale))
        return there;
    const auto vickers = by(*findHardnessScale("HV"));
    if (vickers && scale.by == By::Brinell && *vickers > scale.highest)
        return vickers; // beyond the ball, whatever a table would say
    if (vickers && scale.by == By::Knoop) // long and short pyramid read alike over most of their range
        return vickers;
    return std::nullopt;
}

std::string mm(double value)
{
    return formatSignificant(value, 2) + " mm";
}

std::string bandWords(const HardnessScale& scale)
{
    if (scale.by == By::Brinell)
        return "up to 650";
    return scale.by == By::Rockwell ? fmt::format("{:g} to {:g}", scale.lowest, scale.highest) : "all";
}

/// Why a candidate falls away; empty where it will do.
std::string whyNot(const Candidate& one, const Wish& wish, double number, const IndentReading& sized)
{
    const HardnessScale& scale = *one.scale;
    if (scale.by == By::Rockwell && number < scale.lowest)
        return scale.ball > 0 ? fmt::format("too soft: under {:g}", scale.lowest)
                              : fmt::format("too soft for a cone: under {:g}", scale.lowest);
    if (scale.by == By::Rockwell && number > scale.highest)
        return fmt::format("too hard: over {:g}", scale.highest);
    if (scale.by == By::Brinell) {
        const double share = sized.across / one.ball;
        const double degree = one.kgf / (one.ball * one.ball);
        const double asked = forceDegree(wish.family, number);
        if (number > scale.highest)
            return "over 650 the ball gives way";
        if (share < 0.24 || share > 0.6)
            return share < 0.24 ? "the indent would be too small for the ball"
                                : "the indent would be too large for the ball";
        if (asked > 0 && std::abs(degree - asked) > 0.05 * asked)
            return fmt::format("force over ball squared is {:g}; this material wants {:g}", degree, asked);
        if (wish.family == MaterialFamily::Iron && one.ball < 2.5)
            return "cast iron wants a ball of 2.5 mm or more";
    }
    if (wish.size.thickness && *wish.size.thickness < sized.leastThickness)
        return fmt::format("through the piece: wants {}", mm(sized.leastThickness));
    if (wish.size.layer && *wish.size.layer < sized.leastThickness)
        return fmt::format("through the layer: wants {}", mm(sized.leastThickness));
    const bool pyramid = scale.by == By::Vickers || scale.by == By::Knoop;
    if (pyramid && wish.finish == "as made")
        return "wants a ground or polished surface";
    if (pyramid && one.kgf < 1 && wish.finish == "ground")
        return "below 1 kgf the surface must be polished";
    if (pyramid && sized.across < 0.020)
        return "the diagonal would be under 20 µm";
    constexpr double hardlySeen = 0.3; // mm
    if (!wish.mayMark && sized.across > hardlySeen)
        return fmt::format("leaves a mark of {}", mm(sized.across));
    return {};
}

HardnessSetting settingFor(const Candidate& one, const Wish& wish)
{
    HardnessSetting setting;
    setting.scale = one.scale;
    setting.unit = &unitOf(*one.scale);
    setting.pressed = {.force = one.kgf * findUnit("kgf", Kind::Force)->factor, .ball = one.ball};
    if (wish.family == MaterialFamily::Light && (one.scale->by == By::Vickers || one.scale->by == By::Knoop)) {
        setting.apart = 6;
        setting.fromEdge = 3;
    }
    return setting;
}

std::string nameOf(const Candidate& one)
{
    if (one.scale->by == By::Rockwell)
        return std::string(one.scale->name);
    if (one.scale->by == By::Brinell)
        return fmt::format("HBW {:g}/{:g}", one.ball, one.kgf);
    return fmt::format("{} {:g}", one.scale->name, one.kgf);
}

std::map<std::string, std::string> optionsFor(const Candidate& one)
{
    std::map<std::string, std::string> options{{"scale", std::string(one.scale->name)}, {"force", ""}, {"ball", ""}};
    if (one.kgf > 0)
        options["force"] = fmt::format("{:g} kgf", one.kgf);
    if (one.ball > 0)
        options["ball"] = fmt::format("{:g} mm", one.ball);
    return options;
}

Wish wishOf(const SpecimenInput& input)
{
    Wish wish;
    if (auto expected = parseQuantity(optionOr(input, "expected", ""), Kind::Hardness); expected && expected->base > 0)
        wish.expected = *expected;
    wish.family = familyOf(input);
    wish.size = pieceSizeOf(input);
    wish.finish = noteOf(input, "finish");
    wish.mayMark = optionOr(input, "marks", "allowed") == "allowed";
    wish.asked = optionOr(input, "asked", "");
    return wish;
}

} // namespace

std::vector<Proposal> adviseScale(const SpecimenInput& input)
{
    const Wish wish = wishOf(input);
    if (!wish.expected)
        return {{.name = "HRA",
                 .options = optionsFor({findHardnessScale("HRA")}),
                 .fits = true,
                 .why = "Nothing is known of the hardness: begin with HRA, and go on by its reading."}};
    struct Ranked {
        Proposal proposal;
        bool asked = false;
        double across = 0;
    };
    std::vector<Ranked> all;
    for (const Candidate& one : candidates()) {
        const auto number = expectedOn(*one.scale, wish);
        if (!number || !(*number > 0))
            continue; // no table leads there
        IndentReading sized;
        const HardnessSetting setting = settingFor(one, wish);
        estimateSize(setting, *number, sized);
        Ranked ranked;
        ranked.across = sized.across;
        Proposal& p = ranked.proposal;
        p.name = nameOf(one);
        p.options = optionsFor(one);
        p.why = whyNot(one, wish, *number, sized);
        p.fits = p.why.empty();
        p.figures = {{"expected", formatSignificant(*number, 3)},
                     {"across", mm(sized.across)},
                     {"piece from", mm(sized.leastThickness)},
                     {"apart", mm(leastApart(setting, sized.across))}};
        p.more = fmt::format("Band {}, indent {} deep.", bandWords(*one.scale), mm(sized.depth));
        ranked.asked = !wish.asked.empty() && (p.name == wish.asked || p.name.starts_with(wish.asked + " "));
        all.push_back(std::move(ranked));
    }
    std::ranges::stable_sort(all, [](const Ranked& a, const Ranked& b) {
        if (a.proposal.fits != b.proposal.fits)
            return a.proposal.fits;
        if (a.asked != b.asked)
            return a.asked;
        return a.across > b.across;
    });
    std::vector<Proposal> proposals;
    for (Ranked& one : all)
        proposals.push_back(std::move(one.proposal));
    return proposals;
}

} // namespace fortitor
