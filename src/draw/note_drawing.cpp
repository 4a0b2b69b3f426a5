// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/note_drawing.h"

#include <QPainterPath>

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

namespace fortitor {
namespace {

/// Lines in a box of 40 × 40: an upright bar of half width 7 with its break. Pen up at a NaN.
using Stroke = std::vector<QPointF>;
using Sketch = std::vector<Stroke>;

Stroke side(double x, double from, double to)
{
    return {{x, from}, {x, to}};
}

/// A bar broken at a line, the lower half moved down a little.
Sketch broken(const Stroke& line, double gap = 4)
{
    Sketch s;
    s.push_back(side(13, 2, line.front().y()));
    s.push_back(line);
    s.push_back(side(27, 2, line.back().y()));
    Stroke lower;
    for (const QPointF& p : line)
        lower.emplace_back(p.x(), p.y() + gap);
    s.push_back(side(13, line.front().y() + gap, 38));
    s.push_back(lower);
    s.push_back(side(27, line.back().y() + gap, 38));
    return s;
}

Sketch necked(const Stroke& line)
{
    Sketch s = broken(line, 4);
    s[0] = {{11, 2}, {11, 10}, {line.front().x(), line.front().y()}};
    s[2] = {{29, 2}, {29, 10}, {line.back().x(), line.back().y()}};
    s[3] = {{line.front().x(), line.front().y() + 4}, {11, 31}, {11, 38}};
    s[5] = {{line.back().x(), line.back().y() + 4}, {29, 31}, {29, 38}};
    return s;
}

const std::map<std::string, Sketch>& sketches()
{
    static const std::map<std::string, Sketch> all{
        {"fracture/cup and cone", necked({{15, 18}, {18, 21}, {22, 21}, {25, 18}})},
        {"fracture/slant", broken({{13, 13}, {27, 23}})},
        {"fracture/flat", broken({{13, 18}, {27, 18}})},
        {"fracture/granular", broken({{13, 18}, {15, 16}, {17, 19}, {19, 16}, {21, 19}, {23, 17}, {25, 19}, {27, 17}})},
        {"fracture/at grip", {{{9, 2}, {31, 2}, {31, 12}, {9, 12}, {9, 2}}, side(13, 16, 38), side(27, 16, 38), {{13, 16}, {20, 14}, {27, 16}}}},
        {"plastic-break/brittle", broken({{13, 18}, {27, 18}})},
        {"plastic-break/yield, then break", necked({{15, 18}, {25, 18}})},
        {"plastic-break/neck and draw", {{{11, 2}, {11, 8}, {17, 13}, {17, 20}, {23, 20}, {23, 13}, {29, 8}, {29, 2}}, {{17, 24}, {17, 30}, {11, 35}, {11, 38}}, {{17, 24}, {23, 24}}, {{23, 24}, {23, 30}, {29, 35}, {29, 38}}}},
        {"plastic-break/at the grip", {{{9, 2}, {31, 2}, {31, 12}, {9, 12}, {9, 2}}, side(13, 16, 38), side(27, 16, 38), {{13, 16}, {27, 16}}}},
        {"plastic-break/between layers", broken({{13, 14}, {17, 14}, {17, 18}, {22, 18}, {22, 22}, {27, 22}})},
        {"laminate-kind/A angled", broken({{13, 24}, {27, 12}})},
        {"laminate-kind/D edge delamination", {side(13, 2, 38), side(27, 2, 38), {{15, 10}, {17, 20}, {15, 30}}, {{25, 10}, {23, 20}, {25, 30}}}},
        {"laminate-kind/G at grip or tab", {{{9, 2}, {31, 2}, {31, 12}, {9, 12}, {9, 2}}, side(13, 15, 38), side(27, 15, 38), {{13, 15}, {27, 15}}}},
        {"laminate-kind/L lateral", broken({{13, 18}, {27, 18}})},
        {"laminate-kind/M several kinds", broken({{13, 14}, {18, 22}, {21, 15}, {27, 23}})},
        {"laminate-kind/S long splits", {side(13, 2, 38), side(27, 2, 38), side(17, 6, 34), side(20, 4, 30), side(23, 9, 36)}},
        {"laminate-kind/X explosive", {side(13, 2, 12), side(27, 2, 12), side(13, 28, 38), side(27, 28, 38), {{13, 12}, {16, 18}, {18, 13}, {20, 19}, {22, 13}, {24, 18}, {27, 12}}, {{13, 28}, {16, 22}, {18, 27}, {20, 21}, {22, 27}, {24, 22}, {27, 28}}, {{7, 18}, {10, 20}}, {{33, 20}, {30, 21}}}},
        {"barrelling/even", {{{12, 6}, {28, 6}, {28, 34}, {12, 34}, {12, 6}}, {{6, 6}, {34, 6}}, {{6, 34}, {34, 34}}}},
        {"barrelling/barrelled", {{{12, 6}, {8, 13}, {7, 20}, {8, 27}, {12, 34}}, {{28, 6}, {32, 13}, {33, 20}, {32, 27}, {28, 34}}, {{6, 6}, {34, 6}}, {{6, 34}, {34, 34}}}},
        {"barrelling/buckled", {{{12, 6}, {17, 13}, {19, 20}, {17, 27}, {12, 34}}, {{24, 6}, {29, 13}, {31, 20}, {29, 27}, {24, 34}}, {{6, 6}, {34, 6}}, {{6, 34}, {34, 34}}}},
        {"barrelling/sheared", {{{12, 6}, {12, 24}, {28, 12}, {28, 6}}, {{12, 34}, {12, 28}, {28, 16}, {28, 34}}, {{6, 6}, {34, 6}}, {{6, 34}, {34, 34}}}},
        {"barrelling/split", {{{12, 6}, {28, 6}, {28, 34}, {12, 34}, {12, 6}}, {{17, 6}, {16, 20}, {17, 34}}, {{23, 6}, {24, 20}, {23, 34}}, {{6, 6}, {34, 6}}, {{6, 34}, {34, 34}}}},
        {"barrelling/end crushed", {{{12, 12}, {12, 34}, {28, 34}, {28, 12}}, {{10, 6}, {13, 8}, {9, 10}, {12, 12}}, {{30, 6}, {27, 8}, {31, 10}, {28, 12}}, {{6, 6}, {34, 6}}, {{6, 34}, {34, 34}}}},
        {"torsion-break/flat across", broken({{13, 20}, {27, 20}})},
        {"torsion-break/helix at 45°", broken({{13, 12}, {16, 17}, {20, 19}, {24, 21}, {27, 26}})},
        {"torsion-break/at the chuck", {{{6, 2}, {12, 2}, {12, 14}, {6, 14}, {6, 2}}, {{28, 2}, {34, 2}, {34, 14}, {28, 14}, {28, 2}}, side(13, 17, 38), side(27, 17, 38), {{13, 17}, {27, 17}}}},
        // A beam seen from the side, its lower edge in tension.
        {"bending-break/simple tension", {{{2, 13}, {38, 13}, {38, 27}, {22, 27}}, {{2, 13}, {2, 27}, {19, 27}}, {{19, 27}, {20, 23}, {18, 20}, {20, 17}}, {{22, 27}, {21, 23}}}},
        {"bending-break/cross-grain tension", {{{2, 13}, {38, 13}, {38, 27}, {16, 27}}, {{2, 13}, {2, 27}, {13, 27}}, {{13, 27}, {30, 15}}, {{16, 27}, {31, 17}}}},
        {"bending-break/splintering tension", {{{2, 13}, {38, 13}, {38, 27}, {29, 27}}, {{2, 13}, {2, 27}, {11, 27}}, {{11, 27}, {19, 24}, {14, 23}, {24, 21}, {17, 19}, {27, 18}}, {{29, 27}, {20, 25}, {30, 23}, {22, 21}}}},
        {"bending-break/brash tension", {{{2, 13}, {19, 13}}, {{21, 13}, {38, 13}, {38, 27}, {21, 27}}, {{2, 13}, {2, 27}, {19, 27}}, {{19, 27}, {19, 14}}, {{21, 27}, {21, 14}}}},
        {"bending-break/compression", {{{2, 27}, {38, 27}, {38, 13}, {24, 13}}, {{2, 27}, {2, 13}, {16, 13}}, {{16, 13}, {18, 16}, {20, 13}, {22, 16}, {24, 13}}, {{17, 18}, {20, 21}, {23, 18}}}},
        {"bending-break/horizontal shear", {{{2, 13}, {36, 13}, {36, 20}, {2, 20}, {2, 13}}, {{4, 21}, {38, 21}, {38, 28}, {4, 28}, {4, 21}}}},
        {"shell/one fold", {{{11, 4}, {11, 16}, {5, 20}, {11, 24}, {11, 36}}, {{29, 4}, {29, 16}, {35, 20}, {29, 24}, {29, 36}}, {{6, 4}, {34, 4}}, {{6, 36}, {34, 36}}}},
        {"shell/several folds", {{{11, 4}, {11, 10}, {6, 13}, {12, 16}, {6, 19}, {12, 22}, {6, 25}, {11, 28}, {11, 36}}, {{29, 4}, {29, 10}, {34, 13}, {28, 16}, {34, 19}, {28, 22}, {34, 25}, {29, 28}, {29, 36}}, {{6, 4}, {34, 4}}, {{6, 36}, {34, 36}}}},
        {"shell/tilted", {{{11, 6}, {14, 18}, {10, 24}, {11, 36}}, {{29, 4}, {32, 16}, {27, 22}, {29, 36}}, {{6, 7}, {34, 3}}, {{6, 36}, {34, 36}}}},
        {"shell/burst", {{{11, 4}, {11, 16}, {8, 19}}, {{29, 4}, {29, 36}}, {{11, 36}, {11, 26}, {8, 22}}, {{14, 15}, {17, 20}, {14, 26}}, {{6, 4}, {34, 4}}, {{6, 36}, {34, 36}}}},
    };
    return all;
}

/// Where along an upright strip an area or a place lies: a band of the strip filled in.
std::optional<QRectF> bandOf(const std::string& family, const std::string& choice)
{
    static const std::map<std::string, QRectF> bands{
        {"laminate-area/I inside the grip", {13, 3, 14, 7}},
        {"laminate-area/A at the grip", {13, 9, 14, 3}},
        {"laminate-area/W within one width", {13, 11, 14, 7}},
        {"laminate-area/G gauge length", {13, 15, 14, 10}},
        {"laminate-area/M several places", {13, 6, 14, 28}},
        {"laminate-area/V various", {13, 3, 14, 34}},
        {"laminate-place/T top", {13, 5, 14, 9}},
        {"laminate-place/M middle", {13, 16, 14, 8}},
        {"laminate-place/B bottom", {13, 26, 14, 9}},
        {"laminate-place/L left", {13, 5, 5, 30}},
        {"laminate-place/R right", {22, 5, 5, 30}},
        {"laminate-place/V various", {13, 3, 14, 34}},
    };
    const auto it = bands.find(family + "/" + choice);
    return it == bands.end() ? std::nullopt : std::optional(it->second);
}

void paintBand(QPainter& painter, const Palette& palette, const QRectF& band)
{
    painter.setPen(Qt::NoPen);
    painter.setBrush(palette.accent);
    painter.drawRect(band);
    painter.setPen(QPen(palette.ink, 1.2));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(13, 2, 14, 36));
    painter.drawLine(QPointF(9, 10), QPointF(31, 10));
    painter.drawLine(QPointF(9, 30), QPointF(31, 30));
}

} // namespace

