// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/spectrum_json.h"

namespace fortitor {
namespace {

Json exceedanceJson(const std::vector<Exceedance>& list)
{
    Json out = Json::array();
    for (const Exceedance& e : list)
        out.push_back({{"range", e.range}, {"chance", e.chance}});
    return out;
}

Json matrixJson(const std::vector<double>& cells, size_t rows)
{
    Json out = Json::array();
    for (size_t r = 0; r < rows; ++r) {
        Json row = Json::array();
        for (size_t c = 0; c < rows; ++c)
            row.push_back(static_cast<std::uint64_t>(cells[r * rows + c]));
        out.push_back(std::move(row));
    }
    return out;
}

Json orNull(const std::optional<double>& value)
{
    return value ? Json(*value) : Json();
}

Json extremeJson(const Extreme& e)
{
    return {{"value", e.value}, {"count", e.count}, {"next", e.next}};
}

Extreme extremeOf(const Json& j)
{
    return {j.at("value").get<double>(), j.at("count").get<std::uint64_t>(), j.at("next").get<std::uint64_t>()};
}

} // namespace

Json partJson(const SpectrumPart& part, const Json& flags)
{
    Json j;
    j["fortitor_spectrum_part"] = 1;
    j["flags"] = flags;
    j["samples"] = part.chain.readings;
    j["rate_hz"] = part.chain.rate;
    j["unit"] = part.unit->symbol;
    j["scale"] = part.scale;
    j["before"] = part.before;
    j["after"] = part.after;
    j["repaired"] = part.chain.repaired;
    j["spike_limit"] = part.chain.spikeLimit;
    j["spikes"] = part.chain.spikes;
    j["trend"] = part.chain.trend;
    j["mean"] = part.chain.mean;
    j["top"] = extremeJson(part.chain.top);
    j["bottom"] = extremeJson(part.chain.bottom);
    j["near_filter"] = part.nearFilter;
    j["notes"] = part.notes;
    j["turning_points"] = part.chain.turning.all().values;
    return j;
}

Expected<SpectrumPart> partFromJson(const Json& j, const std::string& place)
{
    try {
        if (!j.is_object() || j.value("fortitor_spectrum_part", 0) != 1)
            return Problem{place, "no stretch of a history", "what --partial wrote", {}};
        SpectrumPart part;
        part.chain.readings = j.at("samples").get<std::uint64_t>();
        part.chain.rate = j.at("rate_hz").get<double>();
        part.unit = findUnit(j.at("unit").get<std::string>());
        part.scale = j.at("scale").get<double>();
        part.before = j.at("before").get<bool>();
        part.after = j.at("after").get<bool>();
        part.chain.repaired = j.at("repaired").get<std::uint64_t>();
        part.chain.spikeLimit = j.at("spike_limit").get<double>();
        part.chain.spikes = j.at("spikes").get<SpikeCounts>();
        part.chain.trend = j.at("trend").get<std::vector<double>>();
        part.chain.mean = j.at("mean").get<double>();
        part.chain.top = extremeOf(j.at("top"));
        part.chain.bottom = extremeOf(j.at("bottom"));
        part.nearFilter = j.at("near_filter").get<double>();
        part.notes = j.at("notes").get<std::vector<std::string>>();
        part.chain.turning = LongTurning::of(j.at("turning_points").get<std::vector<double>>());
        if (!part.unit || !(part.chain.rate > 0) || part.chain.readings == 0 || !(part.scale != 0))
            return Problem{place, "a unit, a rate or a number of readings that can't be", "what --partial wrote", {}};
        return part;
    } catch (const Json::exception& e) {
        return Problem{place, e.what(), "what --partial wrote", "Work the stretch again."};
    }
}

Json spectrumJson(const Spectrum& s)
{
    const Counts& c = s.counts;
    Json j;
    j["fortitor_spectrum"] = 1;
    j["samples"] = s.chain.readings;
    j["rate_hz"] = s.chain.rate;
    j["unit"] = s.unit->symbol;
    j["repaired"] = s.chain.repaired;
    j["turning_points"] = c.turningPoints;
    j["cycles"] = c.cycles;
    j["range_max"] = c.rangeMax;
    j["range_low_chance"] = c.rangeLowChance;
    j["cut_at"] = c.cutAt;
    j["damage"] = orNull(c.damage);
    j["damage_cut_share"] = orNull(c.damageCutShare);
    j["equivalent_range"] = orNull(c.equivalentRange);
    j["histogram"] = Json::array();
    for (const RangeBin& bin : c.histogram)
        j["histogram"].push_back({{"from", bin.from}, {"to", bin.to}, {"count", bin.count}});
    j["exceedance"] = exceedanceJson(c.exceedance);
    j["exceedance_all"] = exceedanceJson(c.exceedanceAll);
    j["transitions"] = {{"levels", c.levels},
                        {"peak_to_valley", matrixJson(c.peakToValley, c.levels.size())},
                        {"valley_to_peak", matrixJson(c.valleyToPeak, c.levels.size())}};
    j["remarks"] = Json::array();
    for (const Remark& r : s.remarks)
        j["remarks"].push_back(remarkJson(r));
    return j;
}

} // namespace fortitor
