// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/history/signal_view.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"

#include <QFontMetricsF>
#include <QKeyEvent>
#include <QPainter>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// Steps of a time axis, s.
constexpr double steps[] = {1e-3, 2e-3,  5e-3,  0.01,  0.02,  0.05,   0.1,    0.2,    0.5,    1,    2,
                            5,    10,    20,    30,    60,    120,    300,    600,    1200,   1800, 3600,
                            7200, 10800, 21600, 43200, 86400, 172800, 432000, 864000, 1728000};

double stepFor(double seconds, int wanted)
{
    for (const double step : steps)
        if (seconds / step <= wanted)
            return step;
    return steps[std::size(steps) - 1];
}

constexpr double least = 16; // readings in the window

} // namespace

SignalView::SignalView(QWidget* parent) : QWidget(parent)
{
    setObjectName("signalView");
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(120);
    setToolTip("The wheel zooms, dragging pans, a click puts the stretch that the boxes show; 0 shows all");
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void SignalView::show(std::shared_ptr<const HistoryFile> file, std::shared_ptr<const Pyramid> pyramid)
{
    const bool other = file_ != file;
    file_ = std::move(file);
    pyramid_ = std::move(pyramid);
    if (other)
        showAll();
    update();
}

void SignalView::clear(const QString& words)
{
    file_.reset();
    pyramid_.reset();
    emptyWords_ = words;
    update();
}

void SignalView::setBegins(const QDateTime& begins)
{
    begins_ = begins;
    update();
}

void SignalView::setStretch(double from, double to)
{
    stretch_ = {from, to};
    update();
}

void SignalView::showWindow(double from, double to)
{
    if (!file_)
        return;
    const auto n = static_cast<double>(file_->source->size());
    const double wide = std::clamp(to - from, std::min(least, n), n);
    from_ = std::clamp((from + to - wide) / 2, 0.0, n - wide);
    to_ = from_ + wide;
    update();
}

void SignalView::showAll()
{
    if (file_)
        showWindow(0, static_cast<double>(file_->source->size()));
}

QRectF SignalView::area() const
{
    return QRectF(rect()).adjusted(62, 20, -8, -26);
}

double SignalView::readingAt(double pixel) const
{
    const QRectF box = area();
    return from_ + (pixel - box.left()) / box.width() * (to_ - from_);
}

void SignalView::zoomAt(double pixel, double factor)
{
    if (!file_)
        return;
    const double at = readingAt(pixel), n = static_cast<double>(file_->source->size());
    const double wide = std::clamp((to_ - from_) * factor, std::min(least, n), n);
    const double share = (at - from_) / (to_ - from_);
    const double from = std::clamp(at - share * wide, 0.0, n - wide);
    showWindow(from, from + wide);
}

QString SignalView::timeWords(double reading, double stepSeconds) const
{
    const double seconds = file_ ? reading / file_->rate : 0;
    const int decimals = stepSeconds >= 1 ? 0 : stepSeconds >= 0.1 ? 1 : stepSeconds >= 0.01 ? 2 : 3;
    if (begins_.isValid()) {
        const QDateTime at = begins_.addMSecs(std::llround(seconds * 1000));
        return at.toString(stepSeconds >= 86400      ? "ddd d MMM"
                               : stepSeconds >= 3600 ? "ddd HH:mm"
                               : stepSeconds >= 60   ? "HH:mm"
                               : decimals == 0       ? "HH:mm:ss"
                                                     : "HH:mm:ss.zzz");
    }
    const auto whole = static_cast<long long>(std::floor(seconds + 1e-9));
    const long long days = whole / 86400, hours = whole / 3600 % 24, minutes = whole / 60 % 60;
    const double rest = seconds - static_cast<double>(whole / 60 * 60);
    QString words = days > 0 ? QString("%1 d ").arg(days) : QString();
    if (stepSeconds >= 86400)
        return QString("%1 d").arg(days);
    words += QString("%1:%2").arg(hours).arg(minutes, 2, 10, QChar('0'));
    if (stepSeconds < 60)
        words += QString(":%1").arg(std::max(0.0, rest), decimals > 0 ? 3 + decimals : 2, 'f', decimals, QChar('0'));
    return words;
}

void SignalView::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.fillRect(rect(), p.surface);
    const QRectF box = area();
    if (!ready()) {
        painter.setPen(p.quiet);
        painter.setFont(wordFont(13));
        painter.drawText(rect().adjusted(20, 0, -20, 0), static_cast<int>(Qt::AlignCenter) | Qt::TextWordWrap,
                         emptyWords_);
        return;
    }
    std::vector<Extent> columns(static_cast<size_t>(std::max(1.0, box.width())));
    pyramid_->extents(*file_->source, from_, to_, columns);
    Extent seen;
    for (const Extent& one : columns)
        seen.take(one);
    double low = seen.empty() ? 0 : static_cast<double>(seen.low),
           high = seen.empty() ? 1 : static_cast<double>(seen.high);
    const double pad = high > low ? 0.06 * (high - low) : std::max(1.0, 0.01 * std::abs(high));
    low -= pad;
    high += pad;
    painter.setFont(figureFont(10.5));
    for (const Tick& tick : ticksOf(Scale::Linear, low, high, static_cast<int>(box.height() / 44))) {
        const double y = box.bottom() - (tick.at - low) / (high - low) * box.height();
        painter.setPen(p.hairSoft);
        painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y));
        painter.setPen(p.quiet);
        painter.drawText(QRectF(0, y - 8, box.left() - 8, 16), static_cast<int>(Qt::AlignRight) | Qt::AlignVCenter,
                         tick.words);
    }
    painter.setFont(wordFont(11.5));
    painter.drawText(QPointF(box.left(), 13),
                     QString("%1, %2").arg(file_->unit->kind == Kind::Stress ? "stress" : "strain",
                                           q(std::string(file_->unit->symbol == "ue" ? "µε" : file_->unit->symbol))));
    paintTime(painter, box);
    const auto pixel = [&](double reading) { return box.left() + (reading - from_) / (to_ - from_) * box.width(); };
    if (stretch_.second > stretch_.first) {
        const double x0 = std::clamp(pixel(stretch_.first), box.left(), box.right()),
                     x1 = std::clamp(pixel(stretch_.second), box.left(), box.right());
        if (x1 > box.left() && x0 < box.right())
            painter.fillRect(QRectF(x0, box.top(), std::max(2.0, x1 - x0), box.height()),
                             x1 - x0 < 3 ? p.accent : p.accentTint);
    }
    paintSignal(painter, box, columns, low, high);
    painter.setPen(p.ink);
    painter.drawLine(box.bottomLeft(), box.bottomRight());
    if (hasFocus()) {
        painter.setPen(QPen(p.accent, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
    }
}

/// A line from one column's extent to the next; where readings lie apart, a line through them.
void SignalView::paintSignal(QPainter& painter, const QRectF& box, const std::vector<Extent>& columns, double low,
                             double high) const
{
    const auto y = [&](double value) { return box.bottom() - (value - low) / (high - low) * box.height(); };
    painter.setPen(QPen(pal().data[0], 1));
    const double each = (to_ - from_) / static_cast<double>(columns.size());
    QPolygonF line;
    const auto flush = [&] {
        if (line.size() > 1)
            drawLongLine(painter, line);
        line.clear();
    };
    painter.setRenderHint(QPainter::Antialiasing, each < 2);
    for (size_t k = 0; k < columns.size(); ++k) {
        const double x = box.left() + static_cast<double>(k) + 0.5;
        if (columns[k].empty()) {
            if (each >= 1)
                flush(); // a gap; else a column between two readings
            continue;
        }
        const double top = y(static_cast<double>(columns[k].high)), bottom = y(static_cast<double>(columns[k].low));
        if (!line.isEmpty() && std::abs(line.back().y() - top) < std::abs(line.back().y() - bottom)) {
            line << QPointF(x, top) << QPointF(x, bottom);
        } else {
            line << QPointF(x, bottom);
            if (top != bottom)
                line << QPointF(x, top);
        }
    }
    flush();
    painter.setRenderHint(QPainter::Antialiasing, false);
}

void SignalView::paintTime(QPainter& painter, const QRectF& box) const
{
    const Palette& p = pal();
    const double rate = file_->rate, seconds = (to_ - from_) / rate;
    const double step = stepFor(seconds, std::max(2, static_cast<int>(box.width() / 120)));
    const double shift = begins_.isValid() ? begins_.time().msecsSinceStartOfDay() / 1000.0 : 0; // ticks on whole hours
    painter.setFont(figureFont(10.5));
    for (double k = std::ceil((from_ / rate + shift) / step); k * step - shift <= to_ / rate; k += 1) {
        const double at = k * step - shift;
        const double x = box.left() + (at * rate - from_) / (to_ - from_) * box.width();
        painter.setPen(p.hairSoft);
        painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom() + 4));
        painter.setPen(p.quiet);
        const QString words = timeWords(at * rate, step);
        const double wide = QFontMetricsF(painter.font()).horizontalAdvance(words);
        painter.drawText(QPointF(std::clamp(x - wide / 2, 0.0, width() - wide - 2), box.bottom() + 18), words);
    }
}

