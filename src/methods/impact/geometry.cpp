// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/impact/geometry.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

using Hit = ImpactGeometry::Hit;

// Metals are struck on 55 × 10 × 10 mm over 40 mm, plastics on 80 × 10 × 4 over 62.
constexpr ImpactGeometry metalBar{
    .materials = "metals", .pendulum = 300, .width = 10, .height = 10, .length = 55, .span = 40};

constexpr ImpactGeometry charpy(std::string_view key, std::string_view name, std::string_view standard,
                                std::string_view symbol, std::string_view areaSymbol, double depth, double off,
                                double radius, double radiusOff, double angle)
{
    ImpactGeometry g = metalBar;
    g.key = key;
    g.name = name;
    g.standard = standard;
    g.symbol = symbol;
    g.areaSymbol = areaSymbol;
    g.depth = depth;
    g.ligament = g.height - depth;
    g.ligamentOff = off;
    g.depthOff = depth > 0 ? off : 0;
    g.radius = radius;
    g.radiusOff = radiusOff;
    g.angle = angle;
    return g;
}

constexpr ImpactGeometry izod(bool plastic)
{
    ImpactGeometry g = charpy("izod-v", "Izod, V notch", "ASTM E23, BS 131", "IZ", "IZC", 2, 0.1, 0.25, 0.025, 45);
    g.hit = Hit::Cantilever;
    g.pendulum = 165;
    g.length = 75;
    g.span = 0;
    if (!plastic)
        return g;
    g.key = "izod-plastic";
    g.name = "Izod, plastics";
    g.standard = "ISO 180, ASTM D256";
    g.symbol = "K";
    g.areaSymbol = "a";
    g.materials = "plastics";
    g.plastic = g.perWidth = true;
    g.pendulum = 2.75;
    g.ligament = 10.16;
    g.ligamentOff = g.radiusOff = 0.05;
    g.width = 0; // 3 to 12.7 mm
    g.height = 12.7;
    g.depth = 2.54;
    g.length = 64;
    return g;
}

constexpr ImpactGeometry charpyPlastic()
{
    ImpactGeometry g = charpy("charpy-plastic", "Charpy, plastics", "ISO 179-1", "K", "a", 2, 0.2, 0.25, 0.05, 45);
    g.materials = "plastics";
    g.plastic = true;
    g.pendulum = 4;
    g.width = 4;
    g.length = 80;
    g.span = 62;
    return g;
}

constexpr ImpactGeometry pulled(std::string_view key, std::string_view name, bool grooved)
{
    return {.key = key,
            .name = name,
            .standard = "not standard everywhere",
            .symbol = "K",
            .areaSymbol = "KC",
            .materials = "metals",
            .hit = Hit::Pulled,
            .pendulum = 300,
            .length = 60,
            .radius = grooved ? 0.25 : 0,
            .radiusOff = grooved ? 0.05 : 0,
            .angle = grooved ? 45.0 : 0};
}

constexpr std::array geometries{
    charpy("charpy-v", "Charpy, V notch 2 mm", "ISO 148-1, ASTM E23", "KV2", "KCV", 2, 0.06, 0.25, 0.025, 45),
    charpy("charpy-u5", "Charpy, U notch 5 mm", "ISO 148-1", "KU2", "KCU", 5, 0.09, 1, 0.07, 0),
    charpy("charpy-u2", "Charpy, U notch 2 mm", "older standards", "KU", "KCU", 2, 0.1, 1, 0.07, 0),
    charpy("charpy-keyhole", "Charpy, key-hole notch", "ASTM E23 (older editions)", "K", "KC", 5, 0.1, 1, 0.05, 0),
    charpy("charpy-pin", "Charpy, drilled and pinned", "older standards", "K", "KC", 5, 0.1, 1, 0.05, 0),
    charpy("charpy-none", "Charpy, no notch", "older standards", "K", "KC", 0, 0.11, 0, 0, 0),
    izod(false),
    izod(true),
    charpyPlastic(),
    pulled("tensile-smooth", "Tensile impact, smooth", false),
    pulled("tensile-notched", "Tensile impact, grooved", true),
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
