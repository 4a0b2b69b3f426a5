// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/load/pad_field.h"
#include "app/bench/load/pad_plot.h"
#include "app/bench/load/pad_sheet.h"
#include "app/model/session.h"
#include "sim/stepped_bench.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace fortitor {

/// Where a dial, a strain indicator and a sheet of paper were: the next target large, a field a channel in the
/// order of reading, the plot growing beside it. Enter takes a reading and goes on.
class ReadingPad : public QWidget {
    Q_OBJECT
public:
    explicit ReadingPad(Session& session, QWidget* parent = nullptr);
    /// Brings it up to the session; called while it is to be seen.
    void refresh();
    /// Puts the cursor where the next reading goes.
    void enter();
    /// Takes the readings of a text file in behind what stands; says in the pad's message why it can't.
    void takeFile(const QString& path);
    [[nodiscard]] static QStringList keys();
    [[nodiscard]] QString message() const { return message_->text(); }

signals:
    void ticked(); ///< a reading was taken
    void readAsked();
    void nextAsked();
    void frameAsked();

protected:
    void paintEvent(QPaintEvent*) override;

private:
    static constexpr int leftWide = 318;
    void build();
    void buildFields(QVBoxLayout* left);
    void buildButtons(QVBoxLayout* left);
    void buildFields();
    void showStep(size_t channel, size_t row);
    void showAround();
    [[nodiscard]] bool typing() const;
    void showTarget();
    void goTo(size_t channel, size_t row);
    void advance(size_t channel);
    void take(size_t channel);
    void keep(size_t channel, const std::optional<std::string>& text, const std::string& why);
    /// A reading that was taken, and whose it is.
    struct Reading {
        std::string specimen, channel;
        size_t row = 0;
        std::optional<std::string> text;
        std::string why;
    };
    bool handOver(const Reading& reading);
    void answered(const Reading& reading, bool kept);
    void layLostOver();
    bool tryLostAgain();
    [[nodiscard]] size_t lostHere() const;
    void showKeeping();
    void skip(size_t channel);
    void askWhy(size_t channel, const std::optional<std::string>& text);
    void fromInstruments();
    void fromText(const QString& text, const QString& from);
    void fromFile();
    void say(const QString& words, bool query = false);
    void tick();
    void setSound(bool on);
    [[nodiscard]] std::optional<double> target() const;
    [[nodiscard]] bool isOld(size_t channel) const;

    Session& session_;
    PadTable table_;
    size_t channel_ = 0;
    size_t row_ = 0;
    std::string builtFor_; ///< method, channels and units the fields were made for
    std::string specimen_; ///< job and label the pad stands at
    std::vector<std::string> also_; ///< optional channels that were asked for
    QString queried_;
    std::optional<std::string> waiting_; ///< a correction that waits for its reason
    bool waits_ = false;
    std::vector<Reading> keeping_; ///< with the logbook
    std::vector<Reading> lost_; ///< taken, and not kept; in the order of reading
    bool sound_ = true;
    std::vector<PadField*> fields_;
    std::unique_ptr<SteppedBench> bench_;
    QLabel* head_ = nullptr;
    QLabel* target_ = nullptr;
    QLabel* plan_ = nullptr;
    QVBoxLayout* fieldRows_ = nullptr;
    QLabel* message_ = nullptr;
    QLineEdit* why_ = nullptr;
    QLabel* result_ = nullptr;
    QPushButton* again_ = nullptr;
    QPushButton* instruments_ = nullptr;
    QPushButton* paste_ = nullptr;
    QPushButton* file_ = nullptr;
    QPushButton* toRead_ = nullptr;
    QPushButton* next_ = nullptr;
    QPushButton* frame_ = nullptr;
    QPushButton* sounds_ = nullptr;
    PadPlot* plot_ = nullptr;
    PadSheet* sheet_ = nullptr;
};

} // namespace fortitor
