// SPDX-License-Identifier: GPL-3.0-or-later
// What Load shows of a run.
#include "app/bench/load/load_page.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "draw/plot.h"
#include "methods/common/load_said.h"

#include <QFontMetricsF>
#include <QPainter>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

/// "–" for no reading.
QString figureOr(double value, int decimals)
{
    return std::isfinite(value) ? QString::number(value, 'f', decimals) : QString("–");
}

} // namespace

/// The run so far over what is expected of it and what was simulated.
Plot LoadPage::livePlot(double expected) const
{
    const LiveCurve& live = frame_.curve();
    const Method& method = *session_.job().method;
    const bool strain = method.live.strain;
    const bool load = !method.live.stress;
    const bool twists = frame_.load() == Kind::Torque;
    double maxY = expected > 0 ? expected * 1.05 : load ? 50 : 1;
    double maxX = strain ? 0.01 : 1;
    if (rehearsed_ && rehearsed_->byTravel == !strain) {
        maxX = std::max(maxX, rehearsed_->x.back());
        maxY = std::max(maxY, *std::ranges::max_element(rehearsed_->high));
    }
    for (double e : live.strain())
        maxX = std::max(maxX, e);
    for (double v : live.stress())
        maxY = std::max(maxY, v);
    const Unit& yUnit = displayUnit(load ? frame_.load() : Kind::Stress, maxY >= 5000 || !load ? maxY : 1, units());
    const Unit& xUnit = displayUnit(strain ? Kind::Strain : twists ? Kind::Angle : Kind::Length, maxX, units());
    Plot plot;
    plot.names = Plot::Names::None;
    plot.x = {.title = (strain       ? "strain, "
                            : twists ? "twist, "
                                     : "travel, ")
                  + q(std::string(xUnit.symbol)),
              .factor = 1 / xUnit.factor};
    plot.y = {.title = (load ? q(std::string(kindName(frame_.load()))) + ", " : QString("stress, "))
                  + q(std::string(yUnit.symbol)),
              .factor = 1 / yUnit.factor};
    std::tie(plot.x.low, plot.x.high) = roomyRange(0, maxX * plot.x.factor);
    std::tie(plot.y.low, plot.y.high) = roomyRange(0, maxY * plot.y.factor);
    if (expected > 0 && !load)
        plot.bands.push_back({.x = {plot.x.low / plot.x.factor, plot.x.high / plot.x.factor},
                              .low = {0.9 * expected, 0.9 * expected},
                              .high = {1.1 * expected, 1.1 * expected}});
    if (frame_.removeAt() > 0)
        plot.limits.push_back({.at = frame_.removeAt(), .onX = true, .mark = true});
    if (rehearsed_) {
        plot.bands.push_back({.x = rehearsed_->x, .low = rehearsed_->low, .high = rehearsed_->high, .quiet = true});
        plot.series.push_back(
            {.x = rehearsed_->x, .y = rehearsed_->middle, .pen = QPen(Qt::black, 1.2, Qt::DashLine), .quiet = true});
    }
    if (const auto profile = strain ? std::nullopt : profileNow())
        for (const LoadLevel& level : profile->levels)
            plot.limits.push_back({.at = level.load, .quiet = !level.stop, .words = q(level.words)});
    addLoops(plot);
    return plot;
}

std::optional<LoadProfile> LoadPage::profileNow() const
{
    const Method& method = *session_.job().method;
    if (!method.profile || !frame_.rates())
        return std::nullopt;
    return method.profile({session_.specimen().input, frame_.expected(), *frame_.rates()});
}

/// N that the part is rated for; 0: no such load.
double LoadPage::ratedLoad() const
{
    const auto profile = profileNow();
    return profile ? profile->rated : 0;
}

/// Loads that were taken off again lie behind the one at hand.
void LoadPage::addLoops(Plot& plot) const
{
    const std::span<const double> x = frame_.curve().strain(), y = frame_.curve().stress();
    constexpr double gone = 0.05, clear = 0.02; // of the load, of the greatest of all
    double greatest = 0;
    for (const double v : y)
        greatest = std::max(greatest, v);
    size_t from = 0;
    double top = 0;
    for (size_t i = 0; i < y.size(); ++i) {
        top = std::max(top, y[i]);
        if (top < clear * greatest || y[i] > gone * top)
            continue;
        plot.series.push_back({.x = x.subspan(from, i + 1 - from),
                               .y = y.subspan(from, i + 1 - from),
                               .pen = QPen(Qt::black, 1.2),
                               .quiet = true});
        from = i;
        top = 0;
    }
    plot.series.push_back({.x = x.subspan(from), .y = y.subspan(from), .pen = QPen(Qt::black, 1.9)});
}

