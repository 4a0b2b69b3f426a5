// SPDX-License-Identifier: GPL-3.0-or-later
#include "vision/tip.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fortitor {
namespace {

constexpr double across = 0.5; // px between samples, both ways
constexpr double outside = 7; // px of ground that is looked at on each side

double sampleAt(const cv::Mat& grey, const cv::Point2d& p)
{
    const int x = static_cast<int>(std::floor(p.x)), y = static_cast<int>(std::floor(p.y));
    if (x < 0 || y < 0 || x + 1 >= grey.cols || y + 1 >= grey.rows)
        return std::nan("");
    const double u = p.x - x, v = p.y - y;
    const auto* above = grey.ptr<std::uint8_t>(y);
    const auto* below = grey.ptr<std::uint8_t>(y + 1);
    return (1 - v) * ((1 - u) * above[x] + u * above[x + 1]) + v * ((1 - u) * below[x] + u * below[x + 1]);
}

double medianOf(std::vector<double>& values)
{
    const auto half = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::ranges::nth_element(values, half);
    return *half;
}

/// What the light lacks across one section, as a share of the ground's light, px; NaN where the picture ends.
double lackAcross(const cv::Mat& grey, const cv::Point2d& at, const cv::Point2d& normal, double reach)
{
    std::vector<double> left, right;
    for (double t = reach; t <= reach + outside; t += across) {
        left.push_back(sampleAt(grey, at - t * normal));
        right.push_back(sampleAt(grey, at + t * normal));
    }
    for (const auto& side : {left, right})
        if (std::ranges::any_of(side, [](double v) { return !std::isfinite(v); }))
            return std::nan("");
    const double a = medianOf(left), b = medianOf(right);
    double sum = 0;
    for (double t = -reach; t <= reach; t += across)
        sum += a + (b - a) * (t + reach) / (2 * reach) - sampleAt(grey, at + t * normal);
    return sum * across / std::max(1.0, 0.5 * (a + b));
}

struct Section {
    double s, lack, weight;
};

/// c0 + c1·s + c2·s² with outliers left out; the places are shares of `half`.
bool fitParabola(std::vector<Section>& sections, cv::Vec3d& c, cv::Matx33d& spread)
{
    std::vector<double> robust(sections.size(), 1);
    for (int round = 0; round < 15; ++round) {
        cv::Matx33d normal = cv::Matx33d::zeros();
        cv::Vec3d right(0, 0, 0);
        for (size_t i = 0; i < sections.size(); ++i) {
            const double w = sections[i].weight * robust[i];
            const double u[3] = {1, sections[i].s, sections[i].s * sections[i].s};
            for (int p = 0; p < 3; ++p) {
                right[p] += w * u[p] * sections[i].lack;
                for (int q = 0; q < 3; ++q)
                    normal(p, q) += w * u[p] * u[q];
            }
        }
        if (!cv::solve(normal, right, c, cv::DECOMP_CHOLESKY))
            return false;
        std::vector<double> off;
        for (const Section& one : sections)
            off.push_back(std::abs(one.lack - c[0] - one.s * (c[1] + one.s * c[2])) * std::sqrt(one.weight));
        std::vector<double> sorted = off;
        const double sigma = std::max(1e-6, 1.4826 * medianOf(sorted));
        for (size_t i = 0; i < off.size(); ++i) {
            const double r = off[i] / (4.685 * sigma);
            robust[i] = r < 1 ? (1 - r * r) * (1 - r * r) : 0;
        }
        constexpr double together = 4; // neighbouring sections share pixels, as a factor of the variance
        spread = normal.inv(cv::DECOMP_SVD) * (together * sigma * sigma);
    }
    return true;
}

} // namespace

std::optional<Tip> tipAlong(const cv::Mat& grey, const cv::Point2d& middle, const cv::Point2d& axis, double half,
                            double halfWidth, double rim)
{
    const cv::Point2d normal(-axis.y, axis.x);
    std::optional<Tip> tip;
    for (int round = 0; round < 3; ++round) {
        const double last = std::min(0.97, 1 - 1.2 * rim / half);
        std::vector<Section> sections;
        for (double s = 0.5 * half; s <= last * half; s += across) {
            const double width = halfWidth * (1 - s / half);
            const double lack = lackAcross(grey, middle + s * axis, normal, width + rim + 1.5);
            if (std::isfinite(lack))
                sections.push_back({s / half, lack, 1 / (width + rim + 1.5)});
        }
        cv::Vec3d c;
        cv::Matx33d spread;
        if (sections.size() < 20 || !fitParabola(sections, c, spread))
            return std::nullopt;
        // The zero that lies nearest to where the tip was thought to be.
        double at = 1;
        for (int step = 0; step < 30; ++step) {
            const double slope = c[1] + 2 * c[2] * at;
            if (std::abs(slope) < 1e-9)
                return std::nullopt;
            at -= (c[0] + at * (c[1] + at * c[2])) / slope;
        }
        if (!(at > 0.8 && at < 1.25))
            return std::nullopt;
        const cv::Vec3d u(1, at, at * at);
        const double variance = u.dot(spread * u);
        tip = Tip{at * half, std::sqrt(std::max(0.0, variance)) / std::abs(c[1] + 2 * c[2] * at) * half};
        half = tip->along;
    }
    return tip;
}

} // namespace fortitor
