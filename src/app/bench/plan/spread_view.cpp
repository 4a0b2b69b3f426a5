// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/plan/spread_view.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"

#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double axisRoom = 26, axisFoot = 24, dotSize = 10; // px

} // namespace

SpreadPicture::SpreadPicture(QWidget* parent) : QWidget(parent)
{
    setObjectName("spreadPicture");
    setMinimumHeight(108);
    setMouseTracking(true);
    setToolTip("A click plans one more piece there, Shift and click one less.");
}

void SpreadPicture::show(const SpreadSpec& spec, std::vector<SpreadGroup> groups)
{
    spec_ = spec;
    groups_ = std::move(groups);
    setAccessibleName(q(spec.label) + ": " + q(spreadText(spec, groups_)));
    update();
}

/// In the unit of the condition; room for one more step on either side.
std::pair<double, double> SpreadPicture::range() const
{
    const Unit* unit = findUnit(spec_.unit, spec_.kind);
    double low = spec_.low, high = spec_.high;
    if (!groups_.empty() && unit) {
        low = unit->fromBase(groups_.front().value);
        high = unit->fromBase(groups_.back().value);
    }
    const double room = std::max(20.0, 0.2 * (high - low));
    return {std::floor((low - room) / 10) * 10, std::ceil((high + room) / 10) * 10};
}

QPointF SpreadPicture::spotOf(double value) const
{
    const Unit* unit = findUnit(spec_.unit, spec_.kind);
    const auto [low, high] = range();
    const double x =
        axisRoom + (width() - 2 * axisRoom) * ((unit ? unit->fromBase(value) : value) - low) / (high - low);
    return {x, height() - axisFoot};
}

/// To whole fives, unless a stack stands near.
double SpreadPicture::valueAt(double x) const
{
    const Unit* unit = findUnit(spec_.unit, spec_.kind);
    for (const SpreadGroup& group : groups_)
        if (std::abs(spotOf(group.value).x() - x) < dotSize)
            return group.value;
    const auto [low, high] = range();
    const double value = low + (high - low) * (x - axisRoom) / std::max(1.0, width() - 2 * axisRoom);
    return unit ? unit->toBase(5 * std::round(value / 5)) : value;
}

void SpreadPicture::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Palette& p = pal();
    const Unit* unit = findUnit(spec_.unit, spec_.kind);
    if (!unit)
        return;
    const auto [low, high] = range();
    const double ground = height() - axisFoot;
    painter.setPen(QPen(p.quiet, 1));
    painter.drawLine(QPointF(axisRoom / 2, ground), QPointF(width() - axisRoom / 2, ground));
    painter.setFont(figureFont(11));
    for (const double v : niceTicks(low, high, 7).at) {
        const double x = spotOf(unit->toBase(v)).x();
        painter.setPen(QPen(p.hair, 1));
        painter.drawLine(QPointF(x, ground), QPointF(x, ground + 5));
        painter.setPen(p.quiet);
        painter.drawText(QRectF(x - 30, ground + 6, 60, 16), Qt::AlignCenter,
                         QString::number(v).replace('-', QChar(0x2212)));
    }
    for (const SpreadGroup& group : groups_) {
        const QPointF at = spotOf(group.value);
        const double apart = std::min(dotSize + 2, (ground - 22) / static_cast<double>(group.pieces));
        for (size_t k = 0; k < group.pieces; ++k) {
            painter.setPen(QPen(p.accent, 1.6));
            painter.setBrush(k < group.done ? QBrush(p.accent) : QBrush(p.surface));
            painter.drawEllipse(QPointF(at.x(), ground - 8 - apart * static_cast<double>(k)), dotSize / 2 - 1,
                                dotSize / 2 - 1);
        }
        painter.setPen(p.ink);
        painter.setFont(figureFont(11));
        painter.drawText(QRectF(at.x() - 20, ground - 22 - apart * static_cast<double>(group.pieces), 40, 14),
                         Qt::AlignCenter, QString::number(group.pieces));
    }
    if (hover_) {
        painter.setPen(QPen(p.quiet, 1, Qt::DotLine));
        const double x = spotOf(*hover_).x();
        painter.drawLine(QPointF(x, 14), QPointF(x, ground));
        painter.setPen(p.quiet);
        painter.drawText(QRectF(x - 40, 0, 80, 14), Qt::AlignCenter,
                         QString::number(unit->fromBase(*hover_)).replace('-', QChar(0x2212)) + " " + q(spec_.unit));
    }
}

