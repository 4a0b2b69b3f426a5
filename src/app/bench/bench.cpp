// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/bench.h"

#include "app/model/tester_work.h"

#include "app/bench/history/history_page.h"
#include "app/bench/history/spectrum_page.h"
#include "app/bench/indent/indent_page.h"
#include "app/bench/indent/piece_page.h"
#include "app/bench/judge/judge_page.h"
#include "app/bench/measure/measure_page.h"
#include "app/bench/plan/plan_page.h"
#include "app/bench/ribbon.h"
#include "app/bench/run/run_page.h"
#include "app/bench/setup/setup_page.h"
#include "app/bench/drop/drop_page.h"
#include "app/bench/strike/strike_page.h"
#include "app/bench/tags.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"

#include <QFontMetricsF>
#include <QHBoxLayout>
#include <QPainter>
#include <QVBoxLayout>

#include <algorithm>
#include <utility>

namespace fortitor {

JobLine::JobLine(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setFixedHeight(46);
    connect(&session, &Session::changed, this, qOverload<>(&QWidget::update));
    // A disk that answers at once is not worth a word.
    slow_.setSingleShot(true);
    slow_.setInterval(250);
    connect(&session, &Session::keeping, this, [this] {
        if (session_.beingKept() == 0) {
            slow_.stop();
            keeping_ = false;
            update();
        } else if (!slow_.isActive() && !keeping_) {
            slow_.start();
        }
    });
    connect(&slow_, &QTimer::timeout, this, [this] {
        keeping_ = true;
        update();
    });
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void JobLine::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.fillRect(rect(), p.paper);
    painter.fillRect(QRect(0, height() - 1, width(), 1), p.hair);
    if (!session_.isOpen())
        return;
    const Job& job = session_.job();
    double right = width() - 18;
    painter.setFont(wordFont(13));
    if (keeping_ || session_.working() > 0) {
        const QString words = keeping_ ? QString("being kept: %1").arg(session_.beingKept())
                                       : QString("being worked out: %1").arg(session_.working());
        const double wide = QFontMetricsF(wordFont(13)).horizontalAdvance(words);
        painter.setPen(p.ink);
        painter.drawText(QPointF(right - wide, 28), words);
        right -= wide + 18;
    }
    painter.setPen(p.quiet);
    // What is wanted, from the right.
    for (auto it = job.requirements.rbegin(); it != job.requirements.rend(); ++it) {
        Job one;
        one.method = job.method;
        one.requirements = {*it};
        const QString text = q(wantedText(one));
        const QString rest = text.mid(q(symbolText(it->symbol)).size());
        const double wide =
            drawSymbol(nullptr, {}, q(it->symbol), wordFont(13)) + QFontMetricsF(wordFont(13)).horizontalAdvance(rest);
        right -= wide;
        const double symbolWide = drawSymbol(&painter, QPointF(right, 28), q(it->symbol), wordFont(13));
        painter.setFont(wordFont(13));
        painter.drawText(QPointF(right + symbolWide, 28), rest);
        right -= it + 1 == job.requirements.rend() ? 0 : 14;
        if (it + 1 != job.requirements.rend())
            painter.drawText(QPointF(right + 4, 28), "·");
    }
    if (!job.requirements.empty()) {
        right -= QFontMetricsF(wordFont(13)).horizontalAdvance("wanted: ") + 2;
        painter.drawText(QPointF(right, 28), "wanted: ");
    }
    double x = 18;
    painter.setFont(figureFont(15));
    painter.drawText(QPointF(x, 28), q(job.number));
    x += QFontMetricsF(painter.font()).horizontalAdvance(q(job.number)) + 10;
    painter.setFont(wordFont(15, QFont::DemiBold));
    painter.setPen(p.ink);
    const QString title = QFontMetricsF(painter.font())
                              .elidedText(q(job.title.empty() ? "Untitled job" : job.title), Qt::ElideRight,
                                          std::max(80.0, right - x - 20));
    painter.drawText(QPointF(x, 28), title);
    x += QFontMetricsF(painter.font()).horizontalAdvance(title) + 18;
    painter.setFont(wordFont(13));
    painter.setPen(p.quiet);
    painter.drawText(QPointF(x, 28),
                     QFontMetricsF(painter.font())
                         .elidedText(q((job.materialName.empty() ? "" : job.materialName + " · ") + job.method->name
                                       + " · " + job.method->standards),
                                     Qt::ElideRight, std::max(0.0, right - x - 20)));
}

namespace {

/// Stands for a page that this program does not have.
class NoPage : public Page {
public:
    NoPage(Session& session, const std::string& name) : Page(session, nullptr), name_(q(name)) { }
    void refresh() override { update(); }

protected:
    void paintEvent(QPaintEvent* event) override
    {
        Page::paintEvent(event);
        QPainter painter(this);
        painter.setPen(pal().quiet);
        painter.setFont(wordFont(13));
        painter.drawText(rect(), Qt::AlignCenter,
                         "This test asks for a page \"" + name_
                             + "\", which this program does not have. Nothing of the job is lost.");
    }

private:
    QString name_;
};

} // namespace

Bench::Bench(Session& session, LiveFrame& frame, QWidget* parent) : QWidget(parent), session_(session), frame_(frame)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(new JobLine(session));
    auto* tags = new TagStrip(session);
    column->addWidget(tags);
    connect(tags, &TagStrip::added, this, [this] { page(session_.stage())->enter(); });
    auto* row = new QHBoxLayout;
    row->setSpacing(0);
    column->addLayout(row, 1);
    auto* main = new QVBoxLayout;
    main->setSpacing(0);
    row->addLayout(main, 1);
    main->addWidget(new Ribbon(session));
    stack_ = new QStackedWidget;
    stack_->setObjectName("stages");
    main->addWidget(stack_, 1);
    margin_ = new Margin(session);
    row->addWidget(margin_);

