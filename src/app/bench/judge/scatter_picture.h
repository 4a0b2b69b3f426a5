// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/widgets/plot_view.h"

#include <QComboBox>
#include <QWidget>

namespace fortitor {

/// How a figure scatters over the set: histogram, normal probability plot, tolerance bounds, and where
/// the scatter comes from, as a sentence.
class ScatterPicture : public QWidget {
    Q_OBJECT
public:
    ScatterPicture(Session& session, QWidget* parent = nullptr);
    void rebuild();
    /// The words under the pictures, for tests and for copying.
    [[nodiscard]] QStringList sentences() const;

signals:
    void specimenChosen(size_t index);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    [[nodiscard]] const SetFigure* figure() const;
    [[nodiscard]] QString symbolUnit(const SetFigure& figure) const;
    [[nodiscard]] Plot countsOf(const SetFigure& figure) const;
    [[nodiscard]] Plot probabilityOf(const SetFigure& figure) const;
    void follow();
    Session& session_;
    QComboBox* symbol_ = nullptr;
    QString builtFor_;
    PlotView* counts_ = nullptr;
    PlotView* probability_ = nullptr;
};

} // namespace fortitor
