// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/bench.h"

#include "app/bench/judge_page.h"
#include "app/bench/measure_page.h"
#include "app/bench/plan_page.h"
#include "app/bench/ribbon.h"
#include "app/bench/setup_page.h"
#include "app/bench/tags.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"

#include <QFontMetricsF>
#include <QHBoxLayout>
#include <QPainter>
#include <QVBoxLayout>

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
    if (keeping_) {
        const QString words = QString("being kept: %1").arg(session_.beingKept());
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
        const double wide = drawSymbol(nullptr, {}, q(it->symbol), wordFont(13)) + QFontMetricsF(wordFont(13)).horizontalAdvance(rest);
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
    const QString title = QFontMetricsF(painter.font()).elidedText(q(job.title.empty() ? "Untitled job" : job.title), Qt::ElideRight, std::max(80.0, right - x - 20));
    painter.drawText(QPointF(x, 28), title);
    x += QFontMetricsF(painter.font()).horizontalAdvance(title) + 18;
    painter.setFont(wordFont(13));
    painter.setPen(p.quiet);
    painter.drawText(QPointF(x, 28), QFontMetricsF(painter.font()).elidedText(q((job.materialName.empty() ? "" : job.materialName + " · ") + job.method->name + " · " + job.method->standards), Qt::ElideRight, std::max(0.0, right - x - 20)));
}

Bench::Bench(Session& session, LiveFrame& frame, QWidget* parent) : QWidget(parent), session_(session)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(new JobLine(session));
    auto* tags = new TagStrip(session);
    column->addWidget(tags);
    connect(tags, &TagStrip::added, this, [this] { pages_[static_cast<size_t>(stack_->currentIndex())]->enter(); });
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

    auto* setUp = new SetUpPage(session, frame);
    auto* load = new LoadPage(session, frame);
    read_ = new ReadPage(session);
    report_ = new ReportPage(session);
    pages_ = {new PlanPage(session), new MeasurePage(session), setUp, load, read_, new JudgePage(session), report_};
    for (Page* page : pages_) {
        page->setAutoFillBackground(true);
        stack_->addWidget(page);
        connect(page, &Page::pageRemarks, this, [this, page](const std::vector<Remark>& remarks) {
            if (stack_->currentWidget() == page)
                margin_->setPageRemarks(remarks);
        });
    }
    connect(setUp, &SetUpPage::loadAsked, this, [this] { session_.setStage(3); });
    connect(load, &LoadPage::readAsked, this, [this] { session_.setStage(4); });
    connect(load, &LoadPage::setUpAsked, this, [this] { session_.setStage(2); });
    connect(load, &LoadPage::importAsked, this, &Bench::importAsked);
    connect(margin_, &Margin::fieldAsked, this, &Bench::goToField);
    connect(margin_, &Margin::symbolAsked, this, [this](const QString& symbol) { session_.setStage(4); read_->chooseSymbol(symbol); });
    connect(&session, &Session::stageChanged, this, &Bench::showStage);
    for (auto signal : {&Session::changed, &Session::currentChanged})
        connect(&session, signal, this, &Bench::refresh);
}

void Bench::showStage(int stage)
{
    if (stack_->currentIndex() == stage)
        return refresh(); // told again: nobody is sent anywhere
    margin_->setPageRemarks({});
    stack_->setCurrentIndex(stage);
    refresh();
    pages_[static_cast<size_t>(stage)]->enter();
}

void Bench::refresh()
{
    if (session_.isOpen())
        pages_[static_cast<size_t>(stack_->currentIndex())]->refresh();
}

void Bench::goToField(const QString& field)
{
    for (int stage : {1, 0})
        if (const Method* method = session_.job().method; (stage == 1) == (method->findField(s(field)) != nullptr)) {
            session_.setStage(stage);
            pages_[static_cast<size_t>(stage)]->goTo(field);
            return;
        }
}

void Bench::resizeEvent(QResizeEvent*)
{
    margin_->setFixedWidth(width() < 1000 ? 226 : 268);
}

} // namespace fortitor
