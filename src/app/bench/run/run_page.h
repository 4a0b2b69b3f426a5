// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/load/pad_field.h"
#include "app/bench/page.h"
#include "app/bench/run/rig_work.h"
#include "app/bench/run/run_lanes.h"
#include "app/bench/strike/look_row.h"
#include "app/widgets/hands.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QTimer>

#include <map>

namespace fortitor {

/// Where pieces are run to their end: all of them as lanes over their cycles, the one at hand keyed below or run on the
/// frame. By keys: cycles, Enter, a digit for the end, Enter to the next piece.
class RunPage : public Page {
    Q_OBJECT
public:
    RunPage(Session& session, LiveFrame& frame, QWidget* parent = nullptr);
    void refresh() override;
    void enter() override;
    bool goTo(const QString& field) override;
    [[nodiscard]] QStringList keys() const override;

signals:
    void judgeAsked();
    void importAsked();

private:
    void build();
    QHBoxLayout* buildFields();
    QHBoxLayout* buildActions();
    QLineEdit* noteField(QHBoxLayout* row, const char* key, const QString& words, const QString& unit, int wide);
    void fill();
    void showRig();
    void take();
    void goOn();
    bool keepRange(const QString& typed, hands::Answered answered);
    void keepNote(const std::string& key, const std::string& value);
    void keepRun(size_t index, double cycles, const std::map<std::string, std::string>& notes);
    void forAll();
    void ended(size_t specimen, double cycles, const QString& outcome, const QString& because);
    void say(const QString& words, bool wrong = false);

    RigWork rig_;
    bool corrected_ = false; ///< the end that was picked stood already
    RunDesk desk_;
    QString standsAt_, queried_;
    std::map<QString, QString> drafts_;
    QTimer ticks_;
    QLabel *title_ = nullptr, *facts_ = nullptr, *rigWords_ = nullptr, *message_ = nullptr, *caution_ = nullptr;
    RunLanes* lanes_ = nullptr;
    QScrollArea* scroll_ = nullptr;
    PadField* cycles_ = nullptr;
    QLineEdit* range_ = nullptr;
    std::vector<std::pair<std::string, QLineEdit*>> notes_;
    LookRow* end_ = nullptr;
    QComboBox* pace_ = nullptr;
    QPushButton *take_ = nullptr, *step_ = nullptr, *all_ = nullptr, *watch_ = nullptr, *toJudge_ = nullptr;
};

} // namespace fortitor
