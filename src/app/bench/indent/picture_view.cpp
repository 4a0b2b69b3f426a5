// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/indent/picture_view.h"

#include "app/bench/indent/length_text.h"
#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QTransform>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double hitWithin = 12; // px of the screen
constexpr double handle = 6; // half of a square
constexpr double glassSize = 132;
constexpr double glassPixels = 22; // of the picture, across the glass
const QColor light(255, 255, 255), shade(20, 22, 24);
/// Of the two lengths: told apart on grey by anyone.
const QColor lengths[] = {QColor(86, 180, 233), QColor(240, 196, 92)};

void outlined(QPainter& p, const QPainterPath& path, const QColor& color, Qt::PenStyle style = Qt::SolidLine)
{
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(QColor(0, 0, 0, 110), 3));
    p.drawPath(path);
    p.setPen(QPen(color, 1.4, style));
    p.drawPath(path);
}

} // namespace

PictureView::PictureView(QWidget* parent) : QWidget(parent)
{
    setObjectName("pictureView");
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(240, 180);
    setAccessibleName("Picture of the indent");
    setToolTip("Drag a corner, or choose one with 1 to 4 and nudge it with the arrows (Shift: a tenth of a pixel). The "
               "wheel goes closer; 0 shows all.");
}

void PictureView::show(const GreyPicture& picture)
{
    const QImage seen(picture.pixels.data(), picture.width, picture.height, picture.width, QImage::Format_Grayscale8);
    image_ = seen.copy();
    closer_ = 1;
    middle_ = {0.5, 0.5};
    chosen_.reset();
    bar_ = false;
    barFrom_.reset();
    update();
}

void PictureView::clear()
{
    image_ = {};
    marked_.reset();
    chosen_.reset();
    update();
}

void PictureView::setMarked(const std::optional<MarkedIndent>& marked, IndentShape shape)
{
    marked_ = marked;
    shape_ = shape;
    if (!marked_)
        chosen_.reset();
    update();
}

void PictureView::setPixel(double side)
{
    pixel_ = side;
    update();
}

void PictureView::setFixed(bool fixed)
{
    fixed_ = fixed;
    if (fixed)
        chosen_.reset();
    update();
}

void PictureView::setLast(const QImage& picture, const QString& words)
{
    last_ = picture;
    lastWords_ = words;
    update();
}

void PictureView::askBar()
{
    bar_ = true;
    barFrom_.reset();
    if (isVisible())
        setFocus();
    update();
}

double PictureView::factor() const
{
    if (image_.isNull())
        return 1;
    return closer_ * std::min(width() / double(image_.width()), height() / double(image_.height()));
}

QPointF PictureView::origin() const
{
    const double f = factor();
    return {width() / 2.0 - middle_.x() * image_.width() * f, height() / 2.0 - middle_.y() * image_.height() * f};
}

// The centre of the first pixel is 0, 0.
QPointF PictureView::onScreen(const PixelPoint& p) const
{
    return origin() + QPointF(p.x + 0.5, p.y + 0.5) * factor();
}

PixelPoint PictureView::inPicture(const QPointF& at) const
{
    const QPointF p = (at - origin()) / factor();
    return {p.x() - 0.5, p.y() - 0.5};
}

void PictureView::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.fillRect(rect(), pal().hairSoft);
    if (image_.isNull()) {
        p.setPen(pal().quiet);
        p.setFont(wordFont(12.5));
        p.drawText(rect().adjusted(24, 0, -24, 0), Qt::AlignCenter | Qt::TextWordWrap,
                   "Open a picture of the indent, or drop its file here.\nPNG, JPEG, TIFF or BMP");
        return;
    }
    const double f = factor();
    p.setRenderHint(QPainter::SmoothPixmapTransform, f < 3);
    p.drawImage(QRectF(origin(), QSizeF(image_.width() * f, image_.height() * f)), image_);
    p.setRenderHint(QPainter::Antialiasing);
    if (marked_) {
        paintRim(p);
        paintEnds(p);
    }
    paintBar(p);
    paintLast(p);
    paintGlass(p);
    if (bar_ && barFrom_) {
        p.setPen(QPen(light, 2));
        p.drawEllipse(onScreen(*barFrom_), 4, 4);
    }
    if (hasFocus()) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(pal().accent, 2));
        p.drawRect(QRectF(rect()).adjusted(1, 1, -1, -1));
    }
}