/// The stage that runs; nullptr while none does.
const RunStage* LoadPage::stageNow() const
{
    const auto at = static_cast<size_t>(std::max(0, frame_.status().stage));
    return frame_.running() && at < frame_.program().stages.size() ? &frame_.program().stages[at] : nullptr;
}

/// A load that is held: what is left of its time, and how far it crept.
double LoadPage::paintHold(QPainter& painter, QPointF at) const
{
    const RunStage* stage = stageNow();
    if (!stage || stage->control != Control::HoldForce || frame_.state() != LiveFrame::State::Running)
        return at.y();
    const QString left = figureOr(std::max(0.0, stage->untilTime - frame_.stageTime()), 0);
    const QString crept = figureOr(frame_.stageTravel(), 3);
    constexpr int roomForBoth = 560; // px
    if (height() < roomForBoth) {
        painter.setFont(wordFont(15));
        painter.setPen(pal().ink);
        painter.drawText(at + QPointF(0, 14), QString("hold %1 s left · creep %2 mm").arg(left, crept));
        return at.y() + 26;
    }
    at.setY(paintReadout(painter, at, "hold, left", left, "s"));
    return paintReadout(painter, at, "creep in the hold", crept, "mm");
}

void LoadPage::paintLive(QPainter& painter, const QRectF& area) const
{
    if (!session_.hasSpecimen())
        return;
    const Palette& p = pal();
    const LiveCurve& live = frame_.curve();
    const Method& method = *session_.job().method;
    // What is expected stands behind the curve: a stress over the area that carries it.
    const double carries =
        !method.live.stress || !method.loadedArea ? 1 : method.loadedArea(session_.specimen().input).value_or(0);
    const double expected = carries > 0 ? frame_.expected().maximum.value_or(0) / carries : 0;
    const Plot plot = livePlot(expected);
    const Chart chart(area, plot.x.low, plot.x.high, plot.y.low, plot.y.high);
    plot.paintGround(painter, p, chart);
    plot.paintSeries(painter, p, chart);
    painter.setFont(wordFont(11));
    painter.setPen(p.quiet);
    if (expected > 0 && method.live.stress) {
        const QString words = "strength expected, ± 10 %";
        painter.drawText(QPointF(area.right() - QFontMetricsF(painter.font()).horizontalAdvance(words) - 6,
                                 std::max(area.top() + 12, chart.py(expected * 1.1 * plot.y.factor) + 14)),
                         words);
    }
    if (rehearsed_) {
        const size_t at = rehearsed_->x.size() * 4 / 5;
        painter.drawText(chart.at(rehearsed_->x[at] * plot.x.factor, rehearsed_->low[at] * plot.y.factor)
                             + QPointF(-8, 26),
                         "as simulated");
    }
    if (!live.empty()) {
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(Qt::NoPen);
        painter.setBrush(p.accent);
        painter.drawEllipse(chart.at(live.strain().back() * plot.x.factor, live.stress().back() * plot.y.factor), 5, 5);
    }
}

/// The band above the page: what can't be missed. Gives its height.
double LoadPage::paintBand(QPainter& painter) const
{
    const Palette& p = pal();
    const bool prompt = frame_.state() == LiveFrame::State::Prompt;
    const double toGo =
        frame_.curve().empty() || frame_.removeAt() <= 0 ? 1 : frame_.removeAt() - frame_.curve().strain().back();
    const bool soon = frame_.state() == LiveFrame::State::Running && frame_.removeAt() > 0 && toGo > 0
        && toGo < 0.4 * frame_.removeAt();
    QString words;
    QColor fill = p.accentTint;
    QColor mark = p.accent;
    if (frame_.linkLost() || (frame_.running() && frame_.client().link() != MachineClient::Link::Joined)) {
        words = frame_.running()
            ? "The link to the frame is lost. Its watchdog looks after the specimen; joining again."
            : "The link to the frame is lost; joining again.";
        mark = p.stop;
    } else if (prompt) {
        words = q(frame_.status().prompt) + " The frame holds.";
    } else if (frame_.state() == LiveFrame::State::Holding && !frame_.events().empty()
               && frame_.events().back().code == "link-hold") {
        words = "The frame held itself while the link was silent. Look at the specimen, then go on.";
    } else if (soon) {
        words = QString("At %1 %: take the extensometer off. The frame will hold for you.")
                    .arg(frame_.removeAt() * 100, 0, 'f', 1);
    } else if (frame_.state() == LiveFrame::State::Stopped && !frame_.status().endedWords.empty()) {
        const QString why = q(frame_.status().endedWords);
        words = why.left(1).toUpper() + why.mid(1) + ". What was recorded is kept.";
    }
    if (words.isEmpty())
        return 0;
    const QRectF band(0, 0, width(), 52);
    painter.fillRect(band, fill);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    painter.setBrush(mark);
    const QPointF triangle[] = {{24, 15}, {34, 36}, {14, 36}};
    painter.drawPolygon(triangle, 3);
    painter.setPen(p.ink);
    painter.setFont(wordFont(16, QFont::DemiBold));
    painter.drawText(
        QPointF(46, 32),
        QFontMetricsF(painter.font()).elidedText(words, Qt::ElideRight, width() - 60 - (prompt ? 190 : 0)));
    painter.setRenderHint(QPainter::Antialiasing, false);
    return band.height();
}

