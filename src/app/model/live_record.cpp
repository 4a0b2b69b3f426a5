// SPDX-License-Identifier: GPL-3.0-or-later
// Rows as they come from the frame: shown, drawn, and written to the logbook.
#include "app/model/live_frame.h"

#include "jobs/exchange.h"
#include "units/quantity.h"

#include <QPointer>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// Kept in that order where the frame has them.
constexpr const char* keptNames[] = {"extension", "extension_2",       "strain",     "strain_2", "strain_3",
                                     "strain_4",  "transverse_strain", "deflection", "twist"};

} // namespace

/// The channel of the load: a force, or a torque.
const char* LiveFrame::loadChannel() const
{
    return load() == Kind::Torque ? "torque" : "force";
}

std::vector<std::string> LiveFrame::recordedChannels() const
{
    std::vector<std::string> names{"time", loadChannel(), "displacement"};
    const bool strains = session_.isOpen() && session_.job().method->live.strain;
    for (const std::string name : keptNames)
        if (const bool strain = name.find("strain") != std::string::npos;
            strain ? hasGauges() : strains || !name.starts_with("extension"))
            names.push_back(name);
    const auto& there = client_.channels();
    const bool plate = std::ranges::find(there, "strain_3") != there.end();
    std::erase_if(names, [&](const std::string& name) {
        return (name == "strain_4" && !plate) // else a second gauge across, which only steadies the first
            || std::ranges::find(client_.channels(), name) == client_.channels().end();
    });
    return names;
}

void LiveFrame::findChannels()
{
    const auto columnOf = [&](std::string_view name) {
        const auto it = std::ranges::find(client_.channels(), name);
        return it == client_.channels().end() ? -1 : static_cast<int>(it - client_.channels().begin());
    };
    shown_.clear();
    for (const char* name : {"time", loadChannel(), "extension", "displacement", "strain", "strain_2",
                             "transverse_strain", "strain_3", "strain_4"})
        shown_.push_back(columnOf(name));
    source_.clear();
    for (const std::string& name : recordedChannels())
        source_.push_back(columnOf(name));
}

void LiveFrame::takeBatch(const SampleBatch& batch)
{
    dirty_ = true;
    if (batch.rows() > 0)
        sinceSample_.start();
    if (shown_.empty())
        findChannels();
    double* into[] = {&sample_.time, &sample_.force,      &sample_.extension,  &sample_.displacement, &sample_.front,
                      &sample_.back, &sample_.transverse, &sample_.frontRight, &sample_.backRight};
    const bool byStrain = session_.isOpen() && session_.job().method->live.strain;
    const size_t travelColumn = static_cast<size_t>(std::ranges::find(record_.channels, "displacement", &Channel::name)
                                                    - record_.channels.begin());
    const bool gauges = hasGauges();
    for (size_t row = 0; row < batch.rows(); ++row) {
        for (size_t i = 0; i < std::size(into); ++i)
            if (shown_[i] >= 0 && shown_[i] < batch.channels)
                if (const double value = batch.at(row, static_cast<size_t>(shown_[i]));
                    i > 0 || std::isfinite(value)) // the clock never stands at no time
                    *into[i] = value;
        watchClamp();
        average(sample_.time, sample_.force, sample_.extension);
        if (!recording_ || batch.first + row < firstRow_)
            continue;
        for (size_t c = 0; c < record_.channels.size(); ++c) {
            const bool there = c < source_.size() && source_[c] >= 0 && source_[c] < batch.channels;
            const double value = there ? batch.at(row, static_cast<size_t>(source_[c])) : std::nan("");
            record_.channels[c].values.append(c == 0                  ? value - startTime_
                                                  : c == travelColumn ? value - startPosition_
                                                                      : value);
        }
        ++takenRows_;
        if (sample_.force > peak_) // not so for no reading
            peak_ = sample_.force;
        curve_.add(sample_.time, sample_.force, gauges ? 0.5 * (sample_.front + sample_.back) : sample_.extension,
                   sample_.displacement - (byStrain ? 0 : startPosition_), status().extensometer);
    }
    if (gauges && balanced_)
        if (const Balance now = balance(); now.most)
            aligned_ = now.even;
    if (recording_ && sinceKept_.elapsed() >= 90)
        keepRows();
}

/// The clamp load counts as off once the force stays near zero, however it was brought there, and as on
/// again once it stays away from it.
void LiveFrame::watchClamp()
{
    constexpr int settled = 10; // readings
    if (state_ != State::Idle || starting_ || pressed() || !ready_ || !status().top || !status().bottom
        || status().easing)
        return;
    const double force = std::abs(sample_.force);
    nearCount_ = force < nearZero_ ? std::max(0, nearCount_) + 1
        : force > 5 * nearZero_    ? std::min(0, nearCount_) - 1
                                   : 0;
    if (!eased_ && nearCount_ >= settled) {
        eased_ = true;
        keepNote(sample_.time, "eased",
                 "Clamp load taken off by hand, " + formatQuantity(sample_.force, baseUnit(Kind::Force), 2) + " left");
    } else if (eased_ && nearCount_ <= -settled) {
        eased_ = false;
        keepNote(sample_.time, "loaded", "Load on again, " + formatQuantity(sample_.force, baseUnit(Kind::Force), 2));
    }
}

void LiveFrame::keepNote(double time, const std::string& code, const std::string& text)
{
    record_.events.push_back({time - startTime_, code, text});
    eventsChanged_ = true;
    dirty_ = true;
}

