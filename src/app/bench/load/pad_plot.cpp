// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/load/pad_plot.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"

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

void PadChart::showReadings(std::vector<double> x, std::vector<Channel> channels, std::vector<double> stepped,
                            bool turned, const QString& xName, const Unit& xUnit, const QString& yName,
                            const Unit& yUnit)
{
    x_ = std::move(x);
    channels_ = std::move(channels);
    stepped_ = std::move(stepped);
    turned_ = turned;
    Plot plot;
    plot.names = Plot::Names::None;
    plot.x = {.title = xName + ", " + q(std::string(xUnit.symbol)), .factor = 1 / xUnit.factor};
    plot.y = {.title = yName + ", " + q(std::string(yUnit.symbol)), .factor = 1 / yUnit.factor};
    double maxX = 0, maxY = 0, minY = 0;
    for (const Channel& channel : channels_) {
        plot.series.push_back({.x = x_,
                               .y = channel.y,
                               .label = channel.name,
                               .joined = false,
                               .thin = &channel != &channels_.front(),
                               .pen = QPen(Qt::black, 1.4)});
        for (size_t i = 0; i < std::min(x_.size(), channel.y.size()); ++i)
            if (!std::isnan(x_[i]) && !std::isnan(channel.y[i])) {
                maxX = std::max(maxX, std::abs(x_[i]) * plot.x.factor);
                maxY = std::max(maxY, channel.y[i] * plot.y.factor);
                minY = std::min(minY, channel.y[i] * plot.y.factor);
            }
    }
    empty_ = maxX == 0 && maxY == 0 && minY == 0;
    if (empty_)
        maxX = maxY = 1;
    std::tie(plot.x.low, plot.x.high) = roomyRange(0, maxX * 1.02);
    std::tie(plot.y.low, plot.y.high) = roomyRange(minY, std::max(maxY * 1.02, minY < 0 ? 0.0 : 1e-9));
    PlotView::show(std::move(plot), true);
}

void PadChart::paintUnder(QPainter& painter, const Chart& chart) const
{
    const double fx = plot().x.factor;
    const double fy = plot().y.factor;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setClipRect(chart.area().adjusted(0, -4, 4, 0), Qt::IntersectClip);
    for (size_t k = 0; k < channels_.size(); ++k) {
        const StraightSoFar& so = channels_[k].so;
        if (!so.line.valid())
            continue;
        // Over the readings on it, and a little on, where the next one should come.
        const double from = stepped_[so.on.front()];
        const double to = stepped_[so.on.back()] * (so.left ? 1.0 : 1.12);
        const auto at = [&](double v) {
            return turned_ ? chart.at(so.line.at(v) * fx, v * fy) : chart.at(v * fx, so.line.at(v) * fy);
        };
        QColor band = pal().data[k % pal().data.size()];
        band.setAlpha(110);
        painter.setPen(QPen(band, 5, Qt::SolidLine, Qt::FlatCap));
        painter.drawLine(at(from), at(to));
    }
    painter.restore();
}