void SignalView::mousePressEvent(QMouseEvent* event)
{
    grabs_ = event->button() == Qt::LeftButton;
    moved_ = false;
    grabbed_ = event->position().x();
}

void SignalView::mouseMoveEvent(QMouseEvent* event)
{
    if (!grabs_ || !file_)
        return;
    const double by = event->position().x() - grabbed_;
    if (!moved_ && std::abs(by) < 3)
        return;
    moved_ = true;
    grabbed_ = event->position().x();
    const double wide = to_ - from_, n = static_cast<double>(file_->source->size());
    const double from = std::clamp(from_ - by / area().width() * wide, 0.0, n - wide);
    showWindow(from, from + wide);
}

void SignalView::mouseReleaseEvent(QMouseEvent* event)
{
    if (std::exchange(grabs_, false) && !moved_ && file_)
        emit stretchAsked(readingAt(event->position().x()));
}

void SignalView::wheelEvent(QWheelEvent* event)
{
    if (!file_)
        return event->ignore();
    zoomAt(event->position().x(), std::pow(0.8, event->angleDelta().y() / 120.0));
    event->accept();
}

void SignalView::keyPressEvent(QKeyEvent* event)
{
    const double wide = to_ - from_, middle = area().center().x();
    switch (event->key()) {
    case Qt::Key_Left: return showWindow(std::max(0.0, from_ - wide / 5), std::max(0.0, from_ - wide / 5) + wide);
    case Qt::Key_Right: return showWindow(from_ + wide / 5, to_ + wide / 5);
    case Qt::Key_Plus:
    case Qt::Key_Equal: return zoomAt(middle, 0.5);
    case Qt::Key_Minus: return zoomAt(middle, 2);
    case Qt::Key_0: return showAll();
    case Qt::Key_Return:
        if (file_)
            emit stretchAsked((from_ + to_) / 2);
        return;
    default: QWidget::keyPressEvent(event);
    }
}

} // namespace fortitor
