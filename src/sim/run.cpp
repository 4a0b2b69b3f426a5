// SPDX-License-Identifier: GPL-3.0-or-later
#include "plan/step_plan.h"
#include "sim/catalogue.h"
#include "sim/stepped_bench.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

/// Writes the channels an entry's frame records.
class Recorder {
public:
    Recorder(Record& record, const CatalogueEntry& entry) : sign_(entry.recordedNegative ? -1 : 1)
    {
        record.channels.reserve(7);
        add(record, "time", [](const FrameSample& s) { return s.time; });
        add(
            record, "force", [](const FrameSample& s) { return s.force; }, true);
        if (entry.gauges) {
            add(record, "strain", [](const FrameSample& s) { return s.front; });
            add(record, "strain_2", [](const FrameSample& s) { return s.back; });
        }
        if (entry.plate) {
            add(record, "strain_3", [](const FrameSample& s) { return s.frontRight; });
            add(record, "strain_4", [](const FrameSample& s) { return s.backRight; });
        } else if (entry.gauges) {
            add(record, "transverse_strain", [](const FrameSample& s) { return s.transverse; });
        }
        if (!entry.gauges && entry.extensometer > 0) {
            add(record, "extension", [](const FrameSample& s) { return s.extension; });
        }
        add(
            record, "displacement", [](const FrameSample& s) { return s.displacement; }, true);
    }
    void keep(const FrameSample& sample)
    {
        for (const Line& line : lines_)
            line.column->append(line.turned ? sign_ * line.read(sample) : line.read(sample));
    }

private:
    struct Line {
        Column* column;
        double (*read)(const FrameSample&);
        bool turned;
    };
    void add(Record& record, const char* name, double (*read)(const FrameSample&), bool turned = false)
    {
        lines_.push_back({&record.add(name).values, read, turned});
    }
    std::vector<Line> lines_;
    double sign_;
};

/// The targets an entry is brought to: its own plan of steps, or equal ones to the stop or the break.
StepPlan planOf(const CatalogueEntry& entry, const SimulatedSpecimen& specimen)
{
    const bool twist = std::holds_alternative<ShaftModel>(entry.model);
    const Unit& unit = twist ? *findUnit("deg") : baseUnit(Kind::Force);
    if (const auto stated = entry.options.find("steps"); stated != entry.options.end())
        if (auto plan = parseSteps(stated->second, unit.kind, unit))
            return *plan;
    StepPlan plan;
    plan.unit = &unit;
    if (const auto* beam = std::get_if<BeamModel>(&specimen.model)) {
        plan.runs = {{std::round(beam->strength / entry.steps / 10) * 10, entry.steps}};
        return plan;
    }
    const double top = specimen.trueValue("E") * entry.stopStrain * specimen.bar.section;
    plan.runs = {{std::round(top / entry.steps / 100) * 100, entry.steps}};
    plan.returns = true;
    return plan;
}

/// Brought to each step and read there as the instruments show it, until it breaks or the plan ends; the load
/// at a break is lost.
SimulatedRun steppedRun(const CatalogueEntry& entry, SimulatedSpecimen specimen, std::uint64_t seed)
{
    SimulatedRun run;
    run.specimen = std::move(specimen);
    run.record.source = "simulated frame, " + entry.name + ", seed " + std::to_string(seed);
    const auto bench = steppedBench(entry, run.specimen, seed);
    const StepPlan plan = planOf(entry, run.specimen);
    constexpr size_t most = 500;
    for (size_t k = 0; k < most && plan.target(k); ++k) {
        const auto seen = bench->bringTo(*plan.target(k));
        if (!seen)
            break;
        if (run.record.channels.empty())
            for (const ChannelName& name : channelNames())
                if (seen->contains(std::string(name.name)))
                    run.record.add(name.name);
        for (Channel& channel : run.record.channels)
            channel.values.append(seen->at(channel.name));
    }
    return run;
}

} // namespace

SimulatedRun simulateRun(const CatalogueEntry& entry, std::uint64_t seed, double points)
{
    return simulateRun(entry, drawSpecimen(entry, seed), seed, points);
}

