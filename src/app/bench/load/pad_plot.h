// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/widgets/plot_view.h"
#include "curve/step_doubt.h"
#include "jobs/pad.h"

#include <QWidget>

namespace fortitor {

/// The readings of one kind of quantity as they come: points, the straight part as soon as three stand, a ring about
/// the last one.
class PadChart : public PlotView {
    Q_OBJECT
public:
    using PlotView::PlotView;
    struct Channel {
        QString name;
        std::vector<double> y;
        StraightSoFar so;
    };
    /// `stepped`: the readings of the channel that goes by steps; `turned` when that stands along y.
    void showReadings(std::vector<double> x, std::vector<Channel> channels, std::vector<double> stepped, bool turned,
                      const QString& xName, const Unit& xUnit, const QString& yName, const Unit& yUnit);

protected:
    void paintUnder(QPainter& painter, const Chart& chart) const override;
    void paintOver(QPainter& painter, const Chart& chart) const override;

private:
    std::vector<double> x_, stepped_;
    std::vector<Channel> channels_;
    bool turned_ = false;
    bool empty_ = false;
};

/// The readings as they come: one chart a kind of quantity, over the pad's own x axis.
class PadPlot : public QWidget {
    Q_OBJECT
public:
    explicit PadPlot(Session& session, QWidget* parent = nullptr);
    void show(const PadTable& table);
    /// Whether a straight part is drawn for a channel; for tests.
    [[nodiscard]] bool hasLine(const std::string& channel) const;

protected:
    void resizeEvent(QResizeEvent*) override;

private:
    void fill(PadChart& chart, Kind kind, const std::vector<std::string>& channels) const;
    void layOut();
    Session& session_;
    PadTable table_;
    std::vector<PadChart*> charts_;
};

} // namespace fortitor
