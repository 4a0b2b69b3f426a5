// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/plot_view.h"

#include "app/theme/theme.h"

#include <QContextMenuEvent>
#include <QFile>
#include <QFileDialog>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QSaveFile>
#include <QToolTip>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>
#include <utility>

namespace fortitor {
namespace {

constexpr double near = 9; ///< px that a point is hit within
constexpr double brushRadius = 13;

} // namespace

PlotView::PlotView(QWidget* parent) : QWidget(parent)
{
    setMinimumSize(220, 150);
    setAttribute(Qt::WA_OpaquePaintEvent);
    setFocusPolicy(Qt::StrongFocus);
    setWhatsThis(
        "Drag to pan, wheel to zoom, double click (or 0) to see all; arrows and + − by key. The menu saves picture "
        "and data.");
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

bool PlotView::zoomed() const
{
    return left_ != plot_.x.low || right_ != plot_.x.high || bottom_ != plot_.y.low || top_ != plot_.y.high;
}

void PlotView::show(Plot plot, bool keeps)
{
    const auto same = [](const PlotAxis& a, const PlotAxis& b) {
        return a.low == b.low && a.high == b.high && a.scale == b.scale && a.factor == b.factor;
    };
    keeps = keeps ? zoomed() : any_ && same(plot.x, plot_.x) && same(plot.y, plot_.y);
    if (keeps) { // also in other units
        left_ *= plot.x.factor / plot_.x.factor;
        right_ *= plot.x.factor / plot_.x.factor;
        bottom_ *= plot.y.factor / plot_.y.factor;
        top_ *= plot.y.factor / plot_.y.factor;
    }
    plot_ = std::move(plot);
    any_ = true;
    if (!keeps)
        showAll();
    update();
}

void PlotView::clear()
{
    Plot none;
    none.x = plot_.x; // the window stays for what comes next
    none.y = plot_.y;
    plot_ = std::move(none);
    any_ = false;
    update();
}

void PlotView::showAll()
{
    left_ = plot_.x.low;
    right_ = plot_.x.high;
    bottom_ = plot_.y.low;
    top_ = plot_.y.high;
    update();
}

Chart PlotView::chart() const
{
    return {plot_.areaIn(QRectF(rect())), left_, right_, bottom_, top_, plot_.x.scale, plot_.y.scale};
}

void PlotView::panBy(const QPointF& pixels)
{
    const Chart now = chart();
    const QRectF a = now.area();
    const double x0 = now.xAt(a.left() - pixels.x()), x1 = now.xAt(a.right() - pixels.x());
    const double y0 = now.yAt(a.bottom() - pixels.y()), y1 = now.yAt(a.top() - pixels.y());
    if (!std::isfinite(x0 + x1 + y0 + y1) || !(x1 > x0) || !(y1 > y0))
        return;
    left_ = x0;
    right_ = x1;
    bottom_ = y0;
    top_ = y1;
    update();
}

void PlotView::zoomAt(const QPointF& at, double factor)
{
    const Chart now = chart();
    const QRectF a = now.area();
    const double x0 = now.xAt(at.x() + (a.left() - at.x()) * factor),
                 x1 = now.xAt(at.x() + (a.right() - at.x()) * factor);
    const double y0 = now.yAt(at.y() + (a.bottom() - at.y()) * factor),
                 y1 = now.yAt(at.y() + (a.top() - at.y()) * factor);
    // Closer than the digits of the figures there is nothing to see.
    const auto apart = [](double low, double high) {
        return std::isfinite(low) && std::isfinite(high) && high - low > 1e-9 * std::max(std::abs(low), std::abs(high));
    };
    if (!apart(x0, x1) || !apart(y0, y1))
        return;
    // Far outside there is nothing to see either.
    constexpr double wide = 1.6;
    if (factor > 1 && now.linear() && x1 - x0 > wide * (plot_.x.high - plot_.x.low))
        return showAll();
    left_ = x0;
    right_ = x1;
    bottom_ = y0;
    top_ = y1;
    update();
}

void PlotView::setChosen(const QString& name)
{
    if (name == chosen_)
        return;
    chosen_ = name;
    update();
}

void PlotView::setBrush(bool on)
{
    brush_ = on;
    trail_.clear();
    gathered_.clear();
    setCursor(on ? Qt::CrossCursor : Qt::ArrowCursor);
    update();
}

/// Every named point within the brush, from where it was to where it is.
void PlotView::brushTo(const QPointF& at)
{
    const QPointF from = trail_.empty() ? at : trail_.back();
    trail_.push_back(at);
    const QPointF way = at - from;
    const double length2 = QPointF::dotProduct(way, way);
    for (const PlotSeries& s : plot_.series)
        for (size_t i = 0; i < std::min({s.names.size(), s.x.size(), s.y.size()}); ++i) {
            const QPointF p = placeOf(s, i);
            const double t = length2 > 0 ? std::clamp(QPointF::dotProduct(p - from, way) / length2, 0.0, 1.0) : 0;
            const QPointF off = p - from - t * way;
            if (std::hypot(off.x(), off.y()) <= brushRadius && !gathered_.contains(s.names[i]))
                gathered_ << s.names[i];
        }
    update();
}

QPointF PlotView::placeOf(const PlotSeries& series, size_t i) const
{
    return chart().at(series.x[i] * plot_.x.factor, series.y[i] * plot_.y.factor);
}

QString PlotView::nameAt(const QPointF& at) const
{
    QString found;
    double least = near;
    for (const PlotSeries& s : plot_.series) {
        const size_t n = std::min(s.x.size(), s.y.size());
        const bool curve = s.joined && !s.thin && !s.pen && !s.label.isEmpty();
        constexpr size_t asked = 2000;
        const size_t every = curve ? std::max<size_t>(1, n / asked) : 1;
        for (size_t i = 0; i < (curve ? n : std::min(n, s.names.size())); i += every)
            if (const QPointF d = placeOf(s, i) - at; std::hypot(d.x(), d.y()) < least) {
                least = std::hypot(d.x(), d.y());
                found = curve ? s.label : s.names[i];
            }
    }
    return found;
}

void PlotView::paintEmpty(QPainter& painter) const
{
    painter.setPen(pal().quiet);
    painter.setFont(wordFont(13));
    painter.drawText(rect().adjusted(12, 0, -12, 0), Qt::AlignCenter | Qt::TextWordWrap, emptyWords_);
}

QPointF PlotView::spotOf(const QString& name) const
{
    for (const PlotSeries& s : plot_.series)
        for (size_t i = 0; i < s.names.size() && i < std::min(s.x.size(), s.y.size()); ++i)
            if (s.names[i] == name)
                return placeOf(s, i);
    return {};
}

void PlotView::paintAll(QPainter& painter, const QRectF& room, const Chart& window) const
{
    const Palette& p = pal();
    painter.fillRect(room, p.surface);
    painter.setClipRect(room);
    plot_.paintGround(painter, p, window);
    paintUnder(painter, window);
    plot_.paintSeries(painter, p, window, 1, moved_);
    if (!chosen_.isEmpty())
        if (const QPointF at = spotOf(chosen_); window.area().contains(at)) {
            painter.setRenderHint(QPainter::Antialiasing);
            painter.setPen(QPen(p.accent, 2.4));
            painter.setBrush(Qt::NoBrush);
            painter.drawEllipse(at, 7, 7);
        }
    paintOver(painter, window);
}

void PlotView::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    const Palette& p = pal();
    if (!any_) {
        painter.fillRect(rect(), p.surface);
        return paintEmpty(painter);
    }
    paintAll(painter, QRectF(rect()), chart());
    if (trail_.size() > 1) {
        QColor shade = p.accent;
        shade.setAlpha(70);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(shade, 2 * brushRadius, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        painter.drawPolyline(trail_.data(), static_cast<int>(trail_.size()));
    }
    if (hasFocus()) {
        painter.setPen(QPen(p.accent, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

QImage PlotView::picture(int width, int height) const
{
    QImage image(2 * width, 2 * height, QImage::Format_RGB32);
    image.setDevicePixelRatio(2);
    QPainter painter(&image);
    const QRectF room(0, 0, width, height);
    paintAll(painter, room, Chart(plot_.areaIn(room), left_, right_, bottom_, top_, plot_.x.scale, plot_.y.scale));
    return image;
}

bool PlotView::savePicture(const QString& path) const
{
    QSaveFile file(path);
    return file.open(QFile::WriteOnly) && picture(pictureSize().width(), pictureSize().height()).save(&file, "PNG")
        && file.commit();
}

bool PlotView::saveData(const QString& path) const
{
    QSaveFile file(path);
    const std::string text = plot_.csv();
    return file.open(QFile::WriteOnly)
        && file.write(text.data(), static_cast<qint64>(text.size())) == static_cast<qint64>(text.size())
        && file.commit();
}

void PlotView::mousePressEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton)
        return;
    setFocus();
    if (brush_)
        return brushTo(event->position());
    grabs_ = true;
    moved_ = false;
    grabbed_ = event->position();
}

void PlotView::mouseMoveEvent(QMouseEvent* event)
{
    if (brush_ && !trail_.empty())
        return brushTo(event->position());
    if (!grabs_)
        return;
    const QPointF by = event->position() - grabbed_;
    if (!moved_ && by.manhattanLength() < 4)
        return;
    moved_ = true;
    setCursor(Qt::ClosedHandCursor);
    panBy(by);
    grabbed_ = event->position();
}

void PlotView::mouseReleaseEvent(QMouseEvent* event)
{
    if (brush_) {
        trail_.clear();
        update();
        if (const QStringList names = std::exchange(gathered_, {}); !names.isEmpty())
            emit brushed(names);
        return;
    }
    if (grabs_ && !moved_)
        if (const QString name = nameAt(event->position()); !name.isEmpty())
            emit pointChosen(name);
    grabs_ = moved_ = false;
    setCursor(Qt::ArrowCursor);
    update();
}

void PlotView::mouseDoubleClickEvent(QMouseEvent*)
{
    showAll();
}

void PlotView::wheelEvent(QWheelEvent* event)
{
    zoomAt(event->position(), event->angleDelta().y() > 0 ? 0.8 : 1.25);
}

void PlotView::keyPressEvent(QKeyEvent* event)
{
    constexpr double step = 40; // px
    const QPointF middle = QRectF(rect()).center();
    switch (event->key()) {
    case Qt::Key_Left: panBy({step, 0}); break;
    case Qt::Key_Right: panBy({-step, 0}); break;
    case Qt::Key_Up: panBy({0, step}); break;
    case Qt::Key_Down: panBy({0, -step}); break;
    case Qt::Key_Plus: zoomAt(middle, 0.8); break;
    case Qt::Key_Minus: zoomAt(middle, 1.25); break;
    case Qt::Key_0: showAll(); break;
    default: QWidget::keyPressEvent(event);
    }
}

void PlotView::contextMenuEvent(QContextMenuEvent* event)
{
    QMenu menu(this);
    menu.setObjectName("plotMenu");
    const auto save = [this](const char* title, const char* name, const char* filter,
                             bool (PlotView::*how)(const QString&) const) {
        const QString path = QFileDialog::getSaveFileName(this, title, name, filter);
        if (!path.isEmpty() && !(this->*how)(path))
            QToolTip::showText(mapToGlobal(rect().center()),
                               "Nothing was written to " + path + ". Choose another folder.", this);
    };
    menu.addAction("Save the picture…", this,
                   [save] { save("Save the picture", "plot.png", "Picture (*.png)", &PlotView::savePicture); });
    menu.addAction("Save the data…", this,
                   [save] { save("Save the data", "plot.csv", "Text (*.csv)", &PlotView::saveData); });
    menu.addSeparator();
    menu.addAction("Show all\t0", this, &PlotView::showAll);
    menu.exec(event->globalPos());
}

bool PlotView::event(QEvent* event)
{
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        QString name = nameAt(help->pos());
        if (const Chart now = chart(); plot_.told && now.area().contains(help->pos())) {
            const QString place =
                plot_.told(now.xAt(help->pos().x()) / plot_.x.factor, now.yAt(help->pos().y()) / plot_.y.factor);
            name += (name.isEmpty() || place.isEmpty() ? "" : "\n") + place;
        }
        name.isEmpty() ? QToolTip::hideText() : QToolTip::showText(help->globalPos(), name, this);
        return true;
    }
    return QWidget::event(event);
}

} // namespace fortitor
