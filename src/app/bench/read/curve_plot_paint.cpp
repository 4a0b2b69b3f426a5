// SPDX-License-Identifier: GPL-3.0-or-later
// How the curve of Read is painted; what hands do with it stands in curve_plot.cpp.
#include "app/bench/read/curve_plot.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "methods/display.h"
#include "units/quantity.h"

#include <QFontMetricsF>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

QString axisTitle(const CurveAxis& axis, const Unit& unit)
{
    return q(axis.title) + ", " + q(std::string(unit.symbol));
}

} // namespace

/// Whether a result stands on a mark or area, itself or as one that is worked out there.
bool CurvePlot::standsFor(const std::string& mark, const QString& symbol) const
{
    return q(mark) == symbol
        || (session_.isOpen() && !symbol.isEmpty() && specFor(*session_.job().method, s(symbol)).standsOn() == mark);
}

void CurvePlot::paintCurve(QPainter& painter, const Chart& chart, double width) const
{
    const CurveView* v = view();
    const size_t n = v->x.size();
    const size_t cut = v->crossheadFrom > 0 && v->crossheadFrom < n ? v->crossheadFrom : n;
    chart.drawCurve(painter, std::span(v->x).first(cut), std::span(v->y).first(cut),
                    QPen(pal().ink, width, Qt::SolidLine, Qt::FlatCap), xScale_, yScale_);
    if (cut < n) {
        // Strain from the crosshead is drawn, but told apart.
        QPen pen(pal().ink, width, Qt::CustomDashLine, Qt::FlatCap, Qt::RoundJoin);
        pen.setDashPattern({9, 1.6});
        chart.drawCurve(painter, std::span(v->x).subspan(cut - 1), std::span(v->y).subspan(cut - 1), pen, xScale_,
                        yScale_);
    }
    if (v->keyed)
        paintReadings(painter, chart, v->x, v->y, true);
    if (v->second)
        paintSecond(painter, chart);
}

/// What was read by hand are points; the line between them only leads the eye.
void CurvePlot::paintReadings(QPainter& painter, const Chart& chart, const std::vector<double>& x,
                              const std::vector<double>& y, bool filled) const
{
    painter.setPen(QPen(pal().ink, 1.4));
    painter.setBrush(filled ? pal().ink : pal().surface);
    for (size_t i = 0; i < x.size(); ++i)
        if (const QPointF at = spot(chart, x[i], y[i]); chart.area().adjusted(-1, -1, 1, 1).contains(at))
            painter.drawEllipse(at, filled ? 2.6 : 3.2, filled ? 2.6 : 3.2);
}

void CurvePlot::paintSecond(QPainter& painter, const Chart& chart) const
{
    const CurveView* v = view();
    const SecondCurve& other = *v->second;
    if (other.x.empty())
        return;
    if (other.slope != 0) {
        QColor band = pal().data[1];
        band.setAlpha(90);
        painter.setPen(QPen(band, 5, Qt::SolidLine, Qt::FlatCap));
        const double end = other.x.back();
        painter.drawLine(spot(chart, other.toe, 0), spot(chart, end, other.slope * (end - other.toe)));
    }
    paintReadings(painter, chart, other.x, other.y, false);
    painter.setFont(wordFont(12));
    painter.setPen(pal().ink);
    const auto name = [&](const QString& words, double x, double y) {
        const double wide = QFontMetricsF(painter.font()).horizontalAdvance(words);
        painter.drawText(spot(chart, x, y) + QPointF(-wide - 12, -6), words);
    };
    name(q(v->label), v->x.back(), v->y.back());
    name(q(other.label), other.x.back(), other.y.back());
}

/// What the rehearsal foretold, dashed and quiet, beside what came.
void CurvePlot::paintRehearsed(QPainter& painter, const Chart& chart) const
{
    const CurveView* v = view();
    if (!rehearsed_ || viewKind_ != View::StressStrain || rehearsed_->byTravel != (v->xAxis.kind == Kind::Length)
        || rehearsed_->asForce != (v->yAxis.kind == Kind::Force))
        return;
    chart.drawCurve(painter, rehearsed_->x, rehearsed_->middle, QPen(pal().quiet, 1.2, Qt::DashLine), xScale_, yScale_);
    const size_t at = rehearsed_->x.size() * 4 / 5;
    painter.setFont(wordFont(11));
    painter.setPen(pal().quiet);
    painter.drawText(spot(chart, rehearsed_->x[at], rehearsed_->low[at]) + QPointF(-8, 24), "as simulated");
}

