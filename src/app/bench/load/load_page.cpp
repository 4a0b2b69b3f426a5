// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/load/load_page.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"

#include <QFontMetricsF>
#include <QKeyEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

constexpr int side = 282;

/// "–" for no reading.
QString figureOr(double value, int decimals)
{
    return std::isfinite(value) ? QString::number(value, 'f', decimals) : QString("–");
}

} // namespace

LoadPage::LoadPage(Session& session, LiveFrame& frame, QWidget* parent) : Page(session, parent), frame_(frame)
{
    setFocusPolicy(Qt::StrongFocus);
    start_ = button("Start", "primary", "loadStart", this);
    hold_ = button("Hold\nSpace", "big", "loadHold", this);
    stop_ = button("STOP\nEsc", "stop", "loadStop", this);
    answer_ = button("It is off, go on", "primary", "promptAnswer", this);
    toRead_ = button("Read the curve", "primary", "loadToRead", this);
    next_ = button("Next piece\nN", "primary", "loadNext", this);
    next_->setToolTip("Chooses the next piece, zeroes with nothing between, and waits for it to be centred (N)");
    connect(next_, &QPushButton::clicked, this, &LoadPage::nextPiece);
    centred_ = button("Centred  C", "", "loadCentred", this);
    centred_->setToolTip("The piece stands centred by the ring, a gap above it; hands are out");
    guard_ = button("Close guard  G", "", "loadGuard", this);
    connect(centred_, &QPushButton::clicked, this, [this] {
        frame_.setCentred();
        setFocus();
    });
    connect(guard_, &QPushButton::clicked, this, [this] {
        frame_.setGuard(!frame_.shows("guard-closed"));
        setFocus();
    });
    handSet_ = new HandSet(frame, this);
    import_ = button("Import…", "", "loadImport", this);
    import_->setToolTip("A text record of another machine (Ctrl+O)");
    pace_ = new QComboBox(this);
    pace_->setObjectName("loadPace");
    for (int factor : {1, 5, 20, 50, 100})
        pace_->addItem(factor == 1 ? QString("life speed") : QString("%1 × life").arg(factor), factor);
    pace_->setCurrentIndex(1);
    pace_->setToolTip("How fast the simulated frame's time runs");
    connect(pace_, &QComboBox::activated, this, [this] { frame_.setPace(pace_->currentData().toDouble()); });
    connect(start_, &QPushButton::clicked, this, [this] {
        frame_.start();
        setFocus();
    });
    connect(hold_, &QPushButton::clicked, this, [this] {
        frame_.holdOrGoOn();
        setFocus();
    });
    connect(stop_, &QPushButton::clicked, &frame, &LiveFrame::stop);
    connect(answer_, &QPushButton::clicked, this, [this] {
        frame_.answerPrompt();
        setFocus();
    });
    connect(toRead_, &QPushButton::clicked, this, &LoadPage::readAsked);
    connect(import_, &QPushButton::clicked, this, &LoadPage::importAsked);
    pad_ = new ReadingPad(session, this);
    pad_->hide();
    byHand_ = button("By hand", "link", "loadByHand", this);
    byHand_->setToolTip("Read the instruments yourself: the reading pad");
    connect(byHand_, &QPushButton::clicked, this, [this] {
        frame_.setByHand(true);
        refresh();
        enter();
    });
    connect(pad_, &ReadingPad::frameAsked, this, [this] {
        frame_.setByHand(false);
        refresh();
        enter();
    });
    connect(pad_, &ReadingPad::readAsked, this, &LoadPage::readAsked);
    connect(pad_, &ReadingPad::nextAsked, this, [this] {
        session_.setCurrent(session_.current() + 1);
        enter();
    });
    connect(&frame, &LiveFrame::updated, this, [this] {
        if (isVisible())
            follow();
    });
}

void LoadPage::refresh()
{
    rehearsed_ = session_.hasSpecimen() ? rehearsedOf(session_.document().json()["specimens"][session_.current()])
                                        : std::nullopt;
    if (padShown())
        return showPad();
    pad_->hide();
    if (!frame_.running() && !frame_.ready() && session_.hasSpecimen() && !frame_.hasRun(session_.current()))
        Q_UNUSED(frame_.prepare());
    follow();
}

/// A test that is read step by step: by hand, unless the frame was asked for or runs.
bool LoadPage::padShown() const
{
    return session_.hasSpecimen() && session_.job().method->intake.keyed() && !frame_.running() && frame_.byHand();
}

void LoadPage::showPad()
{
    for (QWidget* w : std::initializer_list<QWidget*>{start_, hold_, stop_, answer_, toRead_, next_, centred_, guard_,
                                                      import_, pace_, handSet_, byHand_})
        w->hide();
    pad_->setGeometry(rect());
    pad_->show();
    pad_->refresh();
    emit pageRemarks({});
}

