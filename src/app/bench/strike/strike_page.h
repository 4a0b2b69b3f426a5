// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/load/pad_field.h"
#include "app/bench/page.h"
#include "app/bench/photos.h"
#include "app/bench/strike/look_row.h"
#include "app/bench/strike/pendulum_picture.h"
#include "app/bench/strike/pendulum_work.h"
#include "app/model/daily_values.h"

#include <QElapsedTimer>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>

#include <map>

namespace fortitor {

/// Where a piece is struck: temperature and the clock from the bath, the energy, how it broke and how it looks.
/// Everything by keys: the energy, Enter, a digit for each look, Enter to the next piece.
class StrikePage : public Page {
    Q_OBJECT
public:
    StrikePage(Session& session, LiveFrame& frame, QWidget* parent = nullptr);
    void refresh() override;
    void enter() override;
    [[nodiscard]] QStringList keys() const override;

signals:
    void readAsked();
    void setUpAsked();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void build();
    void buildSide(QVBoxLayout* outer);
    void buildNotes();
    void fill();
    void startClock();
    void showClock();
    void intoBath();
    void showBath();
    void take();
    void showPendulum();
    void swung(double reading, const QString& label, const std::map<std::string, std::string>& seen);
    [[nodiscard]] std::map<std::string, std::string> timesOf(const SpecimenInput& input);
    void goOn();
    void tried();
    void askPatch();
    void keepNote(const std::string& key, const std::string& value);
    void keepBlow(size_t index, const std::string& name, const std::string& text,
                  const std::map<std::string, std::string>& notes);
    void say(const QString& words, bool wrong = false);
    [[nodiscard]] QString here() const;

    PendulumWork pendulum_;
    DailyValues daily_;
    StrikeDesk desk_;
    QString standsAt_, builtFor_;
    bool byAngle_ = false;
    QElapsedTimer clock_;
    QTimer ticks_, bathTicks_;
    bool running_ = false;
    QString queried_; ///< typed over a reading that stands, and asked once
    double took_ = 0; ///< s, of the clock that was stopped
    std::map<QString, QString> drafts_; ///< half typed, by piece
    QLabel *title_ = nullptr, *hint_ = nullptr, *facts_ = nullptr, *clockWords_ = nullptr, *bathWords_ = nullptr,
           *result_ = nullptr, *message_ = nullptr, *caution_ = nullptr, *resolution_ = nullptr,
           *pendulumWords_ = nullptr;
    PendulumPicture* picture_ = nullptr;
    PhotoRow* photos_ = nullptr;
    PadField* energy_ = nullptr;
    QPushButton *way_ = nullptr, *take_ = nullptr, *release_ = nullptr, *guard_ = nullptr, *bath_ = nullptr,
                *intoBath_ = nullptr, *toRead_ = nullptr, *reminder_ = nullptr;
    QVBoxLayout* noteRows_ = nullptr;
    class QScrollArea* fields_ = nullptr;
    std::vector<LookRow*> looks_;
    std::vector<std::pair<std::string, QLineEdit*>> words_;
    size_t afterLooks_ = 0; ///< of `words_`, the first behind the looks
};

} // namespace fortitor
