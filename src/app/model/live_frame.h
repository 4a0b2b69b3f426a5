// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/own_frame.h"
#include "app/model/session.h"
#include "link/machine_client.h"
#include "methods/cai/gauges.h"
#include "methods/common/live_curve.h"
#include "plan/load_train.h"
#include "sim/rehearsal.h"
#include "sim/stand_in.h"

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>

#include <functional>
#include <optional>

namespace fortitor {

/// What keeps the start back. What is about safety can't be overruled.
struct HoldBack {
    std::string code;
    QString words;
    bool safety = false;
};

/// The same specimen hangs in the simulated frame each time: its seed comes from its name.
std::uint64_t seedOf(const std::string& name);
/// What frame or bench would simulate for the specimen at hand; nothing for a method whose pieces can't be.
std::optional<StandIn> simulatedSpecimen(const Session& session);

/// The frame as the bench works it, over the machine link: hand work on Set up, the run on Load, the
/// record written to the logbook as it comes. Commands return at once; what they did shows when the
/// frame has told it.
class LiveFrame : public QObject {
    Q_OBJECT
public:
    enum class State { Idle, Running, Holding, Prompt, Stopped, Broken };

    LiveFrame(Session& session, QObject* parent = nullptr);

    /// "127.0.0.1:PORT" or "local:NAME" with the token that it asks for; empty: a simulated frame of one's own.
    void setAddress(const QString& address, const QString& token = {});
    /// Joins a frame that was named, before anything is set up: what it does is to be seen.
    void joinNamed();
    /// Joins the named frame, or starts one of its own: for what stands beside it.
    void join();
    [[nodiscard]] QString address() const { return address_; }
    [[nodiscard]] QString token() const { return token_; }
    [[nodiscard]] MachineClient& client() { return client_; }
    [[nodiscard]] const MachineClient& client() const { return client_; }
    [[nodiscard]] const OwnFrame& own() const { return own_; }
    /// The link in a few words, and whether it is lost.
    [[nodiscard]] QString linkWords() const;
    [[nodiscard]] bool joined() const { return client_.link() == MachineClient::Link::Joined; }
    /// Joined, or looked on while another program leads it.
    [[nodiscard]] bool seen() const { return joined() || client_.link() == MachineClient::Link::LookingOn; }
    /// N, as the frame shows it now; NaN while it does not.
    [[nodiscard]] double forceNow() const;
    /// Beats come, readings do not: what is shown is old.
    [[nodiscard]] bool stale() const;
    /// Something moves by itself: a run, a hold, a way back, clamp load being eased off.
    [[nodiscard]] bool moves() const;
    /// What the frame holds or does that this program did not bring about, in words; empty: nothing.
    [[nodiscard]] QString strange() const;
    [[nodiscard]] bool linkLost() const { return client_.link() == MachineClient::Link::Lost; }
    [[nodiscard]] bool simulated() const { return flagOf(client_.hello(), "simulated"); }

    /// Puts the specimen at hand in front of the frame. Says in words why it can't be.
    [[nodiscard]] QString prepare();
    [[nodiscard]] bool ready() const { return ready_; }
    /// Whether the frame still owes an answer.
    [[nodiscard]] bool waits() const
    {
        return owed_ > 0 || (mountDue_ && strange().isEmpty()) || stopping_ || closing_;
    }
    [[nodiscard]] State state() const { return state_; }
    [[nodiscard]] bool running() const
    {
        return state_ == State::Running || state_ == State::Holding || state_ == State::Prompt;
    }
    /// The run of that specimen has ended, and nothing was set up since.
    [[nodiscard]] bool hasRun(size_t specimen) const
    {
        return (state_ == State::Stopped || state_ == State::Broken) && specimen == specimen_;
    }
    [[nodiscard]] const FrameStatus& status() const { return client_.status(); }
    [[nodiscard]] const FrameSample& sample() const { return sample_; }
    [[nodiscard]] const LiveCurve& curve() const { return curve_; }
    [[nodiscard]] const std::vector<Event>& events() const { return record_.events; }
    [[nodiscard]] const StopLimits& limits() const { return limits_; }
    [[nodiscard]] const std::optional<RatePlan>& rates() const { return rates_; }
    [[nodiscard]] const ExpectedLoad& expected() const { return expected_; }
    [[nodiscard]] const std::vector<TrainLink>& train() const { return train_; }
    [[nodiscard]] const std::vector<Remark>& trainRemarks() const { return trainRemarks_; }
    /// N that count as none.
    [[nodiscard]] double nearZero() const { return 2 * nearZero_; }
    /// What is shown is what was last heard.
    [[nodiscard]] bool asLastHeard() const { return linkLost() || stale(); }
    /// The strain at which the run asks for the extensometer to come off; 0: it does not.
    [[nodiscard]] double removeAt() const;
    [[nodiscard]] double peakForce() const { return peak_; }
    /// s and mm since the stage at hand began.
    [[nodiscard]] double stageTime() const { return sample_.time - stageTime_; }
    [[nodiscard]] double stageTravel() const { return sample_.displacement - stagePosition_; }
    [[nodiscard]] bool fastNow() const;
    /// The run as the frame will be told it.
    [[nodiscard]] const RunProgram& program() const { return program_; }
    /// Where a test may be read by hand or run on the frame: which of the two holds for the specimen at hand.
    [[nodiscard]] bool byHand() const;
    void setByHand(bool byHand);
    /// The same run for a rehearsal; nothing while it is not known.
    [[nodiscard]] std::optional<RehearsalPlan> rehearsalPlan() const;
    /// Whose figures the simulated specimen has, in words; empty for one from the shelf.
    [[nodiscard]] const std::string& restsOn() const { return restsOn_; }
    [[nodiscard]] const MountSpec& mounted() const { return mount_; }
    [[nodiscard]] const FrameSpec& spec() const { return spec_; }

