// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/curve_plot.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "methods/display.h"
#include "units/quantity.h"

#include <QFontMetricsF>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>
#include <cmath>

namespace fortitor {

CurvePlot::CurvePlot(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("curvePlot");
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(420, 220);
    setAttribute(Qt::WA_OpaquePaintEvent);
    setWhatsThis("The blue squares are the ends of the straight part, the ochre one is the offset line. Drag them, or walk them with Tab and nudge with the arrows (Shift: coarser). R goes back to automatic. The wheel zooms, a double click shows all. M opens and closes the magnifier.");
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void CurvePlot::show(const Outcome* outcome)
{
    const bool same = outcome_ && outcome && dragging_;
    outcome_ = outcome;
    if (!same)
        measureExtent();
    if (const CurveView* v = view(); v && !dragging_) {
        low_ = v->straightLow;
        high_ = v->straightHigh;
        offset_ = v->offset.value_or(0.002);
    }
    update();
}

void CurvePlot::pointAt(const QString& symbol)
{
    pointed_ = symbol;
    update();
}

void CurvePlot::setMagnifier(bool open)
{
    magnifier_ = open;
    update();
}

void CurvePlot::measureExtent()
{
    zoomed_ = false;
    maxStrain_ = 0.01;
    minStrain_ = 0;
    maxStress_ = 1;
    const CurveView* v = view();
    if (!v)
        return;
    for (double e : v->x) {
        maxStrain_ = std::max(maxStrain_, e * 100);
        minStrain_ = std::min(minStrain_, e * 100);
    }
    for (double stress : v->y)
        maxStress_ = std::max(maxStress_, stress);
}

Chart CurvePlot::mainChart() const
{
    const QRectF area(56, 26, width() - 56 - 22, height() - 26 - 44);
    if (zoomed_)
        return {area, zoomLeft_, zoomRight_, zoomBottom_, zoomTop_};
    const auto [x0, x1] = roomyRange(std::max(minStrain_, -0.04 * maxStrain_), maxStrain_);
    const auto [y0, y1] = roomyRange(0, maxStress_ * 1.02);
    return {area, std::min(x0, minStrain_), x1, y0, y1};
}

QRectF CurvePlot::footBox() const
{
    const QRectF area = mainChart().area();
    const double w = std::min(330.0, area.width() * 0.42);
    const double h = std::min(180.0, area.height() * 0.52);
    return {area.right() - w - 14, area.bottom() - h - 14, w, h};
}

Chart CurvePlot::footChart() const
{
    const QRectF box = footBox();
    const CurveView* v = view();
    double yield = maxStress_;
    for (const CurveMark& m : v->marks)
        if (m.id.starts_with("Rp") || m.id == "ReH")
            yield = std::min(yield, m.y);
    const double right = (1.25 * yield / std::max(v->slope, 1.0) + std::max(offset_, 0.001) * 1.4) * 100;
    return {box.adjusted(12, 24, -12, -14), -0.06 * right, right, -0.03 * yield, 1.22 * yield};
}

QPointF CurvePlot::handlePosition(Handle handle) const
{
    const CurveView* v = view();
    if (!v)
        return {};
    const Chart chart = magnifier_ ? footChart() : mainChart();
    const auto onLine = [&](double stress) { return chart.at(stress / v->slope * 100, stress); };
    switch (handle) {
    case Handle::Low: return onLine(low_);
    case Handle::High: return onLine(high_);
    case Handle::Offset: return chart.at((offset_ + 0.12 * maxStress_ / v->slope) * 100, 0.12 * maxStress_);
    case Handle::None: break;
    }
    return {};
}

CurvePlot::Handle CurvePlot::handleAt(const QPointF& at) const
{
    Handle best = Handle::None;
    double nearest = 14;
    for (Handle h : {Handle::Low, Handle::High, Handle::Offset}) {
        const QPointF d = handlePosition(h) - at;
        const double away = std::hypot(d.x(), d.y());
        if (view() && away < nearest) {
            nearest = away;
            best = h;
        }
    }
    return best;
}

void CurvePlot::paintCurve(QPainter& painter, const Chart& chart, double width) const
{
    const CurveView* v = view();
    const size_t n = v->x.size();
    const size_t cut = v->crossheadFrom > 0 && v->crossheadFrom < n ? v->crossheadFrom : n;
    chart.drawCurve(painter, std::span(v->x).first(cut), std::span(v->y).first(cut), QPen(pal().ink, width, Qt::SolidLine, Qt::FlatCap), 100);
    if (cut < n) {
        // Strain from the crosshead is drawn, but told apart.
        QPen pen(pal().ink, width, Qt::CustomDashLine, Qt::FlatCap, Qt::RoundJoin);
        pen.setDashPattern({9, 1.6});
        chart.drawCurve(painter, std::span(v->x).subspan(cut - 1), std::span(v->y).subspan(cut - 1), pen, 100);
    }
}

void CurvePlot::paintStraight(QPainter& painter, const Chart& chart, bool handles) const
{
    const Palette& p = pal();
    const CurveView* v = view();
    const auto onLine = [&](double stress, double off = 0) { return chart.at((stress / v->slope + off) * 100, stress); };
    painter.save();
    painter.setClipRect(chart.area().adjusted(-8, -8, 8, 8), Qt::IntersectClip);
    painter.setRenderHint(QPainter::Antialiasing);
    QColor band = p.data[0];
    band.setAlpha(70);
    painter.setPen(QPen(band, handles ? 7 : 5, Qt::SolidLine, Qt::FlatCap));
    painter.drawLine(onLine(low_), onLine(high_));
    const CurveMark* yield = nullptr;
    for (const CurveMark& m : v->marks)
        if (m.id.starts_with("Rp"))
            yield = &m;
    if (yield && handles) {
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
        const bool early = m.id.starts_with("Rp") || m.id == "ReH" || m.id == "ReL";
        if (foot != (early && magnifier_) && !(early && !foot && !magnifier_))
            continue;
        if (foot && !early)
            continue;
        const QPointF at = chart.at(m.x * 100, m.y);
        if (!chart.area().adjusted(-2, -2, 2, 2).contains(at))
            continue;
        const bool pointed = pointed_ == q(m.id) || (m.id == "Rm" && pointed_ == "Agt") || (m.id == "break" && (pointed_ == "A_ext" || pointed_ == "At"));
        painter.setPen(QPen(pointed ? p.accent : p.ink, pointed ? 2.4 : 1.8));
        painter.setBrush(p.surface);
        painter.drawRect(QRectF(at.x() - 4.5, at.y() - 4.5, 9, 9));
        painter.setPen(p.ink);
        const QFont font = wordFont(12);
        const QString name = q(m.label);
        const double wide = m.id == "break" ? QFontMetricsF(font).horizontalAdvance(name) : drawSymbol(nullptr, {}, name, font);
        QPointF word = foot && m.id != "ReH" ? at + QPointF(11, 16) : at + QPointF(-wide / 2, -12);
        if (m.id == "break") {
            word = at + QPointF(10, 4);
            if (word.x() + wide > width() - 6)
                word = at + QPointF(-wide - 10, 4);
            painter.setFont(font);
            painter.drawText(word, name);
        } else {
            drawSymbol(&painter, word, name, font);
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
    painter.drawText(box.topLeft() + QPointF(10, 17), QString("foot, 0 to %1 %").arg(chart.xAt(chart.area().right()), 0, 'f', 1));
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    paintStraight(painter, chart, true);
    paintCurve(painter, chart, 1.7);
    paintMarks(painter, chart, true);
    painter.restore();
    painter.setFont(wordFont(11));
    painter.setPen(p.quiet);
    const QString range = QString("straight part %1 to %2 MPa").arg(low_, 0, 'f', 0).arg(high_, 0, 'f', 0);
    const QString points = QString("%1 points, R² %2").arg(v->straightPoints).arg(v->r2, 0, 'f', 5);
    const QFontMetricsF metrics(painter.font());
    painter.drawText(QPointF(box.right() - 10 - metrics.horizontalAdvance(range), box.bottom() - 28), range);
    painter.drawText(QPointF(box.right() - 10 - metrics.horizontalAdvance(points), box.bottom() - 11), points);
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
        painter.drawText(rect(), Qt::AlignCenter, session_.hasSpecimen() && session_.record(session_.current()) ? "The record gives no curve; the remarks say why." : "No record yet. Run the test on Load (Alt+4), or drop a text record on the window.");
        return;
    }
    const Chart chart = mainChart();
    const QString toe = std::abs(v->toe) > 2e-5 ? QString(" (foot taken off: %1 %)").arg(q(formatSignificant(v->toe * 100, 2))) : QString();
    chart.drawAxes(painter, p, "strain, %" + toe, "stress, MPa");
    painter.setRenderHint(QPainter::Antialiasing);
    for (const Requirement& r : session_.isOpen() ? session_.job().requirements : std::vector<Requirement>{})
        if (const ResultSpec* spec = session_.job().method->findResult(r.symbol); spec && spec->unit == "MPa" && r.symbol != "E")
            for (const auto& [limit, words] : {std::pair{r.min, "wanted: at least"}, std::pair{r.max, "wanted: at most"}})
                if (limit) {
                    QColor line = p.stop;
                    line.setAlpha(130);
                    painter.setPen(QPen(line, 1));
                    const double y = std::round(chart.py(*limit)) + 0.5;
                    painter.drawLine(QPointF(chart.area().left(), y), QPointF(chart.area().right(), y));
                    painter.setPen(p.quiet);
                    painter.setFont(wordFont(11));
                    const QString text = QString("%1 %2 %3").arg(q(r.symbol), words).arg(*limit, 0, 'g', 5);
                    const double wide = QFontMetricsF(painter.font()).horizontalAdvance(text);
                    const bool taken = std::ranges::any_of(v->marks, [&](const CurveMark& m) { const QPointF at = chart.at(m.x * 100, m.y); return std::abs(at.y() - y + 8) < 18 && at.x() > chart.area().right() - wide - 70; });
                    painter.drawText(QPointF(taken ? chart.area().left() + 0.3 * chart.area().width() : chart.area().right() - wide - 4, y - 5), text);
                }
    paintStraight(painter, chart, !magnifier_);
    paintCurve(painter, chart, 1.9);
    if (v->crossheadFrom > 0 && v->crossheadFrom < v->x.size()) {
        const QPointF at = chart.at(v->x[v->crossheadFrom] * 100, v->y[v->crossheadFrom]);
        if (chart.area().contains(at)) {
            painter.setPen(QPen(p.quiet, 1.2, Qt::DotLine));
            painter.drawLine(at + QPointF(0, 14), at + QPointF(0, 92));
            painter.setPen(p.quiet);
            painter.setFont(wordFont(11));
            painter.drawText(at + QPointF(6, 84), "extensometer off");
        }
    }
    paintMarks(painter, chart, false);
    if (magnifier_)
        paintFoot(painter);
    for (Handle h : {Handle::Low, Handle::High, Handle::Offset}) {
        const bool hasOffset = std::ranges::any_of(v->marks, [](const CurveMark& m) { return m.id.starts_with("Rp"); });
        if (h == Handle::Offset && !hasOffset)
            continue;
        const QPointF at = handlePosition(h);
        const QColor colour = h == Handle::Offset ? p.accent : p.data[0];
        const bool on = h == active_;
        painter.setPen(QPen(colour, on ? 3 : 2));
        painter.setBrush(on && hasFocus() ? colour : p.surface);
        if (h == Handle::Offset)
            painter.drawEllipse(at, 4.5, 4.5);
        else
            painter.drawRect(QRectF(at.x() - 4.5, at.y() - 4.5, 9, 9));
    }
}

void CurvePlot::tell(bool done)
{
    if (active_ == Handle::Offset)
        emit moved("yield_offset", q(formatSignificant(offset_ * 100, 3)) + " %", done);
    else
        emit moved("slope", QString("manual %1 MPa %2 MPa").arg(low_, 0, 'f', 2).arg(high_, 0, 'f', 2), done);
}

void CurvePlot::drag(const QPointF& at, bool done)
{
    const CurveView* v = view();
    if (!v)
        return;
    const Chart chart = magnifier_ ? footChart() : mainChart();
    if (active_ == Handle::Offset) {
        const double strain = chart.xAt(at.x()) / 100 - chart.yAt(at.y()) / v->slope;
        offset_ = std::clamp(std::round(strain * 1e4) / 1e4, 1e-4, 0.02);
    } else {
        const double stress = chart.yAt(at.y());
        const double least = 0.02 * maxStress_;
        if (active_ == Handle::Low)
            low_ = std::clamp(stress, 0.0, high_ - least);
        else
            high_ = std::clamp(stress, low_ + least, maxStress_);
    }
    tell(done);
    update();
}

void CurvePlot::nudge(double steps)
{
    if (active_ == Handle::None || !view())
        return;
    const double least = 0.02 * maxStress_;
    if (active_ == Handle::Low)
        low_ = std::clamp(low_ + steps * maxStress_ / 400, 0.0, high_ - least);
    else if (active_ == Handle::High)
        high_ = std::clamp(high_ + steps * maxStress_ / 400, low_ + least, maxStress_);
    else
        offset_ = std::clamp(std::round((offset_ + steps * 1e-4) * 1e4) / 1e4, 1e-4, 0.02);
    tell(true);
    update();
}

void CurvePlot::mousePressEvent(QMouseEvent* event)
{
    setFocus();
    active_ = handleAt(event->position());
    dragging_ = active_ != Handle::None;
    if (!dragging_ && view()) {
        const Chart chart = mainChart();
        for (const CurveMark& m : view()->marks) {
            const QPointF d = chart.at(m.x * 100, m.y) - event->position();
            if (std::hypot(d.x(), d.y()) < 14)
                emit markChosen(m.id == "break" ? "A_ext" : q(m.id));
        }
    }
    update();
}

void CurvePlot::mouseMoveEvent(QMouseEvent* event)
{
    if (dragging_)
        drag(event->position(), false);
    else
        setCursor(handleAt(event->position()) != Handle::None ? Qt::SizeAllCursor : Qt::ArrowCursor);
}

void CurvePlot::mouseReleaseEvent(QMouseEvent* event)
{
    if (!dragging_)
        return;
    dragging_ = false;
    drag(event->position(), true);
}

void CurvePlot::mouseDoubleClickEvent(QMouseEvent*)
{
    zoomed_ = false;
    update();
}

void CurvePlot::wheelEvent(QWheelEvent* event)
{
    if (!view())
        return;
    const Chart chart = mainChart();
    const double factor = event->angleDelta().y() > 0 ? 0.8 : 1.25;
    const double x = chart.xAt(event->position().x());
    const double y = chart.yAt(event->position().y());
    const auto edge = [&](double at, double from) { return from + (at - from) * factor; };
    zoomLeft_ = edge(chart.xAt(chart.area().left()), x);
    zoomRight_ = edge(chart.xAt(chart.area().right()), x);
    zoomBottom_ = edge(chart.yAt(chart.area().bottom()), y);
    zoomTop_ = edge(chart.yAt(chart.area().top()), y);
    zoomed_ = zoomRight_ - zoomLeft_ < 1.6 * maxStrain_;
    update();
}

void CurvePlot::keyPressEvent(QKeyEvent* event)
{
    const double steps = event->modifiers() & Qt::ShiftModifier ? 10 : 1;
    switch (event->key()) {
    case Qt::Key_Up:
    case Qt::Key_Right:
        if (active_ != Handle::None)
            return nudge(steps);
        break;
    case Qt::Key_Down:
    case Qt::Key_Left:
        if (active_ != Handle::None)
            return nudge(-steps);
        break;
    case Qt::Key_R: emit backToAutomatic(); return;
    case Qt::Key_M: setMagnifier(!magnifier_); return;
    case Qt::Key_0: zoomed_ = false; update(); return;
    default: break;
    }
    QWidget::keyPressEvent(event);
}

bool CurvePlot::event(QEvent* event)
{
    if (event->type() == QEvent::KeyPress) {
        auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Tab || key->key() == Qt::Key_Backtab) {
            // Tab walks the handles, then leaves.
            const int step = key->key() == Qt::Key_Tab ? 1 : -1;
            int next = static_cast<int>(active_) + step;
            if (view() && next >= 1 && next <= 3) {
                active_ = static_cast<Handle>(next);
                update();
                return true;
            }
            active_ = Handle::None;
            update();
        }
    }
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        const Handle h = handleAt(help->pos());
        QString words;
        if (h == Handle::Low || h == Handle::High)
            words = QString("%1 end of the straight part, %2 MPa").arg(h == Handle::Low ? "Lower" : "Upper").arg(h == Handle::Low ? low_ : high_, 0, 'f', 1);
        else if (h == Handle::Offset)
            words = QString("Offset line, %1 %").arg(q(formatSignificant(offset_ * 100, 2)));
        QToolTip::showText(help->globalPos(), words, this);
        return true;
    }
    return QWidget::event(event);
}

} // namespace fortitor
