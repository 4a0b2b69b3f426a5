// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/indent/tester_sketch.h"

#include "app/theme/theme.h"
#include "methods/common/figures.h"
#include "methods/hardness/notation.h"

#include <algorithm>

namespace fortitor {
namespace {

using By = HardnessScale::By;

struct TesterPicture {
    QPainter& p;
    QRectF room;
    const HardnessSetting& setting;
    double x, unit; ///< middle of the indenter; a share of the height

    [[nodiscard]] double at(double share) const { return room.top() + share * room.height(); }

    void block(double from, double to, double half, const QColor& fill) const
    {
        p.setPen(QPen(pal().ink, 1.4));
        p.setBrush(fill);
        p.drawRoundedRect(QRectF(x - half, at(from), 2 * half, at(to) - at(from)), 3, 3);
    }

    void words(double share, const QString& head, const QString& more) const
    {
        const double left = x + 82;
        p.setPen(pal().ink);
        p.setFont(wordFont(12.5, QFont::Medium));
        p.drawText(QRectF(left, at(share) - 16, room.right() - left, 18), Qt::AlignLeft | Qt::AlignVCenter, head);
        p.setPen(pal().quiet);
        p.setFont(wordFont(11.5));
        p.drawText(QRectF(left, at(share) + 3, room.right() - left, 48),
                   Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, more);
    }

    void indenter(double from, double to) const
    {
        p.setPen(QPen(pal().ink, 1.4));
        p.setBrush(pal().metal);
        const bool rockwell = setting.scale->by == By::Rockwell;
        const double ball = rockwell ? setting.scale->ball : setting.pressed.ball;
        const double tall = at(to) - at(from);
        if (ball > 0) {
            p.drawRect(QRectF(x - 12, at(from), 24, tall - 10));
            p.drawEllipse(QPointF(x, at(to) - 9), 9, 9);
        } else {
            p.drawPolygon(QPolygonF{QPointF(x - 14, at(from)), QPointF(x + 14, at(from)), QPointF(x + 14, at(to) - 12),
                                    QPointF(x, at(to)), QPointF(x - 14, at(to) - 12)});
        }
    }

    /// Plates on the lever: one at 60, two at 100, three at 150 kgf.
    void weights(double kgf) const
    {
        const int plates = kgf > 120 ? 3 : kgf > 80 ? 2 : 1;
        p.setPen(QPen(pal().ink, 1.4));
        p.drawLine(QPointF(x - 62, at(0.12)), QPointF(x - 62, at(0.40)));
        for (int i = 0; i < plates; ++i) {
            p.setBrush(i % 2 == 0 ? pal().metal : pal().surface);
            p.drawRoundedRect(QRectF(x - 62 - 22, at(0.40) + 13.0 * i, 44, 12), 2, 2);
        }
    }
};

QString indenterWords(const HardnessSetting& setting)
{
    const bool rockwell = setting.scale->by == By::Rockwell;
    const double ball = rockwell ? setting.scale->ball : setting.pressed.ball;
    if (ball > 0)
        return QString("ball, %1 mm, hard metal").arg(QString::number(ball, 'g', 4));
    return setting.scale->by == By::Vickers ? "square pyramid, 136°"
        : setting.scale->by == By::Knoop    ? "long pyramid"
                                            : "diamond cone, 120°";
}

} // namespace

void drawTester(QPainter& painter, const QRectF& room, const HardnessSetting& setting, bool changed)
{
    painter.setRenderHint(QPainter::Antialiasing);
    const TesterPicture s{painter, room, setting, room.left() + 86, room.height()};
    const bool rockwell = setting.scale->by == By::Rockwell;
    const double force = rockwell ? setting.scale->total : setting.pressed.force;
    const double kgf = nominalForce(force, setting.scale->by);
    s.block(0.02, 0.12, 76, pal().metal);
    s.block(0.12, 0.30, 22, pal().surface);
    s.indenter(0.30, 0.46);
    s.block(0.47, 0.55, 40, pal().metal);
    s.block(0.55, 0.72, 26, pal().surface);
    s.block(0.72, 0.95, 12, pal().metal);
    if (rockwell && setting.scale->step > 0.0015)
        s.weights(kgf);
    const QString newton = QString::fromStdString(formatSignificant(force, 4)) + " N";
    s.words(0.10, QString("%1 kgf, %2").arg(QString::number(kgf, 'g', 4), newton),
            rockwell ? "at the point, after a first load of "
                    + QString::fromStdString(formatSignificant(setting.scale->preload, 4)) + " N"
                     : "test force");
    s.words(0.36, indenterWords(setting), "wiped; touch it with nothing but cloth");
    s.words(0.51, "piece", "flat on its seat, clean on both sides");
    s.words(0.66, rockwell ? "anvil" : "objective and stage",
            rockwell ? "clean, seated in its spindle"
                     : "calibrated for this lens; the stage low while the turret turns");
    const double dwell = setting.pressed.dwell.value_or(0);
    s.words(0.84, "dwell time",
            dwell > 0      ? QString::fromStdString(formatSignificant(dwell, 3)) + " s"
                : rockwell ? QString("until the needle rests")
                           : QString("10 to 15 s"));
    if (!changed)
        return;
    painter.setPen(pal().accentText);
    painter.setFont(wordFont(12, QFont::DemiBold));
    painter.drawText(QRectF(room.left(), room.bottom() - 36, room.width(), 36), Qt::AlignLeft | Qt::TextWordWrap,
                     QString("Changed since the last piece: %1 seating %2 first.")
                         .arg(setting.seating)
                         .arg(setting.seating == 1 ? "reading" : "readings"));
}

} // namespace fortitor
