// SPDX-License-Identifier: GPL-3.0-or-later
// Marks moved by mouse and key.
#include "app/bench/read/curve_plot.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "units/quantity.h"

#include <QHelpEvent>
#include <QKeyEvent>
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
        return spot(shownInFoot(m) ? footChart() : chart(), m.x, m.y);
    }
    const Chart chart = hasFoot() ? footChart() : this->chart();
    const auto onLine = [&](double y) { return spot(chart, v->lineFrom + y / v->slope, y); };
    if (handle == Handle::Offset)
        return spot(chart, v->lineFrom + offset_ + 0.12 * maxY_ / v->slope, 0.12 * maxY_);
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
        emit moved(q(v->offsetOption),
                   v->xAxis.kind == Kind::Length ? q(formatFixed(offset_, 2)) + " mm"
                                                 : q(formatSignificant(offset_ * 100, 3)) + " %",
                   done);
    else if (active_ >= Handle::FirstMark)
        emit moved(q(markOf(*v, active_).option), q(markOptionText(*v, markOf(*v, active_), markX_)), done);
    else
        emit moved(q(v->straight.option), q(straightOptionText(*v, low_, high_)), done);
}

/// An offset as it may be stated: a strain in steps of 0.01 %, a length in steps of 0.01 mm.
double CurvePlot::offsetNear(double offset) const
{
    const bool length = view()->xAxis.kind == Kind::Length;
    const double step = length ? 0.01 : 1e-4;
    return std::clamp(std::round(offset / step) * step, step, length ? 0.5 * maxX_ : 0.02);
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
        const Chart chart = shownInFoot(v->marks[index]) ? footChart() : this->chart();
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
    const Chart chart = hasFoot() ? footChart() : this->chart();
    const double x = chart.xAt(at.x()) / xScale_;
    const double y = chart.yAt(at.y()) / yScale_;
    if (active_ == Handle::Offset) {
        offset_ = offsetNear(x - v->lineFrom - y / v->slope);
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
        offset_ = offsetNear(offset_ + steps * (v->xAxis.kind == Kind::Length ? 0.01 : 1e-4));
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
            const QPointF d = spot(shownInFoot(m) ? footChart() : chart(), m.x, m.y) - event->position();
            if (std::hypot(d.x(), d.y()) < 14)
                emit markChosen(resultOn(m.id));
        }
    if (active_ >= Handle::FirstMark && view())
        markX_ = view()->marks[static_cast<size_t>(active_) - static_cast<size_t>(Handle::FirstMark)].x;
    pressedAt_ = event->position();
    if (!dragging_)
        PlotView::mousePressEvent(event);
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
    else if (event->buttons() != Qt::NoButton)
        PlotView::mouseMoveEvent(event);
    else
        setCursor(handleAt(event->position()) != Handle::None ? Qt::SizeAllCursor : Qt::ArrowCursor);
}

void CurvePlot::mouseReleaseEvent(QMouseEvent* event)
{
    if (!dragging_)
        return PlotView::mouseReleaseEvent(event);
    setDragging(false);
    // A click chooses a mark; only a drag moves it.
    if (active_ >= Handle::FirstMark && (event->position() - pressedAt_).manhattanLength() < 4)
        return;
    drag(event->position(), true);
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
    default: break;
    }
    PlotView::keyPressEvent(event);
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
    return PlotView::event(event);
}

} // namespace fortitor
