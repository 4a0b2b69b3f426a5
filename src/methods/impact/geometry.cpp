// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/impact/geometry.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

using Hit = ImpactGeometry::Hit;

constexpr std::array geometries{
    ImpactGeometry{"charpy-v",
                   "Charpy, V notch 2 mm",
                   "ISO 148-1, ASTM E23",
                   "KV2",
                   "KCV",
                   "metals",
                   false,
                   false,
                   Hit::Beam,
                   300,
                   8,
                   0.06,
                   10,
                   10,
                   55,
                   40,
                   2,
                   0.06,
                   0.25,
                   0.025,
                   45},
    ImpactGeometry{"charpy-u5",
                   "Charpy, U notch 5 mm",
                   "ISO 148-1",
                   "KU2",
                   "KCU",
                   "metals",
                   false,
                   false,
                   Hit::Beam,
                   300,
                   5,
                   0.09,
                   10,
                   10,
                   55,
                   40,
                   5,
                   0.09,
                   1,
                   0.07,
                   0},
    ImpactGeometry{"charpy-u2",
                   "Charpy, U notch 2 mm",
                   "older standards",
                   "KU",
                   "KCU",
                   "metals",
                   false,
                   false,
                   Hit::Beam,
                   300,
                   8,
                   0.1,
                   10,
                   10,
                   55,
                   40,
                   2,
                   0.1,
                   1,
                   0.07,
                   0},
    ImpactGeometry{"charpy-keyhole",
                   "Charpy, key-hole notch",
                   "ASTM E23 (older editions)",
                   "K",
                   "KC",
                   "metals",
                   false,
                   false,
                   Hit::Beam,
                   300,
                   5,
                   0.1,
                   10,
                   10,
                   55,
                   40,
                   5,
                   0.1,
                   1,
                   0.05,
                   0},
    ImpactGeometry{"charpy-pin",
                   "Charpy, drilled and pinned",
                   "older standards",
                   "K",
                   "KC",
                   "metals",
                   false,
                   false,
                   Hit::Beam,
                   300,
                   5,
                   0.1,
                   10,
                   10,
                   55,
                   40,
                   5,
                   0.1,
                   1,
                   0.05,
                   0},
    ImpactGeometry{"charpy-none",
                   "Charpy, no notch",
                   "older standards",
                   "K",
                   "KC",
                   "brittle metals",
                   false,
                   false,
                   Hit::Beam,
                   300,
                   10,
                   0.11,
                   10,
                   10,
                   55,
                   40,
                   0,
                   0,
                   0,
                   0,
                   0},
    ImpactGeometry{"izod-v",
                   "Izod, V notch",
                   "ASTM E23, BS 131",
                   "IZ",
                   "IZC",
                   "metals",
                   false,
                   false,
                   Hit::Cantilever,
                   165,
                   8,
                   0.1,
                   10,
                   10,
                   75,
                   0,
                   2,
                   0.1,
                   0.25,
                   0.025,
                   45},
    ImpactGeometry{"izod-plastic",
                   "Izod, plastics",
                   "ISO 180, ASTM D256",
                   "K",
                   "a",
                   "plastics",
                   true,
                   true,
                   Hit::Cantilever,
                   2.75,
                   10.16,
                   0.05,
                   0,
                   12.7,
                   64,
                   0,
                   2.54,
                   0.1,
                   0.25,
                   0.05,
                   45},
    ImpactGeometry{"charpy-plastic",
                   "Charpy, plastics",
                   "ISO 179-1",
                   "K",
                   "a",
                   "plastics",
                   true,
                   false,
                   Hit::Beam,
                   4,
                   8,
                   0.2,
                   4,
                   10,
                   80,
                   62,
                   2,
                   0.2,
                   0.25,
                   0.05,
                   45},
    ImpactGeometry{"tensile-smooth",
                   "Tensile impact, smooth",
                   "not standard everywhere",
                   "K",
                   "KC",
                   "metals",
                   false,
                   false,
                   Hit::Pulled,
                   300,
                   0,
                   0,
                   0,
                   0,
                   60,
                   0,
                   0,
                   0,
                   0,
                   0,
                   0},
    ImpactGeometry{"tensile-notched",
                   "Tensile impact, grooved",
                   "not standard everywhere",
                   "K",
                   "KC",
                   "metals",
                   false,
                   false,
                   Hit::Pulled,
                   300,
                   0,
                   0,
                   0,
                   0,
                   60,
                   0,
                   0,
                   0,
                   0.25,
                   0.05,
                   45},
};

