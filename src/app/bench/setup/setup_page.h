// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/setup/hand_set.h"
#include "app/bench/page.h"
#include "app/bench/setup/balance_view.h"
#include "app/bench/setup/daily_view.h"
#include "app/model/live_frame.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
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
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent*) override;

private:
    void buildInstruments();
    void buildFrameRow();
    void buildForce();
    void buildLimits();
    void buildLast();
    void buildSteps();
    QPushButton* doneButton(const StepSpec& spec, QHBoxLayout* line);
    QPushButton* frameButton(const StepSpec& spec, QHBoxLayout* line);
    [[nodiscard]] std::string stepsText() const;
    [[nodiscard]] bool strikes() const; ///< a pendulum is
    [[nodiscard]] bool indents() const; ///< a tester is drawn in place of a train
    bool refitted_ = false; ///< since the last piece on it
    void buildChoices();
    void follow();
    LiveFrame& frame_;
    void showHolds();
    void showLimits();
    void placeLimits(int columns);
    [[nodiscard]] bool lowAndWide() const;
    void rehearse();
    void showRehearsal();
    static constexpr int chooseable = 6;
    QComboBox* choices_[chooseable] = {};
    QLabel* names_[chooseable] = {};
    BalanceView* balance_ = nullptr;
    DailyView* daily_ = nullptr;
    QVBoxLayout* steps_ = nullptr;
    QLabel* force_ = nullptr;
    QVBoxLayout* holds_ = nullptr;
    QString holdsShown_;
    QLabel* limits_ = nullptr;
    QLabel* limitsHead_ = nullptr;
    QLabel* link_ = nullptr;
    QComboBox* rate_ = nullptr;
    QComboBox* way_ = nullptr; ///< by hand, or on the frame
    QLabel* wayWords_ = nullptr;
    HandSet* handSet_ = nullptr;
    QPushButton* rehearse_ = nullptr;
    QLabel* rehearsed_ = nullptr;
    std::vector<std::pair<std::string, QLineEdit*>> limitFields_;
    QLabel* limitNames_[5] = {};
    QGridLayout* limitGrid_ = nullptr;
    QGridLayout* grid_ = nullptr;
    QWidget* frameRow_ = nullptr;
    QLabel* frameWords_ = nullptr;
    QScrollArea* scroll_ = nullptr;
    QPushButton* next_ = nullptr;
    QWidget* trainRoom_ = nullptr;
    struct Step {
        StepSpec spec;
        QPushButton* act = nullptr;
        QWidget* tick = nullptr;
    };
    std::vector<Step> rows_;
    QWidget* forceRoom_ = nullptr;
    QHBoxLayout* read_ = nullptr; ///< the force, and the crosshead by hand
    QHBoxLayout* last_ = nullptr;
    QString choicesFor_; ///< the method
    QString stepsFor_;
    QString painted_; ///< what of the frame the train shows
    QString preparedFor_;
    QString trouble_;
};

} // namespace fortitor