/// A round one as the ellipse whose two diameters end there, a pyramid's as its sides.
void PictureView::paintRim(QPainter& p) const
{
    QPointF at[4];
    for (size_t k = 0; k < 4; ++k)
        at[k] = onScreen(marked_->ends[k]);
    QPainterPath rim;
    if (shape_ == IndentShape::Round) {
        const QPointF a = (at[2] - at[0]) / 2, b = (at[3] - at[1]) / 2;
        const QPointF c = (at[0] + at[1] + at[2] + at[3]) / 4;
        QPainterPath circle;
        circle.addEllipse(QPointF(0, 0), 1, 1);
        rim = QTransform(a.x(), a.y(), b.x(), b.y(), c.x(), c.y()).map(circle);
    } else {
        rim.addPolygon(QPolygonF({at[0], at[1], at[2], at[3], at[0]}));
    }
    outlined(p, rim, QColor(255, 255, 255, 170));
    for (size_t k = 0; k < 2; ++k) {
        QPainterPath line(at[k]);
        line.lineTo(at[k + 2]);
        outlined(p, line, lengths[k], Qt::DashLine);
    }
}

void PictureView::paintEnds(QPainter& p) const
{
    for (size_t k = 0; k < 4; ++k) {
        const QRectF box(onScreen(marked_->ends[k]) - QPointF(handle, handle), QSizeF(2 * handle, 2 * handle));
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(shade, 4));
        p.drawRoundedRect(box, 2, 2);
        p.setPen(QPen(chosen_ == k ? pal().accent : fixed_ ? QColor(200, 200, 200) : light, 2));
        p.drawRoundedRect(box, 2, 2);
    }
}

void PictureView::paintBar(QPainter& p) const
{
    if (!(pixel_ > 0))
        return;
    const double f = factor() / pixel_; // px of the screen a mm
    const double length = roundLength(0.28 * width() / f);
    const QPointF right(width() - 18.0, height() - 16.0), left = right - QPointF(length * f, 0);
    p.setPen(QPen(shade, 5));
    p.drawLine(left, right);
    p.setPen(QPen(light, 3));
    p.drawLine(left, right);
    QPainterPath words;
    p.setFont(figureFont(11.5));
    const QString text = lengthText(length);
    const double w = QFontMetricsF(p.font()).horizontalAdvance(text);
    words.addText((left + right) / 2 - QPointF(w / 2, 8), p.font(), text);
    p.strokePath(words, QPen(QColor(0, 0, 0, 120), 2));
    p.fillPath(words, light);
}

/// Where the hand covers what it looks at.
void PictureView::paintGlass(QPainter& p) const
{
    if (!chosen_ || !marked_ || fixed_)
        return;
    const PixelPoint end = marked_->ends[*chosen_];
    const QPointF at = onScreen(end);
    const double x = at.x() < width() / 2.0 ? width() - glassSize - 12 : 12;
    const QRectF glass(x, 12, glassSize, glassSize);
    p.save();
    p.setRenderHint(QPainter::SmoothPixmapTransform, false);
    p.setPen(Qt::NoPen);
    p.fillRect(glass, shade);
    const double pixels = std::max(glassPixels, 0.02 * std::max(image_.width(), image_.height()));
    p.drawImage(glass, image_, QRectF(end.x + 0.5 - pixels / 2, end.y + 0.5 - pixels / 2, pixels, pixels));
    p.setPen(QPen(lengths[*chosen_ % 2], 1));
    p.drawLine(QPointF(glass.left(), glass.center().y()), QPointF(glass.right(), glass.center().y()));
    p.drawLine(QPointF(glass.center().x(), glass.top()), QPointF(glass.center().x(), glass.bottom()));
    p.setPen(QPen(light, 2));
    p.drawRect(glass);
    p.restore();
}

