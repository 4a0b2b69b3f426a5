// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/scale_ladder.h"

#include "app/theme/theme.h"

#include <QPainter>

#include <cmath>

namespace fortitor {
namespace {

constexpr double leastHV = 35, mostHV = 2200;
constexpr double nameRoom = 62, rowHigh = 26, topRoom = 20;

} // namespace

ScaleLadder::ScaleLadder(QWidget* parent) : QWidget(parent)
{
    setObjectName("scaleLadder");
    setMinimumHeight(static_cast<int>(topRoom + rowHigh * (static_cast<double>(rungs_.size()) + 1) + 8));
    setAccessibleName("Scales of hardness side by side");
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void ScaleLadder::setMark(std::optional<double> hv, const QString& words)
{
    mark_ = hv && *hv >= leastHV && *hv <= mostHV ? hv : std::nullopt;
    words_ = words;
    update();
}

double ScaleLadder::at(double hv) const
{
    return nameRoom + (width() - nameRoom - 16) * std::log(hv / leastHV) / std::log(mostHV / leastHV);
}

void ScaleLadder::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Palette& c = pal();
    const auto row = [&](size_t i, const QString& name, bool rough) {
        const double y = topRoom + rowHigh * (static_cast<double>(i) + 0.5);
        p.setPen(rough ? c.quiet : c.ink);
        p.setFont(wordFont(12, rough ? QFont::Normal : QFont::DemiBold));
        p.drawText(QRectF(0, y - rowHigh / 2, nameRoom - 8, rowHigh), Qt::AlignVCenter | Qt::AlignLeft, name);
        return y;
    };
    const auto ticks = [&](double y, const std::vector<std::pair<double, double>>& numbers, bool rough) {
        p.setPen(QPen(rough ? c.hair : c.ink, 1.2, rough ? Qt::DashLine : Qt::SolidLine));
        p.drawLine(QPointF(at(numbers.front().second), y), QPointF(at(numbers.back().second), y));
        p.setFont(figureFont(10.5));
        double free = -1e9; // where the next figure has room
        for (const auto& [number, hv] : numbers) {
            const double x = at(hv);
            p.setPen(rough ? c.quiet : c.ink);
            p.drawLine(QPointF(x, y - 3), QPointF(x, y + 3));
            const QString text = QString::number(number);
            const double wide = QFontMetricsF(p.font()).horizontalAdvance(text);
            if (x - wide / 2 < free)
                continue;
            p.drawText(QPointF(x - wide / 2, y - 5), text);
            free = x + wide / 2 + 6;
        }
    };
    for (size_t i = 0; i < rungs_.size(); ++i)
        ticks(row(i, QString::fromStdString(rungs_[i].scale), false) + 5, rungs_[i].numbers, false);
    std::vector<std::pair<double, double>> scratch;
    for (const auto& [step, hv] : scratchOrder())
        scratch.emplace_back(step, hv);
    const double y = row(rungs_.size(), "scratch", true) + 5;
    ticks(y, scratch, true);
    if (!mark_)
        return;
    const double x = at(*mark_);
    p.setPen(QPen(c.accent, 2));
    p.drawLine(QPointF(x, topRoom - 2), QPointF(x, topRoom + rowHigh * static_cast<double>(rungs_.size())));
    p.setPen(c.accentText);
    p.setFont(wordFont(12, QFont::DemiBold));
    const double wide = QFontMetricsF(p.font()).horizontalAdvance(words_);
    p.drawText(QPointF(std::clamp(x - wide / 2, 0.0, width() - wide), topRoom - 6), words_);
}

} // namespace fortitor