void SpreadPicture::mousePressEvent(QMouseEvent* event)
{
    if (event->button() == Qt::LeftButton)
        emit asked(valueAt(event->position().x()), event->modifiers() & Qt::ShiftModifier ? -1 : 1);
}

void SpreadPicture::mouseMoveEvent(QMouseEvent* event)
{
    hover_ = valueAt(event->position().x());
    update();
}

void SpreadPicture::leaveEvent(QEvent*)
{
    hover_.reset();
    update();
}

SpreadView::SpreadView(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("spread");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 14, 0, 0);
    column->setSpacing(6);
    head_ = label({}, "head");
    edit_ = lineEdit("spreadText", {});
    picture_ = new SpreadPicture;
    words_ = label({}, "quiet");
    words_->setObjectName("spreadWords");
    words_->setWordWrap(true);
    message_ = label({}, "warn");
    message_->setObjectName("spreadMessage");
    message_->setWordWrap(true);
    message_->hide();
    for (QWidget* w : std::initializer_list<QWidget*>{head_, edit_, picture_, words_, message_})
        column->addWidget(w);
    hands::onKept(edit_, this,
                  [this](const QString& text, const hands::Answered& answered) { return keep(text, answered); });
    connect(picture_, &SpreadPicture::asked, this, &SpreadView::change);
}

bool SpreadView::keep(const QString& text, const hands::Answered& answered)
{
    if (!session_.isOpen() || !session_.job().method->spread)
        return false;
    const auto groups = readSpread(*session_.job().method->spread, s(text));
    const auto command = groups ? edits::spread(session_.document(), *groups) : Expected<Command>(groups.problem());
    message_->setVisible(!command);
    if (!command) {
        const Problem& why = command.problem();
        message_->setText(q(why.found + "; wanted: " + why.wanted + ". " + why.advice));
        return false;
    }
    if (!command->changes.empty())
        return session_.apply(*command, answered);
    if (answered)
        answered(true); // as it stands
    return true;
}

void SpreadView::change(double value, int more)
{
    std::vector<SpreadGroup> groups = spreadOf(session_.job());
    const auto at =
        std::ranges::find_if(groups, [&](const SpreadGroup& g) { return std::abs(g.value - value) < 1e-9; });
    if (at != groups.end())
        at->pieces = static_cast<size_t>(std::max<long>(0, static_cast<long>(at->pieces) + more));
    else if (more > 0)
        groups.push_back({.value = value, .pieces = 1});
    std::erase_if(groups, [](const SpreadGroup& g) { return g.pieces == 0 && g.done == 0; });
    std::ranges::sort(groups, {}, &SpreadGroup::value);
    keep(q(spreadText(*session_.job().method->spread, groups)));
}

void SpreadView::refresh()
{
    const bool any = session_.isOpen() && session_.job().method->spread;
    setVisible(any);
    if (!any)
        return;
    const SpreadSpec& spec = *session_.job().method->spread;
    const std::vector<SpreadGroup> groups = spreadOf(session_.job());
    head_->setText(q(spec.label + ", " + spec.unit));
    edit_->setPlaceholderText(q(spec.example));
    edit_->setToolTip(q(spec.label + " in " + spec.unit + " and how many pieces at each, parted by semicolons"));
    hands::fill(edit_, q(spreadText(spec, groups)));
    picture_->show(spec, groups);
    size_t done = 0;
    for (const SpreadGroup& group : groups)
        done += group.done;
    QString words;
    if (groups.empty())
        words = "None planned yet. Type values and how many at each, or click on the line.";
    else if (spec.words && session_.hasSpecimen())
        words = q(spec.words(session_.specimen().input, groups))
            + (done > 0 ? QString(" · %1 tested").arg(done) : QString());
    if (const size_t left = unplanned(session_.job()); left > 0 && !groups.empty())
        words += QString(" · %1 without a plan").arg(left);
    words_->setText(words);
}

} // namespace fortitor
