// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/pyramid.h"

#include "history/workers.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>

namespace fortitor {
namespace {

constexpr std::string_view magic = "fortitor-extents-1\n";

Extent extentOf(std::span<const double> values)
{
    double low = INFINITY, high = -INFINITY;
    for (const double v : values) {
        const bool there = std::abs(v) < INFINITY; // a gap is no number, or none that can be
        low = there && v < low ? v : low;
        high = there && v > high ? v : high;
    }
    return low > high ? Extent{} : Extent{static_cast<float>(low), static_cast<float>(high)};
}

/// FNV-1a: tells bytes that were cut or changed.
std::uint64_t sumOf(std::string_view bytes)
{
    std::uint64_t sum = 14695981039346656037U;
    for (const char c : bytes)
        sum = (sum ^ static_cast<unsigned char>(c)) * 1099511628211U;
    return sum;
}

} // namespace

void Extent::take(const Extent& other)
{
    if (other.empty())
        return;
    low = empty() ? other.low : std::min(low, other.low);
    high = high < other.high || empty() ? other.high : high;
}

Expected<std::optional<Pyramid>> Pyramid::build(const HistorySource& source, const Progress& goOn, size_t threads)
{
    Pyramid made;
    made.size_ = source.size();
    std::vector<Extent> leaves(static_cast<size_t>((made.size_ + leaf - 1) / leaf));
    constexpr std::uint64_t each = leaf * 512;
    const bool whole = shareOut(
        static_cast<size_t>((made.size_ + each - 1) / each), threads,
        [&](size_t task, size_t) {
            std::vector<double> values(static_cast<size_t>(std::min(each, made.size_ - task * each)));
            source.read(task * each, values);
            for (size_t at = 0; at < values.size(); at += leaf)
                leaves[task * 512 + at / leaf] =
                    extentOf(std::span(values).subspan(at, std::min<size_t>(leaf, values.size() - at)));
        },
        goOn);
    if (auto trouble = source.trouble())
        return *trouble;
    if (!whole)
        return std::optional<Pyramid>();
    made.levels_.push_back(std::move(leaves));
    made.raise();
    return std::optional(std::move(made));
}

void Pyramid::raise()
{
    while (levels_.back().size() > fan) {
        const std::vector<Extent>& below = levels_.back();
        std::vector<Extent> next((below.size() + fan - 1) / fan);
        for (size_t i = 0; i < below.size(); ++i)
            next[i / fan].take(below[i]);
        levels_.push_back(std::move(next));
    }
}

/// Of leaves [first, last), by the widest extents that fit.
Extent Pyramid::over(std::uint64_t first, std::uint64_t last) const
{
    Extent found;
    size_t level = 0;
    while (first < last) {
        const std::vector<Extent>& here = levels_[level];
        const bool up = level + 1 < levels_.size();
        while (first < last && (!up || first % fan != 0))
            found.take(here[first++]);
        while (first < last && up && last % fan != 0)
            found.take(here[--last]);
        if (!up)
            break;
        first /= fan;
        last /= fan;
        ++level;
    }
    return found;
}

Extent Pyramid::whole() const
{
    return levels_.empty() ? Extent{} : over(0, levels_.front().size());
}

void Pyramid::extents(const HistorySource& source, double from, double to, std::span<Extent> columns) const
{
    std::ranges::fill(columns, Extent{});
    if (columns.empty() || !(to > from) || levels_.empty())
        return;
    const auto n = static_cast<double>(size_);
    const double wide = (to - from) / static_cast<double>(columns.size());
    const auto place = [&](size_t k) { return std::clamp(from + wide * static_cast<double>(k), 0.0, n); };
    if (wide >= static_cast<double>(leaf)) {
        const auto leafAt = [](double reading) {
            return static_cast<std::uint64_t>(std::ceil(reading / static_cast<double>(leaf)));
        };
        for (size_t k = 0; k < columns.size(); ++k)
            columns[k] = over(leafAt(place(k)), std::min(leafAt(place(k + 1)), std::uint64_t{levels_.front().size()}));
        return;
    }
    const auto first = static_cast<std::uint64_t>(place(0));
    const auto last = static_cast<std::uint64_t>(std::ceil(place(columns.size())));
    if (last <= first)
        return;
    std::vector<double> values(static_cast<size_t>(last - first));
    source.read(first, values);
    for (size_t i = 0; i < values.size(); ++i) {
        if (!std::isfinite(values[i]))
            continue;
        const double column = (static_cast<double>(first + i) - from) / wide;
        if (column >= 0 && column < static_cast<double>(columns.size()))
            columns[static_cast<size_t>(column)].take({static_cast<float>(values[i]), static_cast<float>(values[i])});
    }
}

std::string Pyramid::bytes(const std::string& stamp) const
{
    std::string out(magic);
    const std::uint64_t head[] = {size_, stamp.size(), levels_.front().size()};
    out.append(reinterpret_cast<const char*>(head), sizeof head);
    out += stamp;
    out.append(reinterpret_cast<const char*>(levels_.front().data()), levels_.front().size() * sizeof(Extent));
    const std::uint64_t sum = sumOf(out);
    out.append(reinterpret_cast<const char*>(&sum), sizeof sum);
    return out;
}

std::optional<Pyramid> Pyramid::fromBytes(std::string_view bytes, const std::string& stamp)
{
    std::uint64_t head[3]{}, sum = 0;
    if (bytes.size() < magic.size() + sizeof head + sizeof sum || !bytes.starts_with(magic))
        return std::nullopt;
    const std::string_view body = bytes.substr(0, bytes.size() - sizeof sum);
    std::memcpy(&sum, bytes.data() + body.size(), sizeof sum);
    std::memcpy(head, body.data() + magic.size(), sizeof head);
    const std::string_view rest = body.substr(magic.size() + sizeof head);
    if (sumOf(body) != sum || head[1] != stamp.size() || head[2] > rest.size() / sizeof(Extent) || head[0] == 0
        || head[2] != (head[0] + leaf - 1) / leaf || rest.size() != stamp.size() + head[2] * sizeof(Extent)
        || !rest.starts_with(stamp))
        return std::nullopt;
    Pyramid made;
    made.size_ = head[0];
    std::vector<Extent> leaves(static_cast<size_t>(head[2]));
    std::memcpy(leaves.data(), rest.data() + stamp.size(), leaves.size() * sizeof(Extent));
    made.levels_.push_back(std::move(leaves));
    made.raise();
    return made;
}

} // namespace fortitor
