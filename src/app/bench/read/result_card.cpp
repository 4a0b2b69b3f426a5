// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/read/result_card.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"

#include <QFontMetricsF>
#include <QKeyEvent>
#include <QPainter>
#include <QRegularExpression>

#include <algorithm>

namespace fortitor {
namespace {

/// A published value is typical, not exact: the band drawn is a tenth to either side.
constexpr double publishedBand = 0.1;

/// "1.720e-08" as people write it: 1.720·10⁻⁸.
QString powers(QString text)
{
    static const QRegularExpression exponent("e([+-])0*(\\d+)");
    for (auto found = exponent.match(text); found.hasMatch(); found = exponent.match(text)) {
        QString up = "·10" + QString(found.captured(1) == "-" ? "⁻" : "");
        for (const QChar digit : found.captured(2))
            up += QString("⁰¹²³⁴⁵⁶⁷⁸⁹").at(digit.digitValue());
        text.replace(found.capturedStart(), found.capturedLength(), up);
    }
    return text;
}

/// Of that size, or as small as the room asks for.
QFont fitting(const QString& text, double size, double room)
{
    constexpr double least = 8.5;
    while (size > least && QFontMetricsF(figureFont(size)).horizontalAdvance(text) > room)
        size -= 0.5;
    return figureFont(size);
}

} // namespace

ResultCard::ResultCard(QString symbol, QWidget* parent) : QWidget(parent), symbol_(std::move(symbol))
{
    setObjectName("card-" + symbol_);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumWidth(104);
    setFixedHeight(112);
    setCursor(Qt::PointingHandCursor);
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void ResultCard::show(const ResultSpec& spec, const Result& result, std::optional<double> published,
                      std::optional<double> min, std::optional<double> max)
{
    figure_ = showFigure(spec, result, RoundingRule::StepsToEven, units());
    name_ = q(spec.name);
    value_ = result.value;
    published_ = published;
    min_ = min;
    max_ = max;
    setToolTip(q(spec.help) + (min || max ? "\nred line: what is wanted" : "")
               + (published ? "\nband: published value ± 10 %" : ""));
    setWhatsThis(q(spec.help + " Click for how it came about."));
    update();
}

QString ResultCard::valueText() const
{
    return q(figure_.text + (figure_.unit.empty() ? "" : " " + figure_.unit));
}

void ResultCard::setChosen(bool chosen)
{
    chosen_ = chosen;
    update();
}

void ResultCard::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(QRectF(0, 0, width(), chosen_ ? 3 : 1), chosen_ ? p.accent : p.ink);
    if (hasFocus()) {
        painter.setPen(QPen(p.accent, 1, Qt::DotLine));
        painter.drawRect(QRectF(0.5, 4.5, width() - 1, height() - 6));
    }
    painter.setPen(p.quiet);
    QFont small = wordFont(11.5);
    const double wide = drawSymbol(&painter, {2, 20}, symbol_, small);
    painter.setFont(small);
    painter.drawText(QPointF(2 + wide, 20),
                     QFontMetricsF(small).elidedText(", " + name_, Qt::ElideRight, width() - wide - 4));
    painter.setPen(value_ ? p.ink : p.quiet);
    const QString text = powers(q(figure_.text));
    const double unit = value_ ? QFontMetricsF(wordFont(12)).horizontalAdvance(q(figure_.unit)) + 7 : 0;
    // A figure that would be crowded by its unit has it below.
    const bool below = QFontMetricsF(figureFont(15)).horizontalAdvance(text) > width() - 4 - unit;
    const QFont big = fitting(text, 22, width() - 4 - (below ? 0 : unit));
    painter.setFont(big);
    painter.drawText(QPointF(2, 47), text);
    painter.setFont(wordFont(12));
    painter.setPen(p.quiet);
    if (value_)
        painter.drawText(below ? QPointF(2, 63) : QPointF(2 + QFontMetricsF(big).horizontalAdvance(text) + 5, 47),
                         q(figure_.unit));
    const QString doubt = !figure_.interval.empty() ? powers(q(figure_.interval))
        : figure_.uncertainty.empty()               ? QString()
                                                    : "± " + q(figure_.uncertainty);
    painter.setFont(fitting(doubt, 11.5, width() - 4));
    painter.drawText(QPointF(2, below ? 79 : 66), doubt);
    if (value_)
        paintPlace(painter);
}

/// Where the value lies, between its limits and beside what is published.
void ResultCard::paintPlace(QPainter& painter) const
{
    const Palette& p = pal();
    double low = *value_;
    double high = *value_;
    const auto stretch = [&](double v) {
        low = std::min(low, v);
        high = std::max(high, v);
    };
    if (published_) {
        stretch(*published_ * (1 - 2.2 * publishedBand));
        stretch(*published_ * (1 + 2.2 * publishedBand));
    }
    for (const auto& limit : {min_, max_})
        if (limit)
            stretch(*limit);
    if (!(high > low) || (!published_ && !min_ && !max_))
        return;
    const double pad = 0.12 * (high - low);
    const auto x = [&](double v) { return 4 + (v - low + pad) / (high - low + 2 * pad) * (width() - 16); };
    const double y = 92;
    painter.setPen(QPen(p.hair, 1.5));
    painter.drawLine(QPointF(4, y), QPointF(width() - 12, y));
    if (published_)
        painter.fillRect(QRectF(QPointF(x(*published_ * (1 - publishedBand)), y - 4),
                                QPointF(x(*published_ * (1 + publishedBand)), y + 4)),
                         p.dataTint);
    painter.setPen(QPen(p.stop, 2));
    for (const auto& limit : {min_, max_})
        if (limit)
            painter.drawLine(QPointF(x(*limit), y - 8), QPointF(x(*limit), y + 8));
    const bool fails = (min_ && *value_ < *min_) || (max_ && *value_ > *max_);
    painter.setPen(Qt::NoPen);
    painter.setBrush(fails ? p.stop : p.ink);
    if (fails) {
        const QPointF c(x(*value_), y);
        const QPointF diamond[] = {c + QPointF(0, -6), c + QPointF(6, 0), c + QPointF(0, 6), c + QPointF(-6, 0)};
        painter.drawPolygon(diamond, 4);
    } else {
        painter.drawEllipse(QPointF(x(*value_), y), 5, 5);
    }
}

void ResultCard::mousePressEvent(QMouseEvent*)
{
    emit chosen(symbol_);
}

void ResultCard::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Space || event->key() == Qt::Key_Return)
        emit chosen(symbol_);
    else
        QWidget::keyPressEvent(event);
}

void ResultCard::focusInEvent(QFocusEvent* event)
{
    QWidget::focusInEvent(event);
    if (event->reason() == Qt::TabFocusReason || event->reason() == Qt::BacktabFocusReason)
        emit chosen(symbol_);
}

} // namespace fortitor
