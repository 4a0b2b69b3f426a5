// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/note_drawing.h"

#include <QPainterPath>
#include <QPolygonF>

#include <algorithm>
#include <cmath>
#include <optional>

namespace fortitor {
namespace {

void paintSketch(QPainter& painter, const Palette& palette, const Sketch& sketch)
{
    painter.setPen(Qt::NoPen);
    painter.setBrush(palette.accent);
    for (const auto& [left, top, width, height] : sketch.filled)
        painter.drawRect(QRectF(left, top, width, height));
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(palette.ink, sketch.filled.empty() ? 1.6 : 1.2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    for (const Stroke& stroke : sketch.strokes) {
        QPolygonF line;
        for (const auto& [x, y] : stroke)
            line << QPointF(x, y);
        painter.drawPolyline(line);
    }
}

} // namespace

bool drawsChoice(const NoteSpec& note, const std::string& choice)
{
    if (!note.section.empty())
        return std::ranges::find(note.section, choice, &SketchLayer::choice) != note.section.end();
    return note.sketches.contains(choice) || (note.shownAs == NoteSpec::Shown::Direction && directionDegrees(choice));
}

void paintNote(QPainter& painter, const Palette& palette, const NoteSpec& note, const std::string& choice,
               const QRectF& room)
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.translate(room.topLeft());
    painter.scale(room.width() / 40, room.height() / 40);
    if (!note.section.empty()) {
        paintSection(painter, palette, note.section, QRectF(3, 2, 34, 36), choice, {});
    } else if (const auto it = note.sketches.find(choice); it != note.sketches.end()) {
        paintSketch(painter, palette, it->second);
    } else if (note.shownAs == NoteSpec::Shown::Direction) {
        QPainterPath bar;
        bar.addRect(QRectF(12, 3, 16, 34));
        painter.setPen(QPen(palette.ink, 1.4));
        painter.drawPath(bar);
        if (const auto degrees = directionDegrees(choice))
            paintDirection(painter, bar, *degrees, palette.data[0]);
    }
    painter.restore();
}

std::vector<DrawnLayer> sectionLayers(const std::vector<SketchLayer>& layers, const QRectF& room)
{
    std::vector<DrawnLayer> drawn;
    double y = room.top();
    for (const SketchLayer& layer : layers) {
        drawn.push_back({QRectF(room.left(), y, room.width(), layer.height * room.height()), layer.choice, layer.fill});
        y += layer.height * room.height();
    }
    return drawn;
}

void paintSection(QPainter& painter, const Palette& palette, const std::vector<SketchLayer>& layers, const QRectF& room,
                  const std::string& chosen, const std::string& hovered)
{
    using Fill = SketchLayer::Fill;
    painter.save();
    for (const DrawnLayer& layer : sectionLayers(layers, room)) {
        const bool named = !layer.choice.empty();
        const QColor fill = layer.fill == Fill::Solid ? palette.metal
            : layer.fill == Fill::Foam                ? palette.surface
            : layer.fill == Fill::Dense               ? palette.quiet
                                                      : palette.hair;
        painter.fillRect(layer.box,
                         named && layer.choice == chosen        ? palette.accent
                             : named && layer.choice == hovered ? palette.accentTint
                                                                : fill);
        if (layer.fill != Fill::Foam)
            continue;
        painter.save();
        painter.setClipRect(layer.box);
        painter.setPen(QPen(palette.hair, std::max(0.6, room.width() / 160)));
        const double cell = room.width() / 9;
        for (double x = layer.box.left() + cell / 2; x < layer.box.right(); x += cell)
            for (double y = layer.box.top() + cell / 2; y < layer.box.bottom(); y += cell)
                painter.drawEllipse(QPointF(x, y), cell * 0.36, cell * 0.36);
        painter.restore();
    }
    painter.setPen(QPen(palette.ink, std::max(1.0, room.width() / 130)));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(room);
    painter.restore();
}

void paintDirection(QPainter& painter, const QPainterPath& outline, double degrees, const QColor& colour,
                    double spacing)
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
