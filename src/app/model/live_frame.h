// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "methods/common/live_curve.h"
#include "plan/load_train.h"
#include "sim/virtual_frame.h"

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>

#include <memory>
#include <optional>

namespace fortitor {

/// The simulated frame as the bench works it: hand work on Set up, the run on Load, the record
/// written to the logbook as it comes.
class LiveFrame : public QObject {
    Q_OBJECT
public:
    enum class State { Idle, Running, Holding, Prompt, Stopped, Broken };

    LiveFrame(Session& session, QObject* parent = nullptr);

    /// Hangs the specimen at hand in the frame. Says in words why it can't be.
    [[nodiscard]] QString prepare();
    [[nodiscard]] bool ready() const { return frame_ != nullptr; }
    [[nodiscard]] State state() const { return state_; }
    [[nodiscard]] bool running() const { return state_ == State::Running || state_ == State::Holding || state_ == State::Prompt; }
    [[nodiscard]] const FrameSample& sample() const { return sample_; }
    [[nodiscard]] const LiveCurve& curve() const { return curve_; }
    [[nodiscard]] const std::vector<Event>& events() const { return record_.events; }
    [[nodiscard]] const StopLimits& limits() const { return limits_; }
    [[nodiscard]] const std::optional<RatePlan>& rates() const { return rates_; }
    [[nodiscard]] const ExpectedLoad& expected() const { return expected_; }
    [[nodiscard]] const std::vector<TrainLink>& train() const { return train_; }
    [[nodiscard]] const std::vector<Remark>& trainRemarks() const { return trainRemarks_; }
    [[nodiscard]] double removeAt() const { return removeAt_; }
    [[nodiscard]] double peakForce() const { return peak_; }
    [[nodiscard]] bool fastNow() const { return fast_; }

    /// Whether a step that channels can show is done: the `watch` of a step.
    [[nodiscard]] bool shows(const std::string& watch) const;
    /// What still holds the start back, in words.
    [[nodiscard]] QStringList holdBacks() const;
    /// What is left of an adhesive's cure, in words; empty when it is over.
    [[nodiscard]] QString cureLeft() const;
    [[nodiscard]] bool pressed() const { return pressed_; }
    [[nodiscard]] bool hasGauges() const { return gauges_; }
    /// mm since the start of the run.
    [[nodiscard]] double travel() const { return sample_.displacement - startPosition_; }

    void zeroForce();
    void closeTopGrip();
    void closeBottomGrip();
    void easeToZero();
    void putExtensometerOn();
    /// A piece under compression stands centred on the platens, with its gap.
    void setCentred();
    void setGuard(bool closed);
    /// How much faster than life, 1 to 50.
    void setPace(double pace) { pace_ = pace; }
    [[nodiscard]] double pace() const { return pace_; }

    void start();
    void holdOrGoOn();
    void answerPrompt();
    /// At once, from anywhere, with no question.
    void stop();

signals:
    void updated();
    void finished();

private:
    void gripClosed(const char* words);
    void tick();
    void advance(double seconds);
    void keepSamples(bool all);
    void close(const QString& openBecause);
    void happened(const std::string& code, const std::string& text);
    [[nodiscard]] bool limitReached();
    [[nodiscard]] bool goesBack();

    Session& session_;
    QTimer timer_;
    QElapsedTimer clock_;
    std::unique_ptr<VirtualFrame> frame_;
    Record record_;
    LiveCurve curve_;
    FrameSample sample_;
    StopLimits limits_;
    std::optional<RatePlan> rates_;
    ExpectedLoad expected_;
    std::vector<TrainLink> train_;
    std::vector<Remark> trainRemarks_;
    State state_ = State::Idle;
    double removeAt_ = 0;
    double pace_ = 5;
    double peak_ = 0;
    double afterBreak_ = 0;
    double startTime_ = 0;
    double startPosition_ = 0;
    double lastKept_ = 0;
    double quiet_ = 0;
    double owed_ = 0;
    bool zeroed_ = false, eased_ = false, balanced_ = false, guard_ = false, fast_ = false, easing_ = false;
    bool pressed_ = false, gauges_ = false, centred_ = false, returning_ = false;
    double nearZero_ = 25; ///< N, what counts as eased
    double endTravel_ = 0; ///< mm, where a pressed piece is let go
    QString recordId_;
    size_t keptRows_ = 0;
    int keptChunks_ = 0;
    size_t specimen_ = 0;
};

} // namespace fortitor
