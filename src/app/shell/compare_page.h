// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "draw/chart.h"
#include "draw/overlay.h"
#include "jobs/comparison.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>
#include <QWidget>

#include <map>
#include <memory>

namespace fortitor {

/// Curves laid over each other from their corrected origins. Told apart by colour, dash and letter, so
/// that no eye needs the colour. Drag pans, the wheel zooms, a double click shows all.
class ComparePlot : public QWidget {
    Q_OBJECT
public:
    struct Line {
        QString label;
        const CurveView* view = nullptr;
        int group = 0;
        QString groupName;
    };
    explicit ComparePlot(QWidget* parent = nullptr);
    void show(std::vector<Line> lines, bool byGroup);
    void panBy(const QPointF& pixels);
    [[nodiscard]] QImage picture(int width, int height);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    /// A curve brought down to what any view of it at this width can show.
    struct Reduced {
        std::vector<double> x, y;
    };
    void draw(QPainter& painter, const QRectF& room, bool quick) const;
    void drawLegend(QPainter& painter, const Chart& chart) const;
    [[nodiscard]] Chart chartIn(const QRectF& room) const;
    std::vector<Line> lines_;
    std::vector<Reduced> coarse_; ///< for panning
    Overlay overlay_;
    bool byGroup_ = false;
    bool moving_ = false;
    QPointF grabbed_;
    double left_ = 0, right_ = 1, bottom_ = 0, top_ = 1;
};

/// Curves of any specimens of any jobs, with the differences of their figures.
class ComparePage : public QWidget {
    Q_OBJECT
public:
    ComparePage(Session& session, QWidget* parent = nullptr);
    void refresh();
    [[nodiscard]] const Comparison& comparison() const { return comparison_; }
    bool savePicture(const QString& path);
    bool saveData(const QString& path);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    using Key = std::pair<std::int64_t, int>;
    struct Picked {
        QString label;
        std::map<std::string, std::string> by; ///< "job", "batch" … → group
        Outcome outcome;
        const Method* method = nullptr;
    };
    void pick(QListWidgetItem* item);
    void rebuild();
    void fillTable();
    [[nodiscard]] std::vector<ComparedSpecimen> compared() const;
    Session& session_;
    QLineEdit* search_ = nullptr;
    QListWidget* list_ = nullptr;
    ComparePlot* plot_ = nullptr;
    QTableWidget* table_ = nullptr;
    QComboBox* by_ = nullptr;
    QLabel* words_ = nullptr;
    QPushButton* savePicture_ = nullptr;
    QPushButton* saveData_ = nullptr;
    std::map<Key, Picked> picked_;
    std::vector<Key> order_;
    Comparison comparison_;
};

} // namespace fortitor