/// One figure that can be read from across the room. Gives the height below it.
double LoadPage::paintReadout(QPainter& painter, QPointF at, const QString& name, const QString& figure,
                              const QString& unit) const
{
    const Palette& p = pal();
    painter.setFont(wordFont(12));
    painter.setPen(p.quiet);
    painter.drawText(at + QPointF(0, 12), name);
    const QFont big = figureFont(36);
    painter.setFont(big);
    painter.setPen(frame_.asLastHeard() ? p.quiet : p.ink);
    painter.drawText(at + QPointF(0, 52), figure);
    const double wide = QFontMetricsF(big).horizontalAdvance(figure);
    painter.setFont(wordFont(14));
    painter.setPen(p.quiet);
    painter.drawText(at + QPointF(wide + 6, 52), unit);
    return at.y() + 68;
}

/// Load and way.
double LoadPage::paintLoadAndWay(QPainter& painter, QPointF at) const
{
    const FrameSample& sample = frame_.sample();
    const bool ready = frame_.ready();
    const bool twists = frame_.load() == Kind::Torque;
    const Unit& loadUnit = displayUnit(frame_.load(), sample.force, units());
    const Unit& lengthUnit = displayUnit(Kind::Length, 1, units());
    const bool inch = lengthUnit.factor > 1;
    const int decimals = twists ? 1 : units() != UnitSystem::SI ? 1 : std::abs(sample.force) >= 1000 ? 2 : 0;
    at.setY(paintReadout(painter, at,
                         q(std::string(kindName(frame_.load()))) + (frame_.asLastHeard() ? ", as last heard" : ""),
                         ready || frame_.joined() ? figureOr(loadUnit.fromBase(sample.force), decimals) : "–",
                         q(std::string(loadUnit.symbol))));
    constexpr double worthSaying = 0.02; // of it
    if (const double rated = ratedLoad(); rated > 0 && ready && sample.force > worthSaying * rated) {
        painter.setFont(wordFont(12));
        painter.setPen(pal().quiet);
        painter.drawText(at + QPointF(0, 6), q(loadSaid(sample.force, rated)));
        at.ry() += 18;
    }
    const auto way = [&](const QString& name, double value, int places, const QString& unit) {
        return paintReadout(painter, at, name, ready ? figureOr(value, places) : "–", unit);
    };
    if (session_.job().method->live.strain && frame_.hasGauges())
        return way("strain", 0.5e6 * (sample.front + sample.back), 0, "µm/m");
    if (session_.job().method->live.strain)
        return way("extension", lengthUnit.fromBase(sample.extension), inch ? 5 : 3, q(std::string(lengthUnit.symbol)));
    if (twists)
        return way("twist", frame_.travel() * 180 / std::numbers::pi, 1, "°");
    return way("travel", lengthUnit.fromBase(frame_.travel()), inch ? 4 : 2, q(std::string(lengthUnit.symbol)));
}

/// The rate, and the window it is wanted in.
double LoadPage::paintRate(QPainter& painter, QPointF at, double width) const
{
    const Palette& p = pal();
    const auto rate = frame_.running() && !frame_.linkLost()
        ? (frame_.fastNow() ? frame_.curve().crossheadRate() : frame_.curve().strainRate())
        : std::nullopt;
    at.setY(paintReadout(painter, at, frame_.fastNow() ? "rate, by crosshead" : "rate", rate ? figureOr(*rate, 5) : "–",
                         "/s"));
    const auto& plan = frame_.rates();
    if (!plan)
        return at.y();
    const double low = plan->lowest;
    const double high = plan->highest;
    const QRectF bar(at.x(), at.y() - 4, width, 10);
    const auto x = [&](double r) { return bar.left() + std::clamp(r / (2.2 * high), 0.0, 1.0) * bar.width(); };
    painter.fillRect(bar, p.hairSoft);
    if (!frame_.fastNow())
        painter.fillRect(QRectF(QPointF(x(low), bar.top()), QPointF(x(high), bar.bottom())), p.good);
    if (rate && !frame_.fastNow())
        painter.fillRect(QRectF(x(*rate) - 1.5, bar.top() - 5, 3, bar.height() + 10), p.ink);
    painter.setFont(wordFont(11.5));
    painter.setPen(p.quiet);
    painter.drawText(at + QPointF(0, 22),
                     frame_.fastNow() ? QString("faster now, %1 /s by crosshead")
                                            .arg(plan->afterSpeed / plan->yieldSpeed * 0.5 * (low + high), 0, 'g', 2)
                                      : QString("window %1 to %2 at first").arg(low, 0, 'f', 5).arg(high, 0, 'f', 5));
    return at.y() + 40;
}