    for (const PageSpec& spec : standardPages())
        pageNamed(spec.page);
    read_ = static_cast<ReadPage*>(pageNamed("read"));
    report_ = static_cast<ReportPage*>(pageNamed("report"));
    connect(margin_, &Margin::fieldAsked, this, &Bench::goToField);
    connect(margin_, &Margin::symbolAsked, this, [this](const QString& symbol) {
        toStage(Stage::Read);
        read_->chooseSymbol(symbol);
    });
    connect(&session, &Session::stageChanged, this, &Bench::showStage);
    for (auto signal : {&Session::changed, &Session::currentChanged})
        connect(&session, signal, this, &Bench::refresh);
}

void Bench::toStage(Stage stage)
{
    session_.setStage(static_cast<int>(stage));
}

/// What a method may name as a page, and how it is made.
const std::map<std::string, Page* (*)(Bench&)>& Bench::factories()
{
    static const std::map<std::string, Page* (*)(Bench&)> all{
        {"plan", [](Bench& b) -> Page* { return new PlanPage(b.session_); }},
        {"measure", [](Bench& b) -> Page* { return new MeasurePage(b.session_); }},
        {"set-up",
         [](Bench& b) -> Page* {
             auto* page = new SetUpPage(b.session_, b.frame_);
             connect(page, &SetUpPage::loadAsked, &b, [&b] { b.toStage(Stage::Load); });
             return page;
         }},
        {"load",
         [](Bench& b) -> Page* {
             auto* page = new LoadPage(b.session_, b.frame_);
             connect(page, &LoadPage::readAsked, &b, [&b] { b.toStage(Stage::Read); });
             connect(page, &LoadPage::setUpAsked, &b, [&b] { b.toStage(Stage::SetUp); });
             connect(page, &LoadPage::importAsked, &b, &Bench::importAsked);
             return page;
         }},
        {"indent",
         [](Bench& b) -> Page* {
             auto* page = new IndentPage(b.session_);
             connect(page, &IndentPage::readAsked, &b, [&b] { b.toStage(Stage::Read); });
             connect(page, &IndentPage::jobAsked, &b, &Bench::jobAsked);
             return page;
         }},
        {"piece",
         [](Bench& b) -> Page* {
             auto* page = new PiecePage(b.session_);
             connect(page, &PiecePage::indentAsked, &b, [&b] { b.toStage(Stage::Load); });
             return page;
         }},
        {"strike",
         [](Bench& b) -> Page* {
             auto* page = new StrikePage(b.session_, b.frame_);
             connect(page, &StrikePage::readAsked, &b, [&b] { b.toStage(Stage::Read); });
             connect(page, &StrikePage::setUpAsked, &b, [&b] { b.toStage(Stage::SetUp); });
             return page;
         }},
        {"run",
         [](Bench& b) -> Page* {
             auto* page = new RunPage(b.session_, b.frame_);
             connect(page, &RunPage::judgeAsked, &b, [&b] { b.toStage(Stage::Judge); });
             connect(page, &RunPage::importAsked, &b, &Bench::importAsked);
             return page;
         }},
        {"history",
         [](Bench& b) -> Page* {
             auto* page = new HistoryPage(b.session_);
             connect(page, &HistoryPage::readAsked, &b, [&b] { b.toStage(Stage::Read); });
             return page;
         }},
        {"chain", [](Bench& b) -> Page* { return new SpectrumPage(b.session_); }},
        {"drop",
         [](Bench& b) -> Page* {
             auto* page = new DropPage(b.session_);
             connect(page, &DropPage::readAsked, &b, [&b] { b.toStage(Stage::Read); });
             connect(page, &DropPage::importAsked, &b, &Bench::importAsked);
             connect(page, &DropPage::jobAsked, &b, &Bench::jobAsked);
             return page;
         }},
        {"read", [](Bench& b) -> Page* { return new ReadPage(b.session_); }},
        {"judge", [](Bench& b) -> Page* { return new JudgePage(b.session_); }},
        {"report", [](Bench& b) -> Page* { return new ReportPage(b.session_); }},
    };
    return all;
}

