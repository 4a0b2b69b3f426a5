// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include "app/theme/theme.h"

#include <QPainter>
#include <QWidget>

#include <vector>

namespace fortitor {

/// A page of the bench, one a stage.
class Page : public QWidget {
    Q_OBJECT
public:
    Page(Session& session, QWidget* parent) : QWidget(parent), session_(session) { }
    /// Brings the page up to date; only called while it is to be seen or about to be.
    virtual void refresh() = 0;
    /// Puts the cursor where the work begins.
    virtual void enter() { }
    /// Goes to a field a remark points at; false when it is not on this page.
    virtual bool goTo(const QString&) { return false; }
    /// Keys of the page, "key|what it does".
    [[nodiscard]] virtual QStringList keys() const { return {}; }

signals:
    void pageRemarks(const std::vector<Remark>& remarks);

protected:
    void paintEvent(QPaintEvent*) override { QPainter(this).fillRect(rect(), pal().surface); }
    Session& session_;
};

} // namespace fortitor