void CurvePlot::paintAreas(QPainter& painter, const Chart& chart) const
{
    const CurveView* v = view();
    for (const CurveArea& a : v->areas) {
        if (!standsFor(a.symbol, pointed_) && !a.always)
            continue;
        const auto from =
            static_cast<size_t>(std::ranges::find_if(v->x, [&](double x) { return x >= a.from; }) - v->x.begin());
        const auto to = static_cast<size_t>(std::find_if(v->x.begin() + static_cast<std::ptrdiff_t>(from), v->x.end(),
                                                         [&](double x) { return x > a.to; })
                                            - v->x.begin());
        if (to <= from + 1)
            continue;
        QPolygonF under = chart.thinned(std::span(v->x).subspan(from, to - from),
                                        std::span(v->y).subspan(from, to - from), xScale_, yScale_);
        under.append(QPointF(under.back().x(), chart.py(0)));
        under.append(QPointF(under.front().x(), chart.py(0)));
        painter.save();
        painter.setClipRect(chart.area(), Qt::IntersectClip);
        QColor tint = pal().data[0];
        tint.setAlpha(pointed_ == q(a.symbol) ? 70 : 34);
        painter.setPen(Qt::NoPen);
        painter.setBrush(tint);
        painter.drawPolygon(under);
        painter.restore();
    }
}

void CurvePlot::paintStraight(QPainter& painter, const Chart& chart, bool handles) const
{
    const Palette& p = pal();
    const CurveView* v = view();
    if (!(v->slope > 0))
        return;
    const auto onLine = [&](double y, double off = 0) { return spot(chart, y / v->slope + off, y); };
    painter.save();
    painter.setClipRect(chart.area().adjusted(-8, -8, 8, 8), Qt::IntersectClip);
    painter.setRenderHint(QPainter::Antialiasing);
    QColor band = p.data[0];
    band.setAlpha(70);
    painter.setPen(QPen(band, handles ? 7 : 5, Qt::SolidLine, Qt::FlatCap));
    painter.drawLine(onLine(low_), onLine(high_));
    const CurveMark* yield = nullptr;
    for (const CurveMark& m : v->marks)
        if (m.id.starts_with(v->offsetMark))
            yield = &m;
    if (yield && handles && v->offset) {
        painter.setPen(QPen(p.accent, 1.4, Qt::DashLine));
        painter.drawLine(onLine(0, offset_), onLine(yield->y * 1.08, offset_));
    }
    if (v->toe > 1e-5 && handles) {
        painter.setPen(QPen(p.quiet, 1, Qt::DotLine));
        painter.drawLine(onLine(0), onLine(low_));
    }
    painter.restore();
}

void CurvePlot::paintMarks(QPainter& painter, const Chart& chart, bool foot) const
{
    const Palette& p = pal();
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    for (const CurveMark& m : view()->marks) {
        if (foot != shownInFoot(m))
            continue;
        const QPointF at = spot(chart, m.x, m.y);
        if (!chart.area().adjusted(-2, -2, 2, 2).contains(at))
            continue;
        const bool pointed = standsFor(m.id, pointed_);
        painter.setPen(QPen(pointed ? p.accent : p.ink, pointed ? 2.4 : 1.8));
        painter.setBrush(p.surface);
        painter.drawRect(QRectF(at.x() - 4.5, at.y() - 4.5, 9, 9));
        painter.setPen(p.ink);
        const QFont font = wordFont(12);
        const QString name = q(m.label);
        const bool word = !outcome_->find(m.label);
        const double wide = word ? QFontMetricsF(font).horizontalAdvance(name) : drawSymbol(nullptr, {}, name, font);
        QPointF place = foot && m.side != CurveMark::Side::Above ? at + QPointF(11, 16) : at + QPointF(-wide / 2, -12);
        place.setX(std::min(place.x(), width() - wide - 8.0));
        if (word) {
            place = at
                + (m.side == CurveMark::Side::Right ? QPointF(12, at.y() > chart.area().bottom() - 14 ? -8 : 4)
                                                    : QPointF(-wide / 2, -12));
            if (place.x() + wide > width() - 6)
                place = at + QPointF(-wide - 10, 4);
            painter.setFont(font);
            painter.drawText(place, name);
        } else {
            drawSymbol(&painter, place, name, font);
        }
    }
    painter.restore();
}

