// SPDX-License-Identifier: GPL-3.0-or-later
#include "link/messages.h"

#include "units/json_bounds.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace fortitor {
namespace {

constexpr std::array<const char*, 6> states{"ready", "running", "holding", "waiting", "returning", "ended"};
constexpr std::array<std::string_view, 5> hammers{"hanging", "rising", "raised", "swinging", "braking"};

Problem wrong(std::string place, std::string found, std::string wanted)
{
    return {"machine link, " + std::move(place), std::move(found), std::move(wanted), {}};
}

/// Reads named figures into their places; stops at the first that is there and is no figure.
template <class Fields>
std::optional<Problem> readFigures(const LinkJson& json, const char* place, const Fields& fields)
{
    if (!json.is_object())
        return wrong(place, json.type_name(), "an object");
    for (const auto& [key, into] : fields) {
        const auto it = json.find(key);
        if (it == json.end())
            continue;
        if (!it->is_number() || !std::isfinite(it->template get<double>()))
            return wrong(std::string(place) + ", " + key, it->dump(-1, ' ', true, LinkJson::error_handler_t::replace),
                         "a figure");
        *into = it->template get<double>();
    }
    return std::nullopt;
}

/// The figures of each kind of thing once, for reading and for writing.
auto figures(auto& s) requires requires
{
    s.untilStrain;
}
{
    return std::array{std::pair("value", &s.value),
                      std::pair("low", &s.low),
                      std::pair("high", &s.high),
                      std::pair("count", &s.count),
                      std::pair("until_strain", &s.untilStrain),
                      std::pair("until_force", &s.untilForce),
                      std::pair("until_under", &s.untilUnder),
                      std::pair("until_travel", &s.untilTravel),
                      std::pair("until_time", &s.untilTime)};
}

auto figures(auto& s) requires requires
{
    s.forceDrop;
}
{
    return std::array{std::pair("force", &s.force), std::pair("extension", &s.extension),
                      std::pair("travel", &s.travel), std::pair("force_drop", &s.forceDrop),
                      std::pair("time", &s.time)};
}

auto figures(auto& s) requires requires
{
    s.acceleration;
}
{
    return std::array{std::pair("max_speed", &s.maxSpeed),
                      std::pair("acceleration", &s.acceleration),
                      std::pair("creep", &s.creep),
                      std::pair("cell", &s.cell),
                      std::pair("overload", &s.overload),
                      std::pair("travel", &s.travel),
                      std::pair("extensometer_travel", &s.extensometerTravel),
                      std::pair("gauge_range", &s.gaugeRange),
                      std::pair("force_scale", &s.forceScale),
                      std::pair("extension_scale", &s.extensionScale),
                      std::pair("rate", &s.rate)};
}

auto figures(auto& s) requires requires
{
    s.section;
}
{
    return std::array{std::pair("section", &s.section), std::pair("length", &s.length),
                      std::pair("gauge_length", &s.gaugeLength)};
}

auto flags(auto& s)
{
    return std::array{std::pair("mounted", &s.mounted),
                      std::pair("top", &s.top),
                      std::pair("bottom", &s.bottom),
                      std::pair("guard", &s.guard),
                      std::pair("emergency", &s.emergency),
                      std::pair("hand_set", &s.handSet),
                      std::pair("extensometer", &s.extensometer),
                      std::pair("easing", &s.easing),
                      std::pair("disabled", &s.disabled)};
}

template <class T> LinkJson figuresJson(const T& thing)
{
    LinkJson json = LinkJson::object();
    for (const auto& [key, value] : figures(thing))
        json[key] = *value;
    return json;
}

} // namespace

LinkJson programJson(const RunProgram& program)
{
    LinkJson stages = LinkJson::array();
    for (const RunStage& stage : program.stages) {
        LinkJson json = figuresJson(stage);
        json["words"] = stage.words;
        json["control"] = controlName(stage.control);
        json["prompt"] = stage.prompt;
        json["act"] = stage.act;
        stages.push_back(std::move(json));
    }
    return {{"stages", stages}, {"returns", program.returns}, {"return_speed", program.returnSpeed}};
}

Expected<RunProgram> programFrom(const LinkJson& json)
{
    if (!json.is_object() || !json.contains("stages") || !json["stages"].is_array())
        return wrong("program", json.type_name(), "an object with stages");
    RunProgram program;
    program.returns = flagOf(json, "returns");
    program.returnSpeed = figureOf(json, "return_speed");
    for (const LinkJson& one : json["stages"]) {
        RunStage stage;
        if (auto problem = readFigures(one, "stage", figures(stage)))
            return *problem;
        const auto control = controlNamed(textOf(one, "control"));
        if (!control)
            return wrong("stage, control", textOf(one, "control", "nothing"),
                         "hold, speed, force-rate, strain-rate, position or cycles");
        stage.control = *control;
        stage.words = textOf(one, "words");
        stage.prompt = textOf(one, "prompt");
        stage.act = textOf(one, "act");
        program.stages.push_back(std::move(stage));
    }
    if (auto problem = programProblem(program))
        return *problem;
    return program;
}

LinkJson limitsJson(const StopLimits& limits)
{
    return figuresJson(limits);
}

Expected<StopLimits> limitsFrom(const LinkJson& json)
{
    StopLimits limits;
    if (auto problem = readFigures(json, "limits", figures(limits)))
        return *problem;
    return limits;
}