void PictureView::paintLast(QPainter& p) const
{
    if (last_.isNull() || (chosen_ && !fixed_))
        return;
    const QSizeF size = QSizeF(last_.size()).scaled(112, 84, Qt::KeepAspectRatio);
    const QRectF box(QPointF(12, 12), size);
    p.setOpacity(0.55);
    p.drawImage(box, last_);
    p.setOpacity(1);
    p.setPen(QPen(light, 1));
    p.drawRect(box);
    QPainterPath words;
    words.addText(box.bottomLeft() + QPointF(2, 14), wordFont(11), lastWords_);
    p.strokePath(words, QPen(shade, 3));
    p.fillPath(words, light);
}

void PictureView::mousePressEvent(QMouseEvent* event)
{
    if (image_.isNull() || event->button() != Qt::LeftButton)
        return;
    const QPointF at = event->position();
    if (bar_) {
        if (!barFrom_) {
            barFrom_ = inPicture(at);
        } else {
            bar_ = false;
            emit barPlaced(*std::exchange(barFrom_, std::nullopt), inPicture(at));
        }
        return update();
    }
    chosen_.reset();
    double nearest = hitWithin;
    for (size_t k = 0; k < 4 && marked_ && !fixed_; ++k)
        if (const QPointF off = onScreen(marked_->ends[k]) - at; std::hypot(off.x(), off.y()) < nearest) {
            nearest = std::hypot(off.x(), off.y());
            chosen_ = k;
            grabbed_ = off; // it does not jump to the mouse
        }
    dragging_ = chosen_.has_value();
    panning_ = !dragging_;
    if (panning_)
        grabbed_ = at;
    update();
}

void PictureView::mouseMoveEvent(QMouseEvent* event)
{
    if (dragging_ && chosen_) {
        emit moved(*chosen_, inPicture(event->position() + grabbed_));
    } else if (panning_ && closer_ > 1) {
        const QPointF by = (event->position() - grabbed_) / factor();
        middle_ -= QPointF(by.x() / image_.width(), by.y() / image_.height());
        grabbed_ = event->position();
        update();
    }
}

void PictureView::mouseReleaseEvent(QMouseEvent*)
{
    dragging_ = panning_ = false;
}

void PictureView::mouseDoubleClickEvent(QMouseEvent*)
{
    closer_ = 1;
    middle_ = {0.5, 0.5};
    update();
}

void PictureView::wheelEvent(QWheelEvent* event)
{
    if (image_.isNull())
        return;
    constexpr double most = 40;
    const PixelPoint under = inPicture(event->position());
    closer_ = std::clamp(closer_ * std::pow(1.2, event->angleDelta().y() / 120.0), 1.0, most);
    // What is under the mouse stays there.
    const QPointF off = event->position() - onScreen(under);
    middle_ -= QPointF(off.x() / factor() / image_.width(), off.y() / factor() / image_.height());
    if (closer_ == 1)
        middle_ = {0.5, 0.5};
    update();
    event->accept();
}

void PictureView::keyPressEvent(QKeyEvent* event)
{
    const double step = event->modifiers() & Qt::ShiftModifier ? 0.1 : 1;
    const int key = event->key();
    if (key == Qt::Key_Return || key == Qt::Key_Enter)
        return emit takeAsked();
    if (key == Qt::Key_0)
        return mouseDoubleClickEvent(nullptr);
    if (!fixed_ && marked_ && key >= Qt::Key_1 && key <= Qt::Key_4) {
        chosen_ = static_cast<size_t>(key - Qt::Key_1);
        return update();
    }
    if (key == Qt::Key_Escape && (chosen_ || bar_)) {
        chosen_.reset();
        bar_ = false;
        barFrom_.reset();
        return update();
    }
    const bool arrow = key == Qt::Key_Left || key == Qt::Key_Right || key == Qt::Key_Up || key == Qt::Key_Down;
    if (!arrow || !chosen_ || !marked_ || fixed_ || event->modifiers() & Qt::ControlModifier)
        return QWidget::keyPressEvent(event);
    PixelPoint to = marked_->ends[*chosen_];
    to.x += key == Qt::Key_Left ? -step : key == Qt::Key_Right ? step : 0;
    to.y += key == Qt::Key_Up ? -step : key == Qt::Key_Down ? step : 0;
    emit moved(*chosen_, to);
}

} // namespace fortitor
