// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/counts.h"

#include "history/small_ranges.h"

#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <bit>
#include <cmath>
#include <map>

namespace fortitor {
namespace {

/// Counts by size to a part in two thousand: where a share of all lies is found in one pass, and exactly in a second.
class RangeBuckets {
public:
    RangeBuckets() : counts_(size_t{1} << (31 - dropped), 0) { }
    void add(double range, double count) { counts_[bucket(range)] += count; }
    static size_t bucket(double range) { return std::bit_cast<std::uint32_t>(static_cast<float>(range)) >> dropped; }
    /// The bucket of the least range with at most `above` of the counts over it; how many lie over the whole bucket.
    [[nodiscard]] std::pair<size_t, double> holding(double above) const
    {
        double over = 0;
        for (size_t k = counts_.size(); k-- > 0;) {
            if (over + counts_[k] > above)
                return {k, over};
            over += counts_[k];
        }
        return {0, over};
    }

private:
    static constexpr int dropped = 12;
    std::vector<double> counts_;
};

struct All {
    double cycles = 0, max = 0;
    LongSum damage{};
    RangeBuckets buckets{};
};

/// The least counted range with at most so many counts over it: among the ranges of its bucket.
double leastWithAbove(const std::map<double, double>& inBucket, double over, double above, double otherwise)
{
    double least = otherwise;
    for (auto it = inBucket.rbegin(); it != inBucket.rend(); ++it) {
        if (over > above)
            break;
        least = it->first;
        over += it->second;
    }
    return least;
}

size_t binOf(double value, double low, double width, size_t bins)
{
    const double place = (value - low) / width;
    return std::min(bins - 1, static_cast<size_t>(std::max(0.0, place)));
}

std::vector<Exceedance> exceedanceOf(const std::vector<RangeBin>& bins)
{
    std::vector<Exceedance> out(bins.size());
    double over = 0, all = 0;
    for (const RangeBin& bin : bins)
        all += bin.count;
    for (size_t k = bins.size(); k-- > 0;) {
        over += bins[k].count;
        out[k] = {bins[k].from, all > 0 ? over / all : 0};
    }
    return out;
}

std::vector<RangeBin> emptyBins(double low, double high, size_t bins)
{
    std::vector<RangeBin> out;
    const double width = (high - low) / static_cast<double>(bins);
    for (size_t k = 0; k < bins; ++k)
        out.push_back(
            {low + width * static_cast<double>(k), k + 1 == bins ? high : low + width * static_cast<double>(k + 1), 0});
    return out;
}

/// The turning points without those of small cycles.
struct Kept {
    Kept(const LongTurning& all, double cut) : points(cut > 0 ? own : all)
    {
        bool any = false;
        SmallRanges small(cut, [&](double value) {
            least = any ? std::min(least, value) : value;
            most = any ? std::max(most, value) : value;
            any = true;
            if (cut > 0)
                own.add(value, 0);
        });
        all.each([&](std::span<const double> values, std::span<const std::uint32_t>) {
            for (const double value : values)
                small.take(value);
        });
        small.end();
    }
    Kept(const Kept&) = delete;
    LongTurning own;
    const LongTurning& points; ///< those, or all
    double least = 0, most = 0;
};

void countTransitions(Counts& out, const Kept& kept, size_t bins)
{
    const double width = (kept.most - kept.least) / static_cast<double>(bins);
    for (size_t k = 0; k < bins; ++k)
        out.levels.push_back(kept.least + width * (static_cast<double>(k) + 0.5));
    out.peakToValley.assign(bins * bins, 0);
    out.valleyToPeak.assign(bins * bins, 0);
    std::optional<double> before;
    kept.points.each([&](std::span<const double> values, std::span<const std::uint32_t>) {
        for (const double value : values) {
            if (before) {
                auto& matrix = value < *before ? out.peakToValley : out.valleyToPeak;
                ++matrix[binOf(*before, kept.least, width, bins) * bins + binOf(value, kept.least, width, bins)];
            }
            before = value;
        }
    });
}

} // namespace

double cutOf(const CutRule& rule, const Counts& found)
{
    switch (rule.of) {
    case CutRule::Of::LowChance: return rule.share * found.rangeLowChance;
    case CutRule::Of::Greatest: return rule.share * found.rangeMax;
    case CutRule::Of::Fixed: return rule.fixed;
    case CutRule::Of::Nothing: break;
    }
    return 0;
}

Expected<CutRule> readCut(const std::string& text)
{
    const Problem wanted{"cut", '"' + text + '"', "25 % of 0.25 %, 25 % of max, a range such as 12 MPa, or none", {}};
    CutRule rule;
    if (text == "none") {
        rule.of = CutRule::Of::Nothing;
        return rule;
    }
    const auto share = [](const std::string& part) -> std::optional<double> {
        const auto read = parseQuantity(part, Kind::Strain, findUnit("%", Kind::Strain));
        return read && read->base > 0 && read->base < 1 ? std::optional(read->base) : std::nullopt;
    };
    if (const size_t of = text.find(" of "); of != std::string::npos) {
        const auto first = share(text.substr(0, of));
        if (!first)
            return wanted;
        rule.share = *first;
        const std::string rest = text.substr(of + 4);
        if (rest == "max") {
            rule.of = CutRule::Of::Greatest;
            return rule;
        }
        const auto second = share(rest);
        if (!second)
            return wanted;
        rule.chance = *second;
        return rule;
    }
    rule.of = CutRule::Of::Fixed;
    auto read = parseQuantity(text, Kind::Stress, nullptr);
    if (!read)
        read = parseQuantity(text, Kind::Strain, nullptr);
    constexpr double absurd = 0.05; // a strain: "25 %" is a share without its "of"
    if (!read || !(read->base > 0) || (read->unit->kind == Kind::Strain && read->base > absurd))
        return wanted;
    rule.fixed = read->base;
    rule.kind = read->unit->kind;
    return rule;
}

void dropSmall(std::vector<double>& points, double cut)
{
    std::vector<double> kept;
    SmallRanges small(cut, [&](double value) { kept.push_back(value); });
    for (const double value : points)
        small.take(value);
    small.end();
    points = std::move(kept);
}

Expected<Counts> countAll(const LongTurning& points, const CountSettings& settings)
{
    if (settings.bins < 1 || settings.bins > 4096)
        return Problem{"bins", fmt::format("{}", settings.bins), "1 to 4096", {}};
    if (!(settings.exponent > 0) || !std::isfinite(settings.exponent))
        return Problem{"--slope", fmt::format("{:g}", settings.exponent), "above zero", {}};
    if (settings.curve)
        if (auto ok = checkCurve(*settings.curve); !ok)
            return ok.problem();
    Counts out;
    out.turningPoints = points.size();
    All all;
    countRainflow(points, settings.residue, [&](double from, double to, double count) {
        const double range = std::abs(to - from);
        all.cycles += count;
        all.max = std::max(all.max, range);
        all.buckets.add(range, count);
        if (settings.curve)
            all.damage.add(count * settings.curve->perCycle(range));
    });
    out.allCycles = all.cycles;
    out.rangeMax = all.max;
    if (!(all.max > 0)) {
        out.histogram = emptyBins(0, 0, settings.bins);
        if (settings.curve)
            out.damage = out.damageCutShare = 0;
        return out;
    }
    const double above = settings.cut.chance * all.cycles;
    const auto [bucket, over] = all.buckets.holding(above);
    std::map<double, double> inBucket;
    std::vector<RangeBin> bins = emptyBins(0, all.max, settings.bins);
    const double width = all.max / static_cast<double>(settings.bins);
    countRainflow(points, settings.residue, [&, wanted = bucket](double from, double to, double count) {
        const double range = std::abs(to - from);
        bins[binOf(range, 0, width, settings.bins)].count += count;
        if (RangeBuckets::bucket(range) == wanted)
            inBucket[range] += count;
    });
    out.exceedanceAll = exceedanceOf(bins);
    out.rangeLowChance = leastWithAbove(inBucket, over, above, all.max);
    out.cutAt = cutOf(settings.cut, out);
    if (out.cutAt > all.max)
        return Problem{"cut", fmt::format("{:.6g}", out.cutAt),
                       fmt::format("at most the greatest range, {:.6g}", all.max), "Nothing would be left to count."};
    const Kept kept(points, out.cutAt);
    out.histogram = emptyBins(out.cutAt, all.max, settings.bins);
    const double step = (all.max - out.cutAt) / static_cast<double>(settings.bins);
    LongSum damage, equivalent, squares;
    const double least = kept.least, meanStep = (kept.most - kept.least) / static_cast<double>(settings.bins);
    out.rangeMean.assign(settings.bins * settings.bins, 0);
    countRainflow(kept.points, settings.residue, [&](double from, double to, double count) {
        const double range = std::abs(to - from);
        if (range < out.cutAt)
            return; // of the residue
        out.cycles += count;
        const size_t bin = step > 0 ? binOf(range, out.cutAt, step, settings.bins) : 0;
        out.histogram[bin].count += count;
        const size_t row = meanStep > 0 ? binOf((from + to) / 2, least, meanStep, settings.bins) : 0;
        out.rangeMean[row * settings.bins + bin] += count;
        squares.add(count * range * range);
        equivalent.add(count * std::pow(range, settings.exponent));
        if (settings.curve)
            damage.add(count * settings.curve->perCycle(range));
    });
    out.exceedance = exceedanceOf(out.histogram);
    if (out.cycles > 0)
        out.rmsRange = std::sqrt(squares.value() / out.cycles);
    if (out.cycles > 0)
        out.equivalentRange = std::pow(equivalent.value() / out.cycles, 1 / settings.exponent);
    if (settings.curve) {
        const double damaged = damage.value(), whole = all.damage.value();
        out.damage = damaged / settings.curve->sum;
        out.damageCutShare = whole > 0 ? std::max(0.0, (whole - damaged) / whole) : 0;
    }
    if (kept.points.size() > 1)
        countTransitions(out, kept, settings.bins);
    for (const LongTurning* read : {&points, &kept.points})
        if (auto trouble = read->trouble())
            return *trouble;
    return out;
}

} // namespace fortitor
