// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/strike/pendulum_work.h"
#include "app/model/daily_values.h"
#include "app/widgets/hands.h"

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>

namespace fortitor {

/// The values of the days, the last ones, with the limit.
class DailyPicture : public QWidget {
    Q_OBJECT
public:
    explicit DailyPicture(QWidget* parent = nullptr);
    void show(const DailySpec& spec, std::vector<DailyRow> rows, const DailyJudged& judged);
    [[nodiscard]] QSize sizeHint() const override { return {420, 116}; }

protected:
    void paintEvent(QPaintEvent*) override;
    bool event(QEvent* event) override;

private:
    [[nodiscard]] QPointF spotOf(size_t row) const;
    [[nodiscard]] double top() const;
    DailySpec spec_;
    std::vector<DailyRow> rows_;
    DailyJudged judged_;
};

/// On Set up: today's value of a check that is made once a day, what it says, and those of the days before.
class DailyView : public QWidget {
    Q_OBJECT
public:
    DailyView(Session& session, LiveFrame& frame, QWidget* parent = nullptr);
    void refresh();

private:
    bool keep(const QString& text, const hands::Answered& answered = {});
    void showSimulated();

    Session& session_;
    DailyValues values_;
    PendulumWork pendulum_;
    QLabel *head_ = nullptr, *words_ = nullptr, *message_ = nullptr, *live_ = nullptr, *caution_ = nullptr;
    QLineEdit* edit_ = nullptr;
    QPushButton* simulated_ = nullptr;
    DailyPicture* picture_ = nullptr;
};

} // namespace fortitor