    /// Whether a step that channels can show is done: the `watch` of a step.
    [[nodiscard]] bool shows(const std::string& watch) const;
    /// What still holds the start back, without what a person has overruled.
    [[nodiscard]] std::vector<HoldBack> holds() const;
    [[nodiscard]] QStringList holdBacks() const;
    /// Sets one aside, with the reason; refused for what is about safety.
    bool overrule(const std::string& code, const QString& reason);
    [[nodiscard]] const std::map<std::string, QString>& overruled() const { return overruled_; }
    /// What is left of an adhesive's cure, in words; empty when it is over.
    [[nodiscard]] QString cureLeft() const;
    /// The drive moves onto the specimen, which is put in its place before.
    [[nodiscard]] bool pressed() const { return session_.isOpen() && session_.job().method->train.pressed; }
    /// Strain comes from gauges, not from an extensometer.
    [[nodiscard]] bool hasGauges() const;
    /// What the drive carries: a force, or a torque.
    [[nodiscard]] Kind load() const { return session_.isOpen() ? session_.job().method->train.load : Kind::Force; }
    /// mm since the start of the run.
    [[nodiscard]] double travel() const { return sample_.displacement - startPosition_; }

    void zeroForce() { tell("zero"); }
    void closeTopGrip() { tell("close-top"); }
    void closeBottomGrip() { tell("close-bottom"); }
    void openGrips() { tell("open-grips"); }
    void easeToZero() { tell("ease", {{"near", nearZero_}}); }
    void putExtensometerOn() { tell("extensometer-on"); }
    /// A piece under compression stands centred on the platens, with its gap.
    void setCentred() { tell("centre"); }
    /// A corner of the simulated fixture, in the order of the gauges.
    void easeCorner(int corner) { tell("ease-corner", {{"corner", corner}}); }
    /// What four gauges of a plate carry now.
    [[nodiscard]] Balance balance() const;
    void setGuard(bool closed) { tell("guard", {{"closed", closed}}); }
    void setHandSet(bool unlocked) { tell("hand-set", {{"unlocked", unlocked}}); }
    /// mm/s while a key is held; it ends by itself when it is not asked again.
    void jog(double speed) { tell("jog", {{"speed", speed}}); }
    /// mm, one click of the fine wheel.
    void fineWheel(double by) { tell("nudge", {{"by", by}}); }
    void returnToStart();
    /// An empty frame with that cell or extensometer, for a check against a reference. The specimen has to be
    /// set up anew afterwards.
    void prepareReference(const InstrumentRow& instrument);
    /// The mean of one second under a reference, N or mm. A simulated frame puts it on by itself.
    void readReference(bool force, double reference, std::function<void(const Expected<double>&)> then);
    /// How much faster than life, 1 to 100, of a simulated frame.
    void setPace(double pace);
    [[nodiscard]] double pace() const { return pace_; }
    void setRate(double samplesPerSecond) { rate_ = samplesPerSecond; }
    [[nodiscard]] double rate() const { return rate_; }

