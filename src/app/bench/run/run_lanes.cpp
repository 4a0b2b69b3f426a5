// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/run/run_lanes.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double laneHeight = 22, headHeight = 22, nameWidth = 124, endWidth = 168; // px

} // namespace

RunLanes::RunLanes(QWidget* parent) : QWidget(parent)
{
    setObjectName("runLanes");
    setMouseTracking(true);
}

void RunLanes::show(const RunDesk& desk, size_t current)
{
    desk_ = desk;
    current_ = current;
    setMinimumHeight(static_cast<int>(headHeight + laneHeight * static_cast<double>(desk.lanes.size()) + 4));
    setAccessibleName(QString("%1 pieces over their cycles").arg(desk.lanes.size()));
    update();
}

void RunLanes::showRunning(size_t lane, double cycles)
{
    running_ = lane;
    runningCycles_ = cycles;
    update();
}

QSize RunLanes::sizeHint() const
{
    return {600, minimumHeight()};
}

QRectF RunLanes::laneAt(size_t lane) const
{
    return {0, headHeight + laneHeight * static_cast<double>(lane), static_cast<double>(width()), laneHeight};
}

QRectF RunLanes::track() const
{
    return {nameWidth, 0, std::max(60.0, width() - nameWidth - endWidth), static_cast<double>(height())};
}

double RunLanes::xOf(double cycles) const
{
    const double share = std::log(std::max(cycles, desk_.low) / desk_.low) / std::log(desk_.high / desk_.low);
    return track().left() + track().width() * std::min(1.0, share);
}

QString RunLanes::wordsOf(const RunLane& lane) const
{
    using End = RunLane::End;
    if (lane.end == End::Waiting)
        return lane.expected > 0 ? "about " + q(cyclesText(lane.expected)) : QString();
    return q(cyclesText(lane.cycles))
        + (lane.end == End::Broken          ? QString()
               : lane.end == End::RunOut    ? QString(", run-out")
               : lane.end == End::Elsewhere ? QString(", elsewhere")
                                            : QString(", end?"));
}

/// Decades, and the cycles at which a whole piece is taken out.
void RunLanes::paintAxis(QPainter& painter) const
{
    const Palette& p = pal();
    painter.setFont(figureFont(11));
    for (double decade = desk_.low; decade < desk_.high * 1.01; decade *= 10) {
        const double x = xOf(decade);
        painter.setPen(QPen(p.hairSoft, 1));
        painter.drawLine(QPointF(x, headHeight), QPointF(x, height()));
        painter.setPen(p.quiet);
        painter.drawText(QRectF(x - 30, 2, 60, headHeight - 6), Qt::AlignCenter, powerOfTen(decade));
    }
    painter.setFont(wordFont(11));
    painter.drawText(QRectF(track().right() + 30, 2, endWidth - 30, headHeight - 6), Qt::AlignRight | Qt::AlignVCenter,
                     "cycles");
    painter.setPen(QPen(p.quiet, 1, Qt::DotLine));
    const double out = xOf(desk_.stops.runOut);
    painter.drawLine(QPointF(out, headHeight), QPointF(out, height()));
}

