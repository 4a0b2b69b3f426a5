// SPDX-License-Identifier: GPL-3.0-or-later
// Where in a picture an indent may be: what stands out from the ground, light or dark, at several sizes of the picture.
#include "vision/candidate.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

/// The ground under uneven light: a surface of the second degree, fitted again and again without what stands out from
/// it.
/// It begins at the border, where an indent is not.
cv::Mat groundOf(const cv::Mat& picture)
{
    const int step = std::max(1, static_cast<int>(std::sqrt(static_cast<double>(picture.total()) / 4000)));
    std::vector<std::array<double, 6>> rows;
    std::vector<double> values, weights;
    const double cx = picture.cols / 2.0, cy = picture.rows / 2.0;
    for (int y = step / 2; y < picture.rows; y += step)
        for (int x = step / 2; x < picture.cols; x += step) {
            const double u = (x - cx) / cx, v = (y - cy) / cy;
            rows.push_back({1, u, v, u * u, u * v, v * v});
            values.push_back(picture.at<float>(y, x));
            weights.push_back(std::max(std::abs(u), std::abs(v)) > 0.8 ? 1 : 0.02);
        }
    cv::Mat c;
    for (int round = 0; round < 8; ++round) {
        cv::Mat A = cv::Mat::zeros(6, 6, CV_64F), b = cv::Mat::zeros(6, 1, CV_64F);
        for (size_t i = 0; i < rows.size(); ++i)
            for (int p = 0; p < 6; ++p) {
                b.at<double>(p) += weights[i] * rows[i][static_cast<size_t>(p)] * values[i];
                for (int q = 0; q < 6; ++q)
                    A.at<double>(p, q) +=
                        weights[i] * rows[i][static_cast<size_t>(p)] * rows[i][static_cast<size_t>(q)];
            }
        cv::solve(A, b, c, cv::DECOMP_SVD);
        std::vector<double> off(rows.size());
        std::vector<double> sizes;
        for (size_t i = 0; i < rows.size(); ++i) {
            double fit = 0;
            for (int p = 0; p < 6; ++p)
                fit += c.at<double>(p) * rows[i][static_cast<size_t>(p)];
            off[i] = values[i] - fit;
            if (weights[i] > 0.3)
                sizes.push_back(std::abs(off[i]));
        }
        if (sizes.size() < 20)
            break;
        std::ranges::nth_element(sizes, sizes.begin() + static_cast<std::ptrdiff_t>(sizes.size() / 2));
        const double wide = 4.685 * std::max(1.0, 1.4826 * sizes[sizes.size() / 2]);
        for (size_t i = 0; i < rows.size(); ++i) {
            const double r = off[i] / wide;
            weights[i] = std::abs(r) < 1 ? (1 - r * r) * (1 - r * r) : 0;
        }
    }
    cv::Mat ground(picture.size(), CV_32F);
    for (int y = 0; y < picture.rows; ++y) {
        const double v = (y - cy) / cy;
        auto* row = ground.ptr<float>(y);
        for (int x = 0; x < picture.cols; ++x) {
            const double u = (x - cx) / cx;
            row[x] = static_cast<float>(c.at<double>(0) + c.at<double>(1) * u + c.at<double>(2) * v
                                        + c.at<double>(3) * u * u + c.at<double>(4) * u * v + c.at<double>(5) * v * v);
        }
    }
    return ground;
}

/// How wide the ground itself scatters about its surface.
double scatterOf(const cv::Mat& off)
{
    std::vector<float> values;
    const int step = std::max(1, static_cast<int>(std::sqrt(static_cast<double>(off.total()) / 20000)));
    for (int y = 0; y < off.rows; y += step)
        for (int x = 0; x < off.cols; x += step)
            if (x < off.cols / 6 || x > off.cols * 5 / 6 || y < off.rows / 6 || y > off.rows * 5 / 6)
                values.push_back(std::abs(off.at<float>(y, x)));
    if (values.empty())
        return 1;
    std::ranges::nth_element(values, values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2));
    return std::max(1.0, 1.4826 * static_cast<double>(values[values.size() / 2]));
}

cv::Mat disc(int radius)
{
    return cv::getStructuringElement(cv::MORPH_ELLIPSE, {2 * radius + 1, 2 * radius + 1});
}

/// What a shape fills of the box about it: a square all, a ball its quarter of π, a long one half.
double filledBy(IndentShape shape)
{
    return shape == IndentShape::Square ? 1 : shape == IndentShape::Round ? std::numbers::pi / 4 : 0.5;
}

