// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/live_frame.h"

#include "methods/common/cure.h"
#include "methods/common/figures.h"
#include "methods/common/section.h"
#include "reference/tables.h"
#include "sim/catalogue.h"
#include "units/quantity.h"

#include <QDateTime>

#include <algorithm>

namespace fortitor {
namespace {

constexpr double sampleStep = 0.02;      // s, 50 Hz
constexpr double keepEvery = 250;        // ms between commits
constexpr double quietFor = 1.2;         // s of quiet record before the drive starts

/// The same bar hangs in the frame each time: its seed comes from its name.
std::uint64_t seedOf(const std::string& name)
{
    std::uint64_t hash = 1469598103934665603ULL;
    for (const char c : name)
        hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211ULL;
    return hash % 100000;
}

/// The load train that the job names under "instruments", links of unknown capacity left at 0.
std::vector<TrainLink> trainOf(const Json& job, const Method& method)
{
    std::vector<TrainLink> train;
    const Json tools = job.value("instruments", Json::object());
    const auto link = [&](const char* key, const char* kind, const char* fallback) {
        const Json one = tools.value(key, Json::object());
        TrainLink out{kind, one.value("name", fallback), 0, 0};
        if (one.contains("capacity") && one["capacity"].is_string())
            if (const auto capacity = parseQuantity(one["capacity"].get<std::string>(), Kind::Force))
                out.capacity = capacity->base;
        if (std::string(kind) == "cell")
            out.lowestShare = 0.02;
        train.push_back(out);
    };
    link("force", "cell", "no cell chosen");
    if (method.loading == Loading::Compression)
        link("platens", "platens", "no platens chosen");
    else
        link("grips", "grips", "no grips chosen");
    return train;
}

} // namespace

LiveFrame::LiveFrame(Session& session, QObject* parent) : QObject(parent), session_(session)
{
    timer_.setInterval(16);
    timer_.setTimerType(Qt::PreciseTimer);
    connect(&timer_, &QTimer::timeout, this, &LiveFrame::tick);
}

QString LiveFrame::prepare()
{
    if (running())
        return "The frame is running.";
    frame_.reset();
    timer_.stop();
    state_ = State::Idle;
    record_ = {};
    zeroed_ = eased_ = balanced_ = guard_ = fast_ = easing_ = centred_ = returning_ = false;
    peak_ = afterBreak_ = owed_ = startTime_ = 0;
    sample_ = {};
    curve_ = {};
    if (!session_.hasSpecimen())
        return "No specimen is chosen.";
    specimen_ = session_.current();
    const Specimen& specimen = session_.specimen();
    const Method& method = *session_.job().method;
    expected_ = expectedLoad(method, specimen.input);
    train_ = trainOf(session_.document().json(), method);
    std::vector<TrainLink> cells;
    for (const InstrumentRow& row : session_.logbook().instruments())
        if (row.kind == "cell")
            if (const auto capacity = parseQuantity(row.body.value("capacity", ""), Kind::Force))
                cells.push_back({"cell", row.name.toStdString(), capacity->base, 0.02});
    trainRemarks_ = checkTrain(train_, expected_, cells);
    rates_ = planRates(method.rates, specimen.input, expected_);
    limits_ = proposeLimits(train_, method, specimen.input, expected_);
    const auto area = loadedArea(method, specimen.input);
    if (!area)
        return "The section is not measured yet.";
    if (!rates_)
        return method.loading == Loading::Compression ? "The height is not measured yet." : "The parallel length or the grip distance is not given.";
    const CatalogueEntry* entry = entryFor(method.id, session_.job().materialName, noteOf(specimen.input, "direction"));
    if (!entry)
        return "The simulated frame knows no specimen of this material. Drop a text record on the window instead.";
    const auto seed = seedOf(session_.job().number + specimen.label);
    SimulatedSpecimen drawn = drawSpecimen(*entry, seed);
    const double gauge = firstLength(specimen.input, "extensometer_gauge_length");
    drawn.bar.section = *area;
    if (method.live == LiveAxes::StressStrain)
        drawn.bar.parallelLength = std::max({firstLength(specimen.input, "parallel_length"), firstLength(specimen.input, "grip_distance"), firstLength(specimen.input, "height")});
    drawn.bar.gaugeLength = gauge > 0 ? gauge : drawn.bar.gaugeLength;
    pressed_ = method.loading == Loading::Compression;
    gauges_ = entry->gauges;
    nearZero_ = std::clamp(0.004 * expected_.maximum.value_or(6000), 1.0, 25.0);
    removeAt_ = entry->removeAtStrain;
    endTravel_ = pressed_ ? entry->stopStrain * drawn.bar.parallelLength : 0;
    if (const auto crush = optionQuantity(specimen.input, "crush_to", Kind::Length); crush && *crush)
        endTravel_ = std::max(endTravel_, **crush * 1.05);
    if (pressed_)
        drawn.conditions.clampLoad = 0;
    frame_ = std::make_unique<VirtualFrame>(drawn.bar, drawn.conditions, seed);
    const bool travel = method.live != LiveAxes::StressStrain;
    curve_ = LiveCurve(drawn.bar.section, travel ? 0 : gauges_ ? 1 : drawn.bar.gaugeLength, travel ? 1 : drawn.bar.parallelLength);
    clock_.start();
    timer_.start();
    return {};
}

bool LiveFrame::shows(const std::string& watch) const
{
    if (watch == "measured")
        return session_.hasSpecimen() && session_.steps(session_.current()) >= 1;
    if (watch == "margins")
        return expected_.maximum && weakestLink(train_) && std::ranges::none_of(trainRemarks_, [](const Remark& r) { return r.severity == Severity::Reject; });
    if (watch == "force-zeroed")
        return zeroed_;
    if (watch == "grip-top")
        return frame_ && frame_->topGripped();
    if (watch == "grip-bottom")
        return frame_ && frame_->bottomGripped();
    if (watch == "grip-second")
        return frame_ && frame_->gripped() && eased_;
    if (watch == "extensometer-on")
        return balanced_;
    if (watch == "guard-closed")
        return guard_;
    if (watch == "centred")
        return centred_;
    if (watch == "cured")
        return session_.hasSpecimen() && cureLeft().isEmpty();
    return false;
}

QString LiveFrame::cureLeft() const
{
    const auto clock = cureClock(session_.specimen().input);
    if (!clock)
        return QString::fromStdString(clock.problem().text());
    if (!*clock)
        return "the blocks are not bonded yet: start the cure clock on Measure";
    const auto now = static_cast<double>(QDateTime::currentDateTime().toSecsSinceEpoch() + QDateTime::currentDateTime().offsetFromUtc());
    const double left = (*clock)->readyAt() - now;
    return left <= 0 ? QString() : QString("the adhesive cures for another %1 h %2 min").arg(static_cast<int>(left / 3600)).arg(static_cast<int>(left / 60) % 60);
}

QStringList LiveFrame::holdBacks() const
{
    QStringList words;
    if (!frame_)
        return {"nothing hangs in the frame"};
    for (const Remark& r : trainRemarks_)
        if (r.severity == Severity::Reject)
            words << QString::fromStdString(r.text);
    if (!weakestLink(train_))
        words << (pressed_ ? "no cell or platens are chosen, so there is no stop limit" : "no cell or grips are chosen, so there is no stop limit");
    // Whatever the steps of the method watch has to be so.
    const Method& method = *session_.job().method;
    const auto& options = session_.specimen().input.options;
    for (const StepSpec& step : method.steps) {
        if (step.stage != Stage::SetUp || !stepApplies(step, method, options) || shows(step.watch))
            continue;
        if (step.watch == "cured")
            words << cureLeft();
        else if (step.watch == "force-zeroed")
            words << "the force is not zeroed";
        else if (step.watch == "grip-second")
            words << (frame_->gripped() ? "the clamp load is not eased off" : "the specimen is not in both grips");
        else if (step.watch == "centred")
            words << "the piece is not centred between the platens";
        else if (step.watch == "extensometer-on")
            words << (gauges_ ? "the strain channels are not balanced" : "the extensometer is not on and balanced");
        else if (step.watch == "guard-closed")
            words << "the guard is open";
    }
    return words;
}

void LiveFrame::happened(const std::string& code, const std::string& text)
{
    record_.events.push_back({sample_.time - startTime_, code, text});
}

void LiveFrame::zeroForce()
{
    if (!frame_ || running())
        return;
    frame_->zeroForce();
    zeroed_ = !frame_->gripped();
    if (pressed_ && zeroed_)
        happened("force-zero-open", "Force zeroed with nothing on the platens");
    else
        happened(frame_->gripped() ? "force-zero" : "force-zero-open", frame_->gripped() ? "Force zeroed with both grips closed" : "Force zeroed before the second grip closed");
    emit updated();
}

void LiveFrame::closeTopGrip()
{
    if (!frame_ || running())
        return;
    frame_->closeTopGrip();
    gripClosed("Top grip closed");
}

void LiveFrame::closeBottomGrip()
{
    if (!frame_ || running())
        return;
    frame_->closeBottomGrip();
    gripClosed("Lower grip closed");
}

void LiveFrame::gripClosed(const char* words)
{
    if (frame_->gripped()) {
        // The second grip puts load on: it is eased off, whichever it is.
        sample_ = frame_->step(sampleStep);
        eased_ = false;
    }
    happened("grip-closed", words);
    emit updated();
}

void LiveFrame::easeToZero()
{
    if (frame_ && !running() && frame_->gripped())
        easing_ = true;
}

void LiveFrame::putExtensometerOn()
{
    if (!frame_ || running() || (!frame_->gripped() && !pressed_))
        return;
    frame_->balanceExtensometer();
    balanced_ = true;
    happened("extensometer-on", "Extensometer on and balanced");
    emit updated();
}

void LiveFrame::setCentred()
{
    if (!frame_ || running() || !pressed_)
        return;
    frame_->closeTopGrip();
    frame_->closeBottomGrip(); // it stands between the platens now, with its gap
    centred_ = true;
    happened("centred", "Piece centred, gap left above it");
    emit updated();
}

void LiveFrame::setGuard(bool closed)
{
    if (!closed && running())
        stop(); // an open guard stops the drive
    guard_ = closed;
    emit updated();
}

void LiveFrame::start()
{
    if (!holdBacks().isEmpty() || running())
        return;
    record_.channels.clear();
    std::vector<const char*> names{"time", "force", "displacement"};
    if (gauges_)
        names.insert(names.end(), {"strain", "strain_2", "transverse_strain"});
    else if (session_.job().method->live == LiveAxes::StressStrain)
        names.push_back("extension");
    for (const char* name : names)
        record_.add(name);
    record_.source = "simulated frame, " + session_.job().number + " " + session_.specimen().label;
    auto id = session_.logbook().beginRecord(session_.jobId(), QString::fromStdString(session_.specimen().label), record_);
    if (!id) {
        emit session_.failed(QString::fromStdString(id.problem().text()));
        return;
    }
    recordId_ = *id;
    keptRows_ = 0;
    keptChunks_ = 0;
    lastKept_ = 0;
    // What happened before the start keeps its place before it.
    for (Event& e : record_.events)
        e.time -= sample_.time - startTime_;
    startTime_ = sample_.time;
    startPosition_ = sample_.displacement;
    quiet_ = 0;
    peak_ = 0;
    fast_ = false;
    easing_ = false;
    state_ = State::Running;
    happened("start", "Start, " + formatQuantity(rates_->yieldSpeed, *findUnit("mm/min"), 2));
    clock_.restart();
    emit updated();
}

void LiveFrame::holdOrGoOn()
{
    if (state_ == State::Running) {
        state_ = State::Holding;
        frame_->setSpeed(0);
        happened("hold", "Hold");
    } else if (state_ == State::Holding) {
        state_ = State::Running;
        happened("go-on", "Go on");
    }
    emit updated();
}

void LiveFrame::answerPrompt()
{
    if (state_ != State::Prompt)
        return;
    frame_->takeExtensometerOff();
    state_ = State::Running;
    happened("extensometer-off", "Extensometer off");
    emit updated();
}

void LiveFrame::stop()
{
    if (!running())
        return;
    frame_->setSpeed(0);
    state_ = State::Stopped;
    happened("stop", "STOP by hand");
    close("stopped by hand");
}

bool LiveFrame::limitReached()
{
    const auto why = fortitor::limitReached(limits_, {sample_.force, peak_, sample_.displacement - startPosition_, sample_.time - startTime_});
    if (!why)
        return false;
    frame_->setSpeed(0);
    state_ = State::Stopped;
    happened("limit", *why);
    close(QString::fromStdString(*why));
    return true;
}

void LiveFrame::advance(double seconds)
{
    owed_ += seconds;
    while (owed_ >= sampleStep) {
        owed_ -= sampleStep;
        if (easing_) {
            // The fine wheel: slowly against the force until it is near zero.
            const double speed = std::clamp(-sample_.force / 4000, -0.2, 0.2);
            frame_->setSpeed(std::abs(sample_.force) < nearZero_ / 2 ? 0 : speed);
            if (std::abs(sample_.force) < nearZero_ / 2) {
                easing_ = false;
                eased_ = true;
                happened("eased", "Clamp load eased to " + formatQuantity(sample_.force, baseUnit(Kind::Force), 2));
            }
        }
        if (state_ == State::Running) {
            quiet_ += sampleStep;
            if (quiet_ < quietFor)
                frame_->setSpeed(0);
            else
                frame_->setSpeed(returning_ ? -4 * rates_->yieldSpeed : fast_ ? rates_->afterSpeed : rates_->yieldSpeed * (rates_->changeStrain > 0 ? 1.1 : 1));
        }
        sample_ = frame_->step(sampleStep);
        if (!running())
            continue;
        for (Channel& c : record_.channels)
            c.values.append(c.name == "time" ? sample_.time - startTime_ : c.name == "force" ? sample_.force : c.name == "extension" ? sample_.extension : c.name == "displacement" ? sample_.displacement - startPosition_
                            : c.name == "strain" ? sample_.front : c.name == "strain_2" ? sample_.back : sample_.transverse);
        curve_.add(sample_.time, sample_.force, gauges_ ? 0.5 * (sample_.front + sample_.back) : sample_.extension, sample_.displacement - (session_.job().method->live == LiveAxes::StressStrain ? 0 : startPosition_), frame_->extensometerOn());
        peak_ = std::max(peak_, sample_.force);
        if (frame_->broken()) {
            frame_->setSpeed(0);
            if (afterBreak_ == 0)
                happened("break", "Break, the greatest force was " + formatQuantity(peak_, *findUnit("kN"), 4));
            afterBreak_ += sampleStep;
            if (afterBreak_ > 0.8) {
                state_ = State::Broken;
                close({});
                return;
            }
            continue;
        }
        if (state_ != State::Running || curve_.empty())
            continue;
        if (pressed_ && goesBack())
            return;
        if (returning_)
            continue;
        const double strain = curve_.strain().back();
        if (!fast_ && rates_->changeStrain > 0 && strain > rates_->changeStrain) {
            fast_ = true;
            happened("faster", "Past yield: " + formatQuantity(rates_->afterSpeed, *findUnit("mm/min"), 3));
        }
        if (removeAt_ > 0 && frame_->extensometerOn() && strain > removeAt_) {
            frame_->setSpeed(0);
            state_ = State::Prompt;
            happened("prompt", "Holding: take the extensometer off");
        }
        if (limitReached())
            return;
    }
}

/// A pressed piece has no break: at the end of its travel the crosshead goes back, and the run is over
/// once the force is gone. True when it is.
bool LiveFrame::goesBack()
{
    if (!returning_ && endTravel_ > 0 && sample_.displacement - startPosition_ > endTravel_) {
        returning_ = true;
        happened("end", "Pressed by " + formatQuantity(sample_.displacement - startPosition_, *findUnit("mm"), 3) + ", going back");
    }
    if (!returning_ || sample_.force > 0.02 * peak_)
        return false;
    frame_->setSpeed(0);
    state_ = State::Broken;
    close({});
    return true;
}

void LiveFrame::keepSamples(bool all)
{
    const size_t rows = record_.rows();
    if (rows == keptRows_ || (!all && rows - keptRows_ < 2))
        return;
    if (auto ok = session_.logbook().appendChunk(recordId_, keptChunks_, record_, keptRows_, rows); !ok) {
        // Nowhere to keep the samples: the test is not worth breaking a specimen for.
        frame_->setSpeed(0);
        state_ = State::Stopped;
        emit session_.failed(QString::fromStdString(ok.problem().text()));
        return;
    }
    ++keptChunks_;
    keptRows_ = rows;
}

void LiveFrame::close(const QString& openBecause)
{
    keepSamples(true);
    record_.incompleteBecause = openBecause.toStdString();
    auto closed = session_.logbook().closeRecord(recordId_, record_, openBecause);
    if (!closed)
        emit session_.failed(QString::fromStdString(closed.problem().text()));
    const size_t before = session_.current();
    session_.attachKept(specimen_, recordId_, QString::fromStdString(record_.source));
    session_.setCurrent(before);
    emit updated();
    emit finished();
}

void LiveFrame::tick()
{
    const double elapsed = std::min(0.1, static_cast<double>(clock_.nsecsElapsed()) / 1e9);
    clock_.restart();
    if (!frame_)
        return;
    advance(elapsed * pace_);
    lastKept_ += elapsed * 1000;
    if (running() && lastKept_ >= keepEvery) {
        lastKept_ = 0;
        keepSamples(false);
    }
    emit updated();
}

} // namespace fortitor
