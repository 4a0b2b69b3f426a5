// SPDX-License-Identifier: GPL-3.0-or-later
// Each figure of the set as a strip: values, bounds, what is wanted.
#include "app/bench/judge/judge_page.h"

#include "jobs/json_at.h"
#include "app/bench/judge/key_dialog.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"
#include "draw/overlay.h"
#include "jobs/edits.h"
#include "report/report.h"

#include <QFontMetricsF>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>

namespace fortitor {
namespace {

constexpr double roomForLimits = 60; // height of a strip that has its limits' numbers below the line

QString limitNumber(const ResultSpec& spec, double limit)
{
    return QString::number(showValue(spec, limit, 0, RoundingRule::FourDigits, units()).value, 'g', 5);
}

/// " · at least 290"
QString limitWords(const ResultSpec& spec, const Requirement& wanted)
{
    QString words;
    if (wanted.min)
        words += " · at least " + limitNumber(spec, *wanted.min);
    if (wanted.max)
        words += " · at most " + limitNumber(spec, *wanted.max);
    return words;
}

} // namespace

SetPicture::SetPicture(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("setPicture");
    setMinimumHeight(210);
    curves_ = new PlotView(this);
    curves_->setObjectName("setCurves");
    curves_->setEmptyWords("Nothing to draw yet.");
    connect(curves_, &PlotView::pointChosen, this, [this](const QString& label) {
        for (size_t i = 0; i < session_.job().specimens.size(); ++i)
            if (q(session_.job().specimens[i].label) == label)
                emit specimenChosen(i);
    });
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void SetPicture::rebuild()
{
    std::vector<OverlaidCurve> curves;
    const auto& specimens = session_.outcome().specimens;
    // Lots are told apart by their colour, else specimens are.
    const auto& lots = session_.outcome().lots;
    const auto kindOf = [&](size_t i) {
        if (lots.empty() || !session_.job().method->lotOf)
            return i;
        const std::string lot = session_.job().method->lotOf(session_.job().specimens[i].input);
        return static_cast<size_t>(std::ranges::find(lots, lot, &LotFigures::name) - lots.begin());
    };
    for (size_t i = 0; i < specimens.size(); ++i)
        if (specimens[i].outcome && specimens[i].outcome->curve())
            curves.push_back({.view = specimens[i].outcome->curve(),
                              .label = q(specimens[i].label),
                              .kind = kindOf(i),
                              .strong = i == session_.current(),
                              .aside = !specimens[i].excludedBecause.empty()});
    std::vector<OverlaidPoints> points;
    for (size_t i = 0; i < specimens.size() && curves.empty(); ++i)
        if (const auto& outcome = specimens[i].outcome; outcome && !outcome->apart && outcome->view<ScatterView>())
            points.push_back({.view = outcome->view<ScatterView>(),
                              .label = q(specimens[i].label),
                              .kind = i,
                              .strong = i == session_.current(),
                              .aside = !specimens[i].excludedBecause.empty()});
    if (curves.empty() && points.empty()) {
        curves_->clear();
    } else if (curves.empty()) {
        Plot plot = overlayOfPoints(points, units()).plot;
        plot.names = points.size() > 14  ? Plot::Names::None
            : plot.series.front().joined ? Plot::Names::Ends
                                         : Plot::Names::Row;
        plot.beside = 34;
        curves_->show(std::move(plot));
    } else {
        Plot plot = overlayOf(curves, units()).plot;
        plot.names = curves.size() > 14 ? Plot::Names::None : Plot::Names::Ends;
        plot.beside = 34;
        curves_->show(std::move(plot));
    }
    update();
}

void SetPicture::paintStrips(QPainter& painter, const QRectF& room)
{
    const Job& job = session_.job();
    std::vector<std::string> symbols;
    for (const Requirement& r : job.requirements)
        symbols.push_back(r.symbol);
    const JobOutcome& set = session_.outcome();
    for (const ResultSpec& spec : job.method->results)
        if (symbols.size() < 4 && spec.headline && std::ranges::find(symbols, spec.symbol) == symbols.end()
            && std::ranges::any_of(set.specimens, [&](const SpecimenOutcome& one) {
                   const Result* r =
                       one.outcome && one.excludedBecause.empty() ? one.outcome->find(spec.symbol) : nullptr;
                   return r && r->value;
               }))
            symbols.push_back(spec.symbol);
    double y = room.top() + 12;
    const double step = std::min(86.0, (room.height() - 10) / std::max<double>(1, static_cast<double>(symbols.size())));
    for (const std::string& symbol : symbols) {
        const ResultSpec spec = specFor(*job.method, symbol);
        const auto wanted = std::ranges::find(job.requirements, symbol, &Requirement::symbol);
        const bool said = step < roomForLimits && wanted != job.requirements.end();
        paintHead(painter, QPointF(room.left(), y + 10), spec, said ? limitWords(spec, *wanted) : QString());
        paintStrip(painter, QRectF(room.left(), y, room.width(), step), symbol);
        y += step;
    }
}

/// Symbol, name and unit of a figure, and its limits where they have no room below the line.
void SetPicture::paintHead(QPainter& painter, const QPointF& at, const ResultSpec& spec, const QString& limits) const
{
    const Palette& p = pal();
    painter.setPen(p.ink);
    const double wide = drawSymbol(&painter, at, q(spec.symbol), wordFont(12.5, QFont::Medium));
    painter.setFont(wordFont(11.5));
    painter.setPen(p.quiet);
    const std::string unit = showValue(spec, 0.0, 0, RoundingRule::StepsToEven, units()).unit;
    painter.drawText(at + QPointF(wide + 6, 0),
                     QFontMetricsF(painter.font())
                         .elidedText(q(spec.name + (unit.empty() ? "" : ", " + unit)) + limits, Qt::ElideRight,
                                     width() - at.x() - wide - 8));
}

/// The values of a figure on their line, with its limits and the mean.
void SetPicture::paintStrip(QPainter& painter, const QRectF& room, const std::string& symbol)
{
    const Palette& p = pal();
    const Job& job = session_.job();
    const JobOutcome& set = session_.outcome();
    std::vector<std::pair<double, size_t>> values;
    for (size_t i = 0; i < set.specimens.size(); ++i) {
        const auto& outcome = set.specimens[i].outcome;
        const Result* r = outcome && !outcome->apart ? outcome->find(symbol) : nullptr;
        const auto figure = std::ranges::find(set.batch, symbol, &SetFigure::symbol);
        const bool otherScale =
            r && figure != set.batch.end() && r->unit->kind == Kind::Hardness && r->unit != figure->unit;
        if (r && r->value && !otherScale)
            values.emplace_back(*r->value, i);
    }
    if (values.empty()) {
        painter.drawText(QPointF(room.left(), room.top() + 34), "no value yet");
        return;
    }
    const auto found = std::ranges::find(job.requirements, symbol, &Requirement::symbol);
    const Requirement* wanted = found == job.requirements.end() ? nullptr : &*found;
    std::vector<double> limits;
    for (const auto& limit : {wanted ? wanted->min : std::nullopt, wanted ? wanted->max : std::nullopt})
        if (limit)
            limits.push_back(*limit);
    double low = std::ranges::min(values).first;
    double high = std::ranges::max(values).first;
    for (const double limit : limits) {
        low = std::min(low, limit);
        high = std::max(high, limit);
    }
    const double wideRange = high > low ? high - low : std::max(std::abs(high) * 0.05, 1e-9);
    low -= 0.1 * wideRange;
    high += 0.1 * wideRange;
    const double left = room.left() + 4;
    const double right = room.right() - 10;
    const double line = room.top() + 32;
    const auto x = [&](double v) { return left + (v - low) / (high - low) * (right - left); };
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(p.hair, 1.5));
    painter.drawLine(QPointF(left, line), QPointF(right, line));
    const auto figure = std::ranges::find(set.batch, symbol, &SetFigure::symbol);
    if (figure != set.batch.end() && figure->statistics.n > 1) {
        const double mean = figure->unit->toBase(figure->statistics.mean);
        const double half = figure->statistics.ciHalfWidth * figure->unit->factor;
        painter.fillRect(QRectF(QPointF(std::max(left, x(mean - half)), line - 5),
                                QPointF(std::min(right, x(mean + half)), line + 5)),
                         p.dataTint);
        painter.setPen(QPen(p.data[0], 2));
        painter.drawLine(QPointF(x(mean), line - 8), QPointF(x(mean), line + 8));
    }
    painter.setFont(figureFont(10.5));
    const ResultSpec spec = specFor(*job.method, symbol);
    for (const double limit : limits) {
        painter.setPen(QPen(p.stop, 2));
        painter.drawLine(QPointF(x(limit), line - 10), QPointF(x(limit), line + 10));
        if (room.height() < roomForLimits)
            continue; // they stand in the head
        painter.setPen(p.quiet);
        const QString text = limitNumber(spec, limit);
        painter.drawText(QPointF(x(limit) - QFontMetricsF(painter.font()).horizontalAdvance(text) / 2, line + 24),
                         text);
    }
    for (const auto& [value, i] : values) {
        if (set.specimens[i].outcome->find(symbol)->bound == Result::Bound::AtLeast) { // it lies further on
            painter.setPen(QPen(p.ink, 1.4));
            const QPointF tip(x(value) + 17, line);
            painter.drawLine(QPointF(x(value) + 5, line), tip);
            for (const double side : {-3.5, 3.5})
                painter.drawLine(tip, tip + QPointF(-4, side));
        }
        paintPiece(painter, QPointF(x(value), line), i,
                   wanted && checkRequirement(*wanted, value).verdict == Verdict::Fail);
    }
}

/// One specimen's dot; a diamond where it fails.
void SetPicture::paintPiece(QPainter& painter, const QPointF& c, size_t i, bool fails)
{
    const Palette& p = pal();
    const bool out = !session_.outcome().specimens[i].excludedBecause.empty();
    painter.setPen(QPen(p.surface, 1));
    painter.setBrush(out ? p.hair : fails ? p.stop : p.ink);
    if (fails) {
        const QPointF diamond[] = {c + QPointF(0, -6), c + QPointF(6, 0), c + QPointF(0, 6), c + QPointF(-6, 0)};
        painter.drawPolygon(diamond, 4);
    } else {
        painter.drawEllipse(c, 5, 5);
    }
    if (i == session_.current()) {
        painter.setPen(QPen(p.accent, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(c, 8, 8);
    }
    spots_.emplace_back(QRectF(c.x() - 7, c.y() - 8, 14, 16), i);
}

void SetPicture::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), pal().surface);
    spots_.clear();
    if (!session_.isOpen())
        return;
    const double split = width() * 0.6;
    paintStrips(painter, QRectF(split + 18, 8, width() - split - 20, height() - 12));
}

void SetPicture::resizeEvent(QResizeEvent*)
{
    curves_->setGeometry(0, 0, static_cast<int>(width() * 0.6), height());
}

void SetPicture::mousePressEvent(QMouseEvent* event)
{
    for (const auto& [spot, index] : spots_)
        if (spot.contains(event->position()))
            emit specimenChosen(index);
}

} // namespace fortitor
