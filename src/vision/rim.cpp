// SPDX-License-Identifier: GPL-3.0-or-later
#include "vision/rim.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <limits>

namespace fortitor {
namespace {

constexpr double nan = std::numeric_limits<double>::quiet_NaN();
constexpr double apart = 0.5; // px along a line

double middleOf(std::vector<double> values)
{
    if (values.empty())
        return 0;
    const auto half = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::ranges::nth_element(values, half);
    return *half;
}

double lightAt(const cv::Mat& grey, double x, double y)
{
    const int ix = static_cast<int>(std::floor(x)), iy = static_cast<int>(std::floor(y));
    if (ix < 0 || iy < 0 || ix + 1 >= grey.cols || iy + 1 >= grey.rows)
        return nan;
    const double u = x - ix, v = y - iy;
    const auto* above = grey.ptr<std::uint8_t>(iy);
    const auto* below = grey.ptr<std::uint8_t>(iy + 1);
    return (1 - v) * ((1 - u) * above[ix] + u * above[ix + 1]) + v * ((1 - u) * below[ix] + u * below[ix + 1]);
}

/// The change of light along a line, smoothed: the difference of the means over `half` samples before and behind.
std::vector<double> changesAlong(const std::vector<double>& light, size_t half)
{
    std::vector<double> sums(light.size() + 1, 0);
    for (size_t i = 0; i < light.size(); ++i)
        sums[i + 1] = sums[i] + light[i];
    std::vector<double> change(light.size(), 0);
    for (size_t i = half; i + half <= light.size(); ++i)
        change[i] = ((sums[i + half] - sums[i]) - (sums[i] - sums[i - half])) / static_cast<double>(half)
            / (static_cast<double>(half) * apart);
    return change;
}

} // namespace

RimProfile rimAlong(const cv::Mat& grey, std::span<const cv::Point2d> middles, std::span<const cv::Point2d> normals,
                    double reach, double blur)
{
    RimProfile rim;
    const auto samples = static_cast<size_t>(2 * reach / apart) + 1;
    const auto half = static_cast<size_t>(std::max(2.0, blur / apart));
    std::vector<std::vector<double>> changes(middles.size());
    std::vector<double> light(samples);
    for (size_t i = 0; i < middles.size(); ++i) {
        bool inside = true;
        for (size_t k = 0; k < samples && inside; ++k) {
            const double along = -reach + static_cast<double>(k) * apart;
            // Three beside each other, so that a speck counts less.
            double sum = 0;
            for (const double aside : {-1.0, 0.0, 1.0})
                sum += lightAt(grey, middles[i].x + along * normals[i].x - aside * normals[i].y,
                               middles[i].y + along * normals[i].y + aside * normals[i].x);
            light[k] = sum / 3;
            inside = std::isfinite(light[k]);
        }
        if (inside)
            changes[i] = changesAlong(light, half);
    }
    // What all lines show at each distance: where, and in which sense, the light changes.
    std::vector<double> usual(samples, 0);
    std::vector<double> column;
    for (size_t k = 0; k < samples; ++k) {
        column.clear();
        for (const auto& one : changes)
            if (!one.empty())
                column.push_back(one[k]);
        usual[k] = middleOf(column);
    }
    size_t peak = 0;
    for (size_t k = 0; k < samples; ++k)
        if (std::abs(usual[k]) > std::abs(usual[peak]))
            peak = k;
    const double sense = usual[peak] < 0 ? -1 : 1;
    // Each line's own place: the greatest change in that sense, the nearer to the usual place the better.
    rim.at.assign(middles.size(), nan);
    std::vector<double> strengths, noises;
    for (size_t i = 0; i < changes.size(); ++i) {
        const auto& one = changes[i];
        if (one.empty())
            continue;
        size_t best = 0;
        double merit = 0;
        for (size_t k = half; k + half < samples; ++k) {
            const double away = (static_cast<double>(k) - static_cast<double>(peak)) * apart / std::max(1.0, reach);
            const double m = sense * one[k] * (1 - 0.5 * std::min(1.0, std::abs(away)));
            if (m > merit) {
                merit = m;
                best = k;
            }
        }
        if (best == 0 || best + 1 >= samples)
            continue;
        const double a = one[best - 1] * sense, b = one[best] * sense, c = one[best + 1] * sense;
        const double bend = a - 2 * b + c;
        const double shift = bend < 0 ? std::clamp(0.5 * (a - c) / bend, -1.0, 1.0) : 0;
        rim.at[i] = -reach + (static_cast<double>(best) - 0.5 + shift) * apart; // the change lies before the sample
        strengths.push_back(b);
        for (size_t k = best + 3 * half; k + half < samples; k += half) // outside only: inside are edges between facets
            noises.push_back(std::abs(one[k]));
    }
    rim.strength = middleOf(strengths);
    rim.noise = noises.size() < middles.size() ? nan : 1.4826 * middleOf(noises);
    // Where the change falls to half of its greatest, over all lines laid upon each other.
    std::vector<double> laid(samples, 0);
    size_t count = 0;
    for (size_t i = 0; i < changes.size(); ++i) {
        if (changes[i].empty() || !std::isfinite(rim.at[i]))
            continue;
        const auto shift = static_cast<std::ptrdiff_t>(std::lround(rim.at[i] / apart));
        ++count;
        for (size_t k = 0; k < samples; ++k) {
            const auto from = static_cast<std::ptrdiff_t>(k) + shift;
            if (from >= 0 && from < static_cast<std::ptrdiff_t>(samples))
                laid[k] += sense * changes[i][static_cast<size_t>(from)];
        }
    }
    const size_t centre = samples / 2;
    const double top = laid[centre];
    size_t left = centre, right = centre;
    while (left > 0 && laid[left] > top / 2)
        --left;
    while (right + 1 < samples && laid[right] > top / 2)
        ++right;
    rim.edgeWidth = count > 0 ? static_cast<double>(right - left) * apart : 0;
    return rim;
}

std::optional<RimCurve> curveThrough(std::span<const double> t, std::span<const double> at, double within)
{
    std::vector<double> weights(t.size(), 0);
    std::vector<double> told;
    for (size_t i = 0; i < t.size(); ++i)
        if (std::isfinite(at[i]))
            told.push_back(at[i]);
    if (told.size() < 12)
        return std::nullopt;
    const double usual = middleOf(told);
    double wide = std::max(within, 1.0);
    for (size_t i = 0; i < t.size(); ++i)
        weights[i] = std::isfinite(at[i]) && std::abs(at[i] - usual) < 3 * wide ? 1 : 0;
    RimCurve curve;
    cv::Matx33d normal;
    for (int round = 0; round < 12; ++round) {
        normal = cv::Matx33d::zeros();
        cv::Vec3d right(0, 0, 0);
        for (size_t i = 0; i < t.size(); ++i) {
            if (!(weights[i] > 0))
                continue;
            const double u[3] = {1, t[i], t[i] * t[i]};
            for (int p = 0; p < 3; ++p) {
                right[p] += weights[i] * u[p] * at[i];
                for (int q = 0; q < 3; ++q)
                    normal(p, q) += weights[i] * u[p] * u[q];
            }
        }
        cv::Vec3d c;
        if (!cv::solve(normal, right, c, cv::DECOMP_CHOLESKY))
            return std::nullopt;
        curve.c0 = c[0];
        curve.c1 = c[1];
        curve.c2 = c[2];
        std::vector<double> off;
        for (size_t i = 0; i < t.size(); ++i)
            if (std::isfinite(at[i]))
                off.push_back(std::abs(at[i] - curve.at(t[i])));
        wide = std::max(0.35, 3 * 1.4826 * middleOf(off));
        for (size_t i = 0; i < t.size(); ++i) {
            const double r = std::isfinite(at[i]) ? (at[i] - curve.at(t[i])) / wide : 2;
            weights[i] = std::abs(r) < 1 ? (1 - r * r) * (1 - r * r) : 0;
        }
    }
    double squares = 0, sum = 0;
    size_t on = 0;
    for (size_t i = 0; i < t.size(); ++i)
        if (weights[i] > 0) {
            const double r = at[i] - curve.at(t[i]);
            squares += weights[i] * r * r;
            sum += weights[i];
            ++on;
        }
    if (on < 10)
        return std::nullopt;
    curve.rms = std::sqrt(squares / sum);
    curve.share = static_cast<double>(on) / static_cast<double>(t.size());
    const cv::Matx33d inverse = normal.inv(cv::DECOMP_SVD);
    const double variance =
        inverse(0, 0) + inverse(1, 1) + inverse(2, 2) + 2 * (inverse(0, 1) + inverse(0, 2) + inverse(1, 2));
    constexpr double together = 1.7; // neighbouring lines share pixels
    curve.endDoubt = together * curve.rms * std::sqrt(std::max({variance, inverse(0, 0), 0.0}));
    return curve;
}

} // namespace fortitor
