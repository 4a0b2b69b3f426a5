// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/history/spectrum_page.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "jobs/edits.h"
#include "methods/spectrum/spectrum.h"

#include <QVBoxLayout>

#include <fmt/format.h>

#include <algorithm>

namespace fortitor {
namespace {

constexpr double stretchSeconds = 30;
enum Box : size_t { atRaw, atRepaired, atDetrended, atLowPass, atTurning, atCut, atCounted };

QString figure(double value, const Unit& unit)
{
    return q(fmt::format("{:.3g} {}", value, unit.symbol == "ue" ? "µε" : unit.symbol));
}

QString many(double count)
{
    return count < 1e4 ? QString::number(count, 'f', count == std::floor(count) ? 0 : 1)
        : count < 1e6  ? QString("%1 k").arg(count / 1e3, 0, 'f', 1)
                       : QString("%1 M").arg(count / 1e6, 0, 'f', 1);
}

} // namespace

SpectrumPage::SpectrumPage(Session& session, QWidget* parent) : Page(session, parent), work_(session)
{
    setObjectName("spectrumPage");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(24, 8, 20, 8);
    column->setSpacing(6);
    strip_ = new ChainStrip;
    column->addWidget(strip_);
    column->addWidget(buildProgress());
    message_ = label({}, "warn");
    message_->setObjectName("spectrumMessage");
    message_->setWordWrap(true);
    message_->hide();
    column->addWidget(message_);
    stack_ = new QStackedWidget;
    stack_->addWidget(buildStep());
    stack_->addWidget(buildCounted());
    empty_ = label({}, "quiet");
    empty_->setObjectName("spectrumEmpty");
    empty_->setAlignment(Qt::AlignCenter);
    empty_->setWordWrap(true);
    stack_->addWidget(empty_);
    column->addWidget(stack_, 1);
    cardRow_ = new QHBoxLayout;
    cardRow_->setSpacing(12);
    column->addLayout(cardRow_);
    connect(strip_, &ChainStrip::chosenChanged, this, [this](size_t) {
        work_.dropTrials();
        showStep();
    });
    connect(strip_, &ChainStrip::switched, this, &SpectrumPage::switchBox);
    connect(signal_, &SignalView::stretchAsked, this, &SpectrumPage::stretchAt);
    connect(&work_, &HistoryWork::changed, this, &SpectrumPage::refresh);
    connect(&work_, &HistoryWork::progressed, this, &SpectrumPage::showProgress);
    connect(&work_, &HistoryWork::tried, this, &SpectrumPage::showTrials);
    connect(&work_, &HistoryWork::stretchReady, this, &SpectrumPage::showStretch);
    connect(&work_, &HistoryWork::stretchRefused, this, [this](const QString& why) {
        stretchAsked_ = false;
        message_->setText(why);
        message_->show();
    });
    strip_->setChosen(atCounted);
}

const Outcome* SpectrumPage::outcome() const
{
    const bool has = session_.hasSpecimen() && session_.specimenOutcome().outcome;
    return has ? &*session_.specimenOutcome().outcome : nullptr;
}

std::string SpectrumPage::settingOf(const std::string& option) const
{
    const OptionSpec* spec = session_.job().method->findOption(option);
    const auto& options = session_.specimen().input.options;
    const auto it = options.find(option);
    return it != options.end() && !it->second.empty() ? it->second : spec ? spec->fallback : "";
}

void SpectrumPage::refresh()
{
    const PageSpec* page = session_.hasSpecimen() ? session_.job().method->pageOf(Stage::Read) : nullptr;
    if (!page || page->page != "chain")
        return;
    work_.look();
    QString now = QString::number(session_.jobId()) + "/" + q(session_.specimen().label);
    if (const auto& history = session_.specimen().input.history)
        for (const std::string& file : history->files)
            now += "\n" + q(file);
    if (std::exchange(standsAt_, now) != now) {
        from_.reset();
        stretch_.reset();
        shown_.reset();
        settled_.clear();
    }
    const auto figures = work_.figures();
    const auto& problem = session_.specimenOutcome().problem;
    QString message = problem ? q(problem->text()) : QString();
    message_->setText(message);
    message_->setVisible(!message.isEmpty());
    if (work_.file() && work_.pyramid())
        signal_->show(work_.file(), work_.pyramid());
    if (session_.specimen().input.history)
        signal_->setBegins(QDateTime::fromString(q(session_.specimen().input.history->begins), Qt::ISODate));
    std::string settings;
    for (const OptionSpec& option : session_.job().method->options)
        settings += settingOf(option.key) + "\n";
    if (figures && work_.file() && (shown_ != figures || settled_ != settings)) {
        shown_ = figures;
        settled_ = settings;
        askStretch();
    }
    empty_->setText(!session_.specimen().input.history ? "No history is taken in yet: on History."
                        : problem                      ? "Nothing can be counted as it is."
                                                       : "The history is being counted …");
    showBoxes();
    showStep();
    showCards();
    showProgress();
}

void SpectrumPage::showProgress()
{
    const double share = work_.share();
    const bool works = session_.hasSpecimen() && session_.worksOn(session_.current());
    const bool stopped = outcome() && outcome()->remarked("counting-stopped") && !works;
    progress_->setVisible(works || share >= 0 || stopped);
    bar_->setVisible(!stopped);
    bar_->setValue(static_cast<int>(1000 * std::max(0.0, share)));
    progressWords_->setText(stopped     ? "The counting was stopped."
                                : works ? work_.figures() ? "Counted anew; below stands what was before …"
                                                          : "The history is being counted …"
                                        : "Another setting is being tried …");
    stop_->setText(stopped ? "Count again" : "Stop");
}

/// What each box says below its picture.
void SpectrumPage::showBoxes()
{
    std::vector<StripBox> boxes;
    for (const ChainBox& box : chainBoxes()) {
        StripBox one{.name = q(box.name), .setting = {}, .found = {}, .off = false, .canBeOff = !box.off.empty()};
        if (!box.option.empty() && !box.off.empty()) {
            const std::string setting = settingOf(box.option);
            one.off = !box.off.empty() && setting == box.off;
            one.setting = q(session_.job().method->findOption(box.option)->shown(setting));
        }
        boxes.push_back(std::move(one));
    }
    if (const auto h = work_.figures()) {
        const Counts& c = h->spectrum.counts;
        const Unit& unit = *h->spectrum.unit;
        boxes[atRaw].setting = many(static_cast<double>(h->spectrum.chain.readings)) + " readings";
        boxes[atRaw].found = QString("%1 Hz").arg(h->spectrum.chain.rate, 0, 'g', 5);
        boxes[atRepaired].setting = many(static_cast<double>(h->spectrum.chain.repaired)) + " bridged";
        if (h->spectrum.chain.trend.size() > 1) {
            const auto [low, high] = std::ranges::minmax(h->spectrum.chain.trend);
            boxes[atDetrended].found = figure(high - low, unit) + " taken out";
        }
        boxes[atTurning].setting = many(static_cast<double>(c.turningPoints));
        boxes[atCut].found = c.cutAt > 0 ? "at " + figure(c.cutAt, unit) : QString();
        boxes[atCounted].setting = many(c.cycles) + " cycles";
        for (const RangeBin& bin : c.histogram)
            boxes[atCounted].bars.push_back(std::log10(1 + bin.count));
    }
    if (stretch_) {
        std::vector<double> x(stretch_->chain.raw.size());
        for (size_t i = 0; i < x.size(); ++i)
            x[i] = static_cast<double>(i);
        const std::vector<double>* lists[] = {&stretch_->chain.raw, &stretch_->chain.repaired,
                                              &stretch_->chain.detrended, &stretch_->chain.filtered};
        for (size_t k = 0; k < std::size(lists); ++k) {
            boxes[k].x = x;
            boxes[k].y = *lists[k];
        }
        boxes[atTurning].x = stretch_->turningAt;
        boxes[atTurning].y = stretch_->turning;
        boxes[atCut].x = stretch_->keptAt;
        boxes[atCut].y = stretch_->kept;
    }
    strip_->show(std::move(boxes));
}

void SpectrumPage::showCards()
{
    const Outcome* now = outcome();
    const auto& specs = session_.job().method->results;
    if (cards_.empty()) {
        for (const ResultSpec& spec : specs)
            if (spec.of == ResultSpec::Of::Specimen && spec.headline) {
                auto* card = new ResultCard(q(spec.symbol));
                card->setFixedHeight(78);
                cards_.push_back(card);
                cardRow_->addWidget(card);
            }
    }
    for (ResultCard* card : cards_) {
        const ResultSpec& spec = *session_.job().method->findResult(s(card->symbol()));
        const Result* result = now ? now->find(spec.symbol) : nullptr;
        std::optional<double> min, max;
        for (const Requirement& r : session_.job().requirements)
            if (r.symbol == spec.symbol) {
                min = r.min;
                max = r.max;
            }
        card->show(spec, result ? *result : Result{.symbol = spec.symbol, .unit = &unitOf(spec)}, {}, min, max);
        const std::string why = now ? whyMissing(*now, spec.symbol) : "";
        card->setToolTip(q(why.empty() ? spec.name + ". " + spec.help : why));
    }
}

void SpectrumPage::chooseBox(size_t box)
{
    strip_->setChosen(box);
    work_.dropTrials();
    showStep();
}

/// The page of the box that is chosen.
void SpectrumPage::showStep()
{
    if (!work_.figures()) {
        stack_->setCurrentIndex(2);
        return;
    }
    const size_t at = strip_->chosen();
    stack_->setCurrentIndex(at == atCounted ? 1 : 0);
    const ChainBox& box = chainBoxes()[at];
    const OptionSpec* option = box.option.empty() ? nullptr : session_.job().method->findOption(box.option);
    settingName_->setText(q(box.name));
    settingHelp_->setText(option ? q(option->help)
                              : at == atRaw
                              ? QString("As the file has it. A click on the long signal puts the stretch below.")
                              : QString("First, last and each reversal of the filtered signal."));
    const bool typed = option && option->choices.empty();
    setting_->setVisible(typed);
    if (typed)
        hands::fill(setting_, q(settingOf(box.option)));
    switch_->setVisible(!box.off.empty());
    switch_->setText(option && settingOf(box.option) == box.off ? "On" : "Off");
    only_->setVisible(option != nullptr);
    try_->setVisible(option != nullptr);
    if (at == atCounted)
        return showCounted();
    if (stretch_)
        showStretch(stretch_);
}

void SpectrumPage::stretchAt(double reading)
{
    if (!work_.file())
        return;
    const double half = stretchSeconds / 2 * work_.file()->rate;
    const auto n = static_cast<double>(work_.file()->source->size());
    from_ = static_cast<std::uint64_t>(std::clamp(reading - half, 0.0, std::max(0.0, n - 2 * half)));
    askStretch();
}

void SpectrumPage::worst()
{
    const auto h = work_.figures();
    if (!h || !work_.file())
        return;
    if (strip_->chosen() == atCounted)
        chooseBox(atLowPass);
    const double at = static_cast<double>(h->worst.at()), wide = 10 * stretchSeconds * work_.file()->rate;
    stretchAt(at);
    signal_->showWindow(at - wide, at + wide);
}

void SpectrumPage::askStretch()
{
    const auto h = work_.figures();
    if (!h || !work_.file())
        return;
    const double half = stretchSeconds / 2 * work_.file()->rate;
    // Figures of other files, while these are being counted, tell of no place in them.
    if (h->spectrum.chain.readings != work_.file()->source->size())
        return;
    const auto from =
        from_.value_or(static_cast<std::uint64_t>(std::max(0.0, static_cast<double>(h->worst.at()) - half)));
    stretchAsked_ = true;
    signal_->setStretch(static_cast<double>(from), static_cast<double>(from) + 2 * half);
    work_.askStretch(from, static_cast<size_t>(2 * half));
}

/// Before and after the step, on the stretch.
void SpectrumPage::showStretch(const std::shared_ptr<const SeenStretch>& stretch)
{
    stretchAsked_ = false;
    const bool fresh = stretch_ != stretch;
    stretch_ = stretch;
    if (fresh)
        showBoxes();
    const size_t at = strip_->chosen();
    const auto h = work_.figures();
    if (at == atCounted || !h)
        return;
    const SeenStretch& seen = *stretch;
    Plot plot;
    const auto hold = [&plot](std::vector<double> values) -> std::span<const double> {
        plot.held.push_back(std::make_shared<const std::vector<double>>(std::move(values)));
        return *plot.held.back();
    };
    const auto seconds = [&](const std::vector<double>& places) {
        std::vector<double> x;
        for (const double place : places)
            x.push_back(place / seen.rate);
        return hold(std::move(x));
    };
    std::vector<double> all(seen.chain.raw.size());
    for (size_t i = 0; i < all.size(); ++i)
        all[i] = static_cast<double>(i);
    const auto x = seconds(all);
    const auto add = [&](std::span<const double> along, const std::vector<double>& y, const QString& name, bool quiet) {
        plot.series.push_back({.x = along,
                               .y = hold(y),
                               .label = name,
                               .thin = true,
                               .pen = quiet ? QPen(pal().quiet, 1) : QPen(pal().data[0], 1.6),
                               .quiet = quiet});
    };
    const ChainStretch& c = seen.chain;
    switch (at) {
    case atRaw: add(x, c.raw, "raw", false); break;
    case atRepaired:
        add(x, c.raw, "raw", true);
        add(x, c.repaired, "repaired", false);
        break;
    case atDetrended:
        add(x, c.repaired, "before", true);
        add(x, c.detrended, "without the trend", false);
        break;
    case atLowPass:
        add(x, c.detrended, "before", true);
        add(x, c.filtered, "after the low-pass", false);
        break;
    case atTurning:
        add(x, c.filtered, "filtered", true);
        add(seconds(seen.turningAt), seen.turning, "turning points", false);
        break;
    default:
        add(seconds(seen.turningAt), seen.turning, "all turning points", true);
        add(seconds(seen.keptAt), seen.kept, "kept", false);
    }
    const Unit& unit = *h->spectrum.unit;
    plot.x = {.title = QString(seen.alone ? "trend as of the hours about it · " : "") + "time from "
                  + signal_->timeWords(static_cast<double>(c.from)) + ", s"};
    plot.y = {.title = (unit.kind == Kind::Stress ? "stress, " : "strain, ")
                  + q(std::string(unit.symbol == "ue" ? "µε" : unit.symbol))};
    plot.names = Plot::Names::Row;
    plot.fit();
    step_->show(std::move(plot), false);
}

bool SpectrumPage::keepSetting(const QString& typed, std::function<void(bool)> answered)
{
    const ChainBox& box = chainBoxes()[strip_->chosen()];
    auto options = session_.specimen().input.options;
    options[box.option] = s(typed);
    if (const auto read = spectrumSettings(options); !read) {
        message_->setText(q(read.problem().text()));
        message_->show();
        return false;
    }
    message_->hide();
    const bool own = only_->isChecked();
    return session_.apply(own ? edits::specimenOption(session_.document(), session_.current(), box.option, s(typed),
                                                      "set on Read")
                              : edits::option(session_.document(), box.option, s(typed)),
                          std::move(answered));
}

/// Off, or back to what it was before; to the usual setting where that is not known.
void SpectrumPage::switchBox(size_t at)
{
    const ChainBox& box = chainBoxes()[at];
    if (box.off.empty())
        return;
    const OptionSpec& option = *session_.job().method->findOption(box.option);
    const bool off = settingOf(box.option) == box.off;
    std::string& before = before_[{standsAt_, box.option}];
    const std::string value = !off ? box.off : before.empty() ? option.fallback : before;
    if (!off)
        before = settingOf(box.option);
    session_.apply(only_->isChecked() ? edits::specimenOption(session_.document(), session_.current(), box.option,
                                                              value, "switched on Read")
                                      : edits::option(session_.document(), box.option, value));
}

void SpectrumPage::askTrials()
{
    std::vector<std::pair<std::string, std::string>> settings;
    std::vector<std::string> words;
    for (ChainTrial& trial : chainTrials(chainBoxes()[strip_->chosen()], session_.specimen().input.options)) {
        settings.emplace_back(trial.option, trial.value);
        words.push_back(std::move(trial.words));
    }
    work_.askTrials(settings, words);
}

void SpectrumPage::showTrials()
{
    const Outcome* now = outcome();
    const Result* damage = now ? now->find(spectrumKeys::damage) : nullptr;
    QString html;
    for (const TriedSetting& one : work_.trials()) {
        QString against = "…";
        if (one.done && one.damage && damage && damage->value && *damage->value > 0) {
            const double percent = 100 * (*one.damage / *damage->value - 1);
            against = QString("%1&nbsp;<b>%2%3&nbsp;%</b>")
                          .arg(*one.damage, 0, 'g', 3)
                          .arg(percent < 0 ? "−" : "+")
                          .arg(std::abs(percent), 0, 'g', 2);
        } else if (one.done) {
            against = one.equivalent ? QString("Δσ<sub>eq</sub> %1").arg(*one.equivalent, 0, 'g', 4) : "none";
        }
        html += "<tr><td style='padding-right:10px'>" + q(one.words).toHtmlEscaped() + "</td><td align=right>" + against
            + "</td></tr>";
    }
    trialTable_->setText(html.isEmpty() ? QString()
                                        : "<table width='100%'><tr><td><i>setting</i></td><td align=right><i>damage</i>"
                                          "</td></tr>"
                                 + html + "</table>");
    showProgress();
}

bool SpectrumPage::goTo(const QString& field)
{
    const auto& boxes = chainBoxes();
    for (size_t k = 0; k < boxes.size(); ++k)
        if (q(boxes[k].option) == field) {
            chooseBox(k);
            setting_->setFocus();
            return true;
        }
    return false;
}

QStringList SpectrumPage::keys() const
{
    return {"← →|along the boxes", "Space|a step off and on", "W|the worst event", "+ − 0|the long signal"};
}

} // namespace fortitor
