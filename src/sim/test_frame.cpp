// SPDX-License-Identifier: GPL-3.0-or-later
// The frame as hands and commands work it; the run itself is in test_frame_run.cpp.
#include "sim/test_frame.h"

#include "units/quantity.h"

#include <fast_float/fast_float.h>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double handSpeed = 0.5; // mm/s, the most by hand once something is gripped or the guard is open
constexpr double fastHandSpeed = 5; // mm/s, the most by hand in an empty frame behind a closed guard

std::vector<std::string> channelsOf(const FrameSpec& spec, const VirtualBar& bar)
{
    if (spec.fixture == "torsion")
        return {"time", "torque", "twist", "displacement"};
    if (spec.fixture == "bending")
        return {"time", "force", "deflection", "displacement"};
    std::vector<std::string> names{"time", "force", "displacement"};
    if (bar.plate)
        names.insert(names.end(), {"strain", "strain_2", "strain_3", "strain_4"});
    else if (bar.gauges)
        names.insert(names.end(), {"strain", "strain_2", "transverse_strain", "strain_4"});
    else if (bar.twoExtensometers)
        names.insert(names.end(), {"extension", "extension_2"});
    else
        names.emplace_back("extension");
    return names;
}

std::optional<double> number(std::string_view text)
{
    double value = 0;
    const auto [end, error] = fast_float::from_chars(text.data(), text.data() + text.size(), value);
    return error == std::errc() && end == text.data() + text.size() && std::isfinite(value) ? std::optional(value)
                                                                                            : std::nullopt;
}

} // namespace

const std::vector<std::string>& faultKinds()
{
    static const std::vector<std::string> kinds{"stuck",    "spike", "slip",      "guard", "specimen-out",
                                                "overload", "power", "link-drop", "late",  "packet"};
    return kinds;
}

Expected<Fault> parseFault(std::string_view text)
{
    Fault fault{.kind = {}, .at = -1};
    const auto cut = [&](char mark) {
        const size_t at = text.rfind(mark);
        if (at == std::string_view::npos)
            return std::optional<std::string_view>();
        const auto part = text.substr(at + 1);
        text = text.substr(0, at);
        return std::optional(part);
    };
    const std::string whole(text);
    const auto value = cut('=');
    const auto time = cut('@');
    const auto channel = cut(':');
    fault.kind = text;
    fault.channel = channel.value_or("");
    if (std::ranges::find(faultKinds(), fault.kind) == faultKinds().end())
        return Problem{"fault", whole, "one of " + fmt::format("{}", fmt::join(faultKinds(), ", ")),
                       "Written NAME[:CHANNEL][@SECONDS][=VALUE]."};
    for (const auto& [part, into] : {std::pair(value, &fault.value), std::pair(time, &fault.at)})
        if (part) {
            const auto figure = number(*part);
            if (!figure || (into == &fault.at && *figure < 0))
                return Problem{"fault", whole, "a number behind = and @", "Written NAME[:CHANNEL][@SECONDS][=VALUE]."};
            *into = *figure;
        }
    return fault;
}

TestFrame::TestFrame(FrameSpec spec) : spec_(std::move(spec)), channels_(channelsOf(spec_, {}))
{
    status_.words = "nothing is mounted";
    row_.resize(channels_.size());
}

std::optional<Problem> TestFrame::busy(const char* what) const
{
    const bool moving = status_.state != DriveState::Ready && status_.state != DriveState::Ended;
    if (moving)
        return Problem{what, "the frame is running", "a frame at rest", "Stop it first."};
    return std::nullopt;
}

Expected<Done> TestFrame::setUp(FrameSpec spec)
{
    if (auto no = busy("set up"))
        return *no;
    static const std::vector<std::string> fixtures{"grips", "platens", "bending", "torsion"};
    if (std::ranges::find(fixtures, spec.fixture) == fixtures.end())
        return Problem{"fixture", spec.fixture, "grips, platens, bending or torsion", {}};
    for (const auto& [name, value] : {std::pair("rate", spec.rate),
                                      {"cell", spec.cell},
                                      {"greatest speed", spec.maxSpeed},
                                      {"acceleration", spec.acceleration},
                                      {"travel", spec.travel}})
        if (!(value > 0) || !std::isfinite(value))
            return Problem{name, formatSignificant(value, 4), "a figure above zero", {}};
    if (spec.rate < 5 || spec.rate > 5000)
        return Problem{"rate", formatSignificant(spec.rate, 4), "5 to 5000 samples a second", {}};
    spec_ = std::move(spec);
    frame_.reset();
    status_ = {.guard = status_.guard,
               .emergency = status_.emergency,
               .handSet = status_.handSet,
               .words = "nothing is mounted"};
    channels_ = channelsOf(spec_, {});
    row_.assign(channels_.size(), 0);
    return Done{};
}

