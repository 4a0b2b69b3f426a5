// SPDX-License-Identifier: GPL-3.0-or-later
// From a rough place to the rim, to a fraction of a pixel.
#include "vision/indent_picture.h"

#include "vision/candidate.h"
#include "vision/rim.h"
#include "vision/long_indent.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

using cv::Point2d;

constexpr double leastLength = 70; // px: below it no fraction of a pixel is worth a number
constexpr double leastShare = 0.55; // of the lines across a side
constexpr double clearOfNoise = 3.5;
constexpr double widestEdge = 0.14; // of the size: beyond it is out of focus

/// One side of a pyramid's indent: a curve over the line between two corners.
struct Side {
    Point2d from, to, along, normal;
    double length = 0;
    RimCurve curve;
    double strength = 0, noise = 0, edgeWidth = 0;

    Side(Point2d a, Point2d b) : from(a), to(b)
    {
        length = cv::norm(b - a);
        along = (b - a) / std::max(length, 1e-9);
        normal = Point2d(along.y, -along.x);
    }
    [[nodiscard]] Point2d at(double t) const { return from + t * length * along + curve.at(t) * normal; }
    [[nodiscard]] Point2d slope(double t) const { return length * along + curve.slope(t) * normal; }
};

bool fitSide(const cv::Mat& grey, Side& side, double reach, double blur)
{
    constexpr double first = 0.06, last = 0.94; // at a corner, a line across would see the other side too
    const auto count = static_cast<size_t>(std::clamp(side.length / 2, 30.0, 160.0));
    std::vector<double> t(count);
    std::vector<Point2d> middles(count), normals(count, side.normal);
    for (size_t i = 0; i < count; ++i) {
        t[i] = first + (last - first) * static_cast<double>(i) / static_cast<double>(count - 1);
        middles[i] = side.at(t[i]);
    }
    const RimProfile rim = rimAlong(grey, middles, normals, reach, blur);
    const auto curve = curveThrough(t, rim.at, 0.25 * reach); // from where it was thought to be
    if (!curve)
        return false;
    side.curve = *curve;
    side.strength = rim.strength;
    side.noise = rim.noise; // seen where the lines are long
    side.edgeWidth = rim.edgeWidth;
    return true;
}

/// Where two sides meet: the end of the first and the beginning of the second.
std::optional<Point2d> meeting(const Side& a, const Side& b)
{
    double t = 1, s = 0;
    for (int round = 0; round < 20; ++round) {
        const Point2d off = a.at(t) - b.at(s);
        const Point2d da = a.slope(t), db = b.slope(s);
        const double det = -da.x * db.y + da.y * db.x;
        if (std::abs(det) < 1e-9)
            return std::nullopt;
        const double dt = (-off.x * -db.y + off.y * -db.x) / det;
        const double ds = (da.x * -off.y - da.y * -off.x) / det;
        t += dt;
        s += ds;
        if (std::abs(dt) + std::abs(ds) < 1e-9)
            break;
    }
    if (std::abs(t - 1) > 0.35 || std::abs(s) > 0.35)
        return std::nullopt;
    return a.at(t);
}

std::vector<Point2d> cornersOf(const Candidate& c)
{
    const Point2d along(std::cos(c.angle), std::sin(c.angle)), across(-along.y, along.x);
    return {c.centre - along * (c.length / 2) - across * (c.width / 2),
            c.centre + along * (c.length / 2) - across * (c.width / 2),
            c.centre + along * (c.length / 2) + across * (c.width / 2),
            c.centre - along * (c.length / 2) + across * (c.width / 2)};
}

double angleAt(Point2d a, Point2d corner, Point2d b)
{
    const Point2d u = a - corner, v = b - corner;
    return std::acos(std::clamp(u.dot(v) / (cv::norm(u) * cv::norm(v)), -1.0, 1.0)) * 180 / std::numbers::pi;
}