void LiveFrame::begin(const LinkJson& ack)
{
    startTime_ = figureOf(ack, "time");
    startPosition_ = figureOf(ack, "position");
    firstRow_ = countOf(ack, "seq");
    // What happened before the start keeps its place before it.
    for (Event& e : record_.events)
        e.time -= startTime_;
    for (const HoldBack& hold : calibrationHolds())
        keepNote(startTime_, hold.code, hold.words.toStdString());
    for (const auto& [code, reason] : overruled_)
        keepNote(startTime_, "overruled", "Started although " + code + " held it back: " + reason.toStdString());
    record_.channels.clear();
    for (const std::string& name : recordedChannels())
        record_.add(name);
    findChannels();
    record_.source = std::string(simulated() ? "simulated frame, " : "frame, ") + session_.job().number + " "
        + session_.specimen().label;
    if (simulated() && !restsOn_.empty())
        record_.notes.push_back(restsOn_);
    // From the first row on it hangs on its specimen, so that nothing has to be looked for after a crash.
    auto id = session_.beginGrowing(specimen_, record_);
    if (!id) {
        client_.stopNow(); // nowhere to keep the samples: the test is not worth breaking a specimen for
        state_ = State::Stopped;
        emit session_.failed(QString::fromStdString(id.problem().text()));
        return;
    }
    recordId_ = *id;
    cantKeep_.clear();
    keptRows_ = takenRows_ = 0;
    keeping_ = false;
    keptChunks_ = 0;
    peak_ = 0;
    eventsChanged_ = false;
    recording_ = true;
    sinceKept_.start();
}

/// Hands the rows that wait over to the writer, once the ones before them are kept.
void LiveFrame::keepRows()
{
    if ((!recording_ && !closing_) || keeping_)
        return;
    sinceKept_.restart();
    const size_t rows = record_.rows();
    if (rows == 0 && !eventsChanged_)
        return;
    auto slice = std::make_shared<Record>();
    slice->events = record_.events;
    for (Channel& channel : record_.channels) {
        slice->add(channel.name).values = std::move(channel.values);
        channel.values = Column();
    }
    eventsChanged_ = false;
    keeping_ = true;
    session_.writer().post(
        [id = recordId_, seq = keptChunks_, slice, rows](Logbook& book) {
            return book.together([&]() -> Expected<Done> {
                auto ok = rows > 0 ? book.appendChunk(id, seq, *slice, 0, rows) : Expected<Done>(Done{});
                return ok ? book.keepEvents(id, *slice) : ok;
            });
        },
        [self = QPointer(this), slice](const Expected<Done>& done) {
            if (self)
                self->rowsAnswered(*slice, done);
        });
}

void LiveFrame::rowsAnswered(Record& slice, const Expected<Done>& done)
{
    keeping_ = false;
    if (done) {
        keptChunks_ += slice.rows() > 0 ? 1 : 0;
        keptRows_ += slice.rows();
        if (closing_)
            goOnClosing();
        return;
    }
    client_.stopNow();
    eventsChanged_ = true;
    // They wait again, before those that came meanwhile.
    for (size_t c = 0; c < record_.channels.size(); ++c) {
        slice.channels[c].values.append(record_.channels[c].values.values());
        record_.channels[c].values = std::move(slice.channels[c].values);
    }
    // The first cause stays the reason; the rows are saved beside the logbook.
    if (cantKeep_.isEmpty()) {
        cantKeep_ = "The samples can't be kept, the frame is stopped: " + QString::fromStdString(done.problem().text());
        const QString file = session_.logbook().file() + "." + recordId_ + ".csv";
        if (record_.rows() > 0 && writeFileWhole(file.toStdString(), exchangeCsv(record_)))
            cantKeep_ += " The last readings are in " + file;
        emit session_.failed(cantKeep_);
    }
    if (closing_)
        goOnClosing();
}

void LiveFrame::close(State state, const QString& openBecause)
{
    recording_ = stopping_ = false;
    closing_ = Closing{state, openBecause};
    goOnClosing();
    emit updated();
}

/// The last rows, tried once more if need be; then the record is closed.
void LiveFrame::goOnClosing()
{
    if (keeping_)
        return;
    if ((record_.rows() > 0 || eventsChanged_) && closing_->tries++ < 2)
        return keepRows();
    if (record_.rows() > 0 && closing_->openBecause.isEmpty())
        closing_->openBecause = "its last readings could not be kept";
    auto head = std::make_shared<Record>();
    head->events = record_.events;
    head->notes = record_.notes;
    session_.writer().post([id = recordId_, head, who = session_.who(), because = closing_->openBecause](
                               Logbook& book) { return book.closeRecord(id, *head, who, because); },
                           [self = QPointer(this)](const Expected<Done>& done) {
                               if (self)
                                   self->closed(done);
                           });
}

void LiveFrame::closed(const Expected<Done>& done)
{
    state_ = closing_->state; // from here on the record is there
    closing_.reset();
    if (!done && cantKeep_.isEmpty()) // else the first cause was told
        emit session_.failed(QString::fromStdString(done.problem().text()));
    session_.reread(recordId_);
    // Taken back in mid-run, with something else in mind: the record is not to hang nowhere.
    if (specimen_ < session_.job().specimens.size()
        && session_.job().specimens[specimen_].recordId != recordId_.toStdString())
        session_.attachKept(specimen_, recordId_, QString::fromStdString(record_.source));
    emit updated();
    emit finished();
}

} // namespace fortitor