/// Made once, when it is first asked for. A name that nobody knows gives a page that says so.
Page* Bench::pageNamed(const std::string& name)
{
    if (const auto it = pages_.find(name); it != pages_.end())
        return it->second;
    const auto make = factories().find(name);
    Page* page = make != factories().end() ? make->second(*this) : new NoPage(session_, name);
    page->setAutoFillBackground(true);
    stack_->addWidget(page);
    connect(page, &Page::pageRemarks, this, [this, page](const std::vector<Remark>& remarks) {
        if (stack_->currentWidget() == page)
            margin_->setPageRemarks(remarks);
    });
    pages_[name] = page;
    return page;
}

Page* Bench::page(int stage)
{
    const auto pages = session_.isOpen() ? session_.job().method->pages : standardPages();
    const auto it = std::ranges::find(pages, static_cast<Stage>(stage), &PageSpec::stage);
    return pageNamed(it == pages.end() ? pages.front().page : it->page);
}

void Bench::showStage(int stage)
{
    Page* next = page(stage);
    if (stack_->currentWidget() == next)
        return refresh(); // told again: nobody is sent anywhere
    margin_->setPageRemarks({});
    stack_->setCurrentWidget(next);
    refresh();
    next->enter();
}

void Bench::refresh()
{
    if (!session_.isOpen())
        return;
    Page* now = page(session_.stage());
    stack_->setCurrentWidget(now); // another job may have other pages
    now->refresh();
    lookAtTester();
}

/// Whether a check in this job or another puts the piece at hand in doubt; once a piece and reading.
void Bench::lookAtTester()
{
    const bool has = session_.hasSpecimen() && !session_.job().method->intake.machine.empty();
    size_t readings = 0;
    if (has)
        for (const auto& [name, list] : session_.specimen().input.readings)
            readings = list.size();
    const QString here =
        has ? QString("%1/%2/%3").arg(session_.jobId()).arg(session_.current()).arg(readings) : QString();
    if (std::exchange(testerOf_, here) == here)
        return;
    const auto doubt =
        has ? doubtOf(session_.testerRows(), session_.jobId(), static_cast<int>(session_.current())) : std::nullopt;
    margin_->setTesterRemarks(doubt ? std::vector{*doubt} : std::vector<Remark>());
}

void Bench::goToField(const QString& field)
{
    const Method& method = *session_.job().method;
    const NoteSpec* note = method.findNote(s(field));
    const Stage stage = method.findField(s(field)) ? Stage::Measure : note ? note->stage : Stage::Plan;
    toStage(stage);
    page(static_cast<int>(stage))->goTo(field);
}

void Bench::resizeEvent(QResizeEvent*)
{
    margin_->setFixedWidth(width() < 1000 ? 226 : 268);
}

} // namespace fortitor