void LoadPage::enter()
{
    if (padShown())
        pad_->enter();
    else
        setFocus();
}

void LoadPage::follow()
{
    if (padShown())
        return;
    using State = LiveFrame::State;
    const State state = frame_.state();
    const bool running = frame_.running();
    byHand_->setVisible(!running && session_.hasSpecimen() && session_.job().method->intake.has(Intake::By::Steps));
    const bool loaded = !running && session_.hasSpecimen() && session_.hasRecord(session_.current());
    const QStringList waits = frame_.holdBacks();
    start_->setVisible(!running && state == State::Idle && (!loaded || waits.isEmpty()));
    start_->setEnabled(waits.isEmpty());
    start_->setToolTip(waits.isEmpty() ? "Starts the run (Enter)" : plain("Not ready: " + waits.join("; ")));
    hold_->setVisible(running);
    hold_->setText(state == State::Holding ? "Go on\nSpace" : "Hold\nSpace");
    hold_->setEnabled(state == State::Running || state == State::Holding);
    stop_->setVisible(running || frame_.moves());
    answer_->setVisible(state == State::Prompt);
    const bool oneMore = loaded && session_.current() + 1 < session_.job().specimens.size() && state != State::Idle;
    toRead_->setVisible(loaded);
    next_->setVisible(oneMore);
    place();
    import_->setVisible(!running);
    handSet_->setVisible(!running);
    handSet_->follow();
    pace_->setVisible(!frame_.client().hello().is_object() || frame_.simulated());
    const bool pressing = frame_.ready() && frame_.pressed() && !running && state == State::Idle;
    centred_->setVisible(pressing && !frame_.shows("centred"));
    guard_->setVisible(pressing);
    guard_->setText(frame_.shows("guard-closed") ? "Open guard  G" : "Close guard  G");
    if (const int at = pace_->findData(static_cast<int>(frame_.pace())); at >= 0 && at != pace_->currentIndex())
        pace_->setCurrentIndex(at);
    std::vector<Remark> remarks;
    if (!running && state == State::Idle)
        for (const QString& words : waits)
            remarks.push_back(
                {s("hold-" + words), Severity::Caution, {}, "Start waits: " + s(words) + ".", "See Set up.", {}});
    emit pageRemarks(remarks);
    update();
}

/// One key to the next piece: chosen, zeroed while nothing stands there yet. A piece that is pressed
/// then only has to be put in its place and the guard closed; a bar goes through its grips on Set up.
void LoadPage::nextPiece()
{
    if (frame_.running() || !session_.hasSpecimen() || session_.current() + 1 >= session_.job().specimens.size())
        return;
    session_.setCurrent(session_.current() + 1);
    if (const QString why = frame_.prepare(); !why.isEmpty()) {
        emit session_.failed(why);
        return;
    }
    frame_.zeroForce();
    if (!frame_.pressed())
        emit setUpAsked();
    setFocus();
    follow();
}

void LoadPage::resizeEvent(QResizeEvent*)
{
    place();
}

void LoadPage::place()
{
    pad_->setGeometry(rect());
    byHand_->setGeometry(width() - 110, 6, 92, 28);
    const int x = width() - side + 4;
    const int y = height() - 118;
    start_->setGeometry(x, y, side - 28, 56);
    hold_->setGeometry(x, y, (side - 36) / 2, 58);
    stop_->setGeometry(x + (side - 36) / 2 + 8, y, (side - 36) / 2, 58);
    const bool both = next_->isVisibleTo(this);
    const int above = start_->isVisibleTo(this) ? 52 : 4; // a piece loaded before may be loaded again
    toRead_->setGeometry(x, y - above, both ? (side - 36) / 2 : side - 28, both ? 58 : 44);
    toRead_->setText(both ? "Read\nthe curve" : "Read the curve");
    next_->setGeometry(x + (side - 36) / 2 + 8, y - 4, (side - 36) / 2, 58);
    centred_->setGeometry(x, y - 50, (side - 36) / 2, 40);
    guard_->setGeometry(x + (side - 36) / 2 + 8, y - 50, (side - 36) / 2, 40);
    import_->setGeometry(24, height() - 44, 96, 32);
    handSet_->setGeometry(132, height() - 44, std::max(120, x - 24 - 132), 32);
    pace_->setGeometry(x, height() - 44, 120, 30);
    answer_->setGeometry(width() - 210, 8, 186, 36);
}

