// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/fatigue_sn/groups.h"

#include "judge/censored_line.h"
#include "methods/common/figures.h"

#include <Eigen/Dense>
#include <boost/math/distributions/fisher_f.hpp>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// ln of the likelihood with a level (and a slope) for each of so many groups, one scatter.
std::optional<double> likelihoodOf(const std::vector<const SnGroup*>& groups, const SnRule& rule, bool apart)
{
    std::vector<std::pair<size_t, SnPiece>> pieces;
    double middle = 0;
    for (size_t g = 0; g < groups.size(); ++g)
        for (const SnPiece& p : groups[g]->pieces)
            if (!p.open || rule.runOuts) {
                pieces.emplace_back(apart ? g : 0, p);
                middle += std::log10(p.range);
            }
    middle /= static_cast<double>(pieces.size());
    const Eigen::Index each = rule.slope ? 1 : 2, sets = apart ? static_cast<Eigen::Index>(groups.size()) : 1;
    const auto n = static_cast<Eigen::Index>(pieces.size());
    Eigen::MatrixXd x = Eigen::MatrixXd::Zero(n, each * sets);
    Eigen::VectorXd y(n);
    std::vector<char> open;
    for (Eigen::Index i = 0; i < n; ++i) {
        const auto& [g, p] = pieces[static_cast<size_t>(i)];
        const double at = std::log10(p.range) - middle;
        x(i, each * static_cast<Eigen::Index>(g)) = 1;
        if (!rule.slope)
            x(i, each * static_cast<Eigen::Index>(g) + 1) = at;
        y(i) = std::log10(p.cycles) + rule.slope.value_or(0) * at;
        open.push_back(p.open);
    }
    const auto fit = fitCensoredLine(x, y, open);
    return fit ? std::optional(fit->logLikelihood) : std::nullopt;
}

} // namespace

std::string groupName(const SpecimenInput& input, const SpecimenInput& options)
{
    const std::string by = optionOr(options, "group_by", "group");
    const std::string note = noteOf(input, by);
    if (!note.empty())
        return note;
    const double size = meanLength(input, by);
    return size > 0 ? fmt::format("{:g} mm", size) : "not noted";
}

std::vector<SnGroup> groupsOf(const std::vector<SnRun>& runs, const SpecimenInput& options, const SnRule& rule)
{
    std::vector<SnGroup> groups;
    for (const SnRun& run : runs) {
        const std::string name = groupName(*run.input, options);
        auto it = std::ranges::find(groups, name, &SnGroup::name);
        if (it == groups.end())
            it = groups.insert(groups.end(), SnGroup{.name = name});
        it->pieces.push_back(run.piece);
    }
    for (SnGroup& group : groups) {
        const auto line = fitSn(group.pieces, rule);
        if (line)
            group.line = *line;
        else
            group.why = line.problem().found + "; " + line.problem().wanted + " wanted";
    }
    return groups;
}

std::optional<GroupTest> testGroups(const std::vector<SnGroup>& groups, const SnRule& rule)
{
    std::vector<const SnGroup*> told;
    size_t broken = 0;
    for (const SnGroup& group : groups)
        if (group.line) {
            told.push_back(&group);
            broken += group.line->broken;
        }
    if (told.size() < 2)
        return std::nullopt;
    const int each = rule.slope ? 1 : 2;
    GroupTest test;
    test.between = each * (static_cast<int>(told.size()) - 1);
    test.within = static_cast<double>(broken) - each * static_cast<double>(told.size());
    const auto apart = likelihoodOf(told, rule, true), one = likelihoodOf(told, rule, false);
    if (!apart || !one || !(test.within >= 1))
        return std::nullopt;
    const double ratio = std::exp(2 * std::max(0.0, *apart - *one) / static_cast<double>(broken));
    test.F = (ratio - 1) * test.within / test.between;
    const boost::math::fisher_f law(test.between, test.within);
    test.p = boost::math::cdf(boost::math::complement(law, test.F));
    return test;
}

} // namespace fortitor
