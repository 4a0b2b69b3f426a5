// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/judge/scatter_picture.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"
#include "methods/display.h"

#include <QFontMetricsF>
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

std::span<const double> held(Plot& plot, std::vector<double> values)
{
    plot.held.push_back(std::make_shared<const std::vector<double>>(std::move(values)));
    return *plot.held.back();
}

} // namespace

ScatterPicture::ScatterPicture(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("scatterPicture");
    setMinimumHeight(210);
    symbol_ = new QComboBox(this);
    symbol_->setObjectName("scatterSymbol");
    symbol_->setMinimumWidth(210);
    connect(symbol_, &QComboBox::activated, this, &ScatterPicture::follow);
    counts_ = new PlotView(this);
    counts_->setObjectName("histogram");
    probability_ = new PlotView(this);
    probability_->setObjectName("probabilityPlot");
    connect(probability_, &PlotView::pointChosen, this, [this](const QString& label) {
        for (size_t i = 0; i < session_.job().specimens.size(); ++i)
            if (q(session_.job().specimens[i].label) == label)
                emit specimenChosen(i);
    });
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
            symbol_->addItem(q(symbolText(f.symbol) + ", " + specFor(*session_.job().method, f.symbol).name),
                             q(f.symbol));
        // What is wanted first; else the first headline.
        const std::string wanted =
            session_.job().requirements.empty() ? std::string() : session_.job().requirements.front().symbol;
        int at = symbol_->findData(now);
        if (at < 0)
            at = symbol_->findData(q(wanted));
        symbol_->setCurrentIndex(std::max(0, at));
    }
    follow();
}

void ScatterPicture::follow()
{
    const SetFigure* f = figure();
    const bool enough = f && f->values.size() >= 2;
    counts_->setVisible(enough);
    probability_->setVisible(enough);
    if (enough) {
        counts_->show(countsOf(*f));
        probability_->show(probabilityOf(*f));
    }
    probability_->setChosen(session_.hasSpecimen() ? q(session_.specimen().label) : QString());
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
    words << (f->normality ? f->normality->doubted()
                      ? QString("Not normally spread (Anderson–Darling p = %1): the bounds below do not hold.")
                            .arg(f->normality->p, 0, 'g', 2)
                      : QString("Normally spread as far as can be told (Anderson–Darling p = %1).")
                            .arg(f->normality->p, 0, 'g', 2)
                           : QString("Too few values to tell whether they are normally spread (8 are needed)."));
    if (f->bounds)
        words << QString("With 95 % confidence 90 % of all lie above %1%3 (B), 99 % above %2%3 (A).")
                     .arg(number(f->bounds->b), number(f->bounds->a), unit);
    return words;
}

/// Pieces a class, and the normal curve of the same mean and s, as tall as the counts would be.
Plot ScatterPicture::countsOf(const SetFigure& f) const
{
    const Histogram h = histogramOf(f.values);
    Plot plot;
    plot.names = Plot::Names::None;
    plot.x = {.title = symbolUnit(f), .fromZero = false};
    plot.y = {.title = "pieces"};
    PlotBars bars;
    for (size_t i = 0; i <= h.counts.size(); ++i)
        bars.edges.push_back(h.low + static_cast<double>(i) * h.width);
    bars.heights.assign(h.counts.begin(), h.counts.end());
    plot.bars = std::move(bars);
    plot.fit();
    plot.x.low = h.low - 0.5 * h.width;
    plot.x.high = h.low + (static_cast<double>(h.counts.size()) + 0.5) * h.width;
    plot.y.high = static_cast<double>(std::ranges::max(h.counts)) * 1.15 + 0.3;
    const SetStatistics& s = f.statistics;
    if (!(s.sd > 0))
        return plot;
    std::vector<double> x, y;
    for (int k = 0; k <= 120; ++k) {
        x.push_back(plot.x.low + (plot.x.high - plot.x.low) * k / 120);
        const double z = (x.back() - s.mean) / s.sd;
        y.push_back(static_cast<double>(s.n) * h.width / (s.sd * std::sqrt(2 * M_PI)) * std::exp(-z * z / 2));
    }
    plot.series.push_back({.x = held(plot, std::move(x)), .y = held(plot, std::move(y)), .pen = QPen(Qt::black, 1.6)});
    return plot;
}

/// Ordered values over the share of all that lies below, on a normal scale, with the line of the same mean and s.
Plot ScatterPicture::probabilityOf(const SetFigure& f) const
{
    Plot plot;
    plot.x = {.title = symbolUnit(f), .fromZero = false};
    plot.y = {.title = "share below, %, on a normal scale", .scale = Scale::Probit};
    plot.names = Plot::Names::None;
    std::vector<double> x, y;
    PlotSeries points{.joined = false};
    for (const ProbabilityPoint& one : probabilityPlot(f.values)) {
        x.push_back(one.value);
        y.push_back(Chart::offScale(Scale::Probit, one.score));
        points.names.push_back(q(f.labels[one.index]));
    }
    points.x = held(plot, std::move(x));
    points.y = held(plot, std::move(y));
    plot.series.push_back(std::move(points));
    plot.fit();
    if (const SetStatistics& s = f.statistics; s.sd > 0) {
        std::vector<double> at, share;
        for (double z = -3; z <= 3; z += 0.1) {
            at.push_back(s.mean + z * s.sd);
            share.push_back(Chart::offScale(Scale::Probit, z));
        }
        plot.series.push_back(
            {.x = held(plot, std::move(at)), .y = held(plot, std::move(share)), .kind = 1, .thin = true});
    }
    return plot;
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
    const SetFigure* f = figure();
    symbol_->setVisible(f != nullptr);
    if (!f || f->values.size() < 2) {
        painter.setPen(p.quiet);
        painter.setFont(wordFont(13));
        painter.drawText(rect(), Qt::AlignCenter,
                         "Two specimens with a figure at least are needed to speak of scatter.");
        return;
    }
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

void ScatterPicture::resizeEvent(QResizeEvent*)
{
    symbol_->move(0, 0);
    const int tall = std::max(120, height() - static_cast<int>(wordsHeight) - 34);
    counts_->setGeometry(0, 34, width() / 2 - 8, tall);
    probability_->setGeometry(width() / 2, 34, width() / 2, tall);
}

} // namespace fortitor
