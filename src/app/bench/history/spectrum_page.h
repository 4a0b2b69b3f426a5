// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/history/chain_strip.h"
#include "app/bench/history/history_work.h"
#include "app/bench/history/signal_view.h"
#include "app/bench/page.h"
#include "app/bench/read/result_card.h"
#include "app/widgets/plot_view.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QStackedWidget>

#include <map>
#include <optional>
#include <vector>

namespace fortitor {

/// A load history from its readings to its damage: the chain as boxes, each with its picture of a stretch, its setting
/// and what others would give; what was counted; the figures.
class SpectrumPage : public Page {
    Q_OBJECT
public:
    SpectrumPage(Session& session, QWidget* parent = nullptr);
    void refresh() override;
    void enter() override { strip_->setFocus(); }
    bool goTo(const QString& field) override;
    [[nodiscard]] QStringList keys() const override;
    /// For pictures and tests.
    void chooseBox(size_t box);
    [[nodiscard]] bool settled() const { return !stretchAsked_ && !work_.opening() && work_.share() < 0; }

private:
    QWidget* buildStep();
    QWidget* buildCounted();
    QVBoxLayout* buildSetting();
    QWidget* buildProgress();
    void showCards();
    void showBoxes();
    void showStep();
    void showCounted();
    void showProgress();
    void showTrials();
    void askTrials();
    void askStretch();
    void stretchAt(double reading);
    void showStretch(const std::shared_ptr<const SeenStretch>& stretch);
    bool keepSetting(const QString& typed, std::function<void(bool)> answered);
    void switchBox(size_t box);
    void worst();
    void generate();
    void saveSynthetic();
    void saveBlock();
    void saveMatrices();
    void saveText(const QString& title, const QString& name, const std::string& text);
    [[nodiscard]] std::string settingOf(const std::string& option) const;
    [[nodiscard]] const Outcome* outcome() const;

    HistoryWork work_;
    ChainStrip* strip_ = nullptr;
    QStackedWidget* stack_ = nullptr;
    SignalView* signal_ = nullptr;
    PlotView *step_ = nullptr, *left_ = nullptr, *right_ = nullptr;
    QComboBox *leftChoice_ = nullptr, *rightChoice_ = nullptr;
    QLabel *settingName_ = nullptr, *settingHelp_ = nullptr, *trialTable_ = nullptr, *progressWords_ = nullptr,
           *message_ = nullptr, *empty_ = nullptr, *synthetic_ = nullptr;
    QLineEdit* setting_ = nullptr;
    QCheckBox *only_ = nullptr, *trendBack_ = nullptr;
    QPushButton *switch_ = nullptr, *try_ = nullptr, *stop_ = nullptr, *worst_ = nullptr, *generate_ = nullptr,
                *saveSynthetic_ = nullptr, *block_ = nullptr, *matrices_ = nullptr;
    QProgressBar* bar_ = nullptr;
    QWidget* progress_ = nullptr;
    QHBoxLayout* cardRow_ = nullptr;
    std::vector<ResultCard*> cards_;
    std::shared_ptr<const SeenStretch> stretch_;
    std::shared_ptr<const HistoryFigures> shown_; ///< what the stretch and the pictures stand on
    std::vector<View> views_; ///< drawn from: they must outlive the plots
    std::vector<double> drawn_; ///< a synthetic history
    std::shared_ptr<const HistoryFigures> drawnOf_;
    std::optional<std::uint64_t> from_; ///< of the stretch; nothing: about the worst event
    bool stretchAsked_ = false;
    QString standsAt_;
    std::map<std::pair<QString, std::string>, std::string> before_; ///< settings of boxes that were switched off
    std::string settled_; ///< the settings that the stretch was asked with
};

} // namespace fortitor
