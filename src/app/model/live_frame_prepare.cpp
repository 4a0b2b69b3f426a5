// SPDX-License-Identifier: GPL-3.0-or-later
// How a run is planned and told to the frame.
// What the bench tells the frame and how it is led; the record is kept in live_record.cpp, what holds the
// start back in live_holds.cpp.
#include "app/model/live_frame.h"

#include "jobs/job_train.h"
#include "jobs/json_at.h"
#include "jobs/edits.h"
#include "methods/common/figures.h"
#include "methods/common/run.h"
#include "units/quantity.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

const QString cantSimulate =
    "The simulated frame has no specimen of this method. Drop a text record on the window instead.";

} // namespace

/// The same bar hangs in the frame each time: its seed comes from its name.
std::uint64_t seedOf(const std::string& name)
{
    std::uint64_t hash = 1469598103934665603ULL;
    for (const char c : name)
        hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211ULL;
    return hash % 100000;
}

std::optional<StandIn> simulatedSpecimen(const Session& session)
{
    const Method& method = *session.job().method;
    const SpecimenInput& input = session.specimen().input;
    WantedSpecimen wanted{.method = method.id,
                          .material = session.job().materialName,
                          .direction = noteOf(input, "direction"),
                          .shape = input.shape,
                          .options = input.options};
    for (const FieldSpec& field : method.fields)
        if (field.kind == Kind::Length)
            if (const double size = firstLength(input, field.key); size > 0)
                wanted.sizes[field.key] = size;
    return standInFor(wanted);
}

QString LiveFrame::prepare()
{
    if (closing_)
        session_.finish(); // the record before is still being kept
    if (running())
        return "The frame is running.";
    ready_ = mountDue_ = false;
    state_ = State::Idle;
    record_ = {};
    calibrationRead_.invalidate();
    overruled_.clear();
    zeroed_ = eased_ = balanced_ = aligned_ = false;
    peak_ = startTime_ = startPosition_ = 0;
    if (!joined())
        sample_ = {};
    curve_ = {};
    if (!session_.hasSpecimen())
        return "No specimen is chosen.";
    specimen_ = session_.current();
    planRun();
    if (byHand())
        return {}; // no run of the frame: the reading pad takes it
    const Method& method = *session_.job().method;
    const SpecimenInput& input = session_.specimen().input;
    const auto area = method.loadedArea ? method.loadedArea(input) : std::nullopt;
    const bool needed = std::ranges::any_of(method.fields, &FieldSpec::needed);
    if (!area && needed)
        return "The section is not measured yet.";
    if (!rates_)
        return QString::fromStdString(missingLength(method));
    const auto run = method.program
        ? method.program({input, expected_, *rates_})
        : Expected<RunProgram>(Problem{"program", "a test that is not run on a frame", "one that is", {}});
    if (!run)
        return QString::fromStdString(run.problem().text());
    program_ = *run;
    const QString unknown = describeMount(area.value_or(0));
    if (!unknown.isEmpty())
        return unknown;
    newCurve();
    mountDue_ = true;
    joinFrame();
    tellMount();
    timer_.start();
    return {};
}

/// The load to expect, the train with its margins, rates and limits of the chosen specimen.
void LiveFrame::planRun()
{
    const Specimen& specimen = session_.specimen();
    const Method& method = *session_.job().method;
    const Json& job = session_.document().json();
    expected_ = expectedLoad(method, specimen.input);
    train_ = trainOf(job, method);
    checkOwnTrain();
    rates_ = planRates(method, specimen.input, expected_);
    limits_ = proposeLimits(train_, method, specimen.input, expected_);
    limits_.extension = toolFigure(job, "extensometer", "travel", Kind::Length);
    edits::applyLimits(job, method.train.load, limits_);
}

/// Holds the train against the load expected, and against the cells there are.
void LiveFrame::checkOwnTrain()
{
    const Kind load = session_.job().method->train.load;
    std::vector<TrainLink> cells;
    for (const InstrumentRow& row : session_.logbook().instruments())
        if (row.kind == "cell")
            if (const auto capacity = parseQuantity(textAt(row.body, "capacity"), load))
                cells.push_back({"cell", row.name.toStdString(), capacity->base, calibratedFrom});
    trainRemarks_ = checkTrain(train_, expected_, cells, load);
}

/// What the frame is told of the specimen, and what frame it takes; why it can't be, otherwise nothing.
QString LiveFrame::describeMount(double section)
{
    const Specimen& specimen = session_.specimen();
    const Method& method = *session_.job().method;
    const Json& job = session_.document().json();
    const auto made = simulatedSpecimen(session_);
    if (!made && address_.isEmpty())
        return cantSimulate;
    restsOn_ = made ? made->restsOn : std::string();
    const double gauge = firstLength(specimen.input, method.train.extensometer);
    mount_ = {.specimen = made ? made->name : std::string(),
              .seed = seedOf(session_.job().number + specimen.label),
              .section = section,
              .gaugeLength = gauge};
    if (method.live.strain)
        mount_.length = firstOf(specimen.input, method.lengths);
    nearZero_ = std::clamp(0.004 * expected_.maximum.value_or(6000), 1.0, 25.0);
    // A run in steps goes no further than they do.
    double top = 0;
    for (const RunStage& stage : program_.stages)
        top = std::max(top, stage.untilForce);
    if (top > 0) {
        expected_.maximum = top;
        checkOwnTrain();
    }
    spec_ = frameSpecFor(method.train.fixture);
    spec_.rate = rate_;
    if (const double cell = toolFigure(job, "force", "capacity", method.train.load); cell > 0)
        spec_.cell = cell;
    if (limits_.extension > 0)
        spec_.extensometerTravel = toolFigure(job, "extensometer", "travel", Kind::Length);
    return {};
}

