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
/// Whether a result stands on a mark or area, itself or as one that is worked out there.
bool CurvePlot::standsFor(const std::string& mark, const QString& symbol) const
{
    return q(mark) == symbol
        || (session_.isOpen() && !symbol.isEmpty() && specFor(*session_.job().method, s(symbol)).standsOn() == mark);
}

bool CurvePlot::showsRehearsed() const
{
    const CurveView* v = view();
    return rehearsed_ && viewKind_ == View::StressStrain && rehearsed_->byTravel == (v->xAxis.kind == Kind::Length)
        && rehearsed_->asForce == (v->yAxis.kind == Kind::Force);
}

/// What was before, dotted; what the simulation foretold, dashed; the curve last. Strain from the crosshead is drawn,
/// but told apart.
void CurvePlot::addCurves(Plot& plot) const
{
    const CurveView* v = view();
    const auto add = [&](std::span<const double> x, std::span<const double> y, const char* label, const QPen& pen,
                         bool quiet) {
        plot.series.push_back({.x = x, .y = y, .label = label, .pen = pen, .quiet = quiet});
        if (x.size() > treeFrom)
            plot.series.back().tree = std::make_shared<ExtentTree>(x, y);
    };
    if (before_ && before_->curve() && viewKind_ == View::StressStrain)
        add(before_->curve()->x, before_->curve()->y, "before", QPen(Qt::black, 1.2, Qt::DotLine), true);
    if (showsRehearsed())
        add(rehearsed_->x, rehearsed_->middle, "as simulated", QPen(Qt::black, 1.2, Qt::DashLine), true);
    if (!v->parts.empty())
        return addParts(plot);
    const double width = v->keyed ? 1.1 : 1.9;
    const size_t n = v->x.size();
    const size_t cut = v->crossheadFrom > 0 && v->crossheadFrom < n ? v->crossheadFrom : n;
    if (cut < n) {
        QPen pen(Qt::black, width, Qt::CustomDashLine, Qt::FlatCap, Qt::RoundJoin);
        pen.setDashPattern({9, 1.6});
        add(std::span(v->x).subspan(cut - 1), std::span(v->y).subspan(cut - 1), "strain from the crosshead", pen,
            false);
    }
    add(std::span(v->x).first(cut), std::span(v->y).first(cut), "", QPen(Qt::black, width, Qt::SolidLine, Qt::FlatCap),
        false);
}

/// Loads before the last one each in a line of their own; the last one, with what leads to it, over them.
void CurvePlot::addParts(Plot& plot) const
{
    const CurveView* v = view();
    size_t last = 0;
    for (size_t k = 0; k < v->parts.size(); ++k) {
        const CurvePart& part = v->parts[k];
        const size_t n = part.to - part.from;
        PlotSeries one{.x = std::span(v->x).subspan(part.from, n), .y = std::span(v->y).subspan(part.from, n)};
        one.label = q(part.label);
        if (k == 0) {
            one.pen = QPen(Qt::black, 1.4);
            one.quiet = true;
        } else {
            one.kind = k - 1;
            one.thin = true;
        }
        plot.series.push_back(std::move(one));
        last = std::max(last, part.to);
    }
    last = std::min(last > 0 ? last - 1 : 0, v->x.size() - 1);
    plot.series.push_back({.x = std::span(v->x).subspan(last),
                           .y = std::span(v->y).subspan(last),
                           .pen = QPen(Qt::black, 1.9, Qt::SolidLine, Qt::FlatCap)});
    for (PlotSeries& one : plot.series)
        if (one.x.size() > treeFrom)
            one.tree = std::make_shared<ExtentTree>(one.x, one.y);
}

