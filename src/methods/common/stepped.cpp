// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/stepped.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {

SteppedLine lineThrough(const std::vector<double>& x, const std::vector<double>& y)
{
    SteppedLine line;
    line.fit = fitLine(x, y);
    if (!line.fit.valid())
        return line;
    std::vector<double> size;
    for (size_t i = 0; i < x.size(); ++i) {
        line.residual.push_back(y[i] - line.fit.at(x[i]));
        size.push_back(std::abs(line.residual.back()));
    }
    std::ranges::sort(size);
    const size_t n = size.size();
    line.scatter = 1.4826 * (n % 2 ? size[n / 2] : 0.5 * (size[n / 2 - 1] + size[n / 2]));
    return line;
}

std::vector<size_t> offLine(const SteppedLine& line, const std::vector<double>& y, double floor, double share)
{
    std::vector<size_t> out;
    for (size_t i = 0; i < line.residual.size(); ++i)
        if (std::abs(line.residual[i]) > std::max({3 * line.scatter, floor, share * std::abs(y[i])}))
            out.push_back(i);
    return out;
}

std::string stepsText(const std::vector<size_t>& steps)
{
    constexpr size_t most = 8;
    if (steps.size() > most)
        return stepsText({steps.begin(), steps.begin() + most}) + fmt::format(" (and {} more)", steps.size() - most);
    std::string text;
    for (size_t i = 0; i < steps.size(); ++i)
        text += (i == 0 ? "" : i + 1 == steps.size() ? " and " : ", ") + std::to_string(steps[i]);
    return text;
}

void checkSteps(Figures& f, const std::vector<double>& load, const std::vector<size_t>& steps,
                const std::vector<std::string>& symbols, const std::string& what)
{
    std::vector<size_t> lower;
    std::vector<size_t> same;
    for (size_t i = 1; i < load.size(); ++i) {
        const double span = std::abs(load.back() - load.front());
        if (load[i] < load[i - 1] - 1e-3 * span)
            lower.push_back(steps[i]);
        else if (std::abs(load[i] - load[i - 1]) <= 1e-6 * span)
            same.push_back(steps[i]);
    }
    if (!lower.empty())
        f.remark("load-decreasing", Severity::Caution, symbols,
                 fmt::format("The {} falls at reading {}.", what, stepsText(lower)),
                 "A digit left out, or readings in another order? Correct the reading.");
    if (!same.empty())
        f.remark("step-repeated", Severity::Caution, symbols,
                 fmt::format("Reading {} repeats the {} of the one before.", stepsText(same), what),
                 "If it is one step keyed twice, take one out: it counts double.");
}

} // namespace fortitor
