// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QScrollArea>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>

#include <functional>
#include <map>

namespace fortitor {

/// The remarks on the specimen at hand, each with its mark, the words, the advice and a way to
/// settle it; below them the words of caution of the stage.
class Margin : public QScrollArea {
    Q_OBJECT
public:
    Margin(Session& session, QWidget* parent = nullptr);
    /// Words of the page itself, above the remarks of the specimen (live ones, for instance).
    void setPageRemarks(const std::vector<Remark>& remarks);
    /// What other jobs tell of the piece at hand.
    void setTesterRemarks(const std::vector<Remark>& remarks);

signals:
    void fieldAsked(const QString& field); ///< go where a remark points
    void symbolAsked(const QString& symbol); ///< show where on the curve

protected:
    void paintEvent(QPaintEvent*) override;

private:
    /// What stands in the list, in order: told apart by `key`, made only where it does not stand already.
    struct Entry {
        QString key;
        std::function<QWidget*()> make;
    };
    void rebuild();
    [[nodiscard]] std::vector<Entry> entries();
    void keepTyped(std::vector<Entry>& wanted);
    [[nodiscard]] Entry card(const Remark& remark, bool settleable);
    [[nodiscard]] QWidget* makeCard(const Remark& remark, bool settleable);
    [[nodiscard]] QWidget* makeSafety(const QStringList& words) const;
    void addReason(QVBoxLayout* words, QPushButton* accept, const std::string& code);
    Session& session_;
    QVBoxLayout* list_ = nullptr;
    QTimer later_;
    void replace(std::vector<Remark>& old, const std::vector<Remark>& remarks);
    std::vector<Remark> pageRemarks_, testerRemarks_;
    std::vector<std::pair<QString, QWidget*>> shown_;
    std::map<QString, QString> reasons_; ///< being typed, by specimen and code
};

} // namespace fortitor