double LiveFrame::removeAt() const
{
    const auto off = std::ranges::find(program_.stages, "extensometer-off", &RunStage::act);
    return off == program_.stages.end() ? 0 : off->untilStrain;
}

bool LiveFrame::hasGauges() const
{
    return std::ranges::find(client_.channels(), "strain") != client_.channels().end();
}

std::optional<RehearsalPlan> LiveFrame::rehearsalPlan() const
{
    if (!rates_ || mount_.specimen.empty() || !session_.hasSpecimen() || !(limits_.force > 0))
        return std::nullopt;
    const Method& method = *session_.job().method;
    RehearsalPlan plan{
        .mount = mount_, .frame = spec_, .program = program_, .limits = limits_, .byTravel = !method.live.strain};
    plan.frame.rate = 50; // as often as a curve to look at needs
    if (!plan.byTravel) {
        plan.lowest = rates_->lowest;
        plan.highest = rates_->highest;
        if (const auto yields = publishedYieldStrain(session_.specimen().input))
            plan.yieldStrain = *yields;
        else if (rates_->changeStrain > 0)
            plan.yieldStrain = std::min(plan.yieldStrain, 0.5 * rates_->changeStrain);
    }
    return plan;
}

void LiveFrame::tellMount()
{
    if (client_.link() != MachineClient::Link::Joined)
        return; // told on joining
    // What hangs there from somebody else's doing is not touched: it is shown, and taken off by a person.
    if (!strange().isEmpty()) {
        emit updated();
        return;
    }
    mountDue_ = false;
    if (!simulated()) {
        ready_ = ours_ = true; // a person mounts it
        return;
    }
    if (mount_.specimen.empty()) {
        emit session_.failed(cantSimulate);
        return;
    }
    ours_ = true;
    tell("set-up", {{"frame", specJson(spec_)}});
    tell("pace", {{"speed", pace_}});
    tell("mount", mountJson(mount_), [this](const Expected<LinkJson>& answer) {
        ready_ = ours_ = static_cast<bool>(answer);
        zeroed_ = eased_ = balanced_ = false;
        record_.events.clear();
        findChannels();
        newCurve();
        emit updated();
    });
}

void LiveFrame::prepareReference(const InstrumentRow& instrument)
{
    if (running())
        return;
    ready_ = mountDue_ = false;
    record_ = {};
    const auto figure = [&](const char* key, Kind kind) {
        const auto quantity = parseQuantity(textAt(instrument.body, key), kind);
        return quantity ? quantity->base : 0;
    };
    spec_ = {};
    if (instrument.kind == "cell" && figure("capacity", Kind::Force) > 0)
        spec_.cell = figure("capacity", Kind::Force);
    if (figure("travel", Kind::Length) > 0)
        spec_.extensometerTravel = figure("travel", Kind::Length) * 1.05;
    // The simulated frame's instruments are as good or bad as the list says.
    (instrument.kind == "cell" ? spec_.forceScale : spec_.extensionScale) = 1 + figure("simulated_error", Kind::Strain);
    mount_ = {.specimen = "rigger-tube"};
    referenceDue_ = true;
    joinFrame();
    tellReference();
    timer_.start();
}

void LiveFrame::tellReference()
{
    if (client_.link() != MachineClient::Link::Joined)
        return; // told on joining
    referenceDue_ = false;
    if (!simulated())
        return;
    tell("set-up", {{"frame", specJson(spec_)}});
    tell("pace", {{"speed", std::max(10.0, pace_)}});
    tell("mount", mountJson(mount_));
    tell("zero");
    tell("reference-extension", {{"extension", 0.0}});
    mount_.specimen.clear();
}

void LiveFrame::readReference(bool force, double reference, std::function<void(const Expected<double>&)> then)
{
    if (simulated() || client_.link() != MachineClient::Link::Joined)
        queuedReference_ = {force, reference};
    averaging_ = Averaging{.force = force, .from = -1, .then = std::move(then)};
    if (client_.link() == MachineClient::Link::Joined)
        putReference();
}

void LiveFrame::putReference()
{
    const auto begin = [this](const Expected<LinkJson>& answer) {
        if (!averaging_)
            return;
        if (!answer)
            return std::exchange(averaging_, std::nullopt)->then(answer.problem());
        averaging_->from = sample_.time + 0.2; // it hangs still by then
    };
    if (!queuedReference_) {
        averaging_->from = sample_.time;
        return;
    }
    const auto [force, reference] = *std::exchange(queuedReference_, std::nullopt);
    tell(force ? "reference-force" : "reference-extension", {{force ? "force" : "extension", reference}}, begin);
}

void LiveFrame::average(double time, double force, double extension)
{
    if (!averaging_ || averaging_->from < 0 || time < averaging_->from)
        return;
    if (const double reading = averaging_->force ? force : extension; std::isfinite(reading)) {
        averaging_->sum += reading;
        ++averaging_->count;
    }
    if (time < averaging_->from + 1)
        return;
    const Averaging done = *std::exchange(averaging_, std::nullopt);
    if (done.count == 0)
        return done.then(Problem{
            done.force ? "the cell" : "the extensometer", "no reading for a second: off its scale", "a figure", {}});
    done.then(done.sum / done.count);
}

} // namespace fortitor