void LoadPage::keyPressEvent(QKeyEvent* event)
{
    if (padShown())
        return Page::keyPressEvent(event);
    if (event->key() == Qt::Key_Space && frame_.running()) {
        frame_.holdOrGoOn();
    } else if (event->key() == Qt::Key_Z && !frame_.running()) {
        frame_.zeroForce();
    } else if (event->key() == Qt::Key_B && !frame_.running()) {
        frame_.putExtensometerOn();
    } else if (event->key() == Qt::Key_N && !frame_.running()) {
        nextPiece();
    } else if (event->key() == Qt::Key_C && frame_.pressed() && !frame_.running()) {
        frame_.setCentred();
    } else if (event->key() == Qt::Key_G && !frame_.running()) {
        frame_.setGuard(!frame_.shows("guard-closed"));
    } else if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
        if (frame_.state() == LiveFrame::State::Prompt)
            frame_.answerPrompt();
        else if (!frame_.running())
            frame_.start();
    } else {
        Page::keyPressEvent(event);
    }
}

void LoadPage::paintLive(QPainter& painter, const QRectF& area) const
{
    const Palette& p = pal();
    const LiveCurve& live = frame_.curve();
    if (!session_.hasSpecimen())
        return;
    const Method& method = *session_.job().method;
    const bool strain = method.live.strain;
    const bool load = !method.live.stress;
    const Kind loadKind = frame_.load();
    // What is expected stands behind the curve: a stress over the area that carries it.
    const double area_ = load || !method.loadedArea ? 1 : method.loadedArea(session_.specimen().input).value_or(0);
    const double expected = area_ > 0 ? frame_.expected().maximum.value_or(0) / area_ : 0;
    const bool known = expected > 0 && !load;
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
    const Unit& yUnit = displayUnit(load ? loadKind : Kind::Stress, maxY >= 5000 || !load ? maxY : 1, units());
    const Unit& xUnit = displayUnit(strain                         ? Kind::Strain
                                        : loadKind == Kind::Torque ? Kind::Angle
                                                                   : Kind::Length,
                                    maxX, units());
    const double yFactor = 1 / yUnit.factor;
    const double xFactor = 1 / xUnit.factor;
    const auto [x0, x1] = roomyRange(0, maxX * xFactor);
    const auto [y0, y1] = roomyRange(0, maxY * yFactor);
    const Chart chart(area, x0, x1, y0, y1);
    chart.drawAxes(painter, p,
                   (strain                         ? "strain, "
                        : loadKind == Kind::Torque ? "twist, "
                                                   : "travel, ")
                       + q(std::string(xUnit.symbol)),
                   (load ? q(std::string(kindName(loadKind))) + ", " : QString("stress, "))
                       + q(std::string(yUnit.symbol)));
    if (known) {
        painter.fillRect(QRectF(QPointF(area.left() + 1, chart.py(expected * 1.1 * yFactor)),
                                QPointF(area.right(), chart.py(expected * 0.9 * yFactor)))
                             .intersected(area),
                         p.dataTint);
        painter.setFont(wordFont(11));
        painter.setPen(p.quiet);
        const QString words = "strength expected, ± 10 %";
        painter.drawText(QPointF(area.right() - QFontMetricsF(painter.font()).horizontalAdvance(words) - 6,
                                 std::max(area.top() + 12, chart.py(expected * 1.1 * yFactor) + 14)),
                         words);
    }
    if (frame_.removeAt() > 0 && chart.px(frame_.removeAt() * 100) < area.right()) {
        painter.setPen(QPen(p.accent, 1.4, Qt::DashLine));
        const double x = chart.px(frame_.removeAt() * 100);
        painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()));
    }
    paintRehearsal(painter, chart, xFactor, yFactor);
    chart.drawCurve(painter, live.strain(), live.stress(), QPen(p.ink, 1.9), xFactor, yFactor);
    if (!live.empty()) {
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(Qt::NoPen);
        painter.setBrush(p.accent);
        painter.drawEllipse(chart.at(live.strain().back() * xFactor, live.stress().back() * yFactor), 5, 5);
    }
}

