// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/setup/daily_view.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"

#include <QHBoxLayout>
#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double dayRoom = 46, dayFoot = 24, dayHead = 10; // px
constexpr size_t mostShown = 40;

} // namespace

DailyPicture::DailyPicture(QWidget* parent) : QWidget(parent)
{
    setObjectName("dailyPicture");
    setMinimumHeight(104);
    setMouseTracking(true);
}

void DailyPicture::show(const DailySpec& spec, std::vector<DailyRow> rows, const DailyJudged& judged)
{
    spec_ = spec;
    if (rows.size() > mostShown)
        rows.erase(rows.begin(), rows.end() - mostShown);
    rows_ = std::move(rows);
    judged_ = judged;
    setAccessibleName(q(spec.label) + QString(", %1 values").arg(rows_.size()));
    update();
}

double DailyPicture::top() const
{
    double most = judged_.limit.value_or(0);
    for (const DailyRow& row : rows_)
        most = std::max(most, row.value.value);
    return most > 0 ? 1.15 * most : 1;
}

QPointF DailyPicture::spotOf(size_t row) const
{
    const double apart = (width() - dayRoom - 16) / std::max<double>(12, static_cast<double>(rows_.size()));
    const double ground = height() - dayFoot;
    return {dayRoom + apart * (static_cast<double>(row) + 0.5),
            ground - (ground - dayHead) * rows_[row].value.value / top()};
}

void DailyPicture::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Palette& p = pal();
    const Unit* unit = findUnit(spec_.unit, spec_.kind);
    const double ground = height() - dayFoot;
    if (!unit)
        return;
    painter.setFont(figureFont(11));
    painter.setPen(QPen(p.quiet, 1));
    painter.drawLine(QPointF(dayRoom, ground), QPointF(width() - 16, ground));
    painter.drawText(QRectF(0, ground - 8, dayRoom - 6, 16), Qt::AlignRight | Qt::AlignVCenter, "0");
    if (judged_.limit) {
        const double y = ground - (ground - dayHead) * *judged_.limit / top();
        painter.setPen(QPen(p.stop, 1.2, Qt::DashLine));
        painter.drawLine(QPointF(dayRoom, y), QPointF(width() - 16, y));
        painter.drawText(QRectF(0, y - 8, dayRoom - 6, 16), Qt::AlignRight | Qt::AlignVCenter,
                         q(formatQuantity(*judged_.limit, *unit, 3)));
    }
    QString day;
    double free = 0;
    for (size_t i = 0; i < rows_.size(); ++i) {
        const QPointF at = spotOf(i);
        const bool last = i + 1 == rows_.size(), beyond = judged_.limit && rows_[i].value.value > *judged_.limit;
        painter.setPen(QPen(beyond ? p.stop : p.accent, 1.5));
        painter.setBrush(last && judged_.today ? QBrush(beyond ? p.stop : p.accent) : QBrush(p.surface));
        painter.drawEllipse(at, 4, 4);
        const QString its = q(rows_[i].value.when).mid(5, 5);
        if (its != day && at.x() > free) {
            painter.setPen(p.quiet);
            painter.drawText(QRectF(at.x() - 20, ground + 4, 40, 16), Qt::AlignCenter, its);
            free = at.x() + 44;
        }
        day = its;
    }
}

bool DailyPicture::event(QEvent* event)
{
    if (event->type() != QEvent::ToolTip)
        return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const Unit* unit = findUnit(spec_.unit, spec_.kind);
    for (size_t i = 0; i < rows_.size(); ++i)
        if (QLineF(spotOf(i), help->pos()).length() < 9) {
            QToolTip::showText(help->globalPos(),
                               QString("%1 · %2 · in %3")
                                   .arg(q(rows_[i].value.when).replace('T', ' '),
                                        q(formatQuantity(rows_[i].value.value, *unit, 4)), rows_[i].number),
                               this);
            return true;
        }
    QToolTip::hideText();
    return true;
}

