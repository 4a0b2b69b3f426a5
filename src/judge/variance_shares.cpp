// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/variance_shares.h"

#include "judge/statistics.h"

#include <boost/math/distributions/fisher_f.hpp>

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <string_view>

namespace fortitor {
namespace {

double meanOfValues(std::span<const double> values)
{
    return setStatistics(values).mean;
}

double sumOfSquares(std::span<const double> values, double mean)
{
    double sum = 0;
    for (double v : values)
        sum += (v - mean) * (v - mean);
    return sum;
}

} // namespace

std::optional<VarianceShares> varianceShares(std::span<const double> values, const std::vector<std::string>& group)
{
    std::map<std::string_view, size_t> numbers;
    std::vector<size_t> numbered;
    for (const std::string& name : group)
        numbered.push_back(numbers.try_emplace(name, numbers.size()).first->second);
    return varianceShares(values, numbered);
}

std::optional<VarianceShares> varianceShares(std::span<const double> values, std::span<const size_t> group)
{
    std::vector<std::vector<double>> groups;
    for (size_t i = 0; i < values.size() && i < group.size(); ++i) {
        groups.resize(std::max(groups.size(), group[i] + 1));
        groups[group[i]].push_back(values[i]);
    }
    std::erase_if(groups, [](const auto& members) { return members.empty(); });
    const size_t n = values.size();
    const size_t k = groups.size();
    if (k < 2 || n <= k)
        return std::nullopt;
    const double mean = meanOfValues(values);
    double between = 0;
    double within = 0;
    double squares = 0;
    for (const auto& members : groups) {
        const double own = meanOfValues(members);
        const auto count = static_cast<double>(members.size());
        between += count * (own - mean) * (own - mean);
        within += sumOfSquares(members, own);
        squares += count * count;
    }
    VarianceShares found;
    found.groups = k;
    const double meanBetween = between / static_cast<double>(k - 1);
    const double meanWithin = within / static_cast<double>(n - k);
    found.within = meanWithin;
    const double size = (static_cast<double>(n) - squares / static_cast<double>(n)) / static_cast<double>(k - 1);
    found.between = std::max(0.0, (meanBetween - meanWithin) / size);
    if (meanWithin > 0) {
        found.f = meanBetween / meanWithin;
        found.p = boost::math::cdf(boost::math::complement(
            boost::math::fisher_f(static_cast<double>(k - 1), static_cast<double>(n - k)), found.f));
    } else {
        found.p = meanBetween > 0 ? 0 : 1;
    }
    return found;
}

} // namespace fortitor
