// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QLabel>
#include <QTimer>
#include <QWidget>

namespace fortitor {

/// How a figure came about: the formula with symbols and with numbers, what it rests on, where most
/// of its doubt comes from, and what another option would make of it.
/// The budget of a figure's doubt as ranked bars, with what to improve first.
class BudgetBars : public QWidget {
    Q_OBJECT
public:
    static constexpr int wide = 268;
    BudgetBars();
    void show(Budget budget, const QString& advice);
    [[nodiscard]] QString text() const;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Budget budget_;
    QString advice_;
};

/// The stress across a section, where a figure rests on how it is spread there.
class StressPicture : public QWidget {
    Q_OBJECT
public:
    StressPicture();
    void show(const Outcome& outcome, const std::string& symbol);
    [[nodiscard]] bool shown() const { return profile_.has_value(); }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::optional<StressProfile> profile_;
    std::vector<StressProfile> others_;
};

class WorkingDrawer : public QWidget {
    Q_OBJECT
public:
    WorkingDrawer(Session& session, QWidget* parent = nullptr);
    void show(const QString& symbol, const Outcome& outcome);
    [[nodiscard]] QString text() const;

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    void fillAlternatives();
    void showAlternatives(const std::vector<Alternative>& found);
    Session& session_;
    QLabel* left_ = nullptr;
    BudgetBars* bars_ = nullptr;
    StressPicture* picture_ = nullptr;
    QLabel* right_ = nullptr;
    QTimer later_;
    int asked_ = 0;
    QString symbol_;
    QString rightHead_;
    QStringList changes_;
};

} // namespace fortitor
