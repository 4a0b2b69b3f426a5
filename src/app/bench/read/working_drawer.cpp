// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/read/working_drawer.h"

#include "app/model/memory.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"
#include "draw/stress_sketch.h"
#include "judge/uncertainty.h"
#include "methods/display.h"

#include <QApplication>
#include <QFontMetricsF>
#include <QHBoxLayout>
#include <QPainter>
#include <QPointer>
#include <QThreadPool>

#include <memory>
#include <set>

namespace fortitor {
namespace {

QString mono(const QString& text)
{
    return QString("<span style='font-family:\"%1\"'>%2</span>").arg(figureFont(12).family(), text.toHtmlEscaped());
}

QString elided(const QString& text, int pixels)
{
    return QFontMetrics(wordFont(12)).elidedText(text, Qt::ElideRight, pixels);
}

QString quiet(const QString& text)
{
    return QString("<span style='color:%1'>%2</span>").arg(pal().quiet.name(), text.toHtmlEscaped());
}

} // namespace

BudgetBars::BudgetBars()
{
    setObjectName("budgetBars");
    setFixedWidth(wide);
    setWhatsThis("Uncertainty contributions of this figure, the greatest share on top, and what would lessen it.");
}

void BudgetBars::show(Budget budget, const QString& advice)
{
    budget_ = std::move(budget);
    advice_ = advice;
    setToolTip(plain(advice));
    update();
}

void BudgetBars::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    if (budget_.ranked.empty())
        return;
    painter.setFont(wordFont(11));
    const QFontMetricsF metrics(painter.font());
    constexpr double barLeft = 146;
    const double room = width() - barLeft - 36;
    double y = 2;
    for (size_t i = 0; i < budget_.ranked.size() && i < 3; ++i) {
        const Contribution& c = budget_.ranked[i];
        painter.setPen(i == 0 ? p.ink : p.quiet);
        painter.drawText(QPointF(0, y + 11), metrics.elidedText(q(c.source.words), Qt::ElideRight, barLeft - 8));
        painter.fillRect(QRectF(barLeft, y + 3, std::max(1.0, c.share * room), 9), i == 0 ? p.accent : p.hair);
        painter.setFont(figureFont(10.5));
        painter.drawText(QPointF(barLeft + std::max(1.0, c.share * room) + 5, y + 12),
                         QString("%1 %").arg(c.share * 100, 0, 'f', 0));
        painter.setFont(wordFont(11));
        y += 16;
    }
    painter.setPen(p.quiet);
    painter.drawText(QRectF(0, 51, width(), height() - 50), Qt::TextWordWrap, advice_);
}

QString BudgetBars::text() const
{
    return budget_.ranked.empty() ? QString() : q(budget_.ranked.front().source.words) + " " + advice_;
}

StressPicture::StressPicture()
{
    setObjectName("stressPicture");
    setFixedWidth(176);
    setWhatsThis("The stress over the radius as this figure takes it to be; dashed, as the others do.");
}

void StressPicture::show(const Outcome& outcome, const std::string& symbol)
{
    profile_.reset();
    others_.clear();
    for (const Result& r : outcome.results) {
        if (!r.profile)
            continue;
        if (r.symbol == symbol)
            profile_ = r.profile;
        else
            others_.push_back(*r.profile);
    }
    setVisible(profile_.has_value());
    setToolTip(profile_ ? q(profile_->words) : QString());
    update();
}

void StressPicture::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    if (profile_)
        paintStressProfile(painter, pal(), rect(), *profile_, others_);
}

WorkingDrawer::WorkingDrawer(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("working");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 8, 12, 8);
    row->setSpacing(22);
    auto* head = label("Working", "head");
    head->setFixedWidth(62);
    row->addWidget(head, 0, Qt::AlignTop);
    left_ = label({});
    right_ = label({});
    for (QLabel* l : {left_, right_}) {
        l->setTextInteractionFlags(Qt::TextSelectableByMouse);
        l->setFont(wordFont(12));
        l->setAlignment(Qt::AlignTop | Qt::AlignLeft);
        l->setTextFormat(Qt::RichText);
        row->addWidget(l, l == left_ ? 3 : 2);
    }
    picture_ = new StressPicture;
    row->addWidget(picture_);
    bars_ = new BudgetBars;
    row->addWidget(bars_);
    setFixedHeight(108);
    later_.setSingleShot(true);
    later_.setInterval(40);
    connect(&later_, &QTimer::timeout, this, &WorkingDrawer::fillAlternatives);
}

