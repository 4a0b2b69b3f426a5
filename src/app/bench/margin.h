// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QScrollArea>
#include <QTimer>
#include <QVBoxLayout>

namespace fortitor {

/// The remarks on the specimen at hand, each with its mark, the words, the advice and a way to
/// settle it; below them the words of caution of the stage.
class Margin : public QScrollArea {
    Q_OBJECT
public:
    Margin(Session& session, QWidget* parent = nullptr);
    /// Words of the page itself, above the remarks of the specimen (live ones, for instance).
    void setPageRemarks(const std::vector<Remark>& remarks);

signals:
    void fieldAsked(const QString& field);    ///< go where a remark points
    void symbolAsked(const QString& symbol);  ///< show where on the curve

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void rebuild();
    void addCard(const Remark& remark, bool settleable);
    void addSafety();
    Session& session_;
    QVBoxLayout* list_ = nullptr;
    QTimer later_;
    std::vector<Remark> pageRemarks_;
};

} // namespace fortitor