void PadChart::paintOver(QPainter& painter, const Chart& chart) const
{
    const Palette& p = pal();
    painter.setRenderHint(QPainter::Antialiasing);
    if (empty_) {
        painter.setPen(p.quiet);
        painter.setFont(wordFont(12.5));
        painter.drawText(chart.area(), Qt::AlignCenter, "nothing read yet");
        return;
    }
    std::vector<double> named; ///< where names stand, by their points
    for (size_t k = 0; k < channels_.size(); ++k) {
        const std::vector<double>& y = channels_[k].y;
        std::optional<QPointF> last;
        for (size_t i = 0; i < std::min(x_.size(), y.size()); ++i) {
            if (std::isnan(x_[i]) || std::isnan(y[i]))
                continue;
            const QPointF at = chart.at(x_[i] * plot().x.factor, y[i] * plot().y.factor);
            if (!chart.area().adjusted(-2, -2, 2, 2).contains(at))
                continue;
            last = at;
        }
        if (!last)
            continue;
        painter.setPen(QPen(p.accent, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(*last, 6.5, 6.5);
        if (channels_.size() < 2)
            continue;
        painter.setPen(p.ink);
        painter.setFont(wordFont(11.5));
        // Below its point where another name stands above it already.
        const bool taken = std::ranges::any_of(named, [&](double at) { return std::abs(at - last->y()) < 16; });
        const double wide = QFontMetricsF(painter.font()).horizontalAdvance(channels_[k].name);
        painter.drawText(*last + QPointF(-wide - 10, taken ? 20 : -6), channels_[k].name);
        named.push_back(last->y());
    }
}

PadPlot::PadPlot(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("padPlot");
    setMinimumSize(260, 160);
    setWhatsThis(
        "The readings taken so far. Once three stand, the line through those that are straight is drawn; the ring "
        "is the last one.");
}

void PadPlot::show(const PadTable& table)
{
    table_ = table;
    std::vector<std::pair<Kind, std::vector<std::string>>> kinds;
    if (session_.hasSpecimen())
        for (const PadChannel& channel : table_.channels) {
            if (channel.name == session_.job().method->intake.across)
                continue;
            const Kind kind = findChannelName(channel.name)->kind;
            const auto it = std::ranges::find(kinds, kind, [](const auto& k) { return k.first; });
            (it == kinds.end() ? kinds.emplace_back(kind, std::vector<std::string>()) : *it)
                .second.push_back(channel.name);
        }
    while (charts_.size() < kinds.size()) {
        charts_.push_back(new PadChart(this));
        charts_.back()->setFocusPolicy(Qt::NoFocus); // keys belong to the sheet
        charts_.back()->setVisible(true);
    }
    while (charts_.size() > kinds.size()) {
        delete charts_.back();
        charts_.pop_back();
    }
    for (size_t i = 0; i < kinds.size(); ++i)
        fill(*charts_[i], kinds[i].first, kinds[i].second);
    layOut();
}

bool PadPlot::hasLine(const std::string& channel) const
{
    return session_.hasSpecimen()
        && lineOf(table_, session_.job().method->intake, channel, session_.specimen().input).line.valid();
}

void PadPlot::layOut()
{
    const int n = static_cast<int>(charts_.size());
    for (int i = 0; i < n; ++i)
        charts_[static_cast<size_t>(i)]->setGeometry(i * width() / n, 0, width() / n, height());
}

void PadPlot::resizeEvent(QResizeEvent*)
{
    layOut();
}

void PadPlot::fill(PadChart& chart, Kind kind, const std::vector<std::string>& channels) const
{
    const Intake& pad = session_.job().method->intake;
    const auto greatest = [](const std::vector<double>& values) {
        double most = 0;
        for (const double v : values)
            most = std::isnan(v) ? most : std::max(most, std::abs(v));
        return most;
    };
    const auto name = [&](const std::string& channel) { return q(pad.find(channel)->label).toLower(); };
    const auto unitOf = [&](Kind k, double most) -> const Unit& {
        return k == Kind::Strain ? *findUnit("µε", Kind::Strain) : displayUnit(k, most, units());
    };
    // Before anything is read the axes are of about what will be.
    const auto orElse = [](double most, double usual) { return most > 0 ? most : usual; };
    const Kind xKind = findChannelName(pad.across)->kind;
    std::vector<double> x = table_.values(pad.across);
    std::vector<PadChart::Channel> shown;
    double maxY = 0;
    for (const std::string& channel : channels) {
        shown.push_back(
            {name(channel), table_.values(channel), lineOf(table_, pad, channel, session_.specimen().input)});
        maxY = std::max(maxY, greatest(shown.back().y));
    }
    const double maxX = orElse(greatest(x), xKind == Kind::Angle ? 0.1 : xKind == Kind::Force ? 1000 : 1);
    maxY = orElse(maxY, kind == Kind::Strain ? 1e-3 : kind == Kind::Torque ? 1e4 : 1000);
    chart.showReadings(std::move(x), std::move(shown), table_.values(pad.stepped), pad.stepped != pad.across,
                       name(pad.across), unitOf(xKind, maxX),
                       channels.size() > 1 ? QString("strain") : name(channels.front()), unitOf(kind, maxY));
}

} // namespace fortitor