/// How well a spot fits; 0: not at all.
double scoreOf(const Candidate& c, IndentShape shape)
{
    const double ratio = c.length / std::max(1.0, c.width);
    const double wanted = shape == IndentShape::Long ? 7.114 : 1;
    const double off = std::abs(std::log(ratio / wanted));
    const double fill = std::abs(c.filled - filledBy(shape));
    if (off > 0.7 || fill > 0.42)
        return 0;
    return std::sqrt(c.length * c.width) * (1 - off) * (1 - fill);
}

Candidate inItsBox(const std::vector<cv::Point>& contour, double scale)
{
    const cv::RotatedRect box = cv::minAreaRect(contour);
    Candidate c;
    c.centre = cv::Point2d(box.center) / scale;
    c.length = std::max(box.size.width, box.size.height) / scale;
    c.width = std::min(box.size.width, box.size.height) / scale;
    c.angle = (box.size.width >= box.size.height ? box.angle : box.angle + 90) * std::numbers::pi / 180;
    c.filled = cv::contourArea(contour) / std::max(1.0f, box.size.area());
    return c;
}

/// The least box of a slender rhombus lies along a side, not along its long diagonal: that is the axis of its area.
Candidate alongItsAxis(const std::vector<cv::Point>& contour, double scale)
{
    const cv::Moments m = cv::moments(contour);
    Candidate c;
    if (!(m.m00 > 0))
        return c;
    const cv::Point2d centre(m.m10 / m.m00, m.m01 / m.m00);
    c.angle = 0.5 * std::atan2(2 * m.mu11, m.mu20 - m.mu02);
    const cv::Point2d along(std::cos(c.angle), std::sin(c.angle)), across(-along.y, along.x);
    double ends[4] = {0, 0, 0, 0};
    for (const cv::Point& p : contour) {
        const cv::Point2d q = cv::Point2d(p) - centre;
        ends[0] = std::min(ends[0], q.dot(along));
        ends[1] = std::max(ends[1], q.dot(along));
        ends[2] = std::min(ends[2], q.dot(across));
        ends[3] = std::max(ends[3], q.dot(across));
    }
    const cv::Point2d middle = centre + along * ((ends[0] + ends[1]) / 2) + across * ((ends[2] + ends[3]) / 2);
    c.centre = middle / scale;
    c.length = (ends[1] - ends[0]) / scale;
    c.width = (ends[3] - ends[2]) / scale;
    c.filled = m.m00 / std::max(1.0, (ends[1] - ends[0]) * (ends[3] - ends[2]));
    return c;
}

void findAt(const cv::Mat& grey, double scale, IndentShape shape, std::vector<Candidate>& all)
{
    cv::Mat small;
    cv::resize(grey, small, {}, scale, scale, cv::INTER_AREA);
    small.convertTo(small, CV_32F);
    cv::GaussianBlur(small, small, {}, 1.2);
    const cv::Mat off = small - groundOf(small);
    const double scatter = scatterOf(off);
    double greatest = 0;
    cv::minMaxLoc(cv::abs(off), nullptr, &greatest);
    for (const double times : {3.5, 6.0, 10.0}) {
        const double level = std::max(times * scatter, 5.0);
        if (level > greatest)
            break;
        cv::Mat mask = cv::abs(off) > level;
        cv::morphologyEx(mask, mask, cv::MORPH_CLOSE, disc(3));
        for (const int thin : {2, 4}) {
            cv::Mat opened;
            cv::morphologyEx(mask, opened, cv::MORPH_OPEN, disc(thin)); // scratches and letters are thin
            std::vector<std::vector<cv::Point>> contours;
            cv::findContours(opened, contours, cv::RETR_EXTERNAL, cv::CHAIN_APPROX_NONE);
            for (const auto& contour : contours) {
                if (contour.size() < 24)
                    continue;
                Candidate c = shape == IndentShape::Long ? alongItsAxis(contour, scale) : inItsBox(contour, scale);
                const cv::Rect round = cv::boundingRect(contour);
                c.cut =
                    round.x <= 2 || round.y <= 2 || round.br().x >= opened.cols - 2 || round.br().y >= opened.rows - 2;
                c.score = scoreOf(c, shape);
                if (c.score > 0)
                    all.push_back(c);
            }
        }
    }
}

} // namespace

std::vector<Candidate> candidatesIn(const cv::Mat& grey, IndentShape shape, double scale)
{
    std::vector<Candidate> all;
    findAt(grey, scale, shape, all);
    std::ranges::sort(all, [](const Candidate& a, const Candidate& b) { return a.score > b.score; });
    // One of each place.
    std::vector<Candidate> best;
    for (const Candidate& c : all) {
        const bool seen = std::ranges::any_of(best, [&](const Candidate& other) {
            return cv::norm(c.centre - other.centre) < 0.1 * other.length
                && std::abs(c.length - other.length) < 0.1 * other.length;
        });
        if (!seen)
            best.push_back(c);
        if (best.size() == 8)
            break;
    }
    return best;
}

} // namespace fortitor