void LoadPage::paintReadouts(QPainter& painter, double left, double top, double width) const
{
    const Palette& p = pal();
    double y = paintLoadAndWay(painter, {left, top});
    if (session_.job().method->live.strain)
        y = paintRate(painter, {left, y}, width);
    y = paintHold(painter, {left, y});
    painter.setFont(wordFont(12));
    painter.setPen(p.quiet);
    painter.drawText(QPointF(left, y + 10), "limits");
    y += 18;
    const auto gauge = [&](const QString& name, double share) {
        share = std::isfinite(share) ? share : 0;
        painter.setPen(p.ink);
        painter.setFont(wordFont(12.5));
        painter.drawText(QPointF(left, y + 13), QFontMetricsF(painter.font()).elidedText(name, Qt::ElideRight, 116));
        painter.fillRect(QRectF(left + 122, y + 5, width - 122, 8), p.hairSoft);
        painter.fillRect(QRectF(left + 122, y + 5, (width - 122) * std::clamp(share, 0.0, 1.0), 8),
                         share > 0.9 ? p.stop : p.quiet);
        y += 21;
    };
    for (const TrainLink& link : frame_.train())
        if (link.capacity > 0)
            gauge(q(link.name), frame_.sample().force / link.capacity);
    if (frame_.limits().travel > 0)
        gauge("travel", frame_.travel() / frame_.limits().travel);
}

void LoadPage::paintEvents(QPainter& painter, const QRectF& room) const
{
    const Palette& p = pal();
    painter.setPen(p.hair);
    painter.drawLine(room.topLeft(), room.topRight());
    painter.setFont(wordFont(12));
    painter.setPen(p.quiet);
    painter.drawText(room.topLeft() + QPointF(0, 20), "what happened");
    const auto& events = frame_.events();
    const int fits = std::max(1, static_cast<int>((room.height() - 26) / 20));
    double y = room.top() + 42;
    for (size_t i = events.size() > static_cast<size_t>(fits) ? events.size() - static_cast<size_t>(fits) : 0;
         i < events.size(); ++i) {
        const int tenths = static_cast<int>(events[i].time * 10);
        painter.setFont(figureFont(11));
        painter.setPen(p.quiet);
        painter.drawText(QPointF(room.left(), y),
                         events[i].time < 0 || (events[i].time == 0 && events[i].code != "start")
                                 || frame_.state() == LiveFrame::State::Idle
                             ? QString("set up")
                             : QString("%1:%2.%3")
                                   .arg(tenths / 600, 2, 10, QChar('0'))
                                   .arg(tenths / 10 % 60, 2, 10, QChar('0'))
                                   .arg(tenths % 10));
        painter.setFont(wordFont(12.5));
        painter.setPen(p.ink);
        painter.drawText(QPointF(room.left() + 68, y), q(events[i].text));
        y += 20;
    }
    if (events.empty())
        painter.drawText(QPointF(room.left(), y), "nothing yet");
}

void LoadPage::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.fillRect(rect(), p.surface);
    const double split = width() - side - 14;
    const double top = paintBand(painter);
    if (!session_.hasSpecimen())
        return;
    const QRectF area(72, top + 34, split - 72 - 18, height() - top - 34 - 44 - 176);
    paintLive(painter, area);
    paintEvents(painter, QRectF(24, height() - 170, split - 42, 120));
    painter.setPen(p.hair);
    painter.drawLine(QPointF(split, top + 18), QPointF(split, height() - 18));
    paintReadouts(painter, split + 18, top + 20, side - 30);
    painter.setFont(wordFont(11.5));
    painter.setPen(p.quiet);
    painter.drawText(QRectF(width() - 150, height() - 44, 130, 30), Qt::AlignRight | Qt::AlignVCenter,
                     frame_.shows("guard-closed") ? "guard closed" : "guard open");
}

} // namespace fortitor