/// What was read by hand are points; the line between them only leads the eye.
void CurvePlot::paintReadings(QPainter& painter, const Chart& chart, std::span<const double> x,
                              std::span<const double> y, bool filled) const
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
    if (other.line) {
        painter.save();
        painter.setClipRect(chart.area(), Qt::IntersectClip);
        painter.setPen(QPen(pal().data[1], 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolyline(chart.thinned(other.x, other.y, xScale_, yScale_));
        painter.restore();
        painter.setFont(wordFont(12));
        const QPointF at = chart.area().topRight() + QPointF(-150, 16);
        for (const auto& [words, colour, y] :
             {std::tuple(q(v->label), pal().ink, 0.0), std::tuple(q(other.label), pal().data[1], 18.0)}) {
            painter.setPen(QPen(colour, 2));
            painter.drawLine(at + QPointF(0, y - 4), at + QPointF(22, y - 4));
            painter.setPen(pal().ink);
            painter.drawText(at + QPointF(30, y), words);
        }
        return;
    }
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

/// The ground that a load encloses on its way on and off.
static void paintLoopIn(QPainter& painter, const Chart& chart, const QPolygonF& loop, bool pointed)
{
    painter.save();
    painter.setClipRect(chart.area(), Qt::IntersectClip);
    QColor tint = pal().data[0];
    tint.setAlpha(pointed ? 150 : 60);
    painter.setPen(Qt::NoPen);
    painter.setBrush(tint);
    painter.drawPolygon(loop, Qt::WindingFill);
    painter.restore();
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
        if (!v->parts.empty()) { // a loop encloses it
            const CurvePart& loop = v->parts.back();
            const size_t n = loop.to - loop.from;
            paintLoopIn(painter, chart,
                        chart.thinned(std::span(v->x).subspan(loop.from, n), std::span(v->y).subspan(loop.from, n),
                                      xScale_, yScale_),
                        pointed_ == q(a.symbol));
            continue;
        }
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
    const auto onLine = [&](double y, double off = 0) { return spot(chart, v->lineFrom + y / v->slope + off, y); };
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
        if (foot && view()->footTo > 0)
            continue; // named below the axis
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
    const Unit& xUnit = displayUnit(v->xAxis.kind, maxX_, units());
    painter.drawText(box.topLeft() + QPointF(10, 17),
                     QString("%1, 0 to %2 %3")
                         .arg(v->footTo > 0 ? "foot" : "toe")
                         .arg(chart.xAt(chart.area().right()), 0, 'f', 1)
                         .arg(q(std::string(xUnit.symbol))));
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setClipRect(box.adjusted(1, 1, -1, -1));
    if (v->footTo > 0) {
        paintAreas(painter, chart);
        paintLeft(painter, chart);
    } else
        paintStraight(painter, chart, true);
    plot().paintSeries(painter, p, chart);
    paintMarks(painter, chart, true);
    painter.restore();
    painter.setFont(wordFont(11));
    painter.setPen(p.quiet);
    if (v->footTo > 0)
        return paintFootNames(painter);
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
    constexpr double low = 120; // px: of a lower one the curve takes the middle, and the words the top
    const double y = box.height() < low ? box.top() + 17 : box.bottom() - 28;
    painter.drawText(QPointF(box.right() - 10 - metrics.horizontalAdvance(range), y), range);
    painter.drawText(QPointF(box.right() - 10 - metrics.horizontalAdvance(points), box.bottom() - 11), points);
}

/// What was left on the axis once the first load was off.
void CurvePlot::paintLeft(QPainter& painter, const Chart& chart) const
{
    painter.setPen(QPen(pal().hair, 1));
    painter.drawLine(spot(chart, 0, 0), QPointF(chart.area().right(), spot(chart, 0, 0).y()));
    for (const CurveMark& m : view()->marks)
        if (m.early) {
            painter.setPen(QPen(pal().accent, 3, Qt::SolidLine, Qt::FlatCap));
            painter.drawLine(spot(chart, 0, 0), spot(chart, m.x, 0));
            painter.setPen(pal().ink);
            painter.setFont(wordFont(11.5));
            painter.drawText(spot(chart, 0, 0) + QPointF(0, 17), q(m.label));
        }
}

/// Which line is which load.
void CurvePlot::paintFootNames(QPainter& painter) const
{
    const Palette& p = pal();
    const CurveView* v = view();
    const QRectF box = footBox();
    double y = box.top() + 36;
    for (size_t k = 0; k <= v->parts.size() && k < 4; ++k) {
        const bool pull = k == v->parts.size();
        painter.setPen(QPen(k == 0 ? p.quiet : pull ? p.ink : p.data[(k - 1) % p.data.size()], pull ? 1.9 : 1.4));
        painter.drawLine(QPointF(box.left() + 10, y - 4), QPointF(box.left() + 26, y - 4));
        painter.setPen(p.quiet);
        painter.drawText(QPointF(box.left() + 32, y), pull ? QString("last load") : q(v->parts[k].label));
        y += 16;
    }
}

void CurvePlot::addLimits(Plot& plot) const
{
    const CurveView* v = view();
    if (viewKind_ == View::StressStrain)
        for (const CurveLevel& level : v->levels)
            plot.limits.push_back({.at = level.y, .quiet = !level.stop, .words = q(level.words)});
    if (!session_.isOpen() || v->yAxis.kind != outcome_->curve()->yAxis.kind)
        return;
    const std::string unit(displayUnit(v->yAxis.kind, maxY_, units()).symbol);
    for (const Requirement& r : session_.job().requirements) {
        const Result* result = outcome_->find(r.symbol);
        const bool onCurve = v->find(specFor(*session_.job().method, r.symbol).standsOn()) != nullptr;
        if (!result || result->unit->kind != v->yAxis.kind || !onCurve)
            continue;
        for (const auto& [limit, words] : {std::pair{r.min, "wanted: at least"}, std::pair{r.max, "wanted: at most"}})
            if (limit)
                plot.limits.push_back(
                    {.at = *limit,
                     .symbol = q(r.symbol),
                     .words = QString(" %1 %2 %3").arg(words).arg(*limit * yScale_, 0, 'g', 5).arg(q(unit))});
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

void CurvePlot::paintEmpty(QPainter& painter) const
{
    painter.setPen(pal().quiet);
    painter.setFont(wordFont(13));
    painter.drawText(rect(), Qt::AlignCenter,
                     session_.hasSpecimen() && session_.worksOn(session_.current()) ? "Being worked out…"
                         : session_.hasSpecimen() && session_.hasRecord(session_.current())
                         ? "The record gives no curve; the remarks say why."
                         : "No record yet. Run the test on Load (Alt+4), or drop a text record on the window.");
}

void CurvePlot::paintUnder(QPainter& painter, const Chart& chart) const
{
    paintAreas(painter, chart);
    paintBending(painter, chart);
    painter.setRenderHint(QPainter::Antialiasing);
    paintStraight(painter, chart, !hasFoot());
}

void CurvePlot::paintCrosshead(QPainter& painter, const Chart& chart) const
{
    const CurveView* v = view();
    if (v->crossheadFrom == 0 || v->crossheadFrom >= v->x.size())
        return;
    const QPointF at = spot(chart, v->x[v->crossheadFrom], v->y[v->crossheadFrom]);
    if (!chart.area().contains(at))
        return;
    painter.setPen(QPen(pal().quiet, 1.2, Qt::DotLine));
    painter.drawLine(at + QPointF(0, 14), at + QPointF(0, 92));
    painter.setPen(pal().quiet);
    painter.setFont(wordFont(11));
    painter.drawText(at + QPointF(6, 84), q(v->crossheadWords));
}

void CurvePlot::paintOver(QPainter& painter, const Chart& chart) const
{
    const CurveView* v = view();
    painter.setRenderHint(QPainter::Antialiasing);
    if (showsRehearsed()) {
        const size_t at = rehearsed_->x.size() * 4 / 5;
        painter.setFont(wordFont(11));
        painter.setPen(pal().quiet);
        painter.drawText(spot(chart, rehearsed_->x[at], rehearsed_->low[at]) + QPointF(-8, 24), "as simulated");
    }
    if (v->keyed)
        paintReadings(painter, chart, v->x, v->y, true);
    if (v->second)
        paintSecond(painter, chart);
    paintCrosshead(painter, chart);
    paintMarks(painter, chart, false);
    if (hasFoot())
        paintFoot(painter);
    paintHandles(painter);
}

} // namespace fortitor