void CurvePlot::paintFoot(QPainter& painter) const
{
    const Palette& p = pal();
    const QRectF box = footBox();
    const Chart chart = footChart();
    const CurveView* v = view();
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.setPen(QPen(p.hair, 1));
    painter.setBrush(p.margin);
    painter.drawRect(box);
    painter.setFont(wordFont(11));
    painter.setPen(p.quiet);
    painter.drawText(box.topLeft() + QPointF(10, 17),
                     QString("toe, 0 to %1 %").arg(chart.xAt(chart.area().right()), 0, 'f', 1));
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setClipRect(box.adjusted(1, 1, -1, -1));
    paintStraight(painter, chart, true);
    paintCurve(painter, chart, 1.7);
    paintMarks(painter, chart, true);
    painter.restore();
    painter.setFont(wordFont(11));
    painter.setPen(p.quiet);
    const Unit& unit = displayUnit(v->yAxis.kind, maxY_, units());
    const int digits = high_ * yScale_ < 20 ? 2 : 0;
    const QString range = v->straight.inX ? QString("straight part %1 to %2 % strain")
                                                .arg(low_ / v->slope * 100, 0, 'f', 3)
                                                .arg(high_ / v->slope * 100, 0, 'f', 3)
                                          : QString("straight part %1 to %2 %3")
                                                .arg(low_ * yScale_, 0, 'f', digits)
                                                .arg(high_ * yScale_, 0, 'f', digits)
                                                .arg(q(std::string(unit.symbol)));
    const QString points = QString("%1 points, R² %2").arg(v->straightPoints).arg(v->r2, 0, 'f', 5);
    const QFontMetricsF metrics(painter.font());
    painter.drawText(QPointF(box.right() - 10 - metrics.horizontalAdvance(range), box.bottom() - 28), range);
    painter.drawText(QPointF(box.right() - 10 - metrics.horizontalAdvance(points), box.bottom() - 11), points);
}

void CurvePlot::paintLimits(QPainter& painter, const Chart& chart) const
{
    const Palette& p = pal();
    const CurveView* v = view();
    if (!session_.isOpen() || v->yAxis.kind != outcome_->curve()->yAxis.kind)
        return;
    for (const Requirement& r : session_.job().requirements) {
        const Result* result = outcome_->find(r.symbol);
        const bool onCurve = v->find(specFor(*session_.job().method, r.symbol).standsOn()) != nullptr;
        if (!result || result->unit->kind != v->yAxis.kind || !onCurve)
            continue;
        for (const auto& [limit, words] : {std::pair{r.min, "wanted: at least"}, std::pair{r.max, "wanted: at most"}}) {
            if (!limit)
                continue;
            QColor line = p.stop;
            line.setAlpha(130);
            painter.setPen(QPen(line, 1));
            const double y = std::round(chart.py(*limit * yScale_)) + 0.5;
            painter.drawLine(QPointF(chart.area().left(), y), QPointF(chart.area().right(), y));
            painter.setPen(p.quiet);
            const QFont font = wordFont(11);
            painter.setFont(font);
            const QString rest = QString(" %1 %2 %3")
                                     .arg(words)
                                     .arg(*limit * yScale_, 0, 'g', 5)
                                     .arg(q(std::string(displayUnit(v->yAxis.kind, maxY_, units()).symbol)));
            const double wide =
                drawSymbol(nullptr, {}, q(r.symbol), font) + QFontMetricsF(font).horizontalAdvance(rest);
            // Not where the curve or a mark stands: along the line, above it, else below.
            const auto crowded = [&](const QPointF& at) {
                const QRectF box(at.x() - 10, at.y() - 20, wide + 20, 32);
                for (const CurveMark& m : v->marks)
                    if (box.adjusted(-10, -8, 60, 8).contains(spot(chart, m.x, m.y)))
                        return true;
                for (size_t i = 0; i < v->x.size(); i += std::max<size_t>(1, v->x.size() / 2000))
                    if (box.contains(spot(chart, v->x[i], v->y[i])))
                        return true;
                return false;
            };
            std::vector<QPointF> places;
            for (const double below : {-5.0, 14.0})
                for (const double share : {1.0, 0.3, 0.02, 0.5, 0.7})
                    places.emplace_back(std::min(chart.area().right() - wide - 4,
                                                 chart.area().left() + share * chart.area().width()),
                                        y + below);
            const auto free = std::ranges::find_if_not(places, crowded);
            const QPointF at = free == places.end() ? places[6] : *free;
            const double symbol = drawSymbol(&painter, at, q(r.symbol), font);
            painter.drawText(at + QPointF(symbol, 0), rest);
        }
    }
}

