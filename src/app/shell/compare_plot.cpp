// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/compare_page.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"

#include <QFontMetricsF>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>

namespace fortitor {
namespace {

constexpr size_t coarseBins = 700;
constexpr Qt::PenStyle styles[] = {Qt::SolidLine, Qt::DashLine, Qt::DotLine, Qt::DashDotLine};

/// The mark at the end of a curve, of a shape of its own for each colour.
void drawShape(QPainter& painter, size_t kind, const QPointF& at, double r)
{
    switch (kind % 5) {
    case 0: painter.drawEllipse(at, r, r); break;
    case 1: painter.drawRect(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r)); break;
    case 2: {
        const QPointF t[] = {at + QPointF(0, -r), at + QPointF(r, r), at + QPointF(-r, r)};
        painter.drawPolygon(t, 3);
        break;
    }
    case 3: {
        const QPointF d[] = {at + QPointF(0, -1.3 * r), at + QPointF(1.3 * r, 0), at + QPointF(0, 1.3 * r), at + QPointF(-1.3 * r, 0)};
        painter.drawPolygon(d, 4);
        break;
    }
    default:
        painter.drawLine(at + QPointF(-r, -r), at + QPointF(r, r));
        painter.drawLine(at + QPointF(-r, r), at + QPointF(r, -r));
    }
}

} // namespace

ComparePlot::ComparePlot(QWidget* parent) : QWidget(parent)
{
    setObjectName("comparePlot");
    setMinimumSize(320, 220);
    setAttribute(Qt::WA_OpaquePaintEvent);
    setWhatsThis("Curves from their corrected origins. Drag to pan, wheel to zoom, double click to see all. Groups differ by colour, dash and the shape at the end.");
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void ComparePlot::show(std::vector<Line> lines, bool byGroup)
{
    const bool grown = lines.size() != lines_.size();
    lines_ = std::move(lines);
    byGroup_ = byGroup;
    std::vector<const CurveView*> views;
    for (const Line& l : lines_)
        views.push_back(l.view);
    overlay_ = overlayOf(views, units());
    coarse_.clear();
    for (const Line& l : lines_) {
        Reduced r;
        const size_t n = l.view->x.size();
        const size_t bin = std::max<size_t>(1, n / coarseBins);
        for (size_t i = 0; i < n; i += bin) {
            // First, least and greatest of each bin: nothing that shows is lost.
            const size_t to = std::min(n, i + bin);
            const auto [low, high] = std::minmax_element(l.view->y.begin() + static_cast<std::ptrdiff_t>(i), l.view->y.begin() + static_cast<std::ptrdiff_t>(to));
            for (auto at : {std::min(low, high), std::max(low, high)}) {
                r.x.push_back(l.view->x[static_cast<size_t>(at - l.view->y.begin())]);
                r.y.push_back(*at);
                if (low == high)
                    break;
            }
        }
        coarse_.push_back(std::move(r));
    }
    if (grown) {
        std::tie(left_, right_) = roomyRange(0, std::max(1e-9, overlay_.maxX * overlay_.xScale));
        std::tie(bottom_, top_) = roomyRange(0, std::max(1e-9, overlay_.maxY * overlay_.yScale));
    }
    update();
}

Chart ComparePlot::chartIn(const QRectF& room) const
{
    return {room.adjusted(56, 26, -18, -44), left_, right_, bottom_, top_};
}

void ComparePlot::panBy(const QPointF& pixels)
{
    const Chart chart = chartIn(QRectF(rect()));
    const double dx = (right_ - left_) * pixels.x() / chart.area().width();
    const double dy = (top_ - bottom_) * pixels.y() / chart.area().height();
    left_ -= dx;
    right_ -= dx;
    bottom_ += dy;
    top_ += dy;
    update();
}

void ComparePlot::draw(QPainter& painter, const QRectF& room, bool quick) const
{
    const Palette& p = pal();
    painter.fillRect(room, p.surface);
    if (lines_.empty())
        return;
    const Chart chart = chartIn(room);
    chart.drawAxes(painter, p, overlay_.xTitle + ", from the corrected origin", overlay_.yTitle);
    for (size_t i = 0; i < lines_.size(); ++i) {
        const Line& line = lines_[i];
        if (!overlay_.fits(*line.view))
            continue;
        const auto kind = byGroup_ ? static_cast<size_t>(line.group) : i;
        QPen pen(p.data[kind % p.data.size()], 1.6, styles[kind / p.data.size() % 4]);
        if (quick) {
            // While the hand moves: the same line without smoothing, from the coarse curve.
            pen.setCosmetic(true);
            pen.setWidthF(1);
            pen.setStyle(Qt::SolidLine);
            const QPolygonF polygon = chart.thinned(coarse_[i].x, coarse_[i].y, overlay_.xScale, overlay_.yScale);
            painter.save();
            painter.setClipRect(chart.area());
            painter.setRenderHint(QPainter::Antialiasing, false);
            painter.setPen(pen);
            painter.drawPolyline(polygon);
            painter.restore();
            continue;
        }
        chart.drawCurve(painter, line.view->x, line.view->y, pen, overlay_.xScale, overlay_.yScale);
        if (line.view->x.empty())
            continue;
        const QPointF end = chart.at(line.view->x.back() * overlay_.xScale, line.view->y.back() * overlay_.yScale);
        if (!chart.area().contains(end))
            continue;
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(pen.color(), 1.6));
        painter.setBrush(p.surface);
        drawShape(painter, kind, end, 4);
        if (!byGroup_ && lines_.size() <= 8) {
            painter.setFont(wordFont(11));
            painter.setPen(p.ink);
            const double wide = QFontMetricsF(painter.font()).horizontalAdvance(line.label);
            painter.drawText(QPointF(std::min(end.x() + 7, chart.area().right() - wide), end.y() - 6), line.label);
        }
    }
    if (byGroup_ || lines_.size() > 8)
        drawLegend(painter, chart);
}

