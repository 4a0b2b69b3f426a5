// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/setup/balance_view.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"

#include <QMouseEvent>
#include <QPainter>

#include <cmath>

namespace fortitor {
namespace {

constexpr double barWide = 26, barHigh = 84, top = 22;
constexpr double most = 1.6; ///< of the mean, at the top of a bar

constexpr Corner corners[] = {Corner::FrontLeft, Corner::BackLeft, Corner::FrontRight, Corner::BackRight};

} // namespace

BalanceView::BalanceView(QWidget* parent) : QWidget(parent)
{
    setObjectName("balanceView");
    setMinimumSize(360, 132);
    setAccessibleName("What each of the four gauges carries");
}

void BalanceView::show(const Balance& balance, bool simulated)
{
    balance_ = balance;
    simulated_ = simulated;
    setToolTip(simulated ? "A click eases that corner of the simulated fixture" : QString());
    update();
}

QRectF BalanceView::barOf(Corner corner) const
{
    const bool right = corner == Corner::FrontRight || corner == Corner::BackRight;
    const bool back = corner == Corner::BackLeft || corner == Corner::BackRight;
    return {8.0 + (right ? 96 : 0) + (back ? 36 : 0), top, barWide, barHigh};
}

void BalanceView::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Palette& p = pal();
    painter.setFont(wordFont(11));
    for (const Corner corner : corners) {
        const QRectF bar = barOf(corner);
        const double share = balance_.share[static_cast<size_t>(corner)];
        const bool ease = !balance_.even && balance_.most == corner;
        painter.setPen(QPen(p.hair, 1));
        painter.setBrush(p.surface);
        painter.drawRect(bar);
        if (std::isfinite(share)) {
            const double high = std::clamp(share / most, 0.0, 1.0) * bar.height();
            const QRectF fill(bar.left(), bar.bottom() - high, bar.width(), high);
            painter.fillRect(fill, ease ? p.accent : p.data[0]);
            painter.setPen(p.ink);
            painter.drawText(QRectF(bar.left() - 10, bar.top() - 16, bar.width() + 20, 14), Qt::AlignCenter,
                             QString("%1 %").arg(100 * share, 0, 'f', 0));
        }
        painter.setPen(QPen(p.ink, 1));
        const double whole = bar.bottom() - bar.height() / most;
        painter.drawLine(QPointF(bar.left() - 3, whole), QPointF(bar.right() + 3, whole));
        painter.setPen(p.quiet);
        const bool back = corner == Corner::BackLeft || corner == Corner::BackRight;
        painter.drawText(QRectF(bar.left() - 6, bar.bottom() + 1, bar.width() + 12, 14), Qt::AlignCenter,
                         back ? "back" : "front");
    }
    painter.drawText(QRectF(8, top + barHigh + 13, 62, 14), Qt::AlignCenter, "left");
    painter.drawText(QRectF(104, top + barHigh + 13, 62, 14), Qt::AlignCenter, "right");
    const QRectF words(186, 8, width() - 190, height() - 12);
    painter.setPen(balance_.even || !balance_.most ? p.ink : p.accentText);
    painter.setFont(wordFont(13, QFont::Medium));
    QRectF used;
    painter.drawText(words, Qt::TextWordWrap, q(balance_.words), &used);
    painter.setFont(wordFont(12));
    painter.setPen(p.quiet);
    QString below;
    if (balance_.most)
        below = QString("front against back %1 %\nleft against right %2 %")
                    .arg(100 * balance_.bending, 0, 'f', 1)
                    .arg(100 * balance_.sideways, 0, 'f', 1);
    painter.drawText(words.adjusted(0, used.height() + 6, 0, 0), Qt::TextWordWrap, below);
}

void BalanceView::mousePressEvent(QMouseEvent* event)
{
    for (const Corner corner : corners)
        if (simulated_ && barOf(corner).adjusted(-4, -16, 4, 16).contains(event->position()))
            emit easeAsked(corner);
}

} // namespace fortitor
