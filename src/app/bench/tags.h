// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>

#include <string>

namespace fortitor {

/// The specimens of a job as hanging tags. They shrink as they grow in number, then wrap; forty
/// stay readable. ←/→ choose, Insert adds.
class TagStrip : public QWidget {
    Q_OBJECT
public:
    TagStrip(Session& session, QWidget* parent = nullptr);
    [[nodiscard]] QRect tagRect(int index) const;

signals:
    void added(); ///< a specimen, which is the one at hand now

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void resizeEvent(QResizeEvent*) override;
    bool event(QEvent* event) override;

private:
    void add();
    struct Shape {
        int width = 74;
        int height = 78;
        int perRow = 1;
        int rows = 1;
    };
    [[nodiscard]] Shape shape() const;
    [[nodiscard]] int tagAt(const QPoint& at) const;
    void fit();
    void paintHistory(QPainter& painter, const QString& line) const;
    void seeAfter();
    void paintTag(QPainter& painter, int index, const QRect& box) const;

    Session& session_;
    int scroll_ = 0;
    std::string then_; ///< what the job after this one found on the piece at hand
    QString shown_; ///< what the tags told when they were last painted for a change
};

} // namespace fortitor
