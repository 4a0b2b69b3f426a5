// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>

namespace fortitor {

/// The stages as verbs in the order of the work. Alt+1…7.
class Ribbon : public QWidget {
    Q_OBJECT
public:
    Ribbon(Session& session, QWidget* parent = nullptr);
    /// The pages of the job at hand, in their order.
    [[nodiscard]] std::vector<PageSpec> pages() const;

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    [[nodiscard]] QRectF cell(size_t index) const;
    [[nodiscard]] bool done(Stage stage) const;
    Session& session_;
    QString shown_; ///< which stages were done when it was last painted for a change
};

} // namespace fortitor