Expected<Done> TestFrame::mount(const MountSpec& mount)
{
    const CatalogueEntry* entry = findCatalogueEntry(mount.specimen);
    if (!entry)
        return Problem{"specimen", mount.specimen, "a name of the catalogue", {}};
    SimulatedSpecimen drawn = drawSpecimen(*entry, mount.seed);
    for (const auto& [given, into] : {std::pair(mount.section, &drawn.bar.section),
                                      {mount.length, &drawn.bar.parallelLength},
                                      {mount.gaugeLength, &drawn.bar.gaugeLength}}) {
        if (given < 0 || !std::isfinite(given))
            return Problem{"specimen", formatSignificant(given, 4), "sizes above zero", {}};
        if (given > 0)
            *into = given;
    }
    drawn.bar.twoExtensometers = mount.twoExtensometers && !drawn.bar.gauges;
    if (drawn.bar.pressed)
        drawn.conditions.clampLoad = 0;
    return this->mount(drawn.bar, drawn.conditions, mount.seed);
}

Expected<Done> TestFrame::mount(const VirtualBar& bar, const FrameConditions& conditions, std::uint64_t seed)
{
    if (auto no = busy("mount"))
        return *no;
    bar_ = bar;
    conditions_ = conditions;
    conditions_.forceScale *= spec_.forceScale;
    conditions_.extensionScale *= spec_.extensionScale;
    frame_ = std::make_unique<VirtualFrame>(bar, conditions_, seed);
    status_ = {.mounted = true,
               .guard = false,
               .emergency = status_.emergency,
               .handSet = false,
               .words = "a specimen is at hand"};
    channels_ = channelsOf(spec_, bar_);
    row_.assign(channels_.size(), 0);
    events_.clear();
    faults_.clear();
    stuck_.clear();
    lastStrains_.clear();
    // A bridge is never balanced by itself.
    Random random(seed * 13 + 5);
    for (double& offset : balance_)
        offset = bar.gauges ? -random.between(-4e-4, 4e-4) : 0;
    speed_ = jog_ = nudgeLeft_ = force_ = extension_ = strain_ = median_ = peak_ = spike_ = knock_ = 0;
    brokenAt_ = -1;
    return Done{};
}

Expected<Done> TestFrame::closeTop()
{
    if (auto no = busy("top grip"))
        return *no;
    if (!frame_)
        return Problem{"top grip", "nothing is mounted", "a specimen", {}};
    if (frame_->topGripped())
        return Done{};
    frame_->closeTopGrip();
    status_.top = true;
    happened("grip-closed", "Top grip closed");
    return Done{};
}

Expected<Done> TestFrame::closeBottom()
{
    if (auto no = busy("lower grip"))
        return *no;
    if (!frame_)
        return Problem{"lower grip", "nothing is mounted", "a specimen", {}};
    if (frame_->bottomGripped())
        return Done{};
    frame_->closeBottomGrip();
    status_.bottom = true;
    happened("grip-closed", "Lower grip closed");
    return Done{};
}

Expected<Done> TestFrame::centre()
{
    if (auto no = busy("centring"))
        return *no;
    const bool chucks = spec_.fixture == "torsion";
    if (!frame_ || (!bar_.pressed && !chucks))
        return Problem{"centring", "no piece between platens or chucks", "a piece to press or to twist", {}};
    if (!status_.top) {
        frame_->closeTopGrip();
        frame_->closeBottomGrip();
        status_.top = status_.bottom = true;
        happened("centred", chucks ? "Bar centred in both chucks" : "Piece centred, gap left above it");
    }
    return Done{};
}

Expected<Done> TestFrame::easeCorner(int corner)
{
    if (auto no = busy("easing a corner"))
        return *no;
    if (!frame_ || !bar_.plate || corner < 0 || corner > 3)
        return Problem{"easing a corner", "no plate in its fixture", "a plate with four gauges", {}};
    constexpr double turn = 0.01;
    frame_->align(corner % 2 == 0 ? turn : -turn, corner < 2 ? turn : -turn);
    happened("corner-eased", "A corner of the fixture eased");
    return Done{};
}

Expected<Done> TestFrame::openGrips()
{
    if (auto no = busy("open grips"))
        return *no;
    if (frame_)
        frame_->openGrips();
    if (status_.top || status_.bottom)
        happened("grips-open", "Grips opened");
    status_.top = status_.bottom = false;
    return Done{};
}

Expected<Done> TestFrame::zero()
{
    if (auto no = busy("zero"))
        return *no;
    if (!frame_)
        return Problem{"zero", "nothing is mounted", "a specimen at hand, not yet gripped", {}};
    const bool held = frame_->gripped() && spec_.fixture != "torsion"; // chucks put no torque on the bar
    frame_->zeroForce();
    happened(held ? "force-zero" : "force-zero-open",
             held               ? "Force zeroed with both grips closed"
                 : bar_.pressed ? "Force zeroed with nothing on the platens"
                                : "Force zeroed before the second grip closed");
    return Done{};
}

