// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/impact/transition.h"

#include <Eigen/Dense>
#include <boost/math/distributions/students_t.hpp>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <set>

namespace fortitor {
namespace {

/// Share of the way from the lower to the upper shelf.
double shareAt(double temperature, double middle, double width)
{
    return 0.5 * (1 + std::tanh((temperature - middle) / width));
}

struct Shelves {
    double lower = 0, rise = 0, squares = 0;
};

/// The best shelves of a middle and a width: two straight numbers, neither below 0.
Shelves shelvesOf(std::span<const Blow> blows, double middle, double width)
{
    const auto n = static_cast<double>(blows.size());
    double meanShare = 0, meanEnergy = 0;
    for (const Blow& b : blows) {
        meanShare += shareAt(b.temperature, middle, width) / n;
        meanEnergy += b.energy / n;
    }
    double both = 0, shares = 0, raw = 0, rawShares = 0;
    for (const Blow& b : blows) {
        const double share = shareAt(b.temperature, middle, width);
        both += (share - meanShare) * (b.energy - meanEnergy);
        shares += (share - meanShare) * (share - meanShare);
        raw += share * b.energy;
        rawShares += share * share;
    }
    Shelves s;
    s.rise = shares > 1e-12 ? std::max(0.0, both / shares) : 0;
    s.lower = meanEnergy - s.rise * meanShare;
    if (s.lower < 0) {
        s.lower = 0;
        s.rise = rawShares > 1e-12 ? std::max(0.0, raw / rawShares) : 0;
    }
    for (const Blow& b : blows) {
        const double off = b.energy - s.lower - s.rise * shareAt(b.temperature, middle, width);
        s.squares += off * off;
    }
    return s;
}

/// The least squares of a curve through a point: one straight number is left.
double squaresThrough(std::span<const Blow> blows, double middle, double width, double temperature, double energy)
{
    const double here = shareAt(temperature, middle, width);
    double both = 0, shares = 0;
    for (const Blow& b : blows) {
        const double share = shareAt(b.temperature, middle, width) - here;
        both += share * (b.energy - energy);
        shares += share * share;
    }
    double rise = shares > 1e-12 ? std::max(0.0, both / shares) : 0;
    if (energy - rise * here < 0) // the lower shelf
        rise = energy / std::max(1e-12, here);
    double squares = 0;
    for (const Blow& b : blows) {
        const double off = b.energy - energy - rise * (shareAt(b.temperature, middle, width) - here);
        squares += off * off;
    }
    return squares;
}

struct Range {
    double low = 0, high = 0, step = 0;
    std::set<double> places;
    [[nodiscard]] double span() const { return high - low; }
    [[nodiscard]] double narrowest() const { return std::max(0.5, 0.2 * step); }
    [[nodiscard]] double widest() const { return 4 * span(); }
};

Range rangeOf(std::span<const Blow> blows)
{
    Range r;
    for (const Blow& b : blows)
        r.places.insert(b.temperature);
    r.low = *r.places.begin();
    r.high = *r.places.rbegin();
    r.step = r.span();
    for (auto it = std::next(r.places.begin()); it != r.places.end(); ++it)
        r.step = std::min(r.step, *it - *std::prev(it));
    return r;
}

/// Middle and ln width of the least value, from the best of a net inwards. Nelder and Mead in two numbers.
std::array<double, 2> leastOf(const std::function<double(double, double)>& of, std::array<double, 2> start,
                              std::array<double, 2> step, double within = 1e-7)
{
    struct Corner {
        std::array<double, 2> at;
        double value;
    };
    const auto corner = [&](double x, double y) { return Corner{{x, y}, of(x, y)}; };
    std::array<Corner, 3> c{corner(start[0], start[1]), corner(start[0] + step[0], start[1]),
                            corner(start[0], start[1] + step[1])};
    constexpr int most = 200;
    for (int round = 0; round < most; ++round) {
        std::ranges::sort(c, {}, &Corner::value);
        if (std::abs(c[2].at[0] - c[0].at[0]) + std::abs(c[2].at[1] - c[0].at[1]) + std::abs(c[1].at[0] - c[0].at[0])
                + std::abs(c[1].at[1] - c[0].at[1])
            < within)
            break;
        const auto along = [&](double by) {
            const double mx = (c[0].at[0] + c[1].at[0]) / 2, my = (c[0].at[1] + c[1].at[1]) / 2;
            return corner(mx + by * (mx - c[2].at[0]), my + by * (my - c[2].at[1]));
        };
        Corner far = along(1);
        if (far.value < c[0].value) {
            const Corner further = along(2);
            c[2] = further.value < far.value ? further : far;
        } else if (far.value < c[1].value) {
            c[2] = far;
        } else {
            const Corner near = far.value < c[2].value ? along(0.5) : along(-0.5);
            if (near.value < std::min(far.value, c[2].value))
                c[2] = near;
            else
                for (size_t k = 1; k < 3; ++k)
                    c[k] = corner((c[k].at[0] + c[0].at[0]) / 2, (c[k].at[1] + c[0].at[1]) / 2);
        }
    }
    std::ranges::sort(c, {}, &Corner::value);
    return c[0].at;
}

/// Residuals over one minus their leverage, squared, between the inverse normal matrix: covariance of the four numbers.
void settleSpread(Transition& fit, std::span<const Blow> blows)
{
    const auto n = static_cast<Eigen::Index>(blows.size());
    Eigen::MatrixXd slopes(n, 4);
    for (Eigen::Index i = 0; i < n; ++i) {
        const auto s = fit.slopesAt(blows[static_cast<size_t>(i)].temperature);
        for (Eigen::Index k = 0; k < 4; ++k)
            slopes(i, k) = s[static_cast<size_t>(k)];
    }
    const Eigen::Matrix4d inverse = (slopes.transpose() * slopes).completeOrthogonalDecomposition().pseudoInverse();
    Eigen::Matrix4d middle = Eigen::Matrix4d::Zero();
    for (Eigen::Index i = 0; i < n; ++i) {
        const Eigen::Vector4d row = slopes.row(i);
        const double leverage = std::min(0.95, row.dot(inverse * row));
        const Blow& b = blows[static_cast<size_t>(i)];
        const double off = (b.energy - fit.at(b.temperature)) / (1 - leverage);
        middle += off * off * row * row.transpose();
    }
    const Eigen::Matrix4d spread = inverse * middle * inverse;
    for (Eigen::Index p = 0; p < 4; ++p)
        for (Eigen::Index q = 0; q < 4; ++q)
            fit.spread[static_cast<size_t>(p)][static_cast<size_t>(q)] = spread(p, q);
}

double quadratic(const std::array<double, 4>& v, const std::array<std::array<double, 4>, 4>& m)
{
    double sum = 0;
    for (size_t p = 0; p < 4; ++p)
        for (size_t q = 0; q < 4; ++q)
            sum += v[p] * m[p][q] * v[q];
    return std::max(0.0, sum);
}

Problem cannot(const std::string& found, const std::string& wanted, const std::string& advice)
{
    return {"transition", found, wanted, advice};
}

/// The same by the plain normal matrix and one scatter for all.
double plainVariance(const Transition& fit, std::span<const Blow> blows, const std::array<double, 4>& slopes)
{
    Eigen::Matrix4d normal = Eigen::Matrix4d::Zero();
    for (const Blow& b : blows) {
        const auto s = fit.slopesAt(b.temperature);
        const Eigen::Vector4d row(s[0], s[1], s[2], s[3]);
        normal += row * row.transpose();
    }
    const Eigen::Vector4d g(slopes[0], slopes[1], slopes[2], slopes[3]);
    return g.dot(normal.completeOrthogonalDecomposition().pseudoInverse() * g);
}

/// How much the squares may rise: scaled so that near the least it gives the interval of the covariance, and never
/// below
/// what one scatter for all gives. With few blows either alone covers too seldom (2 000 drawn sets: 92 to 95 %).
double mostRise(const Transition& fit, std::span<const Blow> blows, double temperature)
{
    const auto slopes = fit.slopesAt(temperature);
    const double plain = plainVariance(fit, blows, slopes);
    const double t = studentAt95(fit.degrees());
    const double same = fit.scatter() * fit.scatter();
    return plain > 0 ? t * t * std::max(same, quadratic(slopes, fit.spread) / plain) : 0;
}

/// Where the profile reaches `most` on the way from `from` to `to`, first looked for `about` so far away; nothing
/// where it
/// does not. Its root grows nearly straight: by secants between an inner and an outer place.
std::optional<double> crossing(const std::function<double(double)>& rise, double from, double to, double about,
                               double most)
{
    const double way = to > from ? 1 : -1, far = std::abs(to - from);
    double inside = 0, outside = std::min(far, std::max(about, 1e-6 * far));
    const double wanted = std::sqrt(most);
    double innerRoot = 0, outerRoot = 0;
    for (;;) {
        outerRoot = std::sqrt(std::max(0.0, rise(from + way * outside)));
        if (outerRoot >= wanted)
            break;
        inside = outside;
        innerRoot = outerRoot;
        if (outside >= far)
            return std::nullopt;
        outside = std::min(far, 1.5 * outside);
    }
    constexpr int rounds = 25;
    for (int k = 0; k < rounds && outside - inside > 1e-5 * far; ++k) {
        // Halves now and then, so that both ends come nearer.
        const double share = k % 3 == 2 ? 0.5 : std::clamp((wanted - innerRoot) / (outerRoot - innerRoot), 0.02, 0.98);
        const double at = inside + share * (outside - inside);
        const double root = std::sqrt(std::max(0.0, rise(from + way * at)));
        if (std::abs(root - wanted) < 1e-4 * wanted)
            return from + way * at;
        (root < wanted ? inside : outside) = at;
        (root < wanted ? innerRoot : outerRoot) = root;
    }
    return from + way * (inside + outside) / 2;
}

/// The least rise of the squares of a curve through a point.
double riseThrough(const Transition& fit, std::span<const Blow> blows, const Range& range, double temperature,
                   double energy)
{
    const auto of = [&](double middle, double width) {
        const double c = std::exp(width);
        if (c < range.narrowest() || c > range.widest())
            return 1e300;
        return squaresThrough(blows, middle, c, temperature, energy);
    };
    const auto best = leastOf(of, {fit.middle, std::log(fit.width)}, {0.03 * range.span(), 0.1}, 1e-4);
    return of(best[0], best[1]) - fit.squares;
}

} // namespace

double studentAt95(double degrees)
{
    return boost::math::quantile(boost::math::students_t(std::max(1.0, degrees)), 0.975);
}

double Transition::at(double temperature) const
{
    return lower + (upper - lower) * shareAt(temperature, middle, width);
}

std::optional<double> Transition::temperatureAt(double energy) const
{
    const double half = (upper - lower) / 2, mean = (upper + lower) / 2;
    if (!(half > 0) || std::abs(energy - mean) >= half)
        return std::nullopt;
    return middle + width * std::atanh((energy - mean) / half);
}

double Transition::scatter() const
{
    return degrees() > 0 ? std::sqrt(squares / degrees()) : 0;
}

std::array<double, 4> Transition::slopesAt(double temperature) const
{
    const double share = shareAt(temperature, middle, width);
    const double steep = 2 * share * (1 - share) * (upper - lower) / width; // J a kelvin
    return {1 - share, share, -steep, -steep * (temperature - middle)};
}

double Transition::doubtAt(double temperature) const
{
    return std::sqrt(quadratic(slopesAt(temperature), spread));
}

double Transition::doubtOfTemperatureAt(double energy) const
{
    const auto place = temperatureAt(energy);
    if (!place)
        return 0;
    return doubtAt(*place) / std::max(1e-12, -slopesAt(*place)[2]);
}

Expected<Transition> fitTransition(std::span<const Blow> blows, bool shelves)
{
    if (blows.size() < 5)
        return cannot(fmt::format("{} blows that count", blows.size()), "five or more", "Strike more pieces.");
    const Range range = rangeOf(blows);
    if (range.places.size() < 4)
        return cannot(fmt::format("{} temperatures", range.places.size()), "four or more",
                      "Strike at further temperatures, below and above the transition.");
    const auto of = [&](double middle, double width) {
        const double c = std::exp(width);
        if (c < range.narrowest() || c > range.widest() || middle < range.low - range.span()
            || middle > range.high + range.span())
            return 1e300;
        return shelvesOf(blows, middle, c).squares;
    };
    std::array<double, 2> best{};
    double least = 1e301;
    constexpr int places = 40, widths = 16;
    for (int i = 0; i <= places; ++i)
        for (int k = 0; k <= widths; ++k) {
            const double middle = range.low - 0.5 * range.span() + 2 * range.span() * i / places;
            const double width = std::log(range.narrowest())
                + (std::log(range.widest()) - std::log(range.narrowest())) * (k + 0.5) / (widths + 1);
            if (const double here = of(middle, width); here < least) {
                least = here;
                best = {middle, width};
            }
        }
    best = leastOf(of, best, {0.05 * range.span(), 0.15});
    best = leastOf(of, best, {0.01 * range.span(), 0.05}); // once more, from where it came to rest
    Transition fit{.middle = best[0], .width = std::exp(best[1]), .blows = blows.size()};
    const Shelves s = shelvesOf(blows, fit.middle, fit.width);
    fit.lower = s.lower;
    fit.upper = s.lower + s.rise;
    fit.squares = s.squares;
    settleSpread(fit, blows);
    if (!(s.rise > 0))
        return cannot("energies that do not rise with temperature", "a lower and an upper shelf",
                      "Strike at lower and higher temperatures.");
    if (!shelves)
        return fit;
    // A shelf is held where blows were struck on its last eighth.
    constexpr double near = 0.125;
    if (shareAt(range.low, fit.middle, fit.width) > near)
        return cannot(fmt::format("no blow on the lower shelf; the coldest was at {:g} °C", range.low),
                      "blows on both shelves", "Strike some pieces colder.");
    if (shareAt(range.high, fit.middle, fit.width) < 1 - near)
        return cannot(fmt::format("no blow on the upper shelf; the warmest was at {:g} °C", range.high),
                      "blows on both shelves", "Strike some pieces warmer.");
    return fit;
}

TemperatureInterval intervalOfTemperature(const Transition& fit, std::span<const Blow> blows, double energy)
{
    const auto place = fit.temperatureAt(energy);
    if (!place || fit.degrees() < 1)
        return std::nullopt;
    const Range range = rangeOf(blows);
    const double most = mostRise(fit, blows, *place);
    const auto rise = [&](double at) { return riseThrough(fit, blows, range, at, energy); };
    const double about = studentAt95(fit.degrees()) * fit.doubtOfTemperatureAt(energy);
    const auto low = crossing(rise, *place, std::min(*place, range.low) - range.span(), about, most);
    const auto high = crossing(rise, *place, std::max(*place, range.high) + range.span(), about, most);
    if (!low || !high)
        return std::nullopt;
    return std::pair(*low, *high);
}

std::optional<std::pair<double, double>> intervalOfEnergy(const Transition& fit, std::span<const Blow> blows,
                                                          double temperature)
{
    if (fit.degrees() < 1)
        return std::nullopt;
    const Range range = rangeOf(blows);
    const double here = fit.at(temperature), most = mostRise(fit, blows, temperature);
    const auto rise = [&](double energy) { return riseThrough(fit, blows, range, temperature, energy); };
    const double far = 2 * (fit.upper - fit.lower);
    const double about = studentAt95(fit.degrees()) * fit.doubtAt(temperature);
    const auto high = crossing(rise, here, here + far, about, most);
    const auto low = crossing(rise, here, std::max(0.0, here - far), about, most);
    if (!high)
        return std::nullopt;
    return std::pair(low.value_or(0), *high);
}

double halfWidthWith(const Transition& fit, std::span<const Blow> blows, double energy, double temperature, int more)
{
    const auto place = fit.temperatureAt(energy);
    if (!place)
        return 0;
    // The scatter of a blow there, by its neighbours along the curve.
    double squares = 0, sum = 0;
    for (const Blow& b : blows) {
        const double away = (b.temperature - temperature) / (1.2 * fit.width);
        const double weight = std::exp(-away * away / 2);
        const double off = b.energy - fit.at(b.temperature);
        squares += weight * off * off;
        sum += weight;
    }
    const double overall = fit.scatter() * fit.scatter();
    const double share = static_cast<double>(blows.size()) / std::max(1.0, fit.degrees());
    const double variance = (squares * share + overall) / (sum + 1); // one blow's worth of the overall scatter
    Eigen::Matrix4d spread;
    for (Eigen::Index p = 0; p < 4; ++p)
        for (Eigen::Index q = 0; q < 4; ++q)
            spread(p, q) = fit.spread[static_cast<size_t>(p)][static_cast<size_t>(q)];
    const auto s = fit.slopesAt(temperature);
    const Eigen::Vector4d row(s[0], s[1], s[2], s[3]);
    for (int k = 0; k < more; ++k) { // one blow after the other (Sherman and Morrison)
        const Eigen::Vector4d by = spread * row;
        spread -= by * by.transpose() / (variance + row.dot(by));
    }
    const auto g = fit.slopesAt(*place);
    const Eigen::Vector4d pull(g[0], g[1], g[2], g[3]);
    const double doubt = std::sqrt(std::max(0.0, pull.dot(spread * pull))) / std::max(1e-12, -g[2]);
    return studentAt95(fit.degrees() + more) * doubt;
}

TemperatureDifference differenceOf(double first, const std::pair<double, double>& firstInterval, double second,
                                   const std::pair<double, double>& secondInterval)
{
    TemperatureDifference d;
    d.value = second - first;
    d.low = d.value - std::hypot(second - secondInterval.first, firstInterval.second - first);
    d.high = d.value + std::hypot(secondInterval.second - second, first - firstInterval.first);
    return d;
}

} // namespace fortitor