DailyView::DailyView(Session& session, LiveFrame& frame, QWidget* parent)
    : QWidget(parent), session_(session), pendulum_(session, frame, true)
{
    setObjectName("daily");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 8, 0, 0);
    column->setSpacing(5);
    head_ = label({}, "head");
    column->addWidget(head_);
    caution_ = label({});
    caution_->setObjectName("dailyCaution");
    caution_->setTextFormat(Qt::RichText);
    caution_->setWordWrap(true);
    caution_->setAutoFillBackground(true);
    caution_->setMargin(8);
    column->addWidget(caution_);
    auto* row = new QHBoxLayout;
    edit_ = lineEdit("dailyValue", {});
    edit_->setMaximumWidth(130);
    simulated_ = button({}, "", "dailySimulated");
    row->addWidget(label("today", "quiet"));
    row->addWidget(edit_);
    row->addWidget(simulated_);
    row->addStretch();
    column->addLayout(row);
    live_ = label({}, "quiet");
    live_->setObjectName("dailyLive");
    message_ = label({}, "warn");
    message_->setObjectName("dailyMessage");
    message_->hide();
    words_ = label({}, "quiet");
    words_->setObjectName("dailyWords");
    picture_ = new DailyPicture;
    for (QLabel* one : {live_, message_, words_})
        one->setWordWrap(true);
    live_->hide();
    for (QWidget* one : std::initializer_list<QWidget*>{live_, message_, words_, picture_})
        column->addWidget(one);
    hands::onKept(edit_, this,
                  [this](const QString& text, const hands::Answered& answered) { return keep(text, answered); });
    connect(simulated_, &QPushButton::clicked, this, [this] {
        message_->hide();
        pendulum_.step();
    });
    connect(&pendulum_, &PendulumWork::changed, this, &DailyView::showSimulated);
    connect(&pendulum_, &PendulumWork::refused, this, [this](const QString& why) {
        message_->setText(why);
        message_->show();
    });
    connect(&pendulum_, &PendulumWork::swung, this,
            [this](double reading, const QString&, const std::map<std::string, std::string>&) {
                keep(QString::number(reading, 'g', 6));
            });
}

bool DailyView::keep(const QString& text, const hands::Answered& answered)
{
    const auto command = keepDaily(session_, s(text));
    message_->setVisible(!command);
    if (!command) {
        message_->setText(q(command.problem().text()));
        return false;
    }
    return session_.apply(*command, answered);
}

void DailyView::showSimulated()
{
    const QString next = pendulum_.nextStep();
    simulated_->setText(next.isEmpty() ? QString("…") : next);
    simulated_->setEnabled(!next.isEmpty());
    const QString words = pendulum_.words();
    live_->setText(words.isEmpty() ? QString() : "Simulated: " + words);
    live_->setVisible(!words.isEmpty());
}

void DailyView::refresh()
{
    const bool any = session_.isOpen() && session_.hasSpecimen() && session_.job().method->daily;
    setVisible(any);
    if (!any)
        return;
    const DailySpec& spec = *session_.job().method->daily;
    const std::vector<DailyRow>& rows = values_.gather(session_);
    const DailyJudged judged = judgeDaily(session_, rows);
    const Unit* unit = findUnit(spec.unit, spec.kind);
    const auto& steps = session_.job().method->steps;
    const auto warned = std::ranges::find_if(steps, [](const StepSpec& step) {
        return step.stage == Stage::SetUp && !step.safety.empty();
    });
    caution_->setVisible(warned != steps.end());
    if (warned != steps.end())
        caution_->setText("<b>" + q(warned->safety).toHtmlEscaped()
                          + "</b> Nobody on either side of the frame. Local rules and the machine's manual decide.");
    QPalette tint = caution_->palette();
    tint.setColor(QPalette::Window, pal().accentTint);
    caution_->setPalette(tint);
    head_->setText(q(spec.label));
    edit_->setPlaceholderText(q(spec.unit));
    edit_->setToolTip(q(spec.help));
    hands::fill(edit_, judged.today ? q(formatQuantity(rows.back().value.value, *unit, 4)) : QString());
    QStringList words;
    for (const std::string& one : judged.words)
        words << q(one);
    words_->setText(words.isEmpty() ? QString("As on the days before.") : words.join(" "));
    picture_->show(spec, rows, judged);
    showSimulated();
}

} // namespace fortitor
