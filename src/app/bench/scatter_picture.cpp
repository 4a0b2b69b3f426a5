// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/scatter_picture.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"
#include "methods/display.h"

#include <QFontMetricsF>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double wordsHeight = 96;

QString number(double v)
{
    return q(formatSignificant(v, 4));
}

} // namespace

ScatterPicture::ScatterPicture(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("scatterPicture");
    setMinimumHeight(210);
    symbol_ = new QComboBox(this);
    symbol_->setObjectName("scatterSymbol");
    symbol_->setMinimumWidth(210);
    connect(symbol_, &QComboBox::activated, this, qOverload<>(&QWidget::update));
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void ScatterPicture::rebuild()
{
    QString key;
    for (const SetFigure& f : session_.outcome().batch)
        key += q(f.symbol) + " ";
    if (key != builtFor_) {
        builtFor_ = key;
        const QString now = symbol_->currentData().toString();
        symbol_->clear();
        for (const SetFigure& f : session_.outcome().batch)
            symbol_->addItem(q(symbolText(f.symbol) + ", " + specFor(*session_.job().method, f.symbol).name), q(f.symbol));
        // What is wanted first; else the first headline.
        const std::string wanted = session_.job().requirements.empty() ? std::string() : session_.job().requirements.front().symbol;
        int at = symbol_->findData(now);
        if (at < 0)
            at = symbol_->findData(q(wanted));
        symbol_->setCurrentIndex(std::max(0, at));
    }
    update();
}

const SetFigure* ScatterPicture::figure() const
{
    const auto& batch = session_.outcome().batch;
    const auto it = std::ranges::find(batch, s(symbol_->currentData().toString()), &SetFigure::symbol);
    return it == batch.end() ? nullptr : &*it;
}

QStringList ScatterPicture::sentences() const
{
    const SetFigure* f = figure();
    if (!f || f->values.size() < 2)
        return {"Two values at least are needed to speak of scatter."};
    const QString unit = f->unit->symbol == "1" ? QString() : " " + q(std::string(f->unit->symbol));
    QStringList words;
    if (const std::string from = scatterSentence(*f); !from.empty())
        words << q(from);
    else
        words << "Note operator or batch on Measure to learn where the scatter comes from.";
    words << (f->normality ? f->normality->doubted() ? QString("Not normally spread (Anderson–Darling p = %1): the bounds below do not hold.").arg(f->normality->p, 0, 'g', 2) : QString("Normally spread as far as can be told (Anderson–Darling p = %1).").arg(f->normality->p, 0, 'g', 2)
                           : QString("Too few values to tell whether they are normally spread (8 are needed)."));
    if (f->bounds)
        words << QString("With 95 % confidence 90 % of all lie above %1%3 (B), 99 % above %2%3 (A).").arg(number(f->bounds->b), number(f->bounds->a), unit);
    return words;
}

void ScatterPicture::paintHistogram(QPainter& painter, const QRectF& room, const SetFigure& f) const
{
    const Palette& p = pal();
    const Histogram h = histogramOf(f.values);
    const size_t most = std::ranges::max(h.counts);
    const double left = h.low - 0.5 * h.width;
    const double right = h.low + (static_cast<double>(h.counts.size()) + 0.5) * h.width;
    const Chart chart(room.adjusted(40, 24, -8, -42), left, right, 0, static_cast<double>(most) * 1.15 + 0.3);
    chart.drawAxes(painter, p, symbolUnit(f), "pieces");
    painter.setPen(QPen(p.surface, 1));
    painter.setBrush(p.data[0]);
    for (size_t i = 0; i < h.counts.size(); ++i)
        if (h.counts[i] > 0)
            painter.drawRect(QRectF(chart.at(h.low + static_cast<double>(i) * h.width, static_cast<double>(h.counts[i])), chart.at(h.low + static_cast<double>(i + 1) * h.width, 0)));
    // The normal curve of the same mean and s, as tall as the counts would be.
    const SetStatistics& s = f.statistics;
    if (!(s.sd > 0))
        return;
    QPolygonF bell;
    for (int k = 0; k <= 120; ++k) {
        const double x = left + (right - left) * k / 120;
        const double z = (x - s.mean) / s.sd;
        bell.append(chart.at(x, static_cast<double>(s.n) * h.width / (s.sd * std::sqrt(2 * M_PI)) * std::exp(-z * z / 2)));
    }
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(p.ink, 1.6));
    painter.setBrush(Qt::NoBrush);
    painter.drawPolyline(bell);
}