LinkJson statusJson(const FrameStatus& status)
{
    LinkJson json{{"kind", "state"},
                  {"state", states[static_cast<size_t>(status.state)]},
                  {"stage", status.stage},
                  {"words", status.words},
                  {"prompt", status.prompt},
                  {"ended", status.ended},
                  {"ended_words", status.endedWords}};
    for (const auto& [key, flag] : flags(status))
        json[key] = *flag;
    return json;
}

Expected<FrameStatus> statusFrom(const LinkJson& json)
{
    FrameStatus status;
    const auto at = std::ranges::find(states, textOf(json, "state"));
    if (at == states.end())
        return wrong("state", textOf(json, "state", "nothing"), "a state of the frame");
    status.state = static_cast<DriveState>(at - states.begin());
    for (const auto& [key, flag] : flags(status))
        *flag = flagOf(json, key);
    status.stage = static_cast<int>(std::clamp(figureOf(json, "stage"), 0.0, 1e6));
    status.words = textOf(json, "words");
    status.prompt = textOf(json, "prompt");
    status.ended = textOf(json, "ended");
    status.endedWords = textOf(json, "ended_words");
    return status;
}

LinkJson pendulumJson(const PendulumStatus& status)
{
    LinkJson json{{"kind", "pendulum-state"},
                  {"hammer", hammers[static_cast<size_t>(status.hammer)]},
                  {"angle", status.angle},
                  {"locked", status.locked},
                  {"guard", status.guard},
                  {"piece", status.piece},
                  {"pointer_set", status.pointerSet},
                  {"struck", status.struck}};
    if (status.reading)
        json["reading"] = *status.reading;
    return json;
}

Expected<PendulumStatus> pendulumFrom(const LinkJson& json)
{
    PendulumStatus status;
    const auto at = std::ranges::find(hammers, textOf(json, "hammer"));
    if (at == hammers.end())
        return wrong("hammer", textOf(json, "hammer", "nothing"), "hanging, rising, raised, swinging or braking");
    status.hammer = static_cast<PendulumStatus::Hammer>(at - hammers.begin());
    status.angle = figureOf(json, "angle");
    status.locked = flagOf(json, "locked");
    status.guard = flagOf(json, "guard");
    status.piece = flagOf(json, "piece");
    status.pointerSet = flagOf(json, "pointer_set");
    status.struck = flagOf(json, "struck");
    if (const double reading = figureOf(json, "reading", std::nan("")); std::isfinite(reading))
        status.reading = reading;
    return status;
}

LinkJson specJson(const FrameSpec& spec)
{
    LinkJson json = figuresJson(spec);
    json["hydraulic"] = spec.hydraulic;
    json["fixture"] = spec.fixture;
    return json;
}

Expected<FrameSpec> specFrom(const LinkJson& json, FrameSpec spec)
{
    if (auto problem = readFigures(json, "frame", figures(spec)))
        return *problem;
    spec.hydraulic = flagOf(json, "hydraulic", spec.hydraulic);
    spec.fixture = textOf(json, "fixture", spec.fixture);
    return spec;
}

LinkJson mountJson(const MountSpec& mount)
{
    LinkJson json = figuresJson(mount);
    json["specimen"] = mount.specimen;
    json["seed"] = mount.seed;
    json["two_extensometers"] = mount.twoExtensometers;
    return json;
}

Expected<MountSpec> mountFrom(const LinkJson& json)
{
    MountSpec mount;
    if (auto problem = readFigures(json, "specimen", figures(mount)))
        return *problem;
    mount.specimen = textOf(json, "specimen");
    mount.seed = countOf(json, "seed", 1);
    mount.twoExtensometers = flagOf(json, "two_extensometers");
    return mount;
}

LinkJson problemJson(const Problem& p)
{
    return {{"place", p.place}, {"found", p.found}, {"wanted", p.wanted}, {"advice", p.advice}};
}

Problem problemFrom(const LinkJson& json)
{
    return {textOf(json, "place"), textOf(json, "found"), textOf(json, "wanted"), textOf(json, "advice")};
}

Expected<LinkJson> parseMessage(std::string_view payload)
{
    if (auto beyond = jsonBeyondBounds(payload, "message"))
        return *beyond;
    LinkJson json = LinkJson::parse(payload.begin(), payload.end(), nullptr, false);
    if (json.is_discarded())
        return wrong("message", "text that is no JSON", "a JSON object");
    if (!json.is_object() || !json.contains("kind") || !json["kind"].is_string())
        return wrong("message", "JSON without a kind", "an object with a \"kind\"");
    return json;
}

std::string textOf(const LinkJson& json, const char* key, std::string otherwise)
{
    const auto it = json.is_object() ? json.find(key) : json.end();
    return it != json.end() && it->is_string() ? it->get<std::string>() : otherwise;
}

double figureOf(const LinkJson& json, const char* key, double otherwise)
{
    const auto it = json.is_object() ? json.find(key) : json.end();
    return it != json.end() && it->is_number() ? it->get<double>() : otherwise;
}

std::uint64_t countOf(const LinkJson& json, const char* key, std::uint64_t otherwise)
{
    const auto it = json.is_object() ? json.find(key) : json.end();
    return it != json.end() && it->is_number_unsigned() ? it->get<std::uint64_t>() : otherwise;
}

bool flagOf(const LinkJson& json, const char* key, bool otherwise)
{
    const auto it = json.is_object() ? json.find(key) : json.end();
    return it != json.end() && it->is_boolean() ? it->get<bool>() : otherwise;
}

} // namespace fortitor