    void start();
    void holdOrGoOn();
    void answerPrompt();
    /// At once, from anywhere, with no question.
    void stop();
    /// Rows the logbook holds for sure.
    [[nodiscard]] std::uint64_t keptRows() const { return keptRows_; }
    [[nodiscard]] std::uint64_t takenRows() const { return takenRows_; }

    /// Why the run ended otherwise than a hand or the frame would say; empty: it did not.
    [[nodiscard]] const QString& cantKeep() const { return cantKeep_; }

signals:
    void updated();
    void finished();

private:
    void tell(const char* command, LinkJson arguments = LinkJson::object(), MachineClient::Answer then = {});
    void joinFrame();
    void tellMount();
    void clearSetUp();
    void channelsChanged();
    void notOurs(const LinkEvent& told);
    void tellReference();
    void putReference();
    void takeBatch(const SampleBatch& batch);
    void takeEvent(const LinkEvent& event);
    void takeStatus();
    void linkJoined(bool again, bool same);
    void linkGone(const QString& why);
    void begin(const LinkJson& ack);
    void keepRows();
    void rowsAnswered(Record& slice, const Expected<Done>& done);
    void goOnClosing();
    void closed(const Expected<Done>& done);
    void keepNote(double time, const std::string& code, const std::string& text);
    void close(State state, const QString& openBecause);
    void tick();
    void findChannels();
    void planRun();
    void checkOwnTrain();
    QString describeMount(double section);
    void newCurve();
    void watchClamp();
    void average(double time, double force, double extension);
    [[nodiscard]] std::vector<std::string> recordedChannels() const;
    [[nodiscard]] const char* loadChannel() const;
    [[nodiscard]] std::string linkNames() const;
    [[nodiscard]] std::vector<HoldBack> stepHolds() const;
    [[nodiscard]] std::vector<HoldBack> calibrationHolds() const;

    Session& session_;
    MachineClient client_;
    OwnFrame own_;
    QTimer timer_;
    QElapsedTimer sinceKept_;
    QElapsedTimer sinceSample_;
    QElapsedTimer sinceUpdated_;
    QString address_, token_;
    Record record_; ///< rows that are not in the logbook yet, and all events
    std::vector<int> source_; ///< of each recorded channel, the column of a batch
    std::vector<int> shown_; ///< of each figure of the sample, the column of a batch
    LiveCurve curve_;
    FrameSample sample_;
    StopLimits limits_;
    std::optional<RatePlan> rates_;
    ExpectedLoad expected_;
    std::vector<TrainLink> train_;
    std::vector<Remark> trainRemarks_;
    MountSpec mount_;
    std::string restsOn_;
    FrameSpec spec_;
    RunProgram program_;
    std::map<std::string, QString> overruled_;
    mutable std::vector<HoldBack> calibration_; ///< as last read from the logbook
    mutable QElapsedTimer calibrationRead_;
    mutable std::int64_t calibrationFor_ = 0;
    State state_ = State::Idle;
    std::optional<bool> chosenByHand_; ///< as a person chose for the job `chosenFor_`
    std::int64_t chosenFor_ = 0;
    double pace_ = 5, rate_ = 50, peak_ = 0, startTime_ = 0, startPosition_ = 0, nearZero_ = 25;
    bool wanted_ = false, mountDue_ = false, ready_ = false, ours_ = false, staleTold_ = false, zeroed_ = false,
         eased_ = false, balanced_ = false, aligned_ = false, dirty_ = false;
    bool starting_ = false, recording_ = false, stopWhenBack_ = false, stopping_ = false, eventsChanged_ = false;
    int stage_ = -1; ///< as last heard
    double stageTime_ = 0, stagePosition_ = 0;
    int owed_ = 0;
    int nearCount_ = 0; ///< readings near zero in a row; below 0: away from it
    struct Averaging {
        bool force = true;
        double from = 0; ///< s of the frame's clock, before it nothing counts
        double sum = 0;
        int count = 0;
        std::function<void(const Expected<double>&)> then;
    };
    std::optional<Averaging> averaging_;
    std::optional<std::pair<bool, double>> queuedReference_;
    bool referenceDue_ = false;
    QString recordId_;
    QString cantKeep_; ///< why samples can't be kept any more; the first cause
    std::uint64_t firstRow_ = 0, keptRows_ = 0, takenRows_ = 0;
    int keptChunks_ = 0;
    bool keeping_ = false; ///< rows are with the writer
    struct Closing {
        State state;
        QString openBecause;
        int tries = 0;
    };
    std::optional<Closing> closing_; ///< of a run that has ended: its record
    size_t specimen_ = 0;
};

} // namespace fortitor