void ScatterPicture::paintProbability(QPainter& painter, const QRectF& room, const SetFigure& f)
{
    const Palette& p = pal();
    const auto points = probabilityPlot(f.values);
    const SetStatistics& s = f.statistics;
    const double reach = std::max(2.2, points.back().score * 1.1);
    const double wide = s.max > s.min ? s.max - s.min : 1;
    const Chart chart(room.adjusted(52, 24, -10, -42), s.min - 0.06 * wide, s.max + 0.06 * wide, -reach, reach);
    painter.setFont(figureFont(11));
    const QFontMetricsF metrics(painter.font());
    for (const auto& [percent, score] : {std::pair{"1", -2.326}, std::pair{"5", -1.645}, std::pair{"20", -0.8416}, std::pair{"50", 0.0}, std::pair{"80", 0.8416}, std::pair{"95", 1.645}, std::pair{"99", 2.326}}) {
        if (std::abs(score) > reach)
            continue;
        const double y = std::round(chart.py(score));
        painter.setPen(QPen(p.hairSoft, 1));
        painter.drawLine(QPointF(chart.area().left(), y), QPointF(chart.area().right(), y));
        painter.setPen(p.quiet);
        painter.drawText(QPointF(chart.area().left() - 8 - metrics.horizontalAdvance(percent), y + 4), percent);
    }
    for (double x : niceTicks(s.min, s.max, 4).at) {
        painter.setPen(p.quiet);
        painter.drawLine(QPointF(chart.px(x), chart.area().bottom()), QPointF(chart.px(x), chart.area().bottom() + 4));
        const QString text = QString::number(x, 'g', 5);
        painter.drawText(QPointF(chart.px(x) - metrics.horizontalAdvance(text) / 2, chart.area().bottom() + 18), text);
    }
    painter.setPen(QPen(p.quiet, 1.2));
    painter.drawLine(chart.area().bottomLeft(), chart.area().bottomRight());
    painter.drawLine(chart.area().topLeft(), chart.area().bottomLeft());
    painter.setFont(wordFont(11));
    painter.drawText(QPointF(chart.area().left(), chart.area().top() - 8), "share below, %, on a normal scale");
    const QString title = symbolUnit(f);
    painter.drawText(QPointF(chart.area().right() - QFontMetricsF(painter.font()).horizontalAdvance(title), chart.area().bottom() + 36), title);
    painter.save();
    painter.setClipRect(chart.area());
    painter.setRenderHint(QPainter::Antialiasing);
    if (s.sd > 0) {
        painter.setPen(QPen(p.data[0], 1.5));
        painter.drawLine(chart.at(s.mean - reach * s.sd, -reach), chart.at(s.mean + reach * s.sd, reach));
    }
    painter.restore();
    painter.setRenderHint(QPainter::Antialiasing);
    const std::string here = session_.hasSpecimen() ? session_.specimen().label : std::string();
    for (const ProbabilityPoint& one : points) {
        const QPointF at = chart.at(one.value, one.score);
        const bool on = f.labels[one.index] == here;
        painter.setPen(QPen(on ? p.accent : p.ink, on ? 2.4 : 1.4));
        painter.setBrush(p.surface);
        painter.drawEllipse(at, on ? 5.5 : 4, on ? 5.5 : 4);
        spots_.emplace_back(at, f.labels[one.index]);
    }
}

QString ScatterPicture::symbolUnit(const SetFigure& f) const
{
    return q(symbolText(f.symbol)) + (f.unit->symbol == "1" ? QString() : ", " + q(std::string(f.unit->symbol)));
}

void ScatterPicture::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.fillRect(rect(), p.surface);
    spots_.clear();
    const SetFigure* f = figure();
    symbol_->setVisible(f != nullptr);
    if (!f || f->values.size() < 2) {
        painter.setPen(p.quiet);
        painter.setFont(wordFont(13));
        painter.drawText(rect(), Qt::AlignCenter, "Two specimens with a figure at least are needed to speak of scatter.");
        return;
    }
    const double h = height() - wordsHeight - 34;
    paintHistogram(painter, QRectF(0, 34, width() * 0.47, h), *f);
    paintProbability(painter, QRectF(width() * 0.5, 34, width() * 0.5, h), *f);
    double y = height() - wordsHeight + 18;
    const QStringList words = sentences();
    for (int i = 0; i < words.size(); ++i) {
        painter.setFont(wordFont(13, i == 0 ? QFont::DemiBold : QFont::Normal));
        painter.setPen(i == 0 ? p.ink : p.quiet);
        QRectF took;
        painter.drawText(QRectF(0, y - 14, width() - 8, 60), Qt::TextWordWrap, words[i], &took);
        y += took.height() + 6;
    }
}

void ScatterPicture::mousePressEvent(QMouseEvent* event)
{
    for (const auto& [at, label] : spots_)
        if (const QPointF d = at - event->position(); std::hypot(d.x(), d.y()) < 9)
            for (size_t i = 0; i < session_.job().specimens.size(); ++i)
                if (session_.job().specimens[i].label == label)
                    emit specimenChosen(i);
}

void ScatterPicture::resizeEvent(QResizeEvent*)
{
    symbol_->move(0, 0);
}

} // namespace fortitor
