// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/ribbon.h"

#include "app/theme/theme.h"

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
        for (int i = 0; i < stages().size(); ++i)
            now += done(i) ? '1' : '0';
        if (std::exchange(shown_, now) != now)
            update();
    });
    connect(&session, &Session::currentChanged, this, qOverload<>(&QWidget::update));
    connect(&session, &Session::stageChanged, this, qOverload<>(&QWidget::update));
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

const QStringList& Ribbon::stages()
{
    static const QStringList names{"Plan", "Measure", "Set up", "Load", "Read", "Judge", "Report"};
    return names;
}

QRectF Ribbon::cell(int index) const
{
    double x = 28;
    const QFontMetricsF metrics(wordFont(13, QFont::DemiBold));
    for (int i = 0; i < index; ++i)
        x += metrics.horizontalAdvance(stages()[i]) + 45;
    return {x, 0, metrics.horizontalAdvance(stages()[index]) + 26, static_cast<double>(height())};
}

bool Ribbon::done(int stage) const
{
    if (!session_.hasSpecimen())
        return false;
    const int steps = session_.steps(session_.current());
    const bool record = session_.record(session_.current()) != nullptr;
    switch (stage) {
    case 0: return !session_.job().requirements.empty() && !session_.job().materialName.empty();
    case 1: return steps >= 1;
    case 2:
    case 3: return record;
    case 4: return steps >= 3;
    case 5: return steps >= 4;
    default: return false;
    }
}

void Ribbon::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.fillRect(rect(), p.surface);
    painter.fillRect(QRect(0, height() - 1, width(), 1), p.hair);
    for (int i = 0; i < stages().size(); ++i) {
        const QRectF box = cell(i);
        const bool here = i == session_.stage();
        painter.setFont(wordFont(10.5));
        painter.setPen(p.quiet);
        painter.drawText(QPointF(box.left() + 6, 25), QString::number(i + 1));
        painter.setFont(wordFont(13, here ? QFont::DemiBold : QFont::Normal));
        painter.setPen(here || done(i) ? p.ink : p.quiet);
        painter.drawText(QPointF(box.left() + 17, 25), stages()[i]);
        if (here)
            painter.fillRect(QRectF(box.left(), height() - 3, box.width(), 3), p.accent);
        else if (done(i))
            painter.fillRect(QRectF(box.left() + 6, height() - 8, box.width() - 12, 1), p.quiet);
    }
}

void Ribbon::mousePressEvent(QMouseEvent* event)
{
    for (int i = 0; i < stages().size(); ++i)
        if (cell(i).contains(event->position()))
            session_.setStage(i);
}

} // namespace fortitor