/// What was rehearsed stands behind what happens: its band, and its middle dashed.
void LoadPage::paintRehearsal(QPainter& painter, const Chart& chart, double xFactor, double yFactor) const
{
    if (!rehearsed_)
        return;
    const Palette& p = pal();
    QPolygonF band;
    for (size_t i = 0; i < rehearsed_->x.size(); ++i)
        band << chart.at(rehearsed_->x[i] * xFactor, rehearsed_->high[i] * yFactor);
    for (size_t i = rehearsed_->x.size(); i-- > 0;)
        band << chart.at(rehearsed_->x[i] * xFactor, rehearsed_->low[i] * yFactor);
    painter.save();
    painter.setClipRect(chart.area());
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    painter.setBrush(p.hairSoft);
    painter.drawPolygon(band);
    painter.restore();
    chart.drawCurve(painter, rehearsed_->x, rehearsed_->middle, QPen(p.quiet, 1.2, Qt::DashLine), xFactor, yFactor);
    painter.setFont(wordFont(11));
    painter.setPen(p.quiet);
    const size_t at = rehearsed_->x.size() * 4 / 5;
    painter.drawText(chart.at(rehearsed_->x[at] * xFactor, rehearsed_->low[at] * yFactor) + QPointF(-8, 26),
                     "as simulated");
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

void LoadPage::paintReadouts(QPainter& painter, double left, double top, double width) const
{
    const Palette& p = pal();
    const FrameSample& sample = frame_.sample();
    const bool ready = frame_.ready();
    const bool kilo = std::abs(sample.force) >= 1000;
    double y = top;
    const auto readout = [&](const QString& name, const QString& figure, const QString& unit) {
        painter.setFont(wordFont(12));
        painter.setPen(p.quiet);
        painter.drawText(QPointF(left, y + 12), name);
        const QFont big = figureFont(36);
        painter.setFont(big);
        painter.setPen(frame_.asLastHeard() ? p.quiet : p.ink);
        painter.drawText(QPointF(left, y + 52), figure);
        const double wide = QFontMetricsF(big).horizontalAdvance(figure);
        painter.setFont(wordFont(14));
        painter.setPen(p.quiet);
        painter.drawText(QPointF(left + wide + 6, y + 52), unit);
        y += 68;
    };
    const bool si = units() == UnitSystem::SI;
    const bool twists = frame_.load() == Kind::Torque;
    const Unit& forceUnit = displayUnit(frame_.load(), sample.force, units());
    const Unit& lengthUnit = displayUnit(Kind::Length, 1, units());
    const bool inch = lengthUnit.factor > 1;
    readout(q(std::string(kindName(frame_.load()))) + (frame_.asLastHeard() ? ", as last heard" : ""),
            ready || frame_.joined() ? figureOr(forceUnit.fromBase(sample.force),
                                                twists           ? 1
                                                    : si && kilo ? 2
                                                    : si         ? 0
                                                                 : 1)
                                     : "–",
            q(std::string(forceUnit.symbol)));
    const Method& method = *session_.job().method;
    if (method.live.strain && frame_.hasGauges())
        readout("strain", ready ? figureOr(0.5e6 * (sample.front + sample.back), 0) : "–", "µm/m");
    else if (method.live.strain)
        readout("extension", ready ? figureOr(lengthUnit.fromBase(sample.extension), inch ? 5 : 3) : "–",
                q(std::string(lengthUnit.symbol)));
    else if (twists)
        readout("twist", ready ? figureOr(frame_.travel() * 180 / std::numbers::pi, 1) : "–", "°");
    else
        readout("travel", ready ? figureOr(lengthUnit.fromBase(frame_.travel()), inch ? 4 : 2) : "–",
                q(std::string(lengthUnit.symbol)));
    const auto rate = frame_.running() && !frame_.linkLost()
        ? (frame_.fastNow() ? frame_.curve().crossheadRate() : frame_.curve().strainRate())
        : std::nullopt;
    const bool rateKnown = rate.has_value();
    const double rateNow = rate.value_or(0);
    if (method.live.strain)
        readout(frame_.fastNow() ? "rate, by crosshead" : "rate", rateKnown ? figureOr(rateNow, 5) : "–", "/s");
    if (const auto& plan = frame_.rates(); plan && method.live.strain) {
        const double low = plan->lowest;
        const double high = plan->highest;
        const QRectF bar(left, y - 4, width, 10);
        const auto x = [&](double r) { return bar.left() + std::clamp(r / (2.2 * high), 0.0, 1.0) * bar.width(); };
        painter.fillRect(bar, p.hairSoft);
        if (!frame_.fastNow())
            painter.fillRect(QRectF(QPointF(x(low), bar.top()), QPointF(x(high), bar.bottom())), p.good);
        if (rateKnown && !frame_.fastNow())
            painter.fillRect(QRectF(x(rateNow) - 1.5, bar.top() - 5, 3, bar.height() + 10), p.ink);
        painter.setFont(wordFont(11.5));
        painter.setPen(p.quiet);
        painter.drawText(QPointF(left, y + 22),
                         frame_.fastNow()
                             ? QString("faster now, %1 /s by crosshead")
                                   .arg(plan->afterSpeed / plan->yieldSpeed * 0.5 * (low + high), 0, 'g', 2)
                             : QString("window %1 to %2 at first").arg(low, 0, 'f', 5).arg(high, 0, 'f', 5));
        y += 40;
    }
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
            gauge(q(link.name), sample.force / link.capacity);
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

QStringList LoadPage::keys() const
{
    if (padShown())
        return ReadingPad::keys();
    return {"Enter|start, or answer the prompt", "Space|hold, go on", "Z|zero force (not while running)",
            "B|balance the extensometer",        "N|the next piece",  "C, G|centred, guard (pieces between platens)",
            "Esc|STOP at once, from any page"};
}

} // namespace fortitor