/// Four sides from a rough box; the reach narrows as they are found.
Expected<FoundIndent> squareFrom(const cv::Mat& grey, const Candidate& candidate)
{
    std::vector<Point2d> corners = cornersOf(candidate);
    std::vector<Side> sides;
    std::array<double, 4> noises{};
    const double size = candidate.length;
    for (const double share : {0.16, 0.08, 0.05, 0.04}) {
        sides.clear();
        const double reach = std::max(5.0, share * size);
        const double blur = std::clamp(0.02 * size, 1.5, 8.0);
        for (size_t k = 0; k < 4; ++k) {
            sides.emplace_back(corners[k], corners[(k + 1) % 4]);
            if (!fitSide(grey, sides.back(), reach, blur))
                return refused("a side that can't be told",
                               "Clean the lens and the piece, and take the picture again.");
            if (std::isfinite(sides.back().noise))
                noises[k] = sides.back().noise;
        }
        std::vector<Point2d> next;
        for (size_t k = 0; k < 4; ++k) {
            const auto corner = meeting(sides[(k + 3) % 4], sides[k]);
            if (!corner)
                return refused("sides that do not meet", "Is this the right kind of indent?");
            next.push_back(*corner);
        }
        corners = next;
    }
    FoundIndent found{.shape = IndentShape::Square};
    double straight = 0;
    for (size_t k = 0; k < 4; ++k) {
        const Side& side = sides[k];
        if (!insidePicture(grey, corners[k]))
            return refused("an indent that the border cuts",
                           "Move the stage so that the whole indent is in the picture.");
        if (side.curve.share < leastShare || side.strength < clearOfNoise * noises[k])
            return refused("a side that is hardly told from its ground", "More light, or place the corners by hand.");
        found.bow = std::abs(side.curve.c2) / 4 / side.length > std::abs(found.bow) ? -side.curve.c2 / 4 / side.length
                                                                                    : found.bow;
        straight = std::max(straight, side.curve.rms);
        found.edgeWidth = std::max(found.edgeWidth, side.edgeWidth);
    }
    found.straightness = straight;
    const double d1 = cv::norm(corners[0] - corners[2]), d2 = cv::norm(corners[1] - corners[3]);
    for (size_t k = 0; k < 4; ++k) {
        const double angle = angleAt(corners[(k + 3) % 4], corners[k], corners[(k + 1) % 4]);
        if (std::abs(angle - 90) > 14)
            return refused("corners of the wrong angles", "Is this the right kind of indent?");
    }
    if (std::max(d1, d2) < leastLength)
        return refused("an indent of " + std::to_string(static_cast<int>(d1)) + " pixels", "Use a stronger objective.");
    if (std::max(d1, d2) / std::min(d1, d2) > 1.3)
        return refused("diagonals that differ by over 30 %", "Is this one indent, and square to the lens?");
    const double across = std::min(d1, d2);
    if (found.edgeWidth > std::max(5.5, widestEdge * across))
        return refused("a rim that is out of focus",
                       "Focus by moving the piece away from the lens, and take it again.");
    if (straight > std::max(1.2, 0.015 * across))
        return refused("sides that are no lines", "Is the piece etched, or scratched too deep?");
    for (size_t k = 0; k < 4; ++k)
        found.corners[k] = {corners[k].x, corners[k].y};
    const Point2d middle = (corners[0] + corners[1] + corners[2] + corners[3]) / 4;
    found.centre = {middle.x, middle.y};
    found.lengths = {d1, d2};
    // A corner is off by what both of its sides are at their ends; two sides meet at a sharp tip far off for little.
    const double floor = 0.12;
    const double end = std::max(
        {sides[0].curve.endDoubt, sides[1].curve.endDoubt, sides[2].curve.endDoubt, sides[3].curve.endDoubt, floor});
    const double half = 45; // degrees between a side and the diagonal of a square one
    const double corner = end / std::sin(half * std::numbers::pi / 180);
    found.doubts = {corner, corner};
    return found;
}