/// Line, shape and name of each group (or curve), in the corner that the curves leave free.
void ComparePlot::drawLegend(QPainter& painter, const Chart& chart) const
{
    const Palette& p = pal();
    std::vector<std::pair<size_t, QString>> entries;
    for (size_t i = 0; i < lines_.size(); ++i) {
        const auto kind = byGroup_ ? static_cast<size_t>(lines_[i].group) : i;
        if (std::ranges::find(entries, kind, &std::pair<size_t, QString>::first) == entries.end() && entries.size() < 12)
            entries.emplace_back(kind, byGroup_ ? lines_[i].groupName : lines_[i].label);
    }
    double wide = 0;
    for (const auto& [kind, name] : entries)
        wide = std::max(wide, QFontMetricsF(wordFont(12)).horizontalAdvance(name));
    // The corner with the fewest points under it.
    const QSizeF size(wide + 62, 20.0 * static_cast<double>(entries.size()) + 6);
    const QRectF area = chart.area().adjusted(8, 4, -4, -6);
    QRectF best;
    size_t fewest = SIZE_MAX;
    for (const QPointF& corner : {area.bottomRight(), area.topRight(), area.topLeft(), area.bottomLeft()}) {
        const QRectF box(corner.x() > area.center().x() ? corner.x() - size.width() : corner.x(), corner.y() > area.center().y() ? corner.y() - size.height() : corner.y(), size.width(), size.height());
        size_t under = 0;
        for (const Reduced& r : coarse_)
            for (size_t i = 0; i < r.x.size(); i += 3)
                under += box.contains(chart.at(r.x[i] * overlay_.xScale, r.y[i] * overlay_.yScale));
        if (under < fewest) {
            fewest = under;
            best = box;
        }
    }
    const double x = best.left() + 8;
    double y = best.top() + 4;
    painter.fillRect(QRectF(x - 8, y - 4, wide + 62, 20.0 * static_cast<double>(entries.size()) + 6), p.surface);
    painter.setRenderHint(QPainter::Antialiasing);
    for (const auto& [kind, name] : entries) {
        const QPen pen(p.data[kind % p.data.size()], 1.6, styles[kind / p.data.size() % 4]);
        painter.setPen(pen);
        painter.drawLine(QPointF(x, y + 8), QPointF(x + 30, y + 8));
        painter.setPen(QPen(pen.color(), 1.6));
        painter.setBrush(p.surface);
        drawShape(painter, kind, QPointF(x + 15, y + 8), 4);
        painter.setPen(p.ink);
        painter.setFont(wordFont(12));
        painter.drawText(QPointF(x + 40, y + 12), name);
        y += 20;
    }
}

QImage ComparePlot::picture(int width, int height)
{
    QImage image(2 * width, 2 * height, QImage::Format_RGB32);
    image.setDevicePixelRatio(2);
    QPainter painter(&image);
    draw(painter, QRectF(0, 0, width, height), false);
    return image;
}

void ComparePlot::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    draw(painter, QRectF(rect()), moving_);
}

void ComparePlot::mousePressEvent(QMouseEvent* event)
{
    moving_ = true;
    grabbed_ = event->position();
    setCursor(Qt::ClosedHandCursor);
}

void ComparePlot::mouseMoveEvent(QMouseEvent* event)
{
    if (!moving_)
        return;
    panBy(event->position() - grabbed_);
    grabbed_ = event->position();
}

void ComparePlot::mouseReleaseEvent(QMouseEvent*)
{
    moving_ = false;
    setCursor(Qt::ArrowCursor);
    update();
}

void ComparePlot::mouseDoubleClickEvent(QMouseEvent*)
{
    std::tie(left_, right_) = roomyRange(0, std::max(1e-9, overlay_.maxX * overlay_.xScale));
    std::tie(bottom_, top_) = roomyRange(0, std::max(1e-9, overlay_.maxY * overlay_.yScale));
    update();
}

void ComparePlot::wheelEvent(QWheelEvent* event)
{
    const Chart chart = chartIn(QRectF(rect()));
    const double factor = event->angleDelta().y() > 0 ? 0.8 : 1.25;
    const double x = chart.xAt(event->position().x());
    const double y = chart.yAt(event->position().y());
    left_ = x + (left_ - x) * factor;
    right_ = x + (right_ - x) * factor;
    bottom_ = y + (bottom_ - y) * factor;
    top_ = y + (top_ - y) * factor;
    update();
}

} // namespace fortitor
