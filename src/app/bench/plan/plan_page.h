// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/page.h"
#include "app/bench/plan/option_trial.h"
#include "app/bench/plan/loads_view.h"
#include "app/bench/plan/proposal_table.h"
#include "app/bench/plan/rules_view.h"
#include "app/bench/plan/spread_view.h"

#include <QHBoxLayout>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QScrollArea>
#include <QVBoxLayout>

#include <array>
#include <cstdint>

namespace fortitor {

/// What is asked, of how many, by which options; rates, expected loads and times worked out.
class PlanPage : public Page {
    Q_OBJECT
public:
    PlanPage(Session& session, QWidget* parent = nullptr);
    void refresh() override;
    void enter() override;
    bool goTo(const QString& field) override;
    [[nodiscard]] QStringList keys() const override;

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void buildRequirements();
    [[nodiscard]] QHBoxLayout* makeAddRow();
    void fillRequirements();
    void fillOptions();
    struct LimitField {
        const char* words;
        const char* key;
        const char* help;
    };
    using KeepLimits = Expected<Command> (*)(const JobDocument&, const std::string&, const std::string&,
                                             const std::string&);
    void addLimitFields(QHBoxLayout* row, const std::string& symbol, const std::array<LimitField, 2>& limits,
                        KeepLimits keep);
    void addLotRow(const Requirement& requirement);
    void offerMaterials();
    QGridLayout* makeJobForm();
    void connectJobForm();
    void buildOptions();
    void refreshRows();
    void showForecast();
    QLineEdit* number_ = nullptr;
    QLineEdit* title_ = nullptr;
    QLineEdit* material_ = nullptr;
    QLineEdit* direction_ = nullptr;
    QScrollArea* scroll_ = nullptr;
    QBoxLayout* columns_ = nullptr;
    QVBoxLayout* requirements_ = nullptr;
    QComboBox* method_ = nullptr;
    OptionTrial* trial_ = nullptr;
    ProposalTable* proposals_ = nullptr;
    SpreadView* spread_ = nullptr;
    LoadsView* loads_ = nullptr;
    RulesView* rules_ = nullptr;
    QVBoxLayout* options_ = nullptr;
    QLabel* forecast_ = nullptr;
    QLabel* published_ = nullptr;
    QWidget* requirementRows_ = nullptr;
    QComboBox* addSymbol_ = nullptr;
    QLineEdit* addMin_ = nullptr;
    QString requirementsFor_;
    QString optionsFor_;
    std::int64_t job_ = 0;
    QString lotShown_; ///< symbol whose lot limits were asked for
};

} // namespace fortitor
