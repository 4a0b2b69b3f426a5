// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/load/pad_plot.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "curve/step_doubt.h"
#include "draw/chart.h"

#include <QFontMetricsF>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

StraightSoFar lineOf(const PadTable& table, const Intake& pad, const std::string& channel, const SpecimenInput& input)
{
    const std::string& other = channel == pad.stepped ? pad.across : channel;
    const PadChannel* spec = pad.find(other);
    const double division = spec ? padScale(*spec, input, units()).division : 0;
    return straightSoFar(table.values(pad.stepped), table.values(other), division > 0 ? division : 1e-6);
}

} // namespace

PadPlot::PadPlot(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("padPlot");
    setMinimumSize(260, 160);
    setAttribute(Qt::WA_OpaquePaintEvent);
    setWhatsThis(
        "The readings taken so far. Once three stand, the line through those that are straight is drawn; the ring "
        "is the last one.");
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void PadPlot::show(const PadTable& table)
{
    table_ = table;
    update();
}

bool PadPlot::hasLine(const std::string& channel) const
{
    return session_.hasSpecimen()
        && lineOf(table_, session_.job().method->intake, channel, session_.specimen().input).line.valid();
}

void PadPlot::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.fillRect(rect(), p.surface);
    if (!session_.hasSpecimen())
        return;
    const Intake& pad = session_.job().method->intake;
    std::vector<std::pair<Kind, std::vector<std::string>>> kinds;
    for (const PadChannel& channel : table_.channels) {
        if (channel.name == pad.across)
            continue;
        const Kind kind = findChannelName(channel.name)->kind;
        const auto it = std::ranges::find(kinds, kind, [](const auto& k) { return k.first; });
        (it == kinds.end() ? kinds.emplace_back(kind, std::vector<std::string>()) : *it).second.push_back(channel.name);
    }
    const double left = 62;
    const double gap = 74;
    const auto n = static_cast<double>(std::max<size_t>(1, kinds.size()));
    const double wide = (width() - left - 16 - gap * (n - 1)) / n;
    for (size_t i = 0; i < kinds.size(); ++i)
        paintKind(painter, QRectF(left + static_cast<double>(i) * (wide + gap), 26, wide, height() - 26 - 44),
                  kinds[i].first, kinds[i].second);
}

void PadPlot::paintKind(QPainter& painter, const QRectF& area, Kind kind,
                        const std::vector<std::string>& channels) const
{
    const Palette& p = pal();
    const Intake& pad = session_.job().method->intake;
    const std::vector<double> x = table_.values(pad.across);
    const Kind xKind = findChannelName(pad.across)->kind;
    double maxX = 0;
    double maxY = 0;
    double minY = 0;
    for (const std::string& channel : channels) {
        const auto y = table_.values(channel);
        for (size_t i = 0; i < y.size(); ++i)
            if (i < x.size() && !std::isnan(x[i]) && !std::isnan(y[i])) {
                maxX = std::max(maxX, std::abs(x[i]));
                maxY = std::max(maxY, y[i]);
                minY = std::min(minY, y[i]);
            }
    }
    const bool empty = maxX == 0 && maxY == 0 && minY == 0;
    if (empty) {
        maxX = xKind == Kind::Angle ? 0.1 : xKind == Kind::Force ? 1000 : 1;
        maxY = kind == Kind::Strain ? 1e-3 : kind == Kind::Torque ? 1e4 : 1000;
    }
    const auto unitOf = [&](Kind k, double most) -> const Unit& {
        return k == Kind::Strain ? *findUnit("µε", Kind::Strain) : displayUnit(k, most, units());
    };
    const Unit& xUnit = unitOf(xKind, maxX);
    const Unit& yUnit = unitOf(kind, std::max(maxY, -minY));
    const double fx = 1 / xUnit.factor;
    const double fy = 1 / yUnit.factor;
    const auto [x0, x1] = roomyRange(0, maxX * fx * 1.02);
    const auto [y0, y1] = roomyRange(std::min(0.0, minY * fy), std::max(maxY * fy * 1.02, minY < 0 ? 0.0 : 1e-9));
    const Chart chart(area, x0, x1, y0, y1);
    const auto name = [&](const std::string& channel) { return q(pad.find(channel)->label).toLower(); };
    QString yTitle = channels.size() > 1 ? QString("strain") : name(channels.front());
    chart.drawAxes(painter, p, name(pad.across) + ", " + q(std::string(xUnit.symbol)),
                   yTitle + ", " + q(std::string(yUnit.symbol)));
    painter.setRenderHint(QPainter::Antialiasing);
    std::vector<double> named; ///< where names stand, by their points
    for (size_t k = 0; k < channels.size(); ++k) {
        const auto y = table_.values(channels[k]);
        const StraightSoFar so = lineOf(table_, pad, channels[k], session_.specimen().input);
        if (so.line.valid()) {
            // Over the readings on it, and a little on, where the next one should come.
            const auto stepped = table_.values(pad.stepped);
            const double to = stepped[so.on.back()] * (so.left ? 1.0 : 1.12);
            const double from = stepped[so.on.front()];
            const bool turned = pad.stepped != pad.across; // the stepped channel stands along y
            const auto at = [&](double v) {
                return turned ? chart.at(so.line.at(v) * fx, v * fy) : chart.at(v * fx, so.line.at(v) * fy);
            };
            QColor band = p.data[k % p.data.size()];
            band.setAlpha(110);
            painter.save();
            painter.setClipRect(area.adjusted(0, -4, 4, 0));
            painter.setPen(QPen(band, 5, Qt::SolidLine, Qt::FlatCap));
            painter.drawLine(at(from), at(to));
            painter.restore();
        }
        QPointF last;
        for (size_t i = 0; i < y.size(); ++i) {
            if (i >= x.size() || std::isnan(x[i]) || std::isnan(y[i]))
                continue;
            last = chart.at(x[i] * fx, y[i] * fy);
            painter.setPen(QPen(p.ink, 1.4));
            painter.setBrush(k == 0 ? p.ink : p.surface);
            painter.drawEllipse(last, 3, 3);
        }
        if (!last.isNull()) {
            painter.setPen(QPen(p.accent, 2));
            painter.setBrush(Qt::NoBrush);
            painter.drawEllipse(last, 6.5, 6.5);
            if (channels.size() > 1) {
                painter.setPen(p.ink);
                painter.setFont(wordFont(11.5));
                const QString words = name(channels[k]);
                // Below its point where another name stands above it already.
                const bool taken = std::ranges::any_of(named, [&](double at) { return std::abs(at - last.y()) < 16; });
                painter.drawText(
                    last + QPointF(-QFontMetricsF(painter.font()).horizontalAdvance(words) - 10, taken ? 20 : -6),
                    words);
                named.push_back(last.y());
            }
        }
    }
    if (empty) {
        painter.setPen(p.quiet);
        painter.setFont(wordFont(12.5));
        painter.drawText(area, Qt::AlignCenter, "nothing read yet");
    }
    painter.setRenderHint(QPainter::Antialiasing, false);
}

} // namespace fortitor