void RunLanes::paintLane(QPainter& painter, size_t at) const
{
    using End = RunLane::End;
    const Palette& p = pal();
    const RunLane& lane = desk_.lanes[at];
    const QRectF row = laneAt(at);
    const double mid = row.center().y();
    if (at == current_) {
        painter.fillRect(row, p.accentTint);
        painter.fillRect(QRectF(0, row.top(), 3, row.height()), p.accent);
    }
    painter.setPen(lane.left ? p.quiet : p.ink);
    painter.setFont(wordFont(13, at == current_ ? QFont::DemiBold : QFont::Normal));
    const QString name = painter.fontMetrics().elidedText(q(lane.label), Qt::ElideRight, 44);
    painter.drawText(QRectF(10, row.top(), 48, row.height()), Qt::AlignVCenter, name);
    painter.setFont(figureFont(12));
    painter.setPen(p.quiet);
    if (lane.range)
        painter.drawText(QRectF(56, row.top(), nameWidth - 80, row.height()), Qt::AlignRight | Qt::AlignVCenter,
                         QString::number(*lane.range, 'g', 4));
    const double from = track().left();
    painter.setPen(QPen(p.hair, 1));
    painter.drawLine(QPointF(from, mid), QPointF(track().right(), mid));
    if (lane.expected > 0 && lane.end == End::Waiting) { // what the line gives
        painter.setPen(QPen(p.quiet, 5, Qt::SolidLine, Qt::FlatCap));
        if (lane.low > 0) {
            QColor band = p.quiet;
            band.setAlpha(60);
            painter.setPen(QPen(band, 7, Qt::SolidLine, Qt::FlatCap));
            painter.drawLine(QPointF(xOf(lane.low), mid), QPointF(xOf(lane.high), mid));
        }
        painter.setPen(QPen(p.quiet, 1.5));
        painter.drawLine(QPointF(xOf(lane.expected), mid - 6), QPointF(xOf(lane.expected), mid + 6));
    }
    const bool runs = at == running_;
    const double cycles = runs ? runningCycles_ : lane.cycles;
    const QColor colour = runs ? p.accent : lane.left ? p.hair : p.data[0];
    if (cycles >= 1) {
        painter.setPen(QPen(colour, 5, Qt::SolidLine, Qt::FlatCap));
        painter.drawLine(QPointF(from, mid), QPointF(std::max(from + 2, xOf(cycles)), mid));
    }
    const double end = xOf(cycles);
    painter.setPen(QPen(colour, 2.5));
    if (lane.end == End::Broken) {
        painter.drawLine(QPointF(end + 3, mid - 7), QPointF(end - 1, mid + 7));
    } else if (lane.end == End::RunOut) { // it would go on
        painter.drawLine(QPointF(end + 3, mid), QPointF(end + 16, mid));
        painter.drawLine(QPointF(end + 16, mid), QPointF(end + 11, mid - 4));
        painter.drawLine(QPointF(end + 16, mid), QPointF(end + 11, mid + 4));
    } else if (lane.end == End::Elsewhere) {
        painter.setPen(QPen(colour, 1.5, Qt::DotLine));
        painter.drawLine(QPointF(end + 3, mid), QPointF(end + 16, mid));
    }
    painter.setFont(figureFont(12));
    painter.setPen(lane.end == End::Waiting && !runs ? p.quiet : p.ink);
    painter.drawText(QRectF(track().right() + 20, row.top(), endWidth - 28, row.height()),
                     Qt::AlignRight | Qt::AlignVCenter, runs ? q(cyclesText(cycles)) : wordsOf(lane));
}

void RunLanes::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), pal().surface);
    painter.setFont(wordFont(11));
    painter.setPen(pal().quiet);
    painter.drawText(QRectF(10, 2, nameWidth - 34, headHeight - 6), Qt::AlignRight | Qt::AlignVCenter, "range, MPa");
    for (size_t i = 0; i < desk_.lanes.size(); ++i)
        if (i == current_)
            paintLane(painter, i);
    paintAxis(painter);
    for (size_t i = 0; i < desk_.lanes.size(); ++i)
        paintLane(painter, i);
}

void RunLanes::mousePressEvent(QMouseEvent* event)
{
    for (size_t i = 0; i < desk_.lanes.size(); ++i)
        if (event->button() == Qt::LeftButton && laneAt(i).contains(event->position()))
            emit chosen(i);
}

bool RunLanes::event(QEvent* event)
{
    if (event->type() != QEvent::ToolTip)
        return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    for (size_t i = 0; i < desk_.lanes.size(); ++i) {
        const RunLane& lane = desk_.lanes[i];
        if (!laneAt(i).contains(help->pos()))
            continue;
        QString words = q(lane.label) + (lane.range ? QString(" at %1 MPa").arg(*lane.range, 0, 'g', 4) : QString());
        if (lane.cycles >= 1)
            words += ": " + wordsOf(lane);
        else if (lane.expected > 0)
            words += ": not run, about " + q(cyclesText(lane.expected)) + " cycles expected";
        if (lane.seconds > 0)
            words += (lane.cycles >= 1 ? ", " : ", about ") + q(spanText(lane.seconds)) + " of the frame";
        QToolTip::showText(help->globalPos(), plain(words), this);
        return true;
    }
    QToolTip::hideText();
    return true;
}

} // namespace fortitor
