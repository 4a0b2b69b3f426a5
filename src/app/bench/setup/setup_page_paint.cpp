// SPDX-License-Identifier: GPL-3.0-or-later
// The load train as Set up draws it, top to bottom, with the margin of each link.
#include "app/bench/setup/setup_page.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "draw/specimen_drawing.h"

#include <QFontMetricsF>
#include <QPainter>

namespace fortitor {

void SetUpPage::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.fillRect(rect(), p.surface);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!session_.hasSpecimen())
        return;
    const Method& method = *session_.job().method;
    const Kind loadKind = method.train.load;
    const bool hand = frame_.byHand();
    const double cx = 92;
    const double top = 22;
    const double h = height() - 44;
    const auto margins = trainMargins(frame_.train(), frame_.expected());
    const auto weakest = weakestLink(frame_.train());
    const auto box = [&](double y, double w, double boxHeight, const QColor& fill) {
        painter.setPen(QPen(p.ink, 1.4));
        painter.setBrush(fill);
        painter.drawRoundedRect(QRectF(cx - w / 2, y, w, boxHeight), 3, 3);
    };
    const auto words = [&](double y, const QString& name, const QString& below, double share, bool weak) {
        painter.setPen(p.ink);
        painter.setFont(wordFont(12.5, QFont::Medium));
        painter.drawText(QPointF(172, y), QFontMetricsF(painter.font()).elidedText(name, Qt::ElideRight, 180));
        painter.setFont(wordFont(11.5));
        painter.setPen(p.quiet);
        painter.drawText(QPointF(172, y + 17), below);
        if (weak) {
            painter.setPen(p.accentText);
            painter.drawText(QPointF(172, y + 48), hand ? "weakest link" : "weakest link: the stop limit");
        }
        if (share > 0) {
            const QRectF bar(172, y + 25, 160, 7);
            painter.fillRect(bar, p.hairSoft);
            painter.fillRect(QRectF(bar.left(), bar.top(), std::min(share, 1.0) * bar.width(), bar.height()),
                             share > 1 ? p.stop : p.quiet);
        }
    };
    const double unit = h / 12;
    const auto& links = method.train.links;
    const auto link = [&](size_t i) { return i < margins.size() ? margins[i] : TrainMargin{}; };
    const auto used = [&](const TrainMargin& m) {
        return m.used > 0
            ? QString("%1 · used to %2 %").arg(shownQuantity(m.link.capacity, loadKind)).arg(m.used * 100, 0, 'f', 0)
            : m.link.capacity > 0 ? shownQuantity(m.link.capacity, loadKind)
                                  : QString("capacity not known");
    };
    const auto named = [&](double y, size_t i, const QString& before = {}) {
        words(y, q(link(i).link.name), before + used(link(i)), link(i).used,
              weakest && weakest->name == link(i).link.name);
    };
    using Form = LinkSpec::Form;
    const Form holder = links.size() > 1 ? links[1].form : Form::Extra;
    const bool top2 = frame_.shows("grip-top");
    const bool low2 = frame_.shows("grip-bottom");
    // Crosshead, cell, what holds the specimen, the specimen, what holds it below, base.
    box(top, 150, unit * 0.8, p.metal);
    box(top + unit * 1.1, 76, unit * 1.4, p.surface);
    named(top + unit * 1.55, 0);
    const bool gripped = holder == Form::Grips;
    const bool platens = holder == Form::Platens;
    if (platens)
        box(top + unit * 2.8, 120, unit * 0.6, p.hair);
    else if (gripped)
        box(top + unit * 2.8, 56, unit * 1.7, top2 ? p.hair : p.surface);
    if (platens || gripped)
        named(top + unit * 3.2, 1, !gripped || hand ? QString() : top2 ? QString("closed · ") : QString("open · "));
    painter.setPen(QPen(p.ink, 1.4));
    painter.setBrush(p.metal);
    const bool chucks = holder == Form::Chucks;
    const QRectF room =
        chucks ? QRectF(cx - 40, top + unit * 2.7, 80, unit * 6.4) : QRectF(cx - 20, top + unit * 3.6, 40, unit * 4.6);
    painter.drawPath(silhouette(method.drawing.form, session_.specimen().input.shape, room));
    const ExpectedLoad& expected = frame_.expected();
    words(top + unit * 5.4, q(session_.specimen().label),
          expected.maximum ? shownQuantity(*expected.maximum, loadKind) + " expected" : "load not known", 0, false);
    painter.setFont(wordFont(11));
    painter.setPen(p.quiet);
    painter.drawText(QRectF(172, top + unit * 5.4 + 22, 160, 50), Qt::TextWordWrap, q(expected.basis));
    if (gripped && frame_.shows("extensometer-on")) {
        painter.setPen(QPen(p.accent, 2));
        const double a = top + unit * 5.1;
        const double b = top + unit * 6.7;
        painter.drawLine(QPointF(cx + 6, a), QPointF(cx + 34, a));
        painter.drawLine(QPointF(cx + 6, b), QPointF(cx + 34, b));
        painter.drawLine(QPointF(cx + 34, a), QPointF(cx + 34, b));
    }
    if (platens)
        box(top + unit * 8.3, 120, unit * 0.6, p.hair);
    else if (gripped)
        box(top + unit * 7.3, 56, unit * 1.7, low2 ? p.hair : p.surface);
    if (gripped)
        words(top + unit * 8.0, {}, hand ? "lower grip" : low2 ? "lower grip, closed" : "lower grip, open", 0, false);
    else if (platens)
        words(top + unit * 8.0, {}, frame_.shows("centred") ? "lower platen, piece centred" : "lower platen", 0, false);
    else
        named(top + unit * 8.0, 1);
    if (margins.size() > 2)
        named(top + unit * 9.0, 2);
    box(top + unit * 9.3, 150, unit * 0.8, p.metal);
    painter.setPen(p.quiet);
    painter.setFont(wordFont(11.5));
    painter.drawText(
        QRectF(18, top + unit * 10.6, 316, 60), Qt::TextWordWrap,
        hand ? QString("Read by hand, step by step: the pad on Load asks for each reading.")
             : (frame_.removeAt() > 0 ? QString("Extensometer comes off at %1 % strain; the frame holds and asks.")
                                            .arg(frame_.removeAt() * 100, 0, 'f', 1)
                    : frame_.program().returns           ? QString("Ends by itself and goes back to the start.")
                    : !method.train.extensometer.empty() ? QString("The extensometer stays on to the break.")
                                                         : QString("Runs to the break."))
                + "\nFrame: " + frame_.linkWords() + ".");
}

} // namespace fortitor