SimulatedRun simulateRun(const CatalogueEntry& entry, SimulatedSpecimen specimen, std::uint64_t seed, double points)
{
    if (entry.steps > 0)
        return steppedRun(entry, std::move(specimen), seed);
    if (std::holds_alternative<PartModel>(entry.model))
        return simulateProof(entry, std::move(specimen), seed, points);
    SimulatedRun run;
    run.specimen = std::move(specimen);
    FrameConditions& c = run.specimen.conditions;
    c.clampLoad = 0; // eased off before the start
    VirtualFrame frame(run.specimen.bar, c, seed * 104729 + 3);
    run.record.source = "simulated frame, " + entry.name + ", seed " + std::to_string(seed);
    Recorder recorder(run.record, entry);
    const double length = entry.parallelLength;
    const double slow = entry.slowRate * length;
    const double fast = entry.fastRate * length;
    const auto* metal = entry.fixture == "grips" ? std::get_if<MetalModel>(&entry.model) : nullptr;
    const double changeAt = metal && metal->upper > 0 ? metal->plateau + 0.012 : entry.changeAt;
    const double last = entry.stopStrain > 0 ? entry.stopStrain
        : metal                              ? std::get<MetalModel>(run.specimen.model).fracture
                                             : run.specimen.bar.law.strain.back();
    const double slowTime = std::min(changeAt, last) * length / slow * 1.25 + (metal ? 0 : c.slack / slow);
    const double fastTime = std::max(0.0, last - changeAt) * length / fast;
    points = points > 0 ? points : entry.points;
    const double dt = (slowTime + fastTime + 3) / points;
    frame.closeTopGrip();
    frame.closeBottomGrip();
    const auto quiet = static_cast<int>(std::clamp(1.5 / dt, 15.0, 4000.0));
    for (int i = 0; i < quiet; ++i)
        recorder.keep(frame.step(dt));
    frame.setSpeed(slow);
    const auto limit = static_cast<long>(points * 20);
    for (long i = 0; i < limit && !frame.broken(); ++i) {
        if (entry.stopStrain > 0 && frame.trueStrain() >= entry.stopStrain)
            break;
        if (frame.trueStrain() > changeAt)
            frame.setSpeed(fast);
        if (entry.removeAtStrain > 0 && frame.extensometerOn() && frame.trueStrain() > entry.removeAtStrain) {
            frame.takeExtensometerOff();
            run.record.events.push_back({0, "extensometer-off", "Extensometer taken off"});
        }
        recorder.keep(frame.step(dt));
    }
    frame.setSpeed(entry.stopStrain > 0 ? -(entry.backRate > 0 ? entry.backRate * length : fast) : 0);
    const auto after = static_cast<int>(std::clamp(0.8 / dt, metal ? 12.0 : 30.0, 2000.0));
    for (int i = 0; i < after; ++i)
        recorder.keep(frame.step(dt));
    return run;
}

std::string recordCsv(const Record& record)
{
    std::string out;
    struct Head {
        const char* name;
        const char* words;
        double factor;
        int decimals;
    };
    static constexpr Head heads[] = {{"time", "Time (s)", 1, 6},
                                     {"force", "Force (kN)", 1e-3, 6},
                                     {"extension", "Extension (mm)", 1, 6},
                                     {"strain", "Strain 1 (ue)", 1e6, 2},
                                     {"strain_2", "Strain 2 (ue)", 1e6, 2},
                                     {"strain_3", "Strain 3 (ue)", 1e6, 2},
                                     {"strain_4", "Strain 4 (ue)", 1e6, 2},
                                     {"transverse_strain", "Transverse strain (ue)", 1e6, 2},
                                     {"torque", "Torque (Nm)", 1e-3, 3},
                                     {"twist", "Twist (deg)", 180 / std::numbers::pi, 3},
                                     {"deflection", "Deflection (mm)", 1, 3},
                                     {"displacement", "Crosshead (mm)", 1, 6}};
    std::vector<std::pair<const Channel*, const Head*>> used;
    for (const Head& head : heads)
        if (const Channel* channel = record.find(head.name)) {
            used.emplace_back(channel, &head);
            out += (out.empty() ? "" : ",") + std::string(head.words);
        }
    out += '\n';
    for (size_t i = 0; i < record.rows(); ++i) {
        for (size_t k = 0; k < used.size(); ++k) {
            const double shown = used[k].first->values[i] * used[k].second->factor;
            if (k)
                out += ',';
            if (!std::isnan(shown))
                fmt::format_to(std::back_inserter(out), "{:.{}f}", shown, used[k].second->decimals);
        }
        out += '\n';
    }
    return out;
}

} // namespace fortitor
