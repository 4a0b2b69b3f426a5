// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/page.h"
#include "app/model/live_frame.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace fortitor {

/// The load train drawn top to bottom with each link's margin; the steps of setting up, ticked by
/// what the channels show; limits and what still holds the start back.
class SetUpPage : public Page {
    Q_OBJECT
public:
    SetUpPage(Session& session, LiveFrame& frame, QWidget* parent = nullptr);
    void refresh() override;
    void enter() override;
    [[nodiscard]] QStringList keys() const override;

signals:
    void loadAsked();

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void buildSteps();
    void buildChoices();
    void follow();
    LiveFrame& frame_;
    QComboBox* choices_[5] = {};
    QLabel* names_[5] = {};
    QVBoxLayout* steps_ = nullptr;
    QLabel* force_ = nullptr;
    QLabel* holds_ = nullptr;
    QLabel* limits_ = nullptr;
    QPushButton* next_ = nullptr;
    QWidget* trainRoom_ = nullptr;
    struct Step {
        StepSpec spec;
        QPushButton* act = nullptr;
        QWidget* tick = nullptr;
    };
    std::vector<Step> rows_;
    QString preparedFor_;
    QString trouble_;
};

} // namespace fortitor
