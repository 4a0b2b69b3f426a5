// SPDX-License-Identifier: GPL-3.0-or-later
// What stands on the page.
#include "app/bench/history/spectrum_page.h"

#include "app/widgets/basics.h"
#include "app/widgets/hands.h"

#include <QVBoxLayout>

namespace fortitor {

QWidget* SpectrumPage::buildProgress()
{
    progress_ = new QWidget;
    auto* row = new QHBoxLayout(progress_);
    row->setContentsMargins(0, 0, 0, 0);
    progressWords_ = label({}, "quiet");
    progressWords_->setObjectName("spectrumProgress");
    bar_ = new QProgressBar;
    bar_->setRange(0, 1000);
    bar_->setTextVisible(false);
    bar_->setFixedHeight(6);
    stop_ = button("Stop", "", "spectrumStop");
    stop_->setToolTip("Ends the counting; nothing of the history or the settings is lost");
    connect(stop_, &QPushButton::clicked, this, [this] {
        if (work_.share() >= 0)
            work_.stop();
        else
            session_.workAgain(session_.current());
    });
    progressWords_->setWordWrap(false);
    row->addWidget(progressWords_);
    row->addWidget(bar_, 1);
    row->addWidget(stop_);
    progress_->hide();
    return progress_;
}

QWidget* SpectrumPage::buildStep()
{
    auto* page = new QWidget;
    auto* row = new QHBoxLayout(page);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(16);
    auto* pictures = new QVBoxLayout;
    pictures->setSpacing(4);
    signal_ = new SignalView;
    pictures->addWidget(signal_, 2);
    step_ = new PlotView;
    step_->setObjectName("stepPlot");
    pictures->addWidget(step_, 3);
    row->addLayout(pictures, 1);
    row->addLayout(buildSetting());
    return page;
}

QVBoxLayout* SpectrumPage::buildSetting()
{
    auto* side = new QVBoxLayout;
    side->setSpacing(6);
    settingName_ = label({}, "head");
    settingName_->setFixedWidth(232);
    side->addWidget(settingName_);
    settingHelp_ = label({}, "quiet");
    settingHelp_->setWordWrap(true);
    settingHelp_->setFixedWidth(232);
    side->addWidget(settingHelp_);
    auto* row = new QHBoxLayout;
    setting_ = lineEdit("boxSetting", {});
    hands::onKept(setting_, this, [this](const QString& typed, hands::Answered answered) {
        return keepSetting(typed, std::move(answered));
    });
    switch_ = button("Off", "", "boxSwitch");
    switch_->setToolTip("Switches this step off, and on again (Space on its box)");
    connect(switch_, &QPushButton::clicked, this, [this] { switchBox(strip_->chosen()); });
    row->addWidget(setting_, 1);
    row->addWidget(switch_);
    side->addLayout(row);
    only_ = new QCheckBox("for this history only");
    only_->setObjectName("boxOnly");
    only_->setToolTip("Else for all histories of the job");
    side->addWidget(only_);
    worst_ = button("Worst event", "", "spectrumWorst");
    worst_->setToolTip("Puts the stretch on the highest or lowest turning point (W)");
    worst_->setShortcut(QKeySequence(Qt::Key_W));
    connect(worst_, &QPushButton::clicked, this, &SpectrumPage::worst);
    side->addWidget(worst_);
    try_ = button("What would others give?", "", "boxTry");
    try_->setToolTip("Counts the whole once more with other settings; nothing is kept of them");
    connect(try_, &QPushButton::clicked, this, &SpectrumPage::askTrials);
    side->addWidget(try_);
    trialTable_ = label({});
    trialTable_->setObjectName("trialTable");
    trialTable_->setTextFormat(Qt::RichText);
    trialTable_->setWordWrap(true);
    trialTable_->setFixedWidth(232);
    side->addWidget(trialTable_);
    side->addStretch();
    return side;
}

QWidget* SpectrumPage::buildCounted()
{
    auto* page = new QWidget;
    auto* row = new QHBoxLayout(page);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(14);
    const auto half = [&](QComboBox*& choice, PlotView*& plot, const char* name) {
        auto* cell = new QVBoxLayout;
        cell->setSpacing(2);
        choice = new QComboBox;
        choice->setObjectName(QString(name) + "Choice");
        plot = new PlotView;
        plot->setObjectName(name);
        auto* line = new QHBoxLayout;
        line->addWidget(choice);
        line->addStretch();
        cell->addLayout(line);
        cell->addWidget(plot, 1);
        connect(choice, &QComboBox::activated, this, &SpectrumPage::showCounted);
        return cell;
    };
    row->addLayout(half(leftChoice_, left_, "countedLeft"), 11);
    row->addLayout(half(rightChoice_, right_, "countedRight"), 8);
    auto* side = new QVBoxLayout;
    side->setSpacing(6);
    side->addWidget(label("synthetic history", "head"));
    synthetic_ = label({}, "quiet");
    synthetic_->setObjectName("syntheticWords");
    synthetic_->setWordWrap(true);
    synthetic_->setFixedWidth(150);
    side->addWidget(synthetic_);
    generate_ = button("Generate", "", "syntheticGenerate");
    generate_->setToolTip(
        "Draws turning points with the same transitions, and lays their ranges over the counted ones");
    trendBack_ = new QCheckBox("with the slow trend");
    trendBack_->setObjectName("syntheticTrend");
    trendBack_->setToolTip("Puts day and night warmth back under the points that are saved");
    saveSynthetic_ = button("Save it …", "link", "syntheticSave");
    block_ = button("Block program …", "link", "blockSave");
    block_->setToolTip("Steps of ranges with their cycles, as a frame runs them");
    matrices_ = button("Save matrices …", "link", "matricesSave");
    for (QWidget* one : std::initializer_list<QWidget*>{generate_, trendBack_, saveSynthetic_, block_, matrices_})
        side->addWidget(one);
    connect(generate_, &QPushButton::clicked, this, &SpectrumPage::generate);
    connect(saveSynthetic_, &QPushButton::clicked, this, &SpectrumPage::saveSynthetic);
    connect(block_, &QPushButton::clicked, this, &SpectrumPage::saveBlock);
    connect(matrices_, &QPushButton::clicked, this, &SpectrumPage::saveMatrices);
    side->addStretch();
    row->addLayout(side);
    return page;
}

} // namespace fortitor
