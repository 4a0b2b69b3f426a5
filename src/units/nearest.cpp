// SPDX-License-Identifier: GPL-3.0-or-later
#include "units/nearest.h"

#include <algorithm>

namespace fortitor {
namespace {

constexpr size_t longest = 64; // no name is longer; what is costs no time

std::string bareWord(std::string_view word)
{
    std::string out(word.substr(0, longest));
    for (char& c : out)
        c = c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c == '-' || c == ' ' ? '_' : c;
    return out;
}

} // namespace

size_t wordDistance(std::string_view first, std::string_view second)
{
    const std::string a = bareWord(first);
    const std::string b = bareWord(second);
    std::vector<std::vector<size_t>> d(a.size() + 1, std::vector<size_t>(b.size() + 1));
    for (size_t i = 0; i <= a.size(); ++i)
        d[i][0] = i;
    for (size_t j = 0; j <= b.size(); ++j)
        d[0][j] = j;
    for (size_t i = 1; i <= a.size(); ++i)
        for (size_t j = 1; j <= b.size(); ++j) {
            d[i][j] = std::min({d[i - 1][j] + 1, d[i][j - 1] + 1, d[i - 1][j - 1] + (a[i - 1] == b[j - 1] ? 0 : 1)});
            if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                d[i][j] = std::min(d[i][j], d[i - 2][j - 2] + 1);
        }
    return d[a.size()][b.size()];
}

std::string nearestName(std::string_view found, const std::vector<std::string>& known)
{
    std::string best;
    size_t least = std::max<size_t>(1, std::min<size_t>(found.size(), longest) / 3) + 1;
    for (const std::string& one : known)
        if (const size_t steps = wordDistance(found, one); steps < least && steps < one.size()) {
            least = steps;
            best = one;
        }
    return best;
}

std::string nearestWords(std::string_view found, const std::vector<std::string>& known)
{
    const std::string name = nearestName(found, known);
    return name.empty() ? "" : " Is \"" + name + "\" meant?";
}

} // namespace fortitor
