// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/live_frame.h"

#include "methods/common/section.h"
#include "reference/tables.h"
#include "sim/catalogue.h"
#include "units/quantity.h"

#include <algorithm>

namespace fortitor {
namespace {

constexpr double sampleStep = 0.02;      // s, 50 Hz
constexpr double keepEvery = 250;        // ms between commits
constexpr double nearZero = 25;          // N, what counts as eased
constexpr double quietFor = 1.2;         // s of quiet record before the drive starts

double firstLength(const SpecimenInput& input, const char* key)
{
    const auto it = input.dimensions.find(key);
    return it == input.dimensions.end() || it->second.empty() ? 0 : it->second.front().base;
}

/// The same bar hangs in the frame each time: its seed comes from its name.
std::uint64_t seedOf(const std::string& name)
{
    std::uint64_t hash = 1469598103934665603ULL;
    for (const char c : name)
        hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211ULL;
    return hash % 100000;
}

/// The load train that the job names under "instruments", links of unknown capacity left at 0.
std::vector<TrainLink> trainOf(const Json& job)
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
    zeroed_ = eased_ = balanced_ = guard_ = fast_ = easing_ = false;
    peak_ = afterBreak_ = owed_ = startTime_ = 0;
    sample_ = {};
    curve_ = {};
    if (!session_.hasSpecimen())
        return "No specimen is chosen.";
    specimen_ = session_.current();
    const Specimen& specimen = session_.specimen();
    expected_ = expectedLoad(specimen.input);
    train_ = trainOf(session_.document().json());
    std::vector<TrainLink> cells;
    for (const InstrumentRow& row : session_.logbook().instruments())
        if (row.kind == "cell")
            if (const auto capacity = parseQuantity(row.body.value("capacity", ""), Kind::Force))
                cells.push_back({"cell", row.name.toStdString(), capacity->base, 0.02});
    trainRemarks_ = checkTrain(train_, expected_, cells);
    rates_ = planRates(session_.job().method->rates, specimen.input, expected_);
    limits_ = proposeLimits(train_, *session_.job().method, specimen.input, expected_);
    const auto section = sectionTerm(specimen.input, "", "So");
    if (!section || !*section)
        return "The section is not measured yet.";
    if (!rates_)
        return "The parallel length or the grip distance is not given.";
    const CatalogueEntry* entry = nullptr;
    if (const PublishedMaterial* wanted = findPublishedMaterial(session_.job().materialName))
        for (const CatalogueEntry& e : catalogue())
            if (findPublishedMaterial(e.material) == wanted)
                entry = &e;
    if (!entry)
        return "The simulated frame knows no bar of this material. Drop a text record on the window instead.";
    const auto seed = seedOf(session_.job().number + specimen.label);
    SimulatedSpecimen drawn = drawSpecimen(*entry, seed);
    drawn.bar.section = (*section)->value();
    drawn.bar.parallelLength = std::max(firstLength(specimen.input, "parallel_length"), firstLength(specimen.input, "grip_distance"));
    const double gauge = firstLength(specimen.input, "extensometer_gauge_length");
    drawn.bar.gaugeLength = gauge > 0 ? gauge : drawn.bar.gaugeLength;
    removeAt_ = entry->removeAtStrain;
    frame_ = std::make_unique<VirtualFrame>(drawn.bar, drawn.conditions, seed);
    curve_ = LiveCurve(drawn.bar.section, drawn.bar.gaugeLength, drawn.bar.parallelLength);
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
    return false;
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
        words << "no cell or grips are chosen, so there is no stop limit";
    if (!zeroed_)
        words << "the force is not zeroed";
    if (!frame_->gripped())
        words << "the specimen is not in both grips";
    else if (!eased_)
        words << "the clamp load is not eased off";
    if (!balanced_)
        words << "the extensometer is not on and balanced";
    if (!guard_)
        words << "the guard is open";
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
    if (!frame_ || running() || !frame_->gripped())
        return;
    frame_->balanceExtensometer();
    balanced_ = true;
    happened("extensometer-on", "Extensometer on and balanced");
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
    for (const char* name : {"time", "force", "extension", "displacement"})
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
            frame_->setSpeed(std::abs(sample_.force) < nearZero / 2 ? 0 : speed);
            if (std::abs(sample_.force) < nearZero / 2) {
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
                frame_->setSpeed(fast_ ? rates_->afterSpeed : rates_->yieldSpeed * 1.1);
        }
        sample_ = frame_->step(sampleStep);
        if (!running())
            continue;
        record_.channels[0].values.append(sample_.time - startTime_);
        record_.channels[1].values.append(sample_.force);
        record_.channels[2].values.append(sample_.extension);
        record_.channels[3].values.append(sample_.displacement - startPosition_);
        curve_.add(sample_.time, sample_.force, sample_.extension, sample_.displacement, frame_->extensometerOn());
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
        const double strain = curve_.strain().back();
        if (!fast_ && strain > rates_->changeStrain) {
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