void CurvePlot::paintBending(QPainter& painter, const Chart& chart) const
{
    const CurveView* v = view();
    if (v->bending.size() < 2)
        return;
    // A narrow gauge above the curve: how far the two faces differ, strain by strain.
    const Palette& p = pal();
    double most = 0.15;
    for (size_t i = 0; i < v->bending.size(); ++i)
        if (v->bendingX[i] > 0.05 * maxX_)
            most = std::max(most, std::abs(v->bending[i]) * 1.1);
    most = std::min(most, 1.0);
    const QRectF strip(chart.area().left(), 22, chart.area().width(), 30);
    const double middle = strip.center().y();
    const auto y = [&](double b) { return middle - std::clamp(b / most, -1.0, 1.0) * strip.height() / 2; };
    painter.fillRect(QRectF(QPointF(strip.left(), y(0.1)), QPointF(strip.right(), y(-0.1))), p.dataTint);
    painter.setPen(QPen(p.hair, 1));
    painter.drawLine(QPointF(strip.left(), middle), QPointF(strip.right(), middle));
    QPolygonF line;
    for (size_t i = 0; i < v->bending.size(); ++i)
        line.append(QPointF(chart.px(v->bendingX[i] * xScale_), y(v->bending[i])));
    painter.save();
    painter.setClipRect(strip.adjusted(0, -2, 0, 2));
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(p.data[0], 1.5));
    painter.drawPolyline(line);
    painter.restore();
    painter.setFont(wordFont(11));
    painter.setPen(p.quiet);
    painter.drawText(QPointF(strip.left(), 14), "bending of the two faces; band: within 10 %");
}

void CurvePlot::paintHandles(QPainter& painter) const
{
    const Palette& p = pal();
    for (Handle h : handles()) {
        const bool on = h == active_;
        if (h >= Handle::FirstMark && !on)
            continue; // marks are drawn already
        const QPointF at = handlePosition(h);
        const QColor colour = h == Handle::Offset ? p.accent : h >= Handle::FirstMark ? p.ink : p.data[0];
        painter.setPen(QPen(colour, on ? 3 : 2));
        painter.setBrush(on && hasFocus() ? colour : p.surface);
        if (h == Handle::Offset)
            painter.drawEllipse(at, 4.5, 4.5);
        else
            painter.drawRect(QRectF(at.x() - 4.5, at.y() - 4.5, 9, 9));
    }
}

void CurvePlot::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.fillRect(rect(), p.surface);
    const CurveView* v = view();
    if (!v) {
        painter.setPen(p.quiet);
        painter.setFont(wordFont(13));
        painter.drawText(rect(), Qt::AlignCenter,
                         session_.hasSpecimen() && session_.worksOn(session_.current()) ? "Being worked out…"
                             : session_.hasSpecimen() && session_.hasRecord(session_.current())
                             ? "The record gives no curve; the remarks say why."
                             : "No record yet. Run the test on Load (Alt+4), or drop a text record on the window.");
        return;
    }
    const Chart chart = mainChart();
    const Unit& xUnit = displayUnit(v->xAxis.kind, maxX_, units());
    const QString toe = std::abs(v->toe) > 1e-3 * maxX_
        ? QString(v->second ? " (counted from the line's zero: %1 %2)" : " (toe-corrected by %1 %2)")
              .arg(q(formatSignificant(v->toe * xScale_, 2)), q(std::string(xUnit.symbol)))
        : QString();
    paintAreas(painter, chart);
    chart.drawAxes(painter, p, axisTitle(v->xAxis, xUnit) + toe,
                   axisTitle(v->yAxis, displayUnit(v->yAxis.kind, maxY_, units())));
    paintBending(painter, chart);
    painter.setRenderHint(QPainter::Antialiasing);
    paintLimits(painter, chart);
    if (before_ && before_->curve() && viewKind_ == View::StressStrain)
        chart.drawCurve(painter, before_->curve()->x, before_->curve()->y, QPen(p.quiet, 1.2, Qt::DotLine), xScale_,
                        yScale_);
    paintStraight(painter, chart, !hasFoot());
    paintRehearsed(painter, chart);
    paintCurve(painter, chart, v->keyed ? 1.1 : 1.9);
    if (v->crossheadFrom > 0 && v->crossheadFrom < v->x.size()) {
        const QPointF at = spot(chart, v->x[v->crossheadFrom], v->y[v->crossheadFrom]);
        if (chart.area().contains(at)) {
            painter.setPen(QPen(p.quiet, 1.2, Qt::DotLine));
            painter.drawLine(at + QPointF(0, 14), at + QPointF(0, 92));
            painter.setPen(p.quiet);
            painter.setFont(wordFont(11));
            painter.drawText(at + QPointF(6, 84), q(v->crossheadWords));
        }
    }
    paintMarks(painter, chart, false);
    if (hasFoot())
        paintFoot(painter);
    paintHandles(painter);
}

} // namespace fortitor
