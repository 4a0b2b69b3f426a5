// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/load/pad_sheet.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"

#include <QFontMetricsF>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

#include <algorithm>

namespace fortitor {
namespace {

constexpr double names = 128; // room for the channels' names
constexpr double cell = 82;
constexpr double line = 27;
constexpr double head = 24;

/// The figure of a text with its unit: the unit stands once, beside the channel's name.
QString figureOf(const std::string& text)
{
    const size_t blank = text.rfind(' ');
    return q(blank == std::string::npos ? text : text.substr(0, blank));
}

QString unitOf(const std::vector<std::optional<std::string>>& cells)
{
    for (const auto& text : cells)
        if (text && text->rfind(' ') != std::string::npos)
            return q(text->substr(text->rfind(' ') + 1));
    return {};
}

} // namespace

PadSheet::PadSheet(QWidget* parent) : QWidget(parent)
{
    setObjectName("padSheet");
    setWhatsThis(
        "What has been read, a column a step. A click on a reading goes back to it; a reading corrected later keeps "
        "the old one and the reason (ochre corner). The wheel moves along.");
    setToolTip("Click a reading to correct it");
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

QSize PadSheet::sizeHint() const
{
    return {400, static_cast<int>(head + line * static_cast<double>(std::max<size_t>(1, table_.channels.size())) + 8)};
}

void PadSheet::show(const PadTable& table, size_t channel, size_t row, std::vector<std::string> corrected)
{
    table_ = table;
    channel_ = channel;
    row_ = row;
    corrected_ = std::move(corrected);
    setFixedHeight(sizeHint().height());
    settle();
    update();
}

void PadSheet::showKeeping(std::set<std::string> keeping)
{
    keeping_ = std::move(keeping);
    update();
}

double PadSheet::widest() const
{
    return cell * static_cast<double>(std::max(table_.rows, row_ + 1));
}

/// Keeps the cell that is next in sight.
void PadSheet::settle()
{
    const double room = width() - names - 2;
    const double at = cell * static_cast<double>(row_);
    scrolled_ = std::clamp(scrolled_, std::max(0.0, at + cell - room), std::max(0.0, std::min(at, widest() - room)));
}

void PadSheet::resizeEvent(QResizeEvent*)
{
    settle();
}

QRectF PadSheet::cellAt(size_t channel, size_t row) const
{
    return {names + cell * static_cast<double>(row) - scrolled_, head + line * static_cast<double>(channel), cell,
            line};
}

void PadSheet::paintCell(QPainter& painter, size_t c, size_t r) const
{
    const Palette& p = pal();
    const QRectF box = cellAt(c, r);
    if (r == row_ && c == channel_) {
        painter.fillRect(box.adjusted(2, 2, -2, -2), p.accentTint);
        painter.setPen(p.accent);
        painter.drawRect(box.adjusted(2, 2, -3, -3));
    }
    if (r >= table_.rows)
        return;
    const auto& text = table_.cells[c][r];
    const bool ahead = r + 1 == table_.rows && r == row_ && c >= channel_; // not read yet
    painter.setFont(figureFont(13));
    painter.setPen(text ? p.ink : p.quiet);
    painter.drawText(box.adjusted(2, 0, -8, 0), Qt::AlignRight | Qt::AlignVCenter,
                     text        ? figureOf(*text)
                         : ahead ? QString()
                                 : QString("missed"));
    const std::string place = std::to_string(r + 1) + "/" + table_.channels[c].name;
    if (keeping_.contains(place)) {
        painter.setPen(QPen(p.ink, 1.5, Qt::DotLine));
        painter.drawLine(box.bottomLeft() + QPointF(8, -3), box.bottomRight() + QPointF(-8, -3));
    }
    if (std::ranges::find(corrected_, place) != corrected_.end()) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(p.accent);
        const QPointF corner[] = {box.topRight() + QPointF(-9, 3), box.topRight() + QPointF(-3, 3),
                                  box.topRight() + QPointF(-3, 9)};
        painter.drawPolygon(corner, 3);
        painter.setBrush(Qt::NoBrush);
    }
}

void PadSheet::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.fillRect(rect(), p.surface);
    painter.save();
    painter.setClipRect(QRectF(names, 0, width() - names, height()));
    for (size_t r = 0; r < std::max(table_.rows, row_ + 1); ++r) {
        const QRectF top(cellAt(0, r).left(), 0, cell, head);
        if (top.left() < names - 1 || top.right() > width() + 1)
            continue; // half a figure is another figure
        painter.setFont(figureFont(11));
        painter.setPen(r == row_ ? p.accentText : p.quiet);
        painter.drawText(top.adjusted(0, 0, -8, 0), Qt::AlignRight | Qt::AlignVCenter, QString::number(r + 1));
        for (size_t c = 0; c < table_.channels.size(); ++c)
            paintCell(painter, c, r);
    }
    painter.restore();
    for (size_t c = 0; c < table_.channels.size(); ++c) {
        const double y = head + line * static_cast<double>(c);
        painter.setPen(p.hairSoft);
        painter.drawLine(QPointF(0, y), QPointF(width(), y));
        painter.setFont(wordFont(12));
        painter.setPen(p.ink);
        const QString unit = unitOf(table_.cells[c]);
        const QString name = QFontMetricsF(painter.font())
                                 .elidedText(q(table_.channels[c].label) + (unit.isEmpty() ? "" : ", " + unit),
                                             Qt::ElideRight, names - 8);
        painter.drawText(QRectF(0, y, names - 6, line), Qt::AlignLeft | Qt::AlignVCenter, name);
    }
    painter.setFont(wordFont(11));
    painter.setPen(p.quiet);
    painter.drawText(QRectF(0, 0, names, head), Qt::AlignLeft | Qt::AlignVCenter, "step");
}

void PadSheet::mousePressEvent(QMouseEvent* event)
{
    if (event->position().x() < names)
        return;
    for (size_t r = 0; r < table_.rows; ++r)
        for (size_t c = 0; c < table_.channels.size(); ++c)
            if (cellAt(c, r).contains(event->position())) {
                emit cellChosen(c, r);
                return;
            }
}

void PadSheet::wheelEvent(QWheelEvent* event)
{
    const double turned = event->angleDelta().x() != 0 ? event->angleDelta().x() : event->angleDelta().y();
    scrolled_ = std::clamp(scrolled_ - turned, 0.0, std::max(0.0, widest() - (width() - names)));
    update();
}

} // namespace fortitor