/// A lying bar's upper edge from the left, with its notch in the middle, closed round the bar.
Stroke lyingBar(double left, double right, double top, double bottom, const Stroke& notch)
{
    Stroke bar{{left, top}};
    bar.insert(bar.end(), notch.begin(), notch.end());
    bar.insert(bar.end(), {{right, top}, {right, bottom}, {left, bottom}, {left, top}});
    return bar;
}

Stroke circle(double x, double y, double r)
{
    Stroke ring;
    constexpr int sides = 14;
    for (int i = 0; i <= sides; ++i) {
        const double a = 2 * std::numbers::pi * i / sides;
        ring.push_back({x + r * std::cos(a), y + r * std::sin(a)});
    }
    return ring;
}

Stroke notchOf(const ImpactGeometry& g, double middle, double top)
{
    if (g.depth <= 0 || g.height <= 0)
        return {};
    const double deep = 16 * g.depth / g.height; // of a bar drawn 16 high
    if (g.angle > 0)
        return {{middle - 0.45 * deep - 1, top}, {middle, top + deep}, {middle + 0.45 * deep + 1, top}};
    if (g.key == "charpy-keyhole" || g.key == "charpy-pin")
        return {
            {middle - 0.8, top}, {middle - 0.8, top + deep - 3}, {middle + 0.8, top + deep - 3}, {middle + 0.8, top}};
    return {{middle - 2, top},
            {middle - 2, top + deep - 2},
            {middle - 1, top + deep - 0.4},
            {middle + 1, top + deep - 0.4},
            {middle + 2, top + deep - 2},
            {middle + 2, top}};
}

} // namespace

std::span<const ImpactGeometry> impactGeometries()
{
    return geometries;
}

const ImpactGeometry* findImpactGeometry(std::string_view key)
{
    const auto it = std::ranges::find(geometries, key, &ImpactGeometry::key);
    return it == geometries.end() ? nullptr : &*it;
}

Sketch sketchOf(const ImpactGeometry& g)
{
    Sketch s;
    if (g.hit == Hit::Pulled) {
        const double half = 4;
        const double neck = g.angle > 0 ? 2 : 0;
        s.strokes = {{{4, 14},
                      {12, 14},
                      {12, 20 - half},
                      {20 - neck, 20 - half},
                      {20, 20 - half + neck},
                      {20 + neck, 20 - half},
                      {28, 20 - half},
                      {28, 14},
                      {36, 14}},
                     {{4, 26},
                      {12, 26},
                      {12, 20 + half},
                      {20 - neck, 20 + half},
                      {20, 20 + half - neck},
                      {20 + neck, 20 + half},
                      {28, 20 + half},
                      {28, 26},
                      {36, 26}}};
        return s;
    }
    s.strokes.push_back(lyingBar(3, 37, 12, 28, notchOf(g, 20, 12)));
    if (g.key == "charpy-keyhole" || g.key == "charpy-pin")
        s.strokes.push_back(circle(20, 12 + 16 * g.depth / g.height - 1.8, 1.8));
    if (g.hit == Hit::Cantilever) // held by one half
        s.filled = {{0, 9, 20, 3}, {0, 28, 20, 3}};
    else
        s.filled = {{3, 28.5, 6, 3}, {31, 28.5, 6, 3}};
    return s;
}

} // namespace fortitor
