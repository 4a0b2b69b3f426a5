// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/read/curve_plot.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "units/quantity.h"

#include <QFontMetricsF>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

const CurveMark& markOf(const CurveView& view, CurvePlot::Handle handle)
{
    return view.marks[static_cast<size_t>(handle) - static_cast<size_t>(CurvePlot::Handle::FirstMark)];
}

} // namespace

CurvePlot::CurvePlot(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("curvePlot");
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(400, 220);
    setAttribute(Qt::WA_OpaquePaintEvent);
    setWhatsThis(
        "The blue squares are the ends of the straight part, the ochre ring is the offset line, the dark squares "
        "are yield, maximum and break. Drag them, or walk them with Tab and nudge with the arrows (Shift: coarser). "
        "R goes back to automatic. The wheel zooms, a double click shows all. M opens and closes the magnifier, V "
        "changes between stress–strain, load–extension and the true curve.");
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

const CurveView* CurvePlot::view() const
{
    if (viewKind_ != View::StressStrain && other_)
        return &*other_;
    return outcome_ ? outcome_->curve() : nullptr;
}

void CurvePlot::show(const Outcome* outcome)
{
    const bool same = outcome_ && outcome && dragging_;
    outcome_ = outcome;
    other_.reset();
    if (outcome && outcome->curve() && viewKind_ != View::StressStrain)
        other_ = viewKind_ == View::True ? trueCurve(*outcome->curve()) : loadExtension(*outcome->curve());
    if (!same)
        measureExtent();
    // What was zoomed into stays so, until something else is shown.
    const QString now = session_.hasSpecimen()
        ? QString("%1/%2/%3").arg(session_.jobId()).arg(session_.current()).arg(static_cast<int>(viewKind_))
        : QString();
    if (now != zoomFor_)
        zoomed_ = false;
    zoomFor_ = now;
    if (!dragging_)
        rehearsed_ = session_.hasSpecimen() ? rehearsedOf(session_.document().json()["specimens"][session_.current()])
                                            : std::nullopt;
    if (const CurveView* v = view(); v && !dragging_) {
        low_ = v->straightLow;
        high_ = v->straightHigh;
        offset_ = v->offset.value_or(0.002);
        const auto all = handles();
        if (std::ranges::find(all, active_) == all.end())
            active_ = Handle::None;
        if (active_ >= Handle::FirstMark)
            markX_ = v->marks[static_cast<size_t>(active_) - static_cast<size_t>(Handle::FirstMark)].x;
    }
    update();
}

void CurvePlot::setView(View kind)
{
    viewKind_ = kind;
    active_ = Handle::None;
    show(outcome_);
    emit viewChanged(static_cast<int>(kind));
}

void CurvePlot::setBefore(const Outcome* before)
{
    before_ = before;
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

bool CurvePlot::hasFoot() const
{
    const CurveView* v = view();
    return magnifier_ && v && viewKind_ == View::StressStrain && !v->keyed && v->slope > 0 && v->straightHigh > 0
        && footBox().height() > 70; // smaller it shows nothing
}

void CurvePlot::measureExtent()
{
    const double xBefore = xScale_;
    const double yBefore = yScale_;
    maxX_ = 1e-9;
    minX_ = 0;
    maxY_ = 1e-9;
    const CurveView* v = view();
    if (!v)
        return;
    for (double e : v->x) {
        maxX_ = std::max(maxX_, e);
        minX_ = std::min(minX_, e);
    }
    for (double y : v->y)
        maxY_ = std::max(maxY_, y);
    xScale_ = 1 / displayUnit(v->xAxis.kind, maxX_, units()).factor;
    yScale_ = 1 / displayUnit(v->yAxis.kind, maxY_, units()).factor;
    for (double* edge : {&zoomLeft_, &zoomRight_})
        *edge *= xScale_ / xBefore;
    for (double* edge : {&zoomBottom_, &zoomTop_})
        *edge *= yScale_ / yBefore;
}

Chart CurvePlot::mainChart() const
{
    const CurveView* v = view();
    const double top = v && !v->bending.empty() ? 76 : 26;
    const QRectF area(56, top, width() - 56 - 22, height() - top - 44);
    if (zoomed_)
        return {area, zoomLeft_, zoomRight_, zoomBottom_, zoomTop_};
    const auto [x0, x1] = roomyRange(std::max(minX_, -0.04 * maxX_) * xScale_, maxX_ * xScale_);
    const auto [y0, y1] = roomyRange(0, maxY_ * yScale_ * 1.02);
    return {area, std::min(x0, std::max(minX_, -0.1 * maxX_) * xScale_), x1, y0, y1};
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
    double yield = std::min(maxY_, 3.2 * v->straightHigh);
    double most = 0;
    for (const CurveMark& m : v->marks)
        if (m.early)
            most = std::max(most, m.y);
    if (most > 0)
        yield = most;
    const double right = (1.25 * yield / v->slope + (v->offset ? std::max(offset_, 0.001) * 1.4 : 0)) * xScale_;
    return {box.adjusted(12, 24, -12, -14), -0.06 * right, right, -0.03 * yield * yScale_, 1.22 * yield * yScale_};
}

std::vector<CurvePlot::Handle> CurvePlot::handles() const
{
    std::vector<Handle> all;
    const CurveView* v = view();
    if (!v)
        return all;
    if (v->slope > 0 && !v->straight.option.empty()) {
        all.push_back(Handle::Low);
        all.push_back(Handle::High);
    }
    if (v->offset && std::ranges::any_of(v->marks, [&](const CurveMark& m) { return m.id.starts_with(v->offsetMark); }))
        all.push_back(Handle::Offset);
    for (size_t i = 0; i < v->marks.size(); ++i)
        if (!v->marks[i].option.empty())
            all.push_back(markHandle(i));
    return all;
}

CurvePlot::Handle CurvePlot::handleOf(const std::string& markId) const
{
    const CurveView* v = view();
    for (size_t i = 0; v && i < v->marks.size(); ++i)
        if (v->marks[i].id == markId && !v->marks[i].option.empty())
            return markHandle(i);
    return Handle::None;
}

QPointF CurvePlot::handlePosition(Handle handle) const
{
    const CurveView* v = view();
    if (!v || handle == Handle::None)
        return {};
    if (handle >= Handle::FirstMark) {
        const CurveMark& m = v->marks[static_cast<size_t>(handle) - static_cast<size_t>(Handle::FirstMark)];
        return spot(shownInFoot(m) ? footChart() : mainChart(), m.x, m.y);
    }
    const Chart chart = hasFoot() ? footChart() : mainChart();
    const auto onLine = [&](double y) { return spot(chart, y / v->slope, y); };
    if (handle == Handle::Offset)
        return spot(chart, offset_ + 0.12 * maxY_ / v->slope, 0.12 * maxY_);
    return onLine(handle == Handle::Low ? low_ : high_);
}

CurvePlot::Handle CurvePlot::handleAt(const QPointF& at) const
{
    Handle best = Handle::None;
    double nearest = 14;
    for (Handle h : handles()) {
        const QPointF d = handlePosition(h) - at;
        const double away = std::hypot(d.x(), d.y());
        if (away < nearest) {
            nearest = away;
            best = h;
        }
    }
    return best;
}

void CurvePlot::tell(bool done)
{
    const CurveView* v = view();
    if (active_ == Handle::Offset)
        emit moved(q(v->offsetOption), q(formatSignificant(offset_ * 100, 3)) + " %", done);
    else if (active_ >= Handle::FirstMark)
        emit moved(q(markOf(*v, active_).option), q(markOptionText(*v, markOf(*v, active_), markX_)), done);
    else
        emit moved(q(v->straight.option), q(straightOptionText(*v, low_, high_)), done);
}

void CurvePlot::drag(const QPointF& at, bool done)
{
    const CurveView* v = view();
    if (!v)
        return;
    if (active_ >= Handle::FirstMark) {
        const size_t index = static_cast<size_t>(active_) - static_cast<size_t>(Handle::FirstMark);
        if (index >= v->marks.size())
            return;
        // The mark keeps to the curve: its nearest point to the hand.
        const Chart chart = shownInFoot(v->marks[index]) ? footChart() : mainChart();
        double nearest = 1e300;
        for (size_t i = 0; i < v->x.size(); ++i) {
            const QPointF d = spot(chart, v->x[i], v->y[i]) - at;
            const double away = d.x() * d.x() + 0.25 * d.y() * d.y();
            if (away < nearest) {
                nearest = away;
                markX_ = v->x[i];
            }
        }
        markX_ = stopBeside(v->marks[index], markX_, 0);
        tell(done);
        update();
        return;
    }
    const Chart chart = hasFoot() ? footChart() : mainChart();
    const double x = chart.xAt(at.x()) / xScale_;
    const double y = chart.yAt(at.y()) / yScale_;
    if (active_ == Handle::Offset) {
        offset_ = std::clamp(std::round((x - y / v->slope) * 1e4) / 1e4, 1e-4, 0.02);
    } else {
        const double wanted = v->straight.inX ? x * v->slope : y;
        const double least = v->straight.inX ? 2e-4 * v->slope : 0.02 * maxY_;
        if (active_ == Handle::Low)
            low_ = std::clamp(wanted, 0.0, std::max(0.0, high_ - least));
        else
            high_ = std::clamp(wanted, low_ + least, std::max(low_ + least, maxY_));
    }
    tell(done);
    update();
}

void CurvePlot::nudge(double steps)
{
    const CurveView* v = view();
    if (active_ == Handle::None || !v)
        return;
    if (active_ >= Handle::FirstMark) {
        const size_t index = static_cast<size_t>(active_) - static_cast<size_t>(Handle::FirstMark);
        if (!v->marks[index].stops.empty()) {
            markX_ = stopBeside(v->marks[index], v->marks[index].x, steps > 0 ? 1 : -1);
            tell(true);
            return update();
        }
        const auto at = static_cast<std::ptrdiff_t>(
            std::ranges::find_if(v->x, [&](double x) { return x >= v->marks[index].x; }) - v->x.begin());
        const auto last = static_cast<std::ptrdiff_t>(v->x.size()) - 1;
        const auto stride = std::max<std::ptrdiff_t>(1, last / 2000);
        markX_ = v->x[static_cast<size_t>(
            std::clamp<std::ptrdiff_t>(at + static_cast<std::ptrdiff_t>(steps) * stride, 0, last))];
    } else if (active_ == Handle::Offset) {
        offset_ = std::clamp(std::round((offset_ + steps * 1e-4) * 1e4) / 1e4, 1e-4, 0.02);
    } else {
        const double least = v->straight.inX ? 2e-4 * v->slope : 0.02 * maxY_;
        const double step = v->straight.inX ? 2e-5 * v->slope : maxY_ / 400;
        if (active_ == Handle::Low)
            low_ = std::clamp(low_ + steps * step, 0.0, std::max(0.0, high_ - least));
        else
            high_ = std::clamp(high_ + steps * step, low_ + least, std::max(low_ + least, maxY_));
    }
    tell(true);
    update();
}

void CurvePlot::mousePressEvent(QMouseEvent* event)
{
    setFocus();
    active_ = handleAt(event->position());
    setDragging(active_ != Handle::None);
    if (view() && (!dragging_ || active_ >= Handle::FirstMark))
        for (const CurveMark& m : view()->marks) {
            const QPointF d = spot(shownInFoot(m) ? footChart() : mainChart(), m.x, m.y) - event->position();
            if (std::hypot(d.x(), d.y()) < 14)
                emit markChosen(resultOn(m.id));
        }
    if (active_ >= Handle::FirstMark && view())
        markX_ = view()->marks[static_cast<size_t>(active_) - static_cast<size_t>(Handle::FirstMark)].x;
    pressedAt_ = event->position();
    update();
}

/// The result that a mark stands for: its own, or the first card that is worked out there.
QString CurvePlot::resultOn(const std::string& mark) const
{
    if (outcome_->find(mark))
        return q(mark);
    const ResultSpec* any = nullptr;
    for (const ResultSpec& spec : session_.job().method->results)
        if (spec.standsOn() == mark && (!any || (spec.headline && !any->headline)))
            any = &spec;
    return any ? q(any->symbol) : QString();
}

void CurvePlot::setDragging(bool on)
{
    dragging_ = on;
    setProperty("held", on);
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
    setDragging(false);
    // A click chooses a mark; only a drag moves it.
    if (active_ >= Handle::FirstMark && (event->position() - pressedAt_).manhattanLength() < 4)
        return;
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
    zoomed_ = zoomRight_ - zoomLeft_ < 1.6 * maxX_ * xScale_;
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
    case Qt::Key_V: setView(static_cast<View>((static_cast<int>(viewKind_) + 1) % 3)); return;
    case Qt::Key_0:
        zoomed_ = false;
        update();
        return;
    default: break;
    }
    QWidget::keyPressEvent(event);
}

QString CurvePlot::handleWords(Handle h) const
{
    const CurveView* v = view();
    if (!v)
        return {};
    if (h == Handle::Offset)
        return QString("Offset line, %1 %").arg(q(formatSignificant(offset_ * 100, 2)));
    if (h >= Handle::FirstMark) {
        const CurveMark& m = v->marks[static_cast<size_t>(h) - static_cast<size_t>(Handle::FirstMark)];
        return q(m.label) + ": " + q(formatQuantity(m.y, displayUnit(v->yAxis.kind, m.y, units()), 4)) + " at "
            + q(formatQuantity(m.x, displayUnit(v->xAxis.kind, m.x, units()), 4))
            + "\nDrag it along the curve to set it by hand.";
    }
    if (h == Handle::None)
        return {};
    const double y = h == Handle::Low ? low_ : high_;
    return QString("%1 end of the straight part, %2")
        .arg(h == Handle::Low ? "Lower" : "Upper", q(formatQuantity(y, displayUnit(v->yAxis.kind, y, units()), 4)));
}

bool CurvePlot::event(QEvent* event)
{
    if (event->type() == QEvent::KeyPress) {
        auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Tab || key->key() == Qt::Key_Backtab) {
            // Tab walks the handles, then leaves.
            const auto all = handles();
            const auto here = std::ranges::find(all, active_);
            auto next = static_cast<std::ptrdiff_t>(
                here == all.end() ? (key->key() == Qt::Key_Tab ? -1 : static_cast<std::ptrdiff_t>(all.size()))
                                  : here - all.begin());
            next += key->key() == Qt::Key_Tab ? 1 : -1;
            if (next >= 0 && next < static_cast<std::ptrdiff_t>(all.size())) {
                active_ = all[static_cast<size_t>(next)];
                update();
                return true;
            }
            active_ = Handle::None;
            update();
        }
    }
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        QToolTip::showText(help->globalPos(), handleWords(handleAt(help->pos())), this);
        return true;
    }
    return QWidget::event(event);
}

} // namespace fortitor