/// An ellipse by its general form, IRLS on the distance along the rays.
Expected<FoundIndent> roundFrom(const cv::Mat& grey, const Candidate& candidate)
{
    Point2d centre = candidate.centre;
    double a = candidate.length / 2, b = candidate.width / 2, angle = candidate.angle;
    constexpr size_t rays = 180;
    RimProfile rim;
    double rms = 0, share = 0, noise = 0;
    for (const double reachShare : {0.3, 0.15, 0.1, 0.08}) {
        std::vector<Point2d> middles(rays), normals(rays);
        for (size_t i = 0; i < rays; ++i) {
            const double phi = 2 * std::numbers::pi * static_cast<double>(i) / rays;
            normals[i] = {std::cos(phi), std::sin(phi)};
            const double u = std::cos(phi - angle) / a, v = std::sin(phi - angle) / b;
            middles[i] = centre + normals[i] / std::sqrt(u * u + v * v);
        }
        const double reach = std::max(5.0, reachShare * std::max(a, b));
        rim = rimAlong(grey, middles, normals, reach, std::clamp(0.02 * (a + b), 1.5, 8.0));
        if (std::isfinite(rim.noise))
            noise = rim.noise;
        std::vector<cv::Point2f> on;
        double wide = reach;
        for (int round = 0; round < 4; ++round) {
            on.clear();
            std::vector<double> off;
            for (size_t i = 0; i < rays; ++i) {
                if (!std::isfinite(rim.at[i]))
                    continue;
                const Point2d p = middles[i] + rim.at[i] * normals[i];
                const double c = std::cos(angle), s = std::sin(angle);
                const Point2d q = p - centre;
                const double u = (q.x * c + q.y * s) / a, v = (-q.x * s + q.y * c) / b;
                const double away = (std::hypot(u, v) - 1) * 0.5 * (a + b);
                off.push_back(std::abs(away));
                if (std::abs(away) <= wide)
                    on.emplace_back(static_cast<float>(p.x), static_cast<float>(p.y));
            }
            if (on.size() < 60)
                return refused("a rim that can't be told", "More light, or place the rim by hand.");
            const cv::RotatedRect fit = cv::fitEllipseDirect(on);
            centre = fit.center;
            a = fit.size.width / 2;
            b = fit.size.height / 2;
            angle = fit.angle * std::numbers::pi / 180;
            if (!(a > 5) || !(b > 5))
                return refused("a rim that is no ellipse", "Is this the right kind of indent?");
            std::ranges::nth_element(off, off.begin() + static_cast<std::ptrdiff_t>(off.size() / 2));
            wide = std::max(0.8, 3 * 1.4826 * off[off.size() / 2]);
            rms = 1.4826 * off[off.size() / 2];
            share = static_cast<double>(on.size()) / rays;
        }
    }
    FoundIndent found{.shape = IndentShape::Round};
    const double reachX = std::hypot(a * std::cos(angle), b * std::sin(angle));
    const double reachY = std::hypot(a * std::sin(angle), b * std::cos(angle));
    if (!insidePicture(grey, centre - Point2d(reachX, reachY))
        || !insidePicture(grey, centre + Point2d(reachX, reachY)))
        return refused("an indent that the border cuts", "Move the stage so that the whole indent is in the picture.");
    if (share < leastShare || rim.strength < clearOfNoise * noise)
        return refused("a rim that is hardly told from its ground", "More light, or place the rim by hand.");
    if (2 * std::max(a, b) < leastLength)
        return refused("an indent of " + std::to_string(static_cast<int>(2 * a)) + " pixels", "Use a stronger lens.");
    if (std::max(a, b) / std::min(a, b) > 1.25)
        return refused("diameters that differ by over 25 %", "Is the piece square to the lens?");
    if (rim.edgeWidth > std::max(5.0, widestEdge * 2 * std::min(a, b)))
        return refused("a rim that is out of focus", "Focus again and take another picture.");
    if (rms > std::max(1.5, 0.02 * (a + b)))
        return refused("a rim that is no ellipse", "Is this the right kind of indent?");
    found.centre = {centre.x, centre.y};
    found.halfA = a;
    found.halfB = b;
    found.angle = angle;
    found.lengths = {2 * a, 2 * b};
    found.edgeWidth = rim.edgeWidth;
    found.straightness = rms;
    const double doubt = std::max(0.15, 2 * rms / std::sqrt(share * rays / 5));
    found.doubts = {doubt, doubt};
    return found;
}

/// Of two that hold, the one that stands out more.
double meritOf(const Candidate& c)
{
    return c.score;
}

} // namespace

Expected<FoundIndent> findIndent(const GreyPicture& picture, IndentShape shape)
{
    if (picture.width < 40 || picture.height < 40
        || picture.pixels.size() != static_cast<size_t>(picture.width) * static_cast<size_t>(picture.height))
        return Problem{"picture", "too few pixels", "a picture of at least 40 by 40 pixels", {}};
    const cv::Mat grey(picture.height, picture.width, CV_8U, const_cast<std::uint8_t*>(picture.pixels.data()));
    std::optional<FoundIndent> best;
    double merit = 0;
    Problem why = refused("nothing that stands out from its ground", "Is there an indent, and enough light?");
    bool told = false;
    const int longest = std::max(picture.width, picture.height);
    for (const int to : {320, 800, 1800}) { // most indents are large: the smallest picture shows them
        if (best || (to > 320 && longest <= to / 2))
            break;
        for (const Candidate& candidate : candidatesIn(grey, shape, std::min(1.0, to / static_cast<double>(longest)))) {
            auto found = shape == IndentShape::Round ? roundFrom(grey, candidate)
                : shape == IndentShape::Long         ? longFrom(grey, candidate)
                                                     : squareFrom(grey, candidate);
            if (!found) {
                if (!told)
                    why = found.problem();
                told = true;
                continue;
            }
            if (!best || meritOf(candidate) > merit) {
                best = std::move(*found);
                merit = meritOf(candidate);
            }
            break; // they come by merit
        }
    }
    if (!best)
        return why;
    return std::move(*best);
}

} // namespace fortitor
