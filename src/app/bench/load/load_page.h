// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/setup/hand_set.h"
#include "app/bench/page.h"
#include "app/bench/load/check_panel.h"
#include "app/bench/load/reading_pad.h"
#include "jobs/rehearsed.h"
#include "app/model/live_frame.h"
#include "draw/plot.h"

#include "draw/chart.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>

namespace fortitor {

/// The run: live curve, large readouts, the rate in its window, limits, prompts, STOP.
class LoadPage : public Page {
    Q_OBJECT
public:
    LoadPage(Session& session, LiveFrame& frame, QWidget* parent = nullptr);
    void refresh() override;
    void enter() override;
    [[nodiscard]] QStringList keys() const override;

signals:
    void readAsked();
    void importAsked();
    void setUpAsked();

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    static constexpr int side = 282; ///< width of the readouts
    void follow();
    void place();
    void nextPiece();
    [[nodiscard]] bool padShown() const;
    void showPad();
    void paintLive(QPainter& painter, const QRectF& area) const;
    double paintReadout(QPainter& painter, QPointF at, const QString& name, const QString& figure,
                        const QString& unit) const;
    double paintLoadAndWay(QPainter& painter, QPointF at) const;
    double paintRate(QPainter& painter, QPointF at, double width) const;
    [[nodiscard]] Plot livePlot(double expected) const;
    [[nodiscard]] const RunStage* stageNow() const;
    [[nodiscard]] std::optional<LoadProfile> profileNow() const;
    [[nodiscard]] double ratedLoad() const;
    void addLoops(Plot& plot) const;
    double paintHold(QPainter& painter, QPointF at) const;
    void paintReadouts(QPainter& painter, double left, double top, double width) const;
    [[nodiscard]] double paintBand(QPainter& painter) const;
    void paintEvents(QPainter& painter, const QRectF& room) const;
    LiveFrame& frame_;
    QPushButton* start_ = nullptr;
    QPushButton* hold_ = nullptr;
    QPushButton* stop_ = nullptr;
    QPushButton* answer_ = nullptr;
    QPushButton* toRead_ = nullptr;
    QPushButton* next_ = nullptr;
    QPushButton* centred_ = nullptr;
    QPushButton* guard_ = nullptr;
    QPushButton* import_ = nullptr;
    QComboBox* pace_ = nullptr;
    CheckPanel* check_ = nullptr;
    HandSet* handSet_ = nullptr;
    ReadingPad* pad_ = nullptr;
    QPushButton* byHand_ = nullptr;
    std::optional<Rehearsed> rehearsed_;
};

} // namespace fortitor