void WorkingDrawer::show(const QString& symbol, const Outcome& outcome)
{
    const Result* r = outcome.find(s(symbol));
    later_.stop();
    ++asked_; // what comes for another figure is not wanted
    picture_->show(outcome, s(symbol));
    right_->setVisible(width() > 760 && !picture_->shown());
    if (!r || !r->derivation) {
        QString why = "This figure can't be given from this record.";
        for (const Remark& remark : outcome.remarks)
            if (std::ranges::find(remark.symbols, s(symbol)) != remark.symbols.end()) {
                why = q(remark.text + " " + remark.advice);
                if (remark.severity != Severity::Note || remark.code == "not-applicable")
                    break;
            }
        left_->setText(symbolHtml(symbol) + ": " + why.toHtmlEscaped());
        right_->clear();
        bars_->show({}, {});
        return;
    }
    const Method& method = *session_.job().method;
    const ResultSpec spec = specFor(method, s(symbol));
    const auto lines = workingLines(*r->derivation);
    const WorkingLine& own = lines.back();
    QString text = quiet(q(own.description.empty() ? spec.help : own.description)) + "<br>";
    if (!own.formula.empty())
        text += mono(q(own.symbol + " = " + own.formula)) + "<br>";
    text += mono(q(own.numbers));
    if (r->profile)
        text += "<br>" + quiet(q(r->profile->words));
    if (!own.points.empty() || !own.rule.empty())
        text += "<br>"
            + quiet(elided(q(own.points + (own.points.empty() || own.rule.empty() ? "" : " · ") + own.rule),
                           (width() - 130 - BudgetBars::wide) / 2 - 30));
    left_->setText(text);

    QStringList rests;
    std::set<std::string> seen;
    for (const WorkingLine& line : lines)
        if (&line != &own && seen.insert(line.symbol).second && !line.symbol.empty() && !line.numbers.empty()
            && rests.size() < 3
            && (line.symbol == "So" || line.symbol == "Le" || line.symbol == "L0" || line.symbol.starts_with("F")
                || line.symbol.starts_with("m")))
            rests << q(line.symbol + " = "
                       + line.numbers.substr(
                           line.numbers.rfind("= ") == std::string::npos ? 0 : line.numbers.rfind("= ") + 2));
    QStringList changes;
    for (const std::string& w : r->wouldChange)
        changes << q(w);
    QString more;
    if (!rests.isEmpty())
        more += quiet("rests on ") + mono(rests.join(", ")) + "<br>";
    rightHead_ = more;
    changes_ = changes;
    symbol_ = symbol;
    right_->setText(more + quiet("would change it ") + (changes.isEmpty() ? "…" : changes.join(" · ").toHtmlEscaped()));
    bars_->show(r->budget, q(improveFirst(r->budget, *r->unit)));
    later_.start(); // other options are worked out once the page stands
    setToolTip(q(own.rule));
}

void WorkingDrawer::fillAlternatives()
{
    const auto record = session_.hasSpecimen() ? session_.record(session_.current()) : nullptr;
    if (!record)
        return;
    // Each is a reading of the whole record: worked out beside the window, on copies.
    const int asked = ++asked_;
    QThreadPool::globalInstance()->start([drawer = QPointer(this), asked, record, symbol = s(symbol_),
                                          specimen = session_.specimen(), job = session_.job()] {
        const auto found = std::make_shared<std::vector<Alternative>>(alternatives(specimen, job, record, symbol));
        QMetaObject::invokeMethod(qApp, [drawer, asked, found, rows = record->rows()] {
            giveMemoryBack(rows);
            if (drawer && drawer->asked_ == asked)
                drawer->showAlternatives(*found);
        });
    });
}

void WorkingDrawer::showAlternatives(const std::vector<Alternative>& found)
{
    if (!session_.isOpen())
        return;
    QStringList changes = changes_;
    const ResultSpec spec = specFor(*session_.job().method, s(symbol_));
    for (const Alternative& a : found)
        if (changes.size() < 2)
            changes << q(a.words) + ": " + q(showValue(spec, a.value, 0, RoundingRule::FourDigits).text);
    right_->setText(rightHead_ + quiet("would change it ")
                    + (changes.isEmpty() ? "none of the other options" : changes.join(" · ").toHtmlEscaped()));
}

void WorkingDrawer::resizeEvent(QResizeEvent*)
{
    right_->setVisible(width() > 760 && !picture_->shown()); // on a small screen the formula and the doubt come first
}

QString WorkingDrawer::text() const
{
    return left_->text() + right_->text() + bars_->text();
}

void WorkingDrawer::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setPen(pal().hair);
    painter.setBrush(pal().margin);
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
}

} // namespace fortitor
