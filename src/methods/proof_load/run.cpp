// SPDX-License-Identifier: GPL-3.0-or-later
// The run on the frame: proof loads by force rate with a check of the function behind each, then to the end by
// displacement.
#include "methods/common/figures.h"
#include "methods/common/load_said.h"
#include "methods/common/run.h"
#include "methods/common/stress_strain.h"
#include "methods/proof_load/proof.h"

#include <fmt/format.h>

#include <algorithm>

namespace fortitor {
namespace {

constexpr double usualFactor = 5; // breaking load over working load, as such parts often carry
constexpr double usualRamp = 20, usualHold = 30, usualSpeed = 5.0 / 60; // s, s, mm/s
constexpr double slackShare = 0.02; // of the proof load: the slack is taken up then
constexpr double noneShare = 0.01; // of the proof load: it counts as taken off
constexpr double checkTime = 60; // s that a person takes for a check, for the plan

double optionValue(const SpecimenInput& input, const char* key, Kind kind, double usual)
{
    const auto read = optionQuantity(input, key, kind);
    return read && *read && **read > 0 ? **read : usual;
}

bool toTheEnd(const SpecimenInput& input)
{
    return optionOr(input, "pull", "to-end") != "none";
}

} // namespace

std::optional<ExpectedMaximum> expectedOfPart(const SpecimenInput& input)
{
    const auto loads = proofLoadsOf(input);
    if (!loads || !loads->proof)
        return std::nullopt;
    if (!toTheEnd(input))
        return ExpectedMaximum{.load = *loads->proof, .yield = 0, .basis = "the proof load"};
    if (loads->fixture)
        return ExpectedMaximum{.load = *loads->fixture, .yield = 0, .basis = "the limit of the fixture"};
    if (!loads->working)
        return std::nullopt;
    return ExpectedMaximum{.load = std::max(*loads->proof, usualFactor * *loads->working),
                           .yield = 0,
                           .basis = "five times the working load, as such parts often carry"};
}

std::optional<RatePlan> partSpeeds(const RateSpec&, const SpecimenInput& input, const ExpectedLoad&)
{
    const auto loads = proofLoadsOf(input);
    if (!loads || !loads->proof)
        return std::nullopt;
    RatePlan plan;
    plan.yieldSpeed = plan.afterSpeed = optionValue(input, "pull_speed", Kind::Speed, usualSpeed);
    const double cycle = 2 * optionValue(input, "ramp", Kind::Time, usualRamp)
        + optionValue(input, "hold", Kind::Time, usualHold) + checkTime;
    constexpr double pullTime = 180;
    plan.yieldTime = loads->cycles * cycle;
    plan.wholeTime = plan.yieldTime + (toTheEnd(input) ? pullTime : 0);
    return plan;
}

Expected<RunProgram> proofProgram(const RunInput& run)
{
    const SpecimenInput& input = run.specimen;
    const auto loads = proofLoadsOf(input);
    if (!loads)
        return loads.problem();
    if (!loads->proof)
        return Problem{"working load", "none", "the load that the part is rated for", "State it on Plan."};
    const double proof = *loads->proof;
    const double ramp = optionValue(input, "ramp", Kind::Time, usualRamp);
    const double hold = optionValue(input, "hold", Kind::Time, usualHold);
    const double speed = run.rates.yieldSpeed;
    RunProgram program;
    constexpr double quietFor = 1.5;
    program.stages.push_back({.words = "Quiet start", .control = Control::Hold, .untilTime = quietFor});
    for (int c = 1; c <= loads->cycles; ++c) {
        program.stages.push_back({.words = fmt::format("Cycle {}: slack taken up", c),
                                  .control = Control::Speed,
                                  .value = speed / 2,
                                  .untilForce = slackShare * proof});
        program.stages.push_back(
            {.words = fmt::format("Cycle {}: to the proof load, {}", c, proof::inKilonewton(proof)),
             .control = Control::ForceRate,
             .value = proof / ramp,
             .untilForce = proof});
        program.stages.push_back({.words = fmt::format("Cycle {}: held", c),
                                  .control = Control::HoldForce,
                                  .value = proof,
                                  .untilTime = hold});
        program.stages.push_back({.words = fmt::format("Cycle {}: taken off", c),
                                  .control = Control::ForceRate,
                                  .value = -proof / ramp,
                                  .untilUnder = slackShare * proof});
        program.stages.push_back({.words = fmt::format("Cycle {}: back to zero", c),
                                  .control = Control::Speed,
                                  .value = -speed / 4,
                                  .untilUnder = noneShare * proof,
                                  .untilTime = 20});
        RunStage check{.words = fmt::format("Cycle {}: check of the function", c),
                       .control = Control::Hold,
                       .untilTime = 2,
                       .prompt = "Check the function: does it move free by hand?",
                       .act = "check"};
        constexpr int noted = 2; // checks that have a note of their own
        if (c <= noted)
            check.note = fmt::format("function_{}", c);
        program.stages.push_back(std::move(check));
    }
    if (!toTheEnd(input))
        return program;
    RunStage pull{
        .words = "To the end, " + driveSpeedText(speed, Kind::Force), .control = Control::Speed, .value = speed};
    if (loads->fixture) {
        pull.words += ", up to the fixture's limit of " + proof::inKilonewton(*loads->fixture);
        pull.untilForce = *loads->fixture;
        program.returns = true;
        program.returnSpeed = speed;
    }
    program.stages.push_back(std::move(pull));
    return program;
}

std::optional<LoadProfile> proofProfile(const RunInput& run)
{
    const SpecimenInput& input = run.specimen;
    const auto loads = proofLoadsOf(input);
    if (!loads || !loads->proof)
        return std::nullopt;
    const double proof = *loads->proof;
    const double ramp = optionValue(input, "ramp", Kind::Time, usualRamp);
    const double hold = optionValue(input, "hold", Kind::Time, usualHold);
    LoadProfile profile;
    double t = 0;
    const auto put = [&](double after, double load) {
        t += after;
        profile.time.push_back(t);
        profile.load.push_back(load);
    };
    put(0, 0);
    for (int c = 0; c < loads->cycles; ++c) {
        put(ramp, proof);
        put(hold, proof);
        put(ramp, 0);
        profile.checks.push_back(t + checkTime / 4);
        put(checkTime / 2, 0);
    }
    const auto expected = expectedOfPart(input);
    if (toTheEnd(input) && expected) {
        profile.byDisplacementFrom = t;
        // A part yields somewhere above its proof load; where is what the test is to tell.
        put(2 * ramp, 0.7 * expected->load);
        put(2 * ramp, expected->load);
        put(loads->fixture ? ramp : 1, 0);
    }
    const auto level = [&](double load, const std::string& words, bool stop) {
        profile.levels.push_back({.load = load, .words = words, .stop = stop});
    };
    profile.rated = loads->working.value_or(0);
    if (loads->working)
        level(*loads->working, "working load " + loadSaid(*loads->working, 0), false);
    level(proof, "proof load " + loadSaid(proof, profile.rated), false);
    if (loads->fixture)
        level(*loads->fixture, "limit of the fixture " + loadSaid(*loads->fixture, profile.rated), true);
    profile.words.push_back(
        "The working load is what the part may carry in use, the proof load what it must carry without harm, the "
        "breaking load what it gives way at: for such parts often four to six times the working load.");
    if (!toTheEnd(input))
        profile.words.push_back(
            "Proof loads only. Whether a part that met them may be used is for a competent person and local rules to "
            "say; one that stuck or yielded is scrap.");
    else if (loads->fixture)
        profile.words.push_back(fmt::format(
            "Each part is pulled by displacement to its break, or until {} are on the fixture: all of them are scrap "
            "then.",
            proof::inKilonewton(*loads->fixture)));
    else
        profile.words.push_back(
            "Each part is pulled to its break by displacement: all of them are scrap then. State the "
            "limit of the fixture, so that the frame stops there.");
    return profile;
}

} // namespace fortitor
