// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/read/curve_plot.h"
#include "app/bench/page.h"
#include "app/model/latest.h"
#include "app/bench/plan/option_trial.h"
#include "app/bench/read/result_card.h"
#include "app/bench/read/what_if_panel.h"
#include "app/bench/read/working_drawer.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QTableWidget>

namespace fortitor {

class ReadPage : public Page {
    Q_OBJECT
public:
    ReadPage(Session& session, QWidget* parent = nullptr);
    void refresh() override;
    void enter() override { (plot_->isVisibleTo(this) ? static_cast<QWidget*>(plot_) : views_)->setFocus(); }
    [[nodiscard]] QStringList keys() const override;
    void chooseSymbol(const QString& symbol);
    bool goTo(const QString& field) override;

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    QHBoxLayout* buildTools();
    void buildLimitTable();
    QWidget* buildCards();
    void connectPlot();
    void backToAutomatic();
    void buildChoices();
    void tryOption();
    void buildNotes();
    void addTypedNote(const NoteSpec& note);
    void fillNotes();
    void showOutcome(const Outcome& outcome);
    void showViews(const Outcome* outcome);
    void showCurves(const Outcome* outcome);
    void showChoices(const Outcome* outcome);
    void handleMoved(const QString& option, const QString& value, bool done);
    void showMoving(std::optional<Outcome> outcome);
    [[nodiscard]] std::pair<std::int64_t, size_t> atHand() const { return {session_.jobId(), session_.current()}; }
    [[nodiscard]] std::vector<std::string> symbolsOf(const Outcome& outcome) const;
    QComboBox* view_ = nullptr;
    QComboBox* option_ = nullptr;
    QComboBox* choice_ = nullptr;
    std::vector<QWidget*> choosers_;
    QWidget* noteRow_ = nullptr;
    std::vector<std::pair<std::string, class NotePicker*>> pickers_;
    std::vector<std::pair<std::string, QLineEdit*>> typedNotes_;
    QHBoxLayout *notes_ = nullptr, *typedRow_ = nullptr;
    OptionTrial* trial_ = nullptr;
    WhatIfPanel* whatIf_ = nullptr;
    QPushButton* ask_ = nullptr;
    class ToldColumn* told_ = nullptr;
    QTableWidget* choicesTable_ = nullptr;
    QString builtFor_;
    CurvePlot* plot_ = nullptr;
    class ZoneBar* zones_ = nullptr;
    PlotView* views_ = nullptr; ///< in its place, where the method gives no curve
    QComboBox* viewChoice_ = nullptr;
    WorkingDrawer* working_ = nullptr;
    QHBoxLayout* cardRow_ = nullptr;
    QWidget* cardScroll_ = nullptr;
    std::vector<ResultCard*> cards_;
    QString chosen_;
    std::optional<Outcome> moving_;
    std::pair<std::int64_t, size_t> movingOf_; ///< its job and specimen
    LatestOutcome preview_;
};

} // namespace fortitor
