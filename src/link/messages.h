// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "frame/frame.h"
#include "frame/limits.h"
#include "frame/fatigue_rig.h"
#include "frame/pendulum.h"
#include "frame/program.h"
#include "units/expected.h"

#include <nlohmann/json.hpp>

namespace fortitor {

using LinkJson = nlohmann::json;

/// JSON of the link to what the core knows and back; what is missing or of the wrong kind is named.
LinkJson programJson(const RunProgram& program);
Expected<RunProgram> programFrom(const LinkJson& json);
LinkJson limitsJson(const StopLimits& limits);
Expected<StopLimits> limitsFrom(const LinkJson& json);
LinkJson statusJson(const FrameStatus& status);
Expected<FrameStatus> statusFrom(const LinkJson& json);
LinkJson pendulumJson(const PendulumStatus& status);
Expected<PendulumStatus> pendulumFrom(const LinkJson& json);
LinkJson rigJson(const RigStatus& status);
Expected<RigStatus> rigFrom(const LinkJson& json);
LinkJson rigOrderJson(const RigOrder& order);
/// Refuses figures that are not there or not finite.
Expected<RigOrder> rigOrderFrom(const LinkJson& json);
LinkJson specJson(const FrameSpec& spec);
Expected<FrameSpec> specFrom(const LinkJson& json, FrameSpec spec);
LinkJson mountJson(const MountSpec& mount);
Expected<MountSpec> mountFrom(const LinkJson& json);
LinkJson problemJson(const Problem& problem);
Problem problemFrom(const LinkJson& json);
/// A payload to JSON: an object with a "kind", or what is wrong with it.
Expected<LinkJson> parseMessage(std::string_view payload);

/// What one asks of a message: the value where it is there and of that kind.
std::string textOf(const LinkJson& json, const char* key, std::string otherwise = {});
double figureOf(const LinkJson& json, const char* key, double otherwise = 0);
std::uint64_t countOf(const LinkJson& json, const char* key, std::uint64_t otherwise = 0);
bool flagOf(const LinkJson& json, const char* key, bool otherwise = false);

} // namespace fortitor