void paintNote(QPainter& painter, const Palette& palette, const std::string& family, const std::string& choice, const QRectF& room)
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.translate(room.topLeft());
    painter.scale(room.width() / 40, room.height() / 40);
    if (family == "sandwich") {
        paintSandwich(painter, palette, QRectF(3, 2, 34, 36), choice, {});
    } else if (family == "direction") {
        QPainterPath bar;
        bar.addRect(QRectF(12, 3, 16, 34));
        painter.setPen(QPen(palette.ink, 1.4));
        painter.drawPath(bar);
        if (const auto degrees = directionDegrees(choice))
            paintDirection(painter, bar, *degrees, palette.data[0]);
    } else if (const auto band = bandOf(family, choice)) {
        paintBand(painter, palette, *band);
    } else if (const auto it = sketches().find(family + "/" + choice); it != sketches().end()) {
        painter.setPen(QPen(palette.ink, 1.6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        for (const Stroke& stroke : it->second)
            painter.drawPolyline(stroke.data(), static_cast<int>(stroke.size()));
    }
    painter.restore();
}

std::vector<SandwichLayer> sandwichLayers(const QRectF& room)
{
    struct Part {
        double height;
        const char* choice;
        const char* name;
    };
    static constexpr Part parts[] = {{0.16, "", "block"}, {0.05, "block adhesive", "block adhesive"}, {0.07, "skin", "skin"}, {0.06, "core-to-skin bond", "core-to-skin bond"}, {0.32, "core", "core"}, {0.06, "core-to-skin bond", "core-to-skin bond"}, {0.07, "skin", "skin"}, {0.05, "block adhesive", "block adhesive"}, {0.16, "", "block"}};
    std::vector<SandwichLayer> layers;
    double y = room.top();
    for (const Part& part : parts) {
        layers.push_back({QRectF(room.left(), y, room.width(), part.height * room.height()), part.choice, part.name});
        y += part.height * room.height();
    }
    return layers;
}

void paintSandwich(QPainter& painter, const Palette& palette, const QRectF& room, const std::string& chosen, const std::string& hovered)
{
    const auto layers = sandwichLayers(room);
    for (const SandwichLayer& layer : layers) {
        const bool block = layer.choice.empty();
        const QColor fill = block ? palette.metal : layer.choice == "core" ? palette.surface : layer.choice == "skin" ? palette.quiet : palette.hair;
        painter.fillRect(layer.box, !block && layer.choice == chosen ? palette.accent : !block && layer.choice == hovered ? palette.accentTint : fill);
    }
    // Foam cells of the core.
    painter.save();
    const QRectF core = layers[4].box;
    painter.setClipRect(core);
    painter.setPen(QPen(palette.hair, std::max(0.6, room.width() / 160)));
    const double cell = room.width() / 9;
    for (double x = core.left() + cell / 2; x < core.right(); x += cell)
        for (double y = core.top() + cell / 2; y < core.bottom(); y += cell)
            painter.drawEllipse(QPointF(x, y), cell * 0.36, cell * 0.36);
    painter.restore();
    painter.setPen(QPen(palette.ink, std::max(1.0, room.width() / 130)));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(room);
}

void paintDirection(QPainter& painter, const QPainterPath& outline, double degrees, const QColor& colour, double spacing)
{
    painter.save();
    painter.setClipPath(outline, Qt::IntersectClip);
    const QRectF box = outline.boundingRect();
    const double reach = std::hypot(box.width(), box.height());
    const double step = spacing > 0 ? spacing : std::max(3.0, box.width() / 4);
    for (const double angle : degrees == 45 ? std::vector<double>{45, -45} : std::vector<double>{degrees}) {
        const double radians = angle * 3.14159265358979 / 180;
        const QPointF along(std::sin(radians), -std::cos(radians));
        const QPointF across(along.y(), -along.x());
        painter.setPen(QPen(colour, 1));
        for (double d = -reach; d <= reach; d += step) {
            const QPointF middle = box.center() + across * d;
            painter.drawLine(middle - along * reach, middle + along * reach);
        }
    }
    painter.restore();
}

std::optional<double> directionDegrees(const std::string& note)
{
    if (note.empty())
        return std::nullopt;
    if (note.find("45") != std::string::npos)
        return 45;
    if (note.starts_with("along") || note.starts_with("0"))
        return 0;
    if (note.starts_with("across") || note.starts_with("upright") || note.starts_with("90"))
        return 90;
    return std::nullopt;
}

} // namespace fortitor
