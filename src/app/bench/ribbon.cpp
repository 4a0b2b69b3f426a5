// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/ribbon.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"

#include <QFontMetricsF>
#include <QMouseEvent>
#include <QPainter>

#include <utility>

namespace fortitor {

Ribbon::Ribbon(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("ribbon");
    setFixedHeight(41);
    setToolTip("Alt+1 … Alt+7");
    connect(&session, &Session::changed, this, [this] {
        QString now;
        for (const PageSpec& page : pages())
            now += q(page.verb) + (done(page.stage) ? '1' : '0');
        if (std::exchange(shown_, now) != now)
            update();
    });
    connect(&session, &Session::currentChanged, this, qOverload<>(&QWidget::update));
    connect(&session, &Session::stageChanged, this, qOverload<>(&QWidget::update));
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

std::vector<PageSpec> Ribbon::pages() const
{
    return session_.isOpen() ? session_.job().method->pages : standardPages();
}

QRectF Ribbon::cell(size_t index) const
{
    double x = 28;
    const QFontMetricsF metrics(wordFont(13, QFont::DemiBold));
    const auto all = pages();
    for (size_t i = 0; i < index; ++i)
        x += metrics.horizontalAdvance(q(all[i].verb)) + 45;
    return {x, 0, metrics.horizontalAdvance(q(all[index].verb)) + 26, static_cast<double>(height())};
}

bool Ribbon::done(Stage stage) const
{
    if (!session_.hasSpecimen())
        return false;
    const int steps = session_.steps(session_.current());
    const bool record = session_.hasRecord(session_.current());
    switch (stage) {
    case Stage::Plan: return !session_.job().requirements.empty() && !session_.job().materialName.empty();
    case Stage::Measure: return steps >= 1;
    case Stage::SetUp:
    case Stage::Load: return record;
    case Stage::Read: return steps >= 3;
    case Stage::Judge: return steps >= 4;
    case Stage::Report: break;
    }
    return false;
}

void Ribbon::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.fillRect(rect(), p.surface);
    painter.fillRect(QRect(0, height() - 1, width(), 1), p.hair);
    const auto all = pages();
    for (size_t i = 0; i < all.size(); ++i) {
        const QRectF box = cell(i);
        const bool here = static_cast<int>(all[i].stage) == session_.stage();
        const bool ready = done(all[i].stage);
        painter.setFont(wordFont(10.5));
        painter.setPen(p.quiet);
        painter.drawText(QPointF(box.left() + 6, 25), QString::number(i + 1));
        painter.setFont(wordFont(13, here ? QFont::DemiBold : QFont::Normal));
        painter.setPen(here || ready ? p.ink : p.quiet);
        painter.drawText(QPointF(box.left() + 17, 25), q(all[i].verb));
        if (here)
            painter.fillRect(QRectF(box.left(), height() - 3, box.width(), 3), p.accent);
        else if (ready)
            painter.fillRect(QRectF(box.left() + 6, height() - 8, box.width() - 12, 1), p.quiet);
    }
}

void Ribbon::mousePressEvent(QMouseEvent* event)
{
    const auto all = pages();
    for (size_t i = 0; i < all.size(); ++i)
        if (cell(i).contains(event->position()))
            session_.setStage(static_cast<int>(all[i].stage));
}

} // namespace fortitor
