// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "jobs/pad.h"

#include <QWidget>

namespace fortitor {

/// The readings as they come: points, and the straight part as soon as three stand. One chart a kind of
/// quantity, over the pad's own x axis.
class PadPlot : public QWidget {
    Q_OBJECT
public:
    explicit PadPlot(Session& session, QWidget* parent = nullptr);
    void show(const PadTable& table);
    /// Whether a straight part is drawn for a channel; for tests.
    [[nodiscard]] bool hasLine(const std::string& channel) const;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void paintKind(QPainter& painter, const QRectF& area, Kind kind, const std::vector<std::string>& channels) const;
    Session& session_;
    PadTable table_;
};

} // namespace fortitor