Expected<Done> TestFrame::ease(double nearZero)
{
    if (auto no = busy("ease to zero"))
        return *no;
    if (!status_.top || !status_.bottom)
        return Problem{"ease to zero", "the specimen is not in both grips", "both closed", {}};
    if (status_.emergency)
        return Problem{"ease to zero", "the emergency stop is in", "it released", {}};
    nearZero_ = nearZero > 0 ? nearZero : 5;
    status_.easing = true;
    freshReadings_ = 0; // what the cell showed before the grips closed says nothing
    return Done{};
}

Expected<Done> TestFrame::putExtensometerOn()
{
    if (auto no = busy("extensometer"))
        return *no;
    if (!frame_ || (!frame_->gripped() && !bar_.pressed))
        return Problem{"extensometer", "the specimen is not in both grips", "both closed", {}};
    status_.extensometer = true;
    for (size_t i = 0; i < channels_.size(); ++i) {
        const std::vector<std::string> gauges{"strain", "strain_2", bar_.plate ? "strain_3" : "transverse_strain",
                                              "strain_4"};
        if (const auto at = std::ranges::find(gauges, channels_[i]); at != gauges.end() && std::isfinite(row_[i]))
            balance_[static_cast<size_t>(at - gauges.begin())] += row_[i];
    }
    frame_->balanceExtensometer();
    happened("extensometer-on", bar_.gauges ? "Strain channels balanced" : "Extensometer on and balanced");
    return Done{};
}

Expected<Done> TestFrame::takeExtensometerOff()
{
    if (status_.state == DriveState::Running || status_.state == DriveState::Returning)
        return Problem{"extensometer", "the crosshead moves", "a hold", "Hold first; never reach in while it moves."};
    if (!frame_ || !status_.extensometer)
        return Done{};
    offStrain_ = median_;
    offPosition_ = frame_->position();
    frame_->takeExtensometerOff();
    status_.extensometer = false;
    happened("extensometer-off", "Extensometer off");
    return Done{};
}

Expected<Done> TestFrame::setGuard(bool closed)
{
    if (status_.guard == closed)
        return Done{};
    status_.guard = closed;
    happened(closed ? "guard-closed" : "guard-open", closed ? "Guard closed" : "Guard opened");
    if (!closed && !status_.disabled) // hands reach in only where the drive has no power
        stop("guard", "stopped: the guard was opened");
    return Done{};
}

Expected<Done> TestFrame::setHandSet(bool unlocked)
{
    if (auto no = busy("hand-set"); no && unlocked)
        return *no;
    status_.handSet = unlocked;
    if (!unlocked)
        jog_ = nudgeLeft_ = 0;
    return Done{};
}

Expected<Done> TestFrame::jog(double speed)
{
    if (speed == 0) {
        jog_ = 0;
        return Done{};
    }
    if (auto no = busy("jog"))
        return *no;
    if (!status_.handSet)
        return Problem{"jog", "jogging is not enabled", "it unlocked", {}};
    if (status_.emergency)
        return Problem{"jog", "the emergency stop is in", "it released", {}};
    if (!std::isfinite(speed))
        return Problem{"jog", "a speed that is not a number", "mm/s", {}};
    const bool careful = status_.top || status_.bottom || !status_.guard;
    const double most = careful ? handSpeed : fastHandSpeed;
    jog_ = std::clamp(speed, -most, most);
    return Done{};
}

Expected<Done> TestFrame::nudge(double millimetres)
{
    if (auto no = busy("fine wheel"))
        return *no;
    if (!status_.handSet)
        return Problem{"fine wheel", "jogging is not enabled", "it unlocked", {}};
    if (status_.emergency || !std::isfinite(millimetres))
        return Problem{"fine wheel",
                       status_.emergency ? "the emergency stop is in" : "a way that is not a number",
                       "a frame that may move",
                       {}};
    nudgeLeft_ = std::clamp(nudgeLeft_ + millimetres, -1.0, 1.0);
    return Done{};
}

Expected<Done> TestFrame::hangReference(double force)
{
    if (auto no = busy("reference"))
        return *no;
    if (!frame_)
        frame_ = std::make_unique<VirtualFrame>(bar_, conditions_, 1);
    if (status_.top && status_.bottom)
        return Problem{"reference", "a specimen is gripped", "an empty frame", {}};
    frame_->setForeignForce(force);
    return Done{};
}

Expected<Done> TestFrame::setReferenceExtension(std::optional<double> millimetres)
{
    if (auto no = busy("reference"))
        return *no;
    if (!frame_)
        frame_ = std::make_unique<VirtualFrame>(bar_, conditions_, 1);
    frame_->setReferenceExtension(millimetres);
    return Done{};
}

Expected<Done> TestFrame::fault(const Fault& fault)
{
    if (!frame_)
        return Problem{"fault", "nothing is mounted", "a specimen", {}};
    if (!fault.channel.empty() && std::ranges::find(channels_, fault.channel) == channels_.end())
        return Problem{"fault", "channel " + fault.channel, fmt::format("one of {}", fmt::join(channels_, ", ")), {}};
    faults_.push_back(fault);
    return Done{};
}

} // namespace fortitor
