// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/drop_weight/without_ringing.h"

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>
#include <complex>
#include <numbers>

namespace fortitor {
namespace {

constexpr double fullTurn = 2 * std::numbers::pi;

/// A place among readings, from −1 to 1.
double across(double place, size_t count)
{
    const double half = std::max(1.0, (static_cast<double>(count) - 1) / 2);
    return (place - (static_cast<double>(count) - 1) / 2) / half;
}

/// What is fitted over some readings, a column each; what a short stretch can't tell apart is left out.
struct Model {
    Eigen::MatrixXd columns;
    bool bends = false; ///< the third is the bend of the parabola

    Model(size_t count, const std::optional<Ringing>& ringing)
    {
        const double turns = ringing ? static_cast<double>(count) / ringing->period : 0;
        constexpr double ringingFrom = 0.9, bendFrom = 1.2; // turns
        bends = count >= 5 && (!ringing || turns >= bendFrom);
        const bool rings = turns >= ringingFrom && count >= 8;
        columns.resize(static_cast<Eigen::Index>(count), 2 + (bends ? 1 : 0) + (rings ? 2 : 0));
        const auto u = Eigen::ArrayXd::LinSpaced(columns.rows(), across(0, count), -across(0, count));
        columns.col(0).setOnes();
        columns.col(1) = u;
        if (bends)
            columns.col(2) = u.square();
        if (!rings)
            return;
        // From the middle, so that neither end outweighs the other; the angle goes on by the same with each reading.
        const std::complex<double> rate(-ringing->fading, fullTurn / ringing->period), turn = std::exp(rate);
        std::complex<double> swing = std::exp(rate * ((1 - static_cast<double>(count)) / 2));
        for (Eigen::Index k = 0; k < columns.rows(); ++k, swing *= turn) {
            columns(k, columns.cols() - 2) = swing.real();
            columns(k, columns.cols() - 1) = swing.imag();
        }
    }
};

/// Sides at right angles that span the columns: Gram and Schmidt, each twice, so that rounding leaves them so.
Eigen::MatrixXd directionsOf(const Model& model)
{
    Eigen::MatrixXd q = model.columns;
    for (Eigen::Index c = 0; c < q.cols(); ++c) {
        for (int round = 0; round < 2; ++round)
            for (Eigen::Index before = 0; before < c; ++before)
                q.col(c) -= q.col(before).dot(q.col(c)) * q.col(before);
        q.col(c).normalize();
    }
    return q;
}

/// Sum of squares that is left of y.
double restOf(std::span<const double> y, const Eigen::MatrixXd& directions)
{
    const Eigen::Map<const Eigen::ArrayXd> readings(y.data(), static_cast<Eigen::Index>(y.size()));
    const Eigen::VectorXd off = readings - y.front(); // the sums lose no digits to the level
    double rest = off.squaredNorm();
    for (Eigen::Index c = 0; c < directions.cols(); ++c) {
        const double along = directions.col(c).dot(off);
        rest -= along * along;
    }
    return std::max(0.0, rest);
}

/// How badly windows side by side in each stretch fit: n·ln(rest/n) and a price for the figures used (Hurvich and Tsai
/// 1989), a reading.
double priceOf(const std::vector<std::span<const double>>& stretches, const RingingSeen& seen, double noise)
{
    const auto directions = directionsOf(Model(seen.window, seen.ringing));
    const double n = static_cast<double>(seen.window);
    const double figures = static_cast<double>(directions.cols());
    double price = 0;
    size_t count = 0;
    for (const auto& stretch : stretches) {
        const size_t windows = stretch.size() / seen.window;
        for (size_t w = 0; w < windows; ++w) {
            // The last one ends with the stretch.
            const size_t from = windows == 1 ? 0 : w * (stretch.size() - seen.window) / (windows - 1);
            const double rest = restOf(stretch.subspan(from, seen.window), directions);
            price += std::log(rest / n + 0.25 * noise * noise) + (n + figures) / (n - figures - 2);
            ++count;
        }
    }
    return count == 0 ? 1e300 : price / static_cast<double>(count);
}

RingingSeen bestModel(const std::vector<std::span<const double>>& stretches, double noise, size_t narrowest)
{
    size_t longest = 0, all = 0;
    for (const auto& stretch : stretches) {
        longest = std::max(longest, stretch.size());
        all += stretch.size();
    }
    const double n = static_cast<double>(all);
    RingingSeen best{std::nullopt, std::max<size_t>(5, all / 12)};
    double least = 1e300;
    const auto look = [&](const RingingSeen& seen) {
        if (seen.window < (seen.ringing ? 8 : 5) || seen.window > longest)
            return;
        if (const double price = priceOf(stretches, seen, noise); price < least) {
            least = price;
            best = seen;
        }
    };
    for (double window = std::max({9.0, n / 24, static_cast<double>(narrowest)}); window <= n / 4; window *= 1.2)
        look({std::nullopt, static_cast<size_t>(window)});
    const auto lookAt = [&](double period, double turns, double fading) {
        look({Ringing{period, fading / period}, std::max(narrowest, static_cast<size_t>(std::lround(turns * period)))});
    };
    constexpr double usualFading = 0.2; // a turn
    for (double period = 4.5; period <= n / 5; period *= 1.05)
        lookAt(period, 2, usualFading);
    if (!best.ringing)
        return best;
    for (const double off : {0.96, 0.98, 1.02, 1.04})
        lookAt(best.ringing->period * off, 2, usualFading);
    const double period = best.ringing->period;
    for (const double turns : {1.6, 2.0, 2.5, 3.2})
        for (const double fading : {0.0, 0.1, 0.2, 0.35, 0.55})
            lookAt(period, turns, fading);
    return best;
}

} // namespace

RingingSeen findRinging(const std::vector<std::span<const double>>& stretches, double noise, size_t narrowest)
{
    size_t all = 0;
    for (const auto& stretch : stretches)
        all += stretch.size();
    // No striker rings so fast that some hundred readings of a contact could not tell it.
    constexpr size_t enough = 350;
    const size_t bundle = std::max<size_t>(1, all / enough);
    if (bundle == 1)
        return bestModel(stretches, noise, narrowest);
    std::vector<std::vector<double>> means;
    for (const auto& stretch : stretches) {
        auto& mean = means.emplace_back(stretch.size() / bundle);
        for (size_t i = 0; i < mean.size(); ++i)
            for (size_t k = 0; k < bundle; ++k)
                mean[i] += stretch[i * bundle + k] / static_cast<double>(bundle);
    }
    RingingSeen seen = bestModel({means.begin(), means.end()}, noise / std::sqrt(static_cast<double>(bundle)),
                                 (narrowest + bundle - 1) / bundle);
    seen.window *= bundle;
    if (seen.ringing) {
        seen.ringing->period *= static_cast<double>(bundle);
        seen.ringing->fading /= static_cast<double>(bundle);
    }
    return seen;
}

WithoutRinging::WithoutRinging(std::span<const double> force, const RingingSeen& seen) : force_(force), seen_(seen) { }

const WithoutRinging::Fit& WithoutRinging::fit(size_t count) const
{
    const auto [it, fresh] = fits_.try_emplace(count);
    if (!fresh)
        return it->second;
    const Model model(count, seen_.ringing);
    const Eigen::MatrixXd square = model.columns.transpose().lazyProduct(model.columns);
    const Eigen::MatrixXd wanted = Eigen::MatrixXd::Identity(square.rows(), model.bends ? 3 : 2);
    it->second.force = model.columns.lazyProduct(square.ldlt().solve(wanted).eval());
    it->second.directions = directionsOf(model);
    return it->second;
}

const Eigen::VectorXd& WithoutRinging::weights(size_t count, std::ptrdiff_t place) const
{
    const auto [it, fresh] = weights_.try_emplace({count, place});
    if (!fresh)
        return it->second;
    const Fit& by = fit(count);
    const double u = across(static_cast<double>(place), count);
    it->second = by.force.col(0) + u * by.force.col(1);
    if (by.force.cols() > 2)
        it->second += u * u * by.force.col(2);
    return it->second;
}

double WithoutRinging::at(size_t i, size_t from, size_t to, size_t widest) const
{
    const size_t count = std::min(widest == 0 ? seen_.window : widest, to - from);
    if (count < 4)
        return force_[std::clamp(i, from, to - 1)];
    const size_t first = i < from + count / 2 ? from : std::min(i - count / 2, to - count);
    const Eigen::Map<const Eigen::VectorXd> readings(&force_[first], static_cast<Eigen::Index>(count));
    return weights(count, static_cast<std::ptrdiff_t>(i) - static_cast<std::ptrdiff_t>(first)).dot(readings);
}

double WithoutRinging::doubtAt(size_t i, size_t from, size_t to) const
{
    const size_t count = std::min(seen_.window, to - from);
    if (count < 4)
        return 0;
    const size_t first = i < from + count / 2 ? from : std::min(i - count / 2, to - count);
    const auto [rest, freedom] = left(first, count);
    const double squares =
        weights(count, static_cast<std::ptrdiff_t>(i) - static_cast<std::ptrdiff_t>(first)).squaredNorm();
    return std::sqrt(rest / std::max(1.0, freedom) * squares);
}

std::pair<double, double> WithoutRinging::left(size_t from, size_t count) const
{
    const Eigen::MatrixXd& base = fit(count).directions;
    const auto [it, fresh] = left_.try_emplace({count, from});
    if (fresh)
        it->second = restOf(force_.subspan(from, count), base);
    return {it->second, static_cast<double>(count - static_cast<size_t>(base.cols()))};
}

} // namespace fortitor
