// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/spectrum.h"

#include "history/content.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

namespace fortitor {
namespace {

/// From a reading to what is counted, and in which unit that is.
Expected<std::pair<double, const Unit*>> scaleOf(const HistoryFile& file, const SpectrumSettings& s)
{
    if (!(s.bridge > 0) || !std::isfinite(s.bridge))
        return Problem{"--bridge-factor", fmt::format("{:g}", s.bridge), "above zero", {}};
    if (file.unit->kind == Kind::Stress) {
        if (s.modulus)
            return Problem{"--modulus", "readings that are a stress already", "no modulus", {}};
        return std::pair(file.unit->factor * s.bridge, findUnit("MPa"));
    }
    if (!s.modulus)
        return std::pair(s.bridge, file.unit);
    if (!(*s.modulus > 0))
        return Problem{"--modulus", fmt::format("{:g} MPa", *s.modulus), "above zero", {}};
    return std::pair(file.unit->factor * s.bridge * *s.modulus, findUnit("MPa"));
}

std::string figure(double value, const Unit& unit)
{
    return fmt::format("{:.3g} {}", value, unit.symbol);
}

/// Faults of a wire stand far out; what rises above the limit bit by bit belongs to the signal.
bool maybeReal(const ChainFound& chain, double scale)
{
    if (!(chain.spikeLimit > 0))
        return false;
    SpikeLevel level;
    level.add(chain.spikes);
    const double limit = chain.spikeLimit / std::abs(scale);
    constexpr std::uint64_t few = 20;
    const std::uint64_t near = level.between(limit, 2 * limit), all = level.between(limit, 1e30);
    return all >= few && 2 * near > all;
}

void tellChain(Spectrum& out, double scale, const SpectrumSettings& s)
{
    const ChainFound& chain = out.chain;
    const double share = static_cast<double>(chain.repaired) / static_cast<double>(chain.readings);
    constexpr double much = 1e-3;
    const bool real = maybeReal(chain, scale), many = share > much;
    if (chain.repaired > 0)
        out.remarks.push_back(
            {"repaired",
             real || many ? Severity::Caution : Severity::Note,
             {},
             fmt::format("{} reading{} bridged: gaps, and spikes of more than {}.{}", chain.repaired,
                         chain.repaired == 1 ? " was" : "s were",
                         chain.spikeLimit > 0 ? figure(chain.spikeLimit, *out.unit) : "any size",
                         real ? " Most of them rise less than twice above that: they may be real peaks." : ""),
             real || many ? "Look at them in the raw signal; leave spikes in where they are real." : "",
             "--spikes"});
    if (chain.trend.size() > 1) {
        const auto [low, high] = std::ranges::minmax(chain.trend);
        out.remarks.push_back(
            {"trend-off",
             Severity::Note,
             {},
             fmt::format("A trend of {} from peak to peak was taken out, in pieces of {:g} h; its "
                         "mean of {} is put aside.",
                         figure(high - low, *out.unit), s.chain.detrend / 3600, figure(chain.mean, *out.unit)),
             "Put the mean back before a mean-stress rule.",
             "--detrend"});
    }
}

void tellCounts(Spectrum& out, const SpectrumSettings& s)
{
    const Counts& c = out.counts;
    if (!(c.rangeMax > 0))
        out.remarks.push_back({"level",
                               Severity::Caution,
                               {},
                               "Nothing moves in this history: there is no cycle.",
                               "Look at the channel and its unit.",
                               {}});
    if (!c.damage)
        out.remarks.push_back({"no-damage",
                               Severity::Note,
                               {"damage", "damage_cut_share"},
                               "Ranges are strains: damage needs a stress.",
                               "Give the modulus.",
                               "--modulus"});
    else if (!s.classGiven)
        out.remarks.push_back({"class-assumed",
                               Severity::Caution,
                               {"damage"},
                               fmt::format("No detail class was given: {:g} MPa is taken.", s.counts.curve->detail),
                               "Give the class of the detail.",
                               "--class"});
    constexpr double most = 0.01;
    if (c.damageCutShare && *c.damageCutShare > most)
        out.remarks.push_back(
            {"cut-damage",
             Severity::Caution,
             {"damage"},
             fmt::format("What was cut did {:.2g} % of the damage; below 1 % is wanted.", 100 * *c.damageCutShare),
             "Lower the cut.",
             "--cut"});
}

/// Problem of a part that does not fit those before it.
std::optional<Problem> misfit(std::span<const SpectrumPart> parts, const SpectrumSettings& s)
{
    std::uint64_t start = 0;
    for (size_t k = 0; k < parts.size(); ++k) {
        const SpectrumPart& part = parts[k];
        const std::string place = fmt::format("part {}", k + 1);
        constexpr double alike = 1e-9;
        if (part.unit != parts.front().unit || std::abs(part.scale / parts.front().scale - 1) > alike
            || std::abs(part.chain.rate / parts.front().chain.rate - 1) > alike)
            return Problem{place, "another rate, unit or scale than the first", "one history", {}};
        if ((k > 0 && !part.before) || (k + 1 < parts.size() && !part.after))
            return Problem{place, "worked without the readings beside it", "both neighbours but at the ends",
                           "Work it again with --before and --after."};
        const double length = s.chain.detrend * part.chain.rate, joints = static_cast<double>(start) / length;
        if (length > 0 && std::abs(joints - std::round(joints)) * length > 1e-3)
            return Problem{place,
                           fmt::format("a start {:.6g} h after the first reading",
                                       static_cast<double>(start) / part.chain.rate / 3600),
                           fmt::format("one on a joint of the trend, every {:g} h", s.chain.detrend / 3600),
                           "Cut the history at its joints."};
        start += part.chain.readings;
    }
    return std::nullopt;
}

/// The limit that one run over all would have set; a problem where a part's own told other spikes.
Expected<double> commonLimit(std::span<const SpectrumPart> parts)
{
    SpikeLevel all;
    for (const SpectrumPart& part : parts)
        all.add(part.chain.spikes);
    const double first = parts.front().chain.spikeLimit / std::abs(parts.front().scale);
    if (std::ranges::all_of(parts, [&](const SpectrumPart& part) {
            return part.chain.spikeLimit > 0
                && std::abs(part.chain.spikeLimit / std::abs(part.scale) / first - 1) < 1e-12;
        }))
        return first; // as it was given to all
    const double wanted = all.limit();
    for (size_t k = 0; k < parts.size(); ++k) {
        SpikeLevel own;
        own.add(parts[k].chain.spikes);
        const double scale = std::abs(parts[k].scale);
        const double limit =
            parts[k].chain.spikeLimit > 0 ? parts[k].chain.spikeLimit / scale : std::numeric_limits<double>::infinity();
        if (const auto open = std::abs(limit / wanted - 1) > 1e-12 ? own.between(limit, wanted) : 0; open > 0)
            return Problem{fmt::format("part {}", k + 1),
                           fmt::format("{} readings between its own spike limit and that of the whole", open), "none",
                           fmt::format("Work all parts again with --spike-limit {:.17g}.", wanted)};
    }
    return wanted;
}

Extreme further(const Extreme& a, const Extreme& b, double sign)
{
    if (a.value == b.value)
        return {a.value, a.count + b.count, a.next + b.next};
    return sign * a.value > sign * b.value ? a : b;
}

/// What was found on the way, of all parts together.
ChainFound foundIn(std::span<const SpectrumPart> parts)
{
    ChainFound whole = parts.front().chain;
    double weighted = 0;
    SpikeLevel sizes;
    for (size_t k = 0; k < parts.size(); ++k) {
        const ChainFound& chain = parts[k].chain;
        sizes.add(chain.spikes);
        weighted += chain.mean * static_cast<double>(chain.readings);
        if (k == 0)
            continue;
        whole.readings += chain.readings;
        whole.repaired += chain.repaired;
        whole.trend.insert(whole.trend.end(), chain.trend.begin(), chain.trend.end());
        whole.top = further(whole.top, chain.top, 1);
        whole.bottom = further(whole.bottom, chain.bottom, -1);
    }
    whole.spikes = sizes.counts();
    whole.mean = weighted / static_cast<double>(whole.readings);
    return whole;
}

/// The turning points of all parts as of one history.
LongTurning joined(std::span<const SpectrumPart> parts)
{
    LongTurning all;
    TurningFinder finder(all);
    for (const SpectrumPart& part : parts)
        part.chain.turning.each([&](std::span<const double> values, std::span<const std::uint32_t>) {
            for (const double value : values)
                finder.take(value, 0);
        });
    finder.end();
    return all;
}

} // namespace

Expected<HistoryFile> withNeighbours(const HistoryFile& file, const HistoryFile* before, const HistoryFile* after,
                                     ChainSettings& chain)
{
    for (const HistoryFile* other : {before, after})
        if (other && (std::abs(other->rate / file.rate - 1) > 1e-6 || other->unit != file.unit))
            return Problem{"neighbour",
                           fmt::format("{:g} Hz in {}", other->rate, other->unit->symbol),
                           fmt::format("{:g} Hz in {}", file.rate, file.unit->symbol),
                           {}};
    constexpr double edge = 16 * 3600; // s
    constexpr double joints = 16;
    const double length = chain.detrend * file.rate;
    const auto room = static_cast<std::uint64_t>(std::max(edge * file.rate, joints * length));
    std::vector<std::shared_ptr<const HistorySource>> parts;
    chain.first = 0;
    if (before) {
        std::uint64_t take = std::min(room, before->source->size());
        if (length > 0) // whole pieces, so that the joints stay where the whole history has them
            for (double k = std::floor(static_cast<double>(take) / length);; k -= 1) {
                take = static_cast<std::uint64_t>(std::llround(std::max(0.0, k) * length));
                if (k <= 0 || std::abs(k * length - static_cast<double>(take)) < 1e-6)
                    break;
            }
        if (take > 0)
            parts.push_back(partOf(before->source, before->source->size() - take, take));
        chain.first = take;
    }
    parts.push_back(file.source);
    chain.count = file.source->size();
    if (after)
        parts.push_back(partOf(after->source, 0, std::min(room, after->source->size())));
    HistoryFile whole = file;
    whole.source = joined(std::move(parts));
    return whole;
}

Expected<SpectrumPart> readPart(const HistoryFile& file, const SpectrumSettings& settings)
{
    const auto scale = scaleOf(file, settings);
    if (!scale)
        return scale.problem();
    ChainSettings s = settings.chain;
    s.scale = scale->first;
    auto chain = runChain(*file.source, file.rate, s);
    if (!chain)
        return chain.problem();
    SpectrumPart part{.chain = std::move(*chain), .unit = scale->second, .scale = scale->first, .notes = file.notes};
    if (!part.chain.stopped)
        part.nearFilter = nearFilter(file, s, part.chain);
    part.before = s.first > 0;
    part.after = s.count > 0 && s.first + s.count < file.source->size();
    return part;
}

Expected<Spectrum> countParts(std::span<const SpectrumPart> parts, const SpectrumSettings& settings)
{
    if (parts.empty())
        return Problem{"parts", "none", "at least one", {}};
    SpectrumSettings s = settings;
    Spectrum out;
    out.unit = parts.front().unit;
    if (out.unit->kind != Kind::Stress)
        s.counts.curve.reset();
    if (s.counts.cut.of == CutRule::Of::Fixed) {
        if (s.counts.cut.kind != out.unit->kind)
            return Problem{"--cut",
                           s.counts.cut.kind == Kind::Stress ? "a stress" : "a strain",
                           fmt::format("a range in {}", out.unit->symbol),
                           {}};
        s.counts.cut.fixed = out.unit->fromBase(s.counts.cut.fixed);
    }
    if (auto problem = misfit(parts, s))
        return *problem;
    double limit = parts.front().chain.spikeLimit;
    if (parts.size() > 1 && s.chain.spikes) {
        const auto common = commonLimit(parts);
        if (!common)
            return common.problem();
        limit = std::isfinite(*common) ? *common * std::abs(parts.front().scale) : 0;
    }
    double near = 0;
    std::vector<std::string> notes;
    for (const SpectrumPart& part : parts) {
        near += part.nearFilter * static_cast<double>(part.chain.readings);
        notes.insert(notes.end(), part.notes.begin(), part.notes.end());
    }
    out.chain = foundIn(parts);
    out.chain.spikeLimit = limit;
    auto counts =
        parts.size() == 1 ? countAll(parts.front().chain.turning, s.counts) : countAll(joined(parts), s.counts);
    if (!counts)
        return counts.problem();
    out.counts = std::move(*counts);
    tellChain(out, parts.front().scale, s);
    tellContent(out, near / static_cast<double>(out.chain.readings), s);
    tellCounts(out, s);
    for (const std::string& note : notes)
        out.remarks.push_back({"source-note", Severity::Note, {}, note, "", {}});
    return out;
}

Expected<Spectrum> readSpectrum(const HistoryFile& file, const SpectrumSettings& settings)
{
    auto part = readPart(file, settings);
    if (!part)
        return part.problem();
    if (part->chain.stopped) {
        Spectrum out;
        out.chain = std::move(part->chain);
        out.unit = part->unit;
        return out;
    }
    return countParts({&*part, 1}, settings);
}

} // namespace fortitor
