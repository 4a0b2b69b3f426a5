// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/fatigue_sn/displacement_field.h"

#include "record/plain_cells.h"
#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cerrno>
#include <cmath>
#include <cstring>
#include <fstream>
#include <limits>
#include <map>
#include <optional>
#include <string_view>

namespace fortitor {
namespace {

constexpr std::array<std::string_view, 5> columns{"cycles", "x", "y", "u", "v"};
constexpr size_t mostGauges = 8;

/// Of each column its place and its factor to mm.
struct Header {
    std::array<size_t, 5> at{};
    std::array<double, 5> factor{1, 1, 1, 1, 1};
};

std::optional<Header> headerOf(const std::string& line)
{
    Header header;
    const auto names = headerCells(line);
    for (size_t c = 0; c < columns.size(); ++c) {
        const auto it = std::ranges::find_if(names, [&](const std::string& name) {
            return name == columns[c] || name.starts_with(std::string(columns[c]) + "(");
        });
        if (it == names.end())
            return std::nullopt;
        header.at[c] = static_cast<size_t>(it - names.begin());
        if (const size_t from = it->find('('); from != std::string::npos && c > 0) {
            const Unit* unit = findUnit(it->substr(from + 1, it->find(')') - from - 1), Kind::Length);
            if (unit && unit->kind == Kind::Length)
                header.factor[c] = unit->factor;
        }
    }
    return header;
}

/// Displacement along the load over the points of a picture.
class Grid {
public:
    void add(double x, double y, double moved) { points_[{key(x), key(y)}] = moved; }
    void settle()
    {
        for (const auto& [at, moved] : points_) {
            x_.push_back(at.first);
            y_.push_back(at.second);
        }
        for (auto* axis : {&x_, &y_}) {
            std::ranges::sort(*axis);
            axis->erase(std::unique(axis->begin(), axis->end()), axis->end());
        }
    }
    [[nodiscard]] bool none() const { return x_.size() < 2 || y_.size() < 2; }
    /// NaN off the grid, or where a corner was lost.
    [[nodiscard]] double at(double x, double y) const
    {
        const auto [i, a] = placeOn(x_, x);
        const auto [j, b] = placeOn(y_, y);
        if (i == x_.size() || j == y_.size())
            return lost;
        double sum = 0;
        for (const size_t p : {0, 1})
            for (const size_t q : {0, 1}) {
                const double weight = (p == 1 ? a : 1 - a) * (q == 1 ? b : 1 - b);
                if (!(weight > 0))
                    continue;
                const auto it = points_.find({x_[i + p], y_[j + q]});
                sum += weight * (it == points_.end() ? lost : it->second);
            }
        return sum;
    }

private:
    static constexpr double lost = std::numeric_limits<double>::quiet_NaN();
    static constexpr double fine = 1e-6; // mm that places are told apart by
    static long long key(double v) { return std::llround(v / fine); }
    /// The point before, and the share of the way to the next; the size where it lies beyond.
    static std::pair<size_t, double> placeOn(const std::vector<long long>& axis, double value)
    {
        const double at = value / fine;
        if (axis.size() < 2 || at < static_cast<double>(axis.front()) - 0.5
            || at > static_cast<double>(axis.back()) + 0.5)
            return {axis.size(), 0};
        const auto above = static_cast<size_t>(std::ranges::upper_bound(axis, std::llround(at)) - axis.begin());
        const size_t i = std::min(std::max<size_t>(above, 1), axis.size() - 1) - 1;
        const auto low = static_cast<double>(axis[i]), high = static_cast<double>(axis[i + 1]);
        return {i, std::clamp((at - low) / (high - low), 0.0, 1.0)};
    }
    std::map<std::pair<long long, long long>, double> points_;
    std::vector<long long> x_, y_;
};

Expected<double> lengthOf(const std::string& place, const std::string& text)
{
    const auto read = parseQuantity(text, Kind::Length, findUnit("mm"));
    if (read)
        return read->base;
    Problem p = read.problem();
    p.place = place;
    return p;
}

} // namespace

Expected<ToeGauges> readGauges(const std::string& toe, const std::string& length, const std::string& along)
{
    ToeGauges gauges;
    const size_t equals = toe.find('=');
    std::string axis = equals == std::string::npos ? "y" : toe.substr(0, equals);
    axis.erase(std::remove(axis.begin(), axis.end(), ' '), axis.end());
    if (axis != "x" && axis != "y")
        return Problem{"toe", '"' + toe + '"', "y = 12 mm, or x = 12 mm", {}};
    gauges.across = axis == "x" ? ToeGauges::Across::X : ToeGauges::Across::Y;
    const auto at = lengthOf("toe", equals == std::string::npos ? toe : toe.substr(equals + 1));
    if (!at)
        return at.problem();
    gauges.toe = *at;
    const auto base = lengthOf("length", length);
    if (!base)
        return base.problem();
    if (!(*base > 0))
        return Problem{"length", '"' + length + '"', "a length above zero", {}};
    gauges.length = *base;
    // The unit stands once, at the end.
    std::string unit = along.substr(std::min(along.size(), along.find_last_of("0123456789.") + 1));
    for (size_t from = 0; from < along.size();) {
        const size_t end = std::min(along.find(',', from), along.size());
        std::string one = along.substr(from, end - from);
        from = end + 1;
        if (one.find_first_of("0123456789") == std::string::npos)
            continue;
        if (one.find_first_of("abcdefghijklmnopqrstuvwxyz") == std::string::npos)
            one += unit;
        const auto place = lengthOf("along", one);
        if (!place)
            return place.problem();
        gauges.along.push_back(*place);
    }
    if (gauges.along.empty() || gauges.along.size() > mostGauges)
        return Problem{"along", '"' + along + '"', "one to eight places, such as 0, 5, 10 mm", {}};
    return gauges;
}

bool looksLikeField(const std::string& path)
{
    std::ifstream in(path);
    std::string line;
    return std::getline(in, line) && headerOf(line).has_value();
}

Expected<Record> recordOfField(const std::string& path, const ToeGauges& gauges)
{
    std::ifstream in(path);
    if (!in)
        return Problem{path, std::strerror(errno), "a field of displacements", {}};
    std::string line;
    std::getline(in, line);
    const auto header = headerOf(line);
    if (!header)
        return Problem{path, '"' + line.substr(0, 60) + '"', "columns cycles, x, y, u, v", {}};
    const bool acrossX = gauges.across == ToeGauges::Across::X;
    std::map<double, Grid> pictures;
    size_t number = 1;
    while (std::getline(in, line)) {
        ++number;
        if (line.find_first_not_of(" \t\r") == std::string::npos)
            continue;
        const auto row = plainCells(line);
        std::array<double, 5> value{};
        bool known = true;
        for (size_t c = 0; c < columns.size(); ++c) {
            const auto read = header->at[c] < row.size() ? parseNumber(row[header->at[c]]) : std::nullopt;
            if (!read && c < 3)
                return Problem{fmt::format("{}, line {}", path, number),
                               '"' + line.substr(0, 60) + '"',
                               "cycles and the place of a point",
                               {}};
            known = known && read && std::isfinite(*read);
            value[c] = read.value_or(0) * header->factor[c];
        }
        Grid& grid = pictures[value[0]];
        if (known)
            grid.add(value[1], value[2], acrossX ? value[3] : value[4]);
    }
    Record record;
    record.source = path;
    record.add(columns.front());
    for (size_t k = 0; k < gauges.along.size(); ++k)
        record.add(k == 0 ? std::string("strain") : fmt::format("strain_{}", k + 1));
    size_t readings = 0;
    for (auto& [cycles, grid] : pictures) {
        grid.settle();
        if (grid.none())
            return Problem{fmt::format("{}, {:g} cycles", path, cycles), "points on one line", "a grid of points", {}};
        record.channels[0].values.append(cycles);
        for (size_t k = 0; k < gauges.along.size(); ++k) {
            const auto foot = [&](double side) {
                const double at = gauges.toe + side * gauges.length / 2;
                return acrossX ? grid.at(at, gauges.along[k]) : grid.at(gauges.along[k], at);
            };
            const double strain = (foot(1) - foot(-1)) / gauges.length;
            readings += std::isfinite(strain) ? 1 : 0;
            record.channels[k + 1].values.append(strain);
        }
    }
    if (readings == 0)
        return Problem{path, "no gauge with both feet on the grid", "places on it", "Look at toe, length and places."};
    record.notes.push_back(fmt::format("Extensometers of {:g} mm laid over a field of displacements, {} pictures.",
                                       gauges.length, pictures.size()));
    return record;
}

} // namespace fortitor
