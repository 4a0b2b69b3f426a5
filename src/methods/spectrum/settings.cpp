// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/spectrum/spectrum.h"

#include "units/quantity.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <type_traits>

namespace fortitor {
namespace {

/// The texts as numbers, and the first problem among them.
class Texts {
public:
    explicit Texts(const std::map<std::string, std::string>& texts) : texts_(texts) { }
    [[nodiscard]] std::string text(const char* key) const
    {
        if (const auto it = texts_.find(key); it != texts_.end() && !it->second.empty())
            return it->second;
        static const Method method = loadSpectrum();
        return method.findOption(key)->fallback;
    }
    /// In the base unit; "none" is nothing.
    std::optional<double> quantity(const char* key, Kind kind)
    {
        const std::string given = text(key);
        if (given == "none" || given.empty())
            return std::nullopt;
        const auto read = parseQuantity(given, kind);
        if (read && read->base > 0)
            return read->base;
        Problem p = read ? Problem{{}, '"' + given + '"', "above zero", {}} : read.problem();
        p.place = flagOf(key);
        fail(p);
        return std::nullopt;
    }
    double number(const char* key, bool whole = false)
    {
        const std::string given = text(key);
        const auto value = parseNumber(given);
        if (value && *value >= 0 && *value <= 1e15 && (!whole || *value == std::floor(*value)))
            return *value;
        fail({flagOf(key), '"' + given + '"', whole ? "a whole number" : "a number", {}});
        return 0;
    }
    template <class Of> Of oneOf(const char* key, std::initializer_list<std::pair<const char*, Of>> choices)
    {
        const std::string given = text(key);
        std::string all;
        for (const auto& [name, value] : choices) {
            if (given == name)
                return value;
            all += (all.empty() ? "" : ", ") + std::string(name);
        }
        fail({flagOf(key), '"' + given + '"', "one of: " + all, {}});
        return choices.begin()->second;
    }
    void fail(const Problem& problem)
    {
        if (!problem_)
            problem_ = problem;
    }
    [[nodiscard]] const std::optional<Problem>& problem() const { return problem_; }

private:
    const std::map<std::string, std::string>& texts_;
    std::optional<Problem> problem_;
};

} // namespace

std::string flagOf(const std::string& key)
{
    std::string flag = "--" + key;
    std::ranges::replace(flag, '_', '-');
    return flag;
}

Expected<SpectrumSettings> spectrumSettings(const std::map<std::string, std::string>& given)
{
    Texts t(given);
    SpectrumSettings s;
    s.chain.spikes = t.oneOf<bool>("spikes", {{"on", true}, {"off", false}});
    s.chain.detrend = t.quantity("detrend", Kind::Time).value_or(0);
    s.chain.lowPass = t.quantity("low_pass", Kind::Frequency).value_or(0);
    s.bridge = t.number("bridge_factor");
    s.modulus = t.quantity("modulus", Kind::Stress);
    if (auto cut = readCut(t.text("cut")))
        s.counts.cut = *cut;
    else
        t.fail({flagOf("cut"), cut.problem().found, cut.problem().wanted, cut.problem().advice});
    s.counts.residue =
        t.oneOf<Residue>("residue",
                         {{"half", Residue::Half}, {"repeat", Residue::Repeat}, {"ignore", Residue::Ignore}});
    s.counts.bins = static_cast<size_t>(t.number("bins", true));
    DamageCurve curve;
    const auto detail = t.quantity("class", Kind::Stress);
    s.classGiven = detail.has_value();
    curve.detail = detail.value_or(curve.detail);
    curve.slope = t.number("slope");
    curve.below = t.number("slope_2");
    curve.knee = t.number("knee");
    using Below = DamageCurve::Below;
    curve.rule = t.oneOf<Below>("below", {{"bent", Below::Bent}, {"straight", Below::Straight}, {"cut", Below::Cut}});
    curve.sum = t.number("damage_sum");
    s.counts.exponent = curve.slope;
    s.counts.curve = curve;
    if (t.problem())
        return *t.problem();
    return s;
}

Expected<HistoryRequest> historyRequest(const HistorySaid& said)
{
    HistoryRequest request;
    if (!said.format.empty())
        request.format = said.format;
    request.dataset = said.dataset;
    request.channel = said.channel;
    request.unit = said.unit;
    if (said.rate.empty())
        return request;
    const auto rate = parseQuantity(said.rate, Kind::Frequency, findUnit("Hz"));
    if (!rate || !(rate->base > 0))
        return Problem{"history.rate", '"' + said.rate + '"', "a rate above zero, such as 200 Hz", {}};
    request.rate = rate->base;
    return request;
}

} // namespace fortitor
