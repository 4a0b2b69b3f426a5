// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/history/history_work.h"
#include "app/bench/history/signal_view.h"
#include "app/bench/page.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include <vector>

namespace fortitor {

/// Where a long signal is taken in: its files, how they are read, and the signal to look at, from the whole to a single
/// stroke.
class HistoryPage : public Page {
    Q_OBJECT
public:
    HistoryPage(Session& session, QWidget* parent = nullptr);
    void refresh() override;
    void enter() override;
    bool goTo(const QString& field) override;
    [[nodiscard]] QStringList keys() const override;
    /// Hangs files on the specimen at hand, in this order, as one history.
    void takeFiles(const QStringList& paths);

signals:
    void readAsked();

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    QHBoxLayout* buildFields();
    QLineEdit* addField(QHBoxLayout* row, const char* key, const QString& words, const QString& hint,
                        const QString& help, int wide);
    void chooseFiles();
    void showFile();
    bool keepField(const std::string& key, const QString& typed, std::function<void(bool)> answered);
    HistoryWork work_;
    QLabel *title_ = nullptr, *facts_ = nullptr, *message_ = nullptr, *where_ = nullptr;
    QPushButton *take_ = nullptr, *toRead_ = nullptr, *worst_ = nullptr;
    std::vector<std::pair<std::string, QLineEdit*>> fields_, notes_;
    SignalView* signal_ = nullptr;
};

} // namespace fortitor
