// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/judge/set_results.h"
#include "app/bench/page.h"
#include "app/widgets/plot_view.h"
#include "app/bench/judge/scatter_picture.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QTableWidget>

#include <map>

namespace fortitor {

/// Overlay of a set's curves and strips of its values against what is wanted.
class SetPicture : public QWidget {
    Q_OBJECT
public:
    SetPicture(Session& session, QWidget* parent = nullptr);
    void rebuild();

signals:
    void specimenChosen(size_t index);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    void paintStrips(QPainter& painter, const QRectF& room);
    void paintHead(QPainter& painter, const QPointF& at, const ResultSpec& spec, const QString& limits) const;
    void paintStrip(QPainter& painter, const QRectF& room, const std::string& symbol);
    void paintPiece(QPainter& painter, const QPointF& c, size_t i, bool fails);
    Session& session_;
    PlotView* curves_ = nullptr;
    std::vector<std::pair<QRectF, size_t>> spots_; ///< where specimens can be hit
};

/// The whole set: overlay, strips, statistics, remarks, the verdict as a sentence.
class JudgePage : public Page {
    Q_OBJECT
public:
    JudgePage(Session& session, QWidget* parent = nullptr);
    void refresh() override;
    [[nodiscard]] QStringList keys() const override;

private:
    void buildTable();
    QHBoxLayout* buildActions();
    void fillTable();
    void exclude();
    void showReason();
    void keep();
    void showApproval();
    [[nodiscard]] QString approvedHow() const;
    QLabel* verdict_ = nullptr;
    SetPicture* picture_ = nullptr;
    ScatterPicture* scatter_ = nullptr;
    SetResults* set_ = nullptr;
    int side_ = 0; ///< of the two segments
    class ToldColumn* told_ = nullptr;
    QWidget* shown_ = nullptr;
    QStackedWidget* stack_ = nullptr;
    QPushButton* curvesSide_ = nullptr;
    QPushButton* scatterSide_ = nullptr;
    QTableWidget* table_ = nullptr;
    QPushButton* out_ = nullptr;
    QPushButton* keep_ = nullptr;
    QLineEdit* reason_ = nullptr;
    QLabel* hint_ = nullptr;
    QString reasonFor_; ///< the specimen that the reason is typed for
    std::map<QString, QString> reasons_; ///< typed for others and not kept
};

} // namespace fortitor
