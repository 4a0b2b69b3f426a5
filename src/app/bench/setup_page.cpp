// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/setup_page.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "draw/specimen_drawing.h"
#include "jobs/edits.h"
#include "methods/common/stress_strain.h"

#include <QFontMetricsF>
#include <QHBoxLayout>
#include <QPainter>
#include <QScrollArea>

namespace fortitor {
namespace {

struct Choice {
    const char* key;   ///< in the job's "instruments"
    const char* kind;  ///< of the instrument list
    const char* words;
};
constexpr Choice chooseable[] = {{"force", "cell", "load cell"}, {"grips", "grips", "grips"}, {"platens", "platens", "platens"}, {"extensometer", "extensometer", "extensometer"}, {"calliper", "calliper", "calliper"}};

/// A ring that fills with a tick.
class Tick : public QWidget {
public:
    Tick() { setFixedSize(20, 20); }
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

QString forceText(double force)
{
    return shownQuantity(force, Kind::Force);
}

} // namespace

SetUpPage::SetUpPage(Session& session, LiveFrame& frame, QWidget* parent) : Page(session, parent), frame_(frame)
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(24, 16, 24, 16);
    row->setSpacing(28);
    trainRoom_ = new QWidget;
    trainRoom_->setFixedWidth(330);
    row->addWidget(trainRoom_);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inside = new QWidget;
    scroll->setWidget(inside);
    row->addWidget(scroll, 1);
    auto* right = new QVBoxLayout(inside);
    right->setContentsMargins(0, 0, 6, 0);
    right->setSpacing(7);
    right->addWidget(label("Instruments", "head"));
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(5);
    for (int i = 0; i < 5; ++i) {
        choices_[i] = new QComboBox;
        choices_[i]->setObjectName(QString("choose-") + chooseable[i].key);
        choices_[i]->setMinimumWidth(120);
        names_[i] = label(chooseable[i].words, "quiet");
        grid->addWidget(names_[i], i, 0);
        grid->addWidget(choices_[i], i, 1);
        connect(choices_[i], &QComboBox::activated, this, [this, i](int index) {
            const QVariant chosen = choices_[i]->itemData(index);
            auto body = parseJson(chosen.toString().toStdString(), "instrument");
            if (body && session_.isOpen()) {
                session_.apply(edits::instrument(session_.document(), chooseable[i].key, *body));
                preparedFor_.clear();
                refresh();
            }
        });
    }
    grid->setColumnMinimumWidth(0, 100);
    grid->setColumnStretch(1, 1);
    right->addLayout(grid);
    right->addSpacing(8);
    right->addWidget(label("Steps", "head"));
    steps_ = new QVBoxLayout;
    steps_->setSpacing(4);
    right->addLayout(steps_);
    right->addSpacing(6);
    right->addWidget(hairline());
    auto* read = new QHBoxLayout;
    force_ = label({});
    force_->setObjectName("setupForce");
    force_->setTextFormat(Qt::RichText);
    limits_ = label({}, "quiet");
    read->addWidget(force_, 1);
    read->addWidget(limits_, 2);
    right->addLayout(read);
    right->addStretch();
    holds_ = label({}, "warn");
    holds_->setObjectName("holdBacks");
    right->addWidget(holds_);
    next_ = button("On to Load", "primary", "setupNext");
    next_->setMinimumHeight(38);
    next_->setMaximumWidth(200);
    right->addWidget(next_);
    connect(next_, &QPushButton::clicked, this, &SetUpPage::loadAsked);
    connect(&frame, &LiveFrame::updated, this, [this] { if (isVisible()) follow(); });
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void SetUpPage::buildChoices()
{
    const Json tools = session_.document().json().value("instruments", Json::object());
    const auto instruments = session_.logbook().instruments();
    const Method& method = *session_.job().method;
    const bool pressed = method.loading == Loading::Compression;
    for (int i = 0; i < 5; ++i) {
        const std::string kind = chooseable[i].kind;
        const bool wanted = kind == "grips" ? !pressed : kind == "platens" ? pressed : kind == "extensometer" ? method.findField("extensometer_gauge_length") != nullptr : true;
        choices_[i]->setVisible(wanted);
        names_[i]->setVisible(wanted);
        choices_[i]->clear();
        const Json now = tools.value(chooseable[i].key, Json::object());
        const QString name = q(now.value("name", ""));
        if (name.isEmpty())
            choices_[i]->addItem("choose…");
        int at = name.isEmpty() ? 0 : -1;
        for (const InstrumentRow& row : instruments) {
            if (row.kind != chooseable[i].kind)
                continue;
            const QString extra = q(row.body.value("capacity", row.body.value("travel", row.body.value("error", ""))));
            choices_[i]->addItem(row.name + (extra.isEmpty() ? "" : ", " + extra), q(row.body.dump()));
            if (row.name == name)
                at = choices_[i]->count() - 1;
        }
        if (at < 0) {
            choices_[i]->addItem(name, q(now.dump()));
            at = choices_[i]->count() - 1;
        }
        choices_[i]->setCurrentIndex(at);
    }
}

void SetUpPage::buildSteps()
{
    clearLayout(steps_);
    rows_.clear();
    struct Act {
        const char* watch;
        const char* words;
        const char* name;
        void (LiveFrame::*call)();
    };
    static constexpr Act acts[] = {{"force-zeroed", "Zero", "zeroForce", &LiveFrame::zeroForce}, {"grip-top", "Close top", "closeTop", &LiveFrame::closeTopGrip}, {"grip-bottom", "Close lower", "closeBottom", &LiveFrame::closeBottomGrip}, {"extensometer-on", "On, balance", "extensometerOn", &LiveFrame::putExtensometerOn}, {"centred", "Centred", "centred", &LiveFrame::setCentred}};
    const auto options = session_.hasSpecimen() ? session_.specimen().input.options : std::map<std::string, std::string>{};
    for (const StepSpec& spec : session_.job().method->steps) {
        if (spec.stage != Stage::SetUp || !stepApplies(spec, *session_.job().method, options))
            continue;
        auto* line = new QHBoxLayout;
        line->setSpacing(10);
        auto* tick = new Tick;
        line->addWidget(tick);
        auto* words = label(q(spec.text));
        line->addWidget(words, 1);
        QPushButton* act = nullptr;
        for (const Act& a : acts)
            if (spec.watch == a.watch) {
                act = button(a.words, "", a.name);
                act->setMinimumWidth(104);
                connect(act, &QPushButton::clicked, &frame_, a.call);
                line->addWidget(act);
            }
        if (spec.watch == "grip-second") {
            const bool lower = !spec.onlyIf.ends_with("=lower"); // the one that is still open
            act = lower ? button("Close lower", "", "closeBottom") : button("Close top", "", "closeTop");
            act->setMinimumWidth(104);
            connect(act, &QPushButton::clicked, &frame_, lower ? &LiveFrame::closeBottomGrip : &LiveFrame::closeTopGrip);
            auto* ease = button("Ease to zero", "", "easeToZero");
            ease->setMinimumWidth(104);
            connect(ease, &QPushButton::clicked, &frame_, &LiveFrame::easeToZero);
            auto* two = new QVBoxLayout;
            two->setSpacing(4);
            two->addWidget(act);
            two->addWidget(ease);
            line->addLayout(two);
        }
        if (spec.watch == "guard-closed") {
            act = button("Close guard", "", "closeGuard");
            act->setMinimumWidth(104);
            connect(act, &QPushButton::clicked, this, [this] { frame_.setGuard(!frame_.shows("guard-closed")); });
            line->addWidget(act);
        }
        steps_->addLayout(line);
        rows_.push_back({spec, act, tick});
    }
    settleLayout(steps_);
}

void SetUpPage::refresh()
{
    if (!session_.isOpen())
        return;
    buildChoices();
    const QString key = QString::number(session_.jobId()) + "/" + QString::number(session_.current()) + q(session_.document().json().value("instruments", Json::object()).dump()) + (session_.hasSpecimen() ? q(session_.document().json()["specimens"][session_.current()].value("dimensions", Json::object()).dump()) + q(optionOr(session_.specimen().input, "first_grip", "")) : QString());
    if (key != preparedFor_ && !frame_.running()) {
        preparedFor_ = key;
        trouble_ = frame_.prepare();
        buildSteps();
    }
    follow();
    std::vector<Remark> remarks = frame_.trainRemarks();
    emit pageRemarks(remarks);
    update();
}

void SetUpPage::enter()
{
    for (const Step& step : rows_)
        if (step.act && !frame_.shows(step.spec.watch)) {
            step.act->setFocus();
            return;
        }
    next_->setFocus();
}

void SetUpPage::follow()
{
    for (const Step& step : rows_) {
        const bool done = frame_.shows(step.spec.watch);
        static_cast<Tick*>(step.tick)->set(done);
        if (step.act)
            step.act->setEnabled(frame_.ready() && !frame_.running());
        if (step.act && step.spec.watch == "guard-closed")
            step.act->setText(done ? "Open guard" : "Close guard");
    }
    const double force = frame_.sample().force;
    const bool kilo = std::abs(force) >= 1000;
    const Unit& unit = displayUnit(Kind::Force, force, units());
    force_->setText(figureHtml(frame_.ready() ? QString::number(unit.fromBase(force), 'f', kilo && units() == UnitSystem::SI ? 3 : 1) : "–", q(std::string(unit.symbol)), 26));
    const StopLimits& limits = frame_.limits();
    const auto weakest = weakestLink(frame_.train());
    limits_->setText(weakest ? QString("Stops by itself at %1 (%2), %3 of travel, %4or %5 min.")
                                   .arg(forceText(limits.force), q(weakest->name), shownQuantity(limits.travel, Kind::Length))
                                   .arg(limits.forceDrop > 0 ? QString("a force drop of %1 %, ").arg(limits.forceDrop * 100, 0, 'f', 0) : QString())
                                   .arg(limits.time / 60, 0, 'f', 0)
                             : QString("Choose cell and grips: the weakest link sets the stop limit."));
    QString words = trouble_;
    const QStringList holds = frame_.holdBacks();
    if (words.isEmpty() && !holds.isEmpty())
        words = "Not ready: " + holds.join("; ") + ".";
    holds_->setText(words);
    next_->setEnabled(words.isEmpty() || frame_.running());
    update();
}

void SetUpPage::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.fillRect(rect(), p.surface);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!session_.hasSpecimen())
        return;
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
            painter.drawText(QPointF(172, y + 48), "weakest link: the stop limit");
        }
        if (share > 0) {
            const QRectF bar(172, y + 25, 160, 7);
            painter.fillRect(bar, p.hairSoft);
            painter.fillRect(QRectF(bar.left(), bar.top(), std::min(share, 1.0) * bar.width(), bar.height()), share > 1 ? p.stop : p.quiet);
        }
    };
    const double unit = h / 12;
    // crosshead, cell, grip, specimen, grip, base
    box(top, 150, unit * 0.8, p.metal);
    const auto link = [&](size_t i) { return i < margins.size() ? margins[i] : TrainMargin{}; };
    const auto used = [&](const TrainMargin& m) { return m.used > 0 ? QString("%1 · used to %2 %").arg(forceText(m.link.capacity)).arg(m.used * 100, 0, 'f', 0) : m.link.capacity > 0 ? forceText(m.link.capacity) : QString("capacity not known"); };
    const bool top2 = frame_.shows("grip-top");
    const bool low2 = frame_.shows("grip-bottom");
    const bool pressed = session_.job().method->loading == Loading::Compression;
    box(top + unit * 1.1, 76, unit * 1.4, p.surface);
    words(top + unit * 1.55, q(link(0).link.name), used(link(0)), link(0).used, weakest && weakest->name == link(0).link.name);
    if (pressed)
        box(top + unit * 2.8, 120, unit * 0.6, p.hair);
    else
        box(top + unit * 2.8, 56, unit * 1.7, top2 ? p.hair : p.surface);
    words(top + unit * 3.2, q(link(1).link.name), (pressed ? QString() : top2 ? QString("closed · ") : QString("open · ")) + used(link(1)), link(1).used, weakest && weakest->name == link(1).link.name);
    painter.setPen(QPen(p.ink, 1.4));
    painter.setBrush(p.metal);
    painter.drawPath(silhouette(session_.job().method->form, session_.specimen().input.shape, QRectF(cx - 20, top + unit * 3.6, 40, unit * 4.6)));
    const ExpectedLoad& expected = frame_.expected();
    words(top + unit * 5.4, q(session_.specimen().label), expected.maximum ? forceText(*expected.maximum) + " expected" : "load not known", 0, false);
    painter.setFont(wordFont(11));
    painter.setPen(p.quiet);
    painter.drawText(QRectF(172, top + unit * 5.4 + 22, 160, 50), Qt::TextWordWrap, q(expected.basis));
    if (frame_.shows("extensometer-on")) {
        painter.setPen(QPen(p.accent, 2));
        const double a = top + unit * 5.1;
        const double b = top + unit * 6.7;
        painter.drawLine(QPointF(cx + 6, a), QPointF(cx + 34, a));
        painter.drawLine(QPointF(cx + 6, b), QPointF(cx + 34, b));
        painter.drawLine(QPointF(cx + 34, a), QPointF(cx + 34, b));
    }
    if (pressed)
        box(top + unit * 8.3, 120, unit * 0.6, p.hair);
    else
        box(top + unit * 7.3, 56, unit * 1.7, low2 ? p.hair : p.surface);
    words(top + unit * 8.0, {}, pressed ? (frame_.shows("centred") ? "lower platen, piece centred" : "lower platen") : low2 ? "lower grip, closed" : "lower grip, open", 0, false);
    box(top + unit * 9.3, 150, unit * 0.8, p.metal);
    painter.setPen(p.quiet);
    painter.setFont(wordFont(11.5));
    painter.drawText(QRectF(18, top + unit * 10.6, 316, 60), Qt::TextWordWrap, (frame_.removeAt() > 0 ? QString("Extensometer comes off at %1 % strain; the frame holds and asks.").arg(frame_.removeAt() * 100, 0, 'f', 1) : pressed ? QString("Ends by travel and goes back to the start.") : session_.job().method->findField("extensometer_gauge_length") ? QString("The extensometer stays on to the break.") : QString("Runs to the break.")) + "\nFrame: " + frame_.linkWords() + ".");
}

QStringList SetUpPage::keys() const
{
    return {"Z|zero force", "B|balance the extensometer", "Space, Enter|the step in focus", "Alt+4|on to Load", "Esc|STOP"};
}

} // namespace fortitor
