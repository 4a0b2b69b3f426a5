// SPDX-License-Identifier: GPL-3.0-or-later
// The load train as Set up draws it, top to bottom, with the margin of each link.
#include "app/bench/setup/setup_page.h"

#include "app/bench/indent/tester_sketch.h"
#include "app/bench/strike/pendulum_drawing.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "draw/specimen_drawing.h"

#include <QFontMetricsF>
#include <QPainter>

namespace fortitor {
namespace {

/// The column of the load train and the words beside it.
struct TrainPicture {
    QPainter& painter;
    const Palette& p;
    const Method& method;
    LiveFrame& frame;
    double top, unit;
    std::vector<TrainMargin> margins;
    std::optional<TrainLink> weakest;
    static constexpr double cx = 92, left = 172;

    [[nodiscard]] double at(double units) const { return top + unit * units; }

    void box(double units, double width, double tall, const QColor& fill) const
    {
        painter.setPen(QPen(p.ink, 1.4));
        painter.setBrush(fill);
        painter.drawRoundedRect(QRectF(cx - width / 2, at(units), width, unit * tall), 3, 3);
    }

    void words(double units, const QString& name, const QString& below, double share = 0, bool weak = false) const
    {
        const double y = at(units);
        painter.setPen(p.ink);
        painter.setFont(wordFont(12.5, QFont::Medium));
        painter.drawText(QPointF(left, y), QFontMetricsF(painter.font()).elidedText(name, Qt::ElideRight, 180));
        painter.setFont(wordFont(11.5));
        painter.setPen(p.quiet);
        painter.drawText(QPointF(left, y + 17), below);
        if (weak) {
            painter.setPen(p.accentText);
            painter.drawText(QPointF(left, y + 48), frame.byHand() ? "weakest link" : "weakest link: the stop limit");
        }
        if (share > 0) {
            const QRectF bar(left, y + 25, 160, 7);
            painter.fillRect(bar, p.hairSoft);
            painter.fillRect(QRectF(bar.left(), bar.top(), std::min(share, 1.0) * bar.width(), bar.height()),
                             share > 1 ? p.stop : p.quiet);
        }
    }

    /// The link of that number, with what it is used to.
    void named(double units, size_t i, const QString& before = {}) const
    {
        const TrainMargin m = i < margins.size() ? margins[i] : TrainMargin{};
        const QString capacity = shownQuantity(m.link.capacity, method.train.load);
        const QString used = m.used > 0 ? QString("%1 · used to %2 %").arg(capacity).arg(m.used * 100, 0, 'f', 0)
            : m.link.capacity > 0       ? capacity
                                        : QString("capacity not known");
        words(units, q(m.link.name), before + used, m.used, weakest && weakest->name == m.link.name);
    }

    /// Crosshead, cell, what holds the specimen, what holds it below, base.
    void paintHolders() const
    {
        using Form = LinkSpec::Form;
        const auto& links = method.train.links;
        const Form holder = links.size() > 1 ? links[1].form : Form::Extra;
        const bool gripped = holder == Form::Grips;
        const bool platens = holder == Form::Platens;
        const bool closed = frame.shows("grip-top");
        const bool closedBelow = frame.shows("grip-bottom");
        const bool hand = frame.byHand();
        box(0, 150, 0.8, p.metal);
        box(1.1, 76, 1.4, p.surface);
        named(1.55, 0);
        box(9.3, 150, 0.8, p.metal);
        if (margins.size() > 2)
            named(9.0, 2);
        if (platens) {
            box(2.8, 120, 0.6, p.hair);
            box(8.3, 120, 0.6, p.hair);
            named(3.2, 1);
            words(8.0, {}, frame.shows("centred") ? "lower platen, piece centred" : "lower platen");
        } else if (gripped) {
            box(2.8, 56, 1.7, closed ? p.hair : p.surface);
            box(7.3, 56, 1.7, closedBelow ? p.hair : p.surface);
            // A fixture has pins where grips have jaws.
            const bool pins = links[1].kind == "fixture";
            const QString in = pins ? "in" : "closed", out = pins ? "out" : "open";
            const QString lower = pins ? "lower pin" : "lower grip";
            named(3.2, 1, hand ? QString() : (pins ? "pin " : "") + (closed ? in : out) + " · ");
            words(8.0, {}, hand ? lower : lower + ", " + (closedBelow ? in : out));
        } else {
            named(8.0, 1);
        }
        if (gripped && frame.shows("extensometer-on")) {
            painter.setPen(QPen(p.accent, 2));
            for (const double y : {at(5.1), at(6.7)})
                painter.drawLine(QPointF(cx + 6, y), QPointF(cx + 34, y));
            painter.drawLine(QPointF(cx + 34, at(5.1)), QPointF(cx + 34, at(6.7)));
        }
    }

