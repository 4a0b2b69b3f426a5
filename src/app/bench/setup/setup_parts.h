// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/live_frame.h"
#include "app/theme/theme.h"

#include <QPainter>
#include <QWidget>

namespace fortitor {

struct Choice {
    const char* key; ///< in the job's "instruments"
    const char* kind; ///< of the instrument list
    const char* words;
};
constexpr Choice choices[] = {{"force", "cell", "load cell"},
                              {"grips", "grips", "grips"},
                              {"platens", "platens", "platens"},
                              {"fixture", "fixture", "fixture"},
                              {"extensometer", "extensometer", "extensometer"},
                              {"calliper", "calliper", "calliper"}};

/// A ring that fills with a tick.
class StepTick : public QWidget {
public:
    StepTick() { setFixedSize(20, 20); }
    void set(bool done)
    {
        if (done != done_) {
            done_ = done;
            update();
        }
    }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(done_ ? pal().ink : pal().hair, 1.6));
        painter.setBrush(done_ ? QBrush(pal().ink) : Qt::NoBrush);
        painter.drawEllipse(QPointF(10, 10), 7.5, 7.5);
        if (done_) {
            painter.setPen(QPen(pal().surface, 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
            const QPointF check[] = {{6.5, 10}, {9, 12.6}, {13.6, 7.4}};
            painter.drawPolyline(check, 3);
        }
    }

private:
    bool done_ = false;
};

/// What a person ticks where nothing but the person can see it.
inline bool byPerson(const LiveFrame& frame, const StepSpec& step)
{
    return frame.byHand() && step.watch != "measured" && step.watch != "margins";
}

} // namespace fortitor
