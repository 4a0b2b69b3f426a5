// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/catalogue.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// Writes the channels an entry's frame records.
class Recorder {
public:
    Recorder(Record& record, const CatalogueEntry& entry) : sign_(entry.recordedNegative ? -1 : 1)
    {
        record.channels.reserve(6);
        add(record, "time", [](const FrameSample& s) { return s.time; });
        add(record, "force", [](const FrameSample& s) { return s.force; }, true);
        if (entry.gauges) {
            add(record, "strain", [](const FrameSample& s) { return s.front; });
            add(record, "strain_2", [](const FrameSample& s) { return s.back; });
            add(record, "transverse_strain", [](const FrameSample& s) { return s.transverse; });
        } else if (entry.extensometer > 0) {
            add(record, "extension", [](const FrameSample& s) { return s.extension; });
        }
        add(record, "displacement", [](const FrameSample& s) { return s.displacement; }, true);
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

/// Held at equal steps, read there as an indicator shows it, unloaded, and read once more.
SimulatedRun steppedRun(const CatalogueEntry& entry, SimulatedSpecimen specimen, std::uint64_t seed)
{
    SimulatedRun run;
    run.specimen = std::move(specimen);
    run.specimen.conditions.clampLoad = 0;
    VirtualFrame frame(run.specimen.bar, run.specimen.conditions, seed * 104729 + 3);
    Random random(seed * 131 + 9);
    run.record.source = "simulated frame, " + entry.name + ", seed " + std::to_string(seed);
    run.record.channels.reserve(4);
    Column* columns[4] = {};
    const char* names[4] = {"force", "strain", "strain_2", "transverse_strain"};
    double balance[4] = {};
    for (int c = 0; c < 4; ++c) {
        columns[c] = &run.record.add(names[c]).values;
        balance[c] = c == 0 ? 0 : 2e-6 * random.normal();
    }
    frame.closeTopGrip();
    frame.closeBottomGrip();
    constexpr double dt = 0.05;
    const auto read = [&] {
        double sums[4] = {};
        constexpr int looks = 10;
        frame.setSpeed(0);
        for (int i = 0; i < looks; ++i) {
            const FrameSample s = frame.step(dt);
            const double seen[4] = {s.force, s.front, s.back, s.transverse};
            for (int c = 0; c < 4; ++c)
                sums[c] += seen[c] / looks;
        }
        for (int c = 0; c < 4; ++c) {
            const double digit = c == 0 ? 10 : 1e-6;
            columns[c]->append(std::round((sums[c] + balance[c]) / digit) * digit);
        }
    };
    read();
    const double speed = 0.0005 * entry.parallelLength;
    for (int k = 1; k <= entry.steps; ++k) {
        frame.setSpeed(speed);
        for (long i = 0; i < 100000 && frame.trueStrain() < entry.stopStrain * k / entry.steps && !frame.broken(); ++i)
            frame.step(dt);
        read();
    }
    frame.setSpeed(-speed);
    for (long i = 0; i < 100000 && frame.trueStress() > 0; ++i)
        frame.step(dt);
    read();
    return run;
}

/// A beam loaded by equal steps and read by eye on a dial, until it breaks; the load at the break is lost.
SimulatedRun steppedBend(const CatalogueEntry& entry, SimulatedSpecimen specimen, std::uint64_t seed)
{
    SimulatedRun run;
    run.specimen = std::move(specimen);
    VirtualFrame frame(run.specimen.bar, run.specimen.conditions, seed * 104729 + 3);
    run.record.source = "simulated frame, " + entry.name + ", seed " + std::to_string(seed);
    run.record.channels.reserve(2);
    Column& force = run.record.add("force").values;
    Column& dial = run.record.add("deflection").values;
    frame.closeTopGrip();
    frame.closeBottomGrip();
    frame.balanceExtensometer();
    constexpr double dt = 0.02;
    const BeamModel& beam = std::get<BeamModel>(run.specimen.model);
    const double step = std::round(beam.strength / entry.steps / 10) * 10;
    force.append(0);
    dial.append(0);
    frame.setSpeed(0.1);
    for (int k = 1; k <= entry.steps; ++k) {
        FrameSample s;
        for (long i = 0; i < 1000000 && !frame.broken() && frame.trueStress() < step * k; ++i)
            s = frame.step(dt);
        if (frame.broken())
            break;
        force.append(step * k);
        dial.append(std::round(s.extension / 0.01) * 0.01);
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
    if (entry.method == "flexure")
        return steppedBend(entry, std::move(specimen), seed);
    if (entry.steps > 0)
        return steppedRun(entry, std::move(specimen), seed);
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
    const auto* metal = entry.method == "tension-metal" ? std::get_if<MetalModel>(&entry.model) : nullptr;
    const double changeAt = metal && metal->upper > 0 ? metal->plateau + 0.012 : entry.changeAt;
    const double last = entry.stopStrain > 0 ? entry.stopStrain : metal ? std::get<MetalModel>(run.specimen.model).fracture : run.specimen.bar.law.strain.back();
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
    frame.setSpeed(entry.stopStrain > 0 ? -fast : 0);
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
    static constexpr Head heads[] = {{"time", "Time (s)", 1, 6}, {"force", "Force (kN)", 1e-3, 6}, {"extension", "Extension (mm)", 1, 6}, {"strain", "Strain 1 (ue)", 1e6, 2}, {"strain_2", "Strain 2 (ue)", 1e6, 2}, {"transverse_strain", "Transverse strain (ue)", 1e6, 2}, {"deflection", "Deflection (mm)", 1, 3}, {"displacement", "Crosshead (mm)", 1, 6}};
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