    void paintSpecimen(const Specimen& specimen, const ExpectedLoad& expected) const
    {
        const bool chucks = method.train.links.size() > 1 && method.train.links[1].form == LinkSpec::Form::Chucks;
        painter.setPen(QPen(p.ink, 1.4));
        painter.setBrush(p.metal);
        painter.drawPath(
            silhouette(method.drawing.formFor(specimen.input), specimen.input.shape,
                       chucks ? QRectF(cx - 40, at(2.7), 80, unit * 6.4) : QRectF(cx - 20, at(3.6), 40, unit * 4.6)));
        words(5.4, q(specimen.label),
              expected.maximum ? shownQuantity(*expected.maximum, method.train.load) + " expected" : "load not known");
        painter.setFont(wordFont(11));
        painter.setPen(p.quiet);
        painter.drawText(QRectF(left, at(5.4) + 22, 160, 50), Qt::TextWordWrap, q(expected.basis));
    }
};

/// How the run will end, in words.
QString endOfRun(LiveFrame& frame, const Method& method)
{
    if (frame.byHand())
        return "Read by hand, step by step: the pad on Load asks for each reading.";
    const QString ends = frame.removeAt() > 0
        ? QString("Extensometer comes off at %1 % strain; the frame holds and asks.")
              .arg(frame.removeAt() * 100, 0, 'f', 1)
        : frame.program().returns            ? QString("Ends by itself and goes back to the start.")
        : !method.train.extensometer.empty() ? QString("The extensometer stays on to the break.")
                                             : QString("Runs to the break.");
    return ends + "\nFrame: " + frame.linkWords() + ".";
}

} // namespace

void SetUpPage::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.fillRect(rect(), p.surface);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!session_.hasSpecimen())
        return;
    const Method& method = *session_.job().method;
    if (method.train.links.empty()) {
        if (strikes())
            return drawPendulum(painter, QRectF(18, 26, 320, std::min(height() - 60, 420)),
                                strikeDesk(session_.specimen().input), std::nullopt);
        if (!indents())
            return;
        const auto setting = settingOf(session_.specimen().input);
        return drawTester(painter, QRectF(18, 26, 320, std::min(height() - 60, 560)), *setting, refitted_);
    }
    const TrainPicture train{painter,
                             p,
                             method,
                             frame_,
                             22,
                             (height() - 44) / 12.0,
                             trainMargins(frame_.train(), frame_.expected()),
                             weakestLink(frame_.train())};
    train.paintHolders();
    train.paintSpecimen(session_.specimen(), frame_.expected());
    painter.setPen(p.quiet);
    painter.setFont(wordFont(11.5));
    painter.drawText(QRectF(18, train.at(10.6), 316, 60), Qt::TextWordWrap, endOfRun(frame_, method));
}

bool SetUpPage::strikes() const
{
    const PageSpec* page =
        session_.isOpen() && session_.hasSpecimen() ? session_.job().method->pageOf(Stage::Load) : nullptr;
    return page && page->page == "strike";
}

bool SetUpPage::indents() const
{
    return session_.isOpen() && session_.hasSpecimen() && !session_.job().method->intake.machine.empty()
        && settingOf(session_.specimen().input);
}

} // namespace fortitor
