// SPDX-License-Identifier: GPL-3.0-or-later
// Settings that are worth a look beside those that stand.
#include "methods/spectrum/spectrum.h"

#include <fmt/format.h>

#include <algorithm>

namespace fortitor {

std::vector<ChainTrial> chainTrials(const ChainBox& box, const std::map<std::string, std::string>& options)
{
    std::vector<ChainTrial> trials;
    const auto settings = spectrumSettings(options);
    if (!settings)
        return trials;
    const auto now = [&](const char* key) {
        static const Method method = loadSpectrum();
        const auto it = options.find(key);
        return it != options.end() && !it->second.empty() ? it->second : method.findOption(key)->fallback;
    };
    const auto offer = [&](const char* key, const std::string& value, const std::string& words) {
        if (now(key) != value)
            trials.push_back({key, value, words});
    };
    const auto figure = [](double value, const char* unit) { return fmt::format("{:.4g} {}", value, unit); };
    if (box.option == "spikes") {
        offer("spikes", "off", "spikes left in");
        offer("spikes", "on", "spikes bridged");
    } else if (box.option == "detrend") {
        const double hours = settings->chain.detrend / 3600;
        if (hours > 0) {
            offer("detrend", figure(hours / 2, "h"), figure(hours / 2, "h"));
            offer("detrend", figure(hours * 2, "h"), figure(hours * 2, "h"));
        }
        offer("detrend", hours > 0 ? "none" : "1 h", hours > 0 ? "none" : "1 h");
    } else if (box.option == "low_pass") {
        const double corner = settings->chain.lowPass;
        if (corner > 0) {
            offer("low_pass", figure(corner / 2, "Hz"), figure(corner / 2, "Hz"));
            offer("low_pass", figure(corner * 2, "Hz"), figure(corner * 2, "Hz"));
        }
        offer("low_pass", corner > 0 ? "none" : "2 Hz", corner > 0 ? "none" : "2 Hz");
    } else if (box.option == "cut") {
        for (const char* value : {"25 % of 0.25 %", "25 % of max", "none"})
            offer("cut", value, value);
    } else if (box.option == "residue") {
        offer("residue", "half", "residue as half cycles");
        offer("residue", "repeat", "residue run twice");
        offer("residue", "ignore", "residue left out");
        offer("below", "bent", "second slope below the knee");
        offer("below", "straight", "same slope below the knee");
        offer("below", "cut", "no damage below the knee");
        for (const char* slope : {"3", "5"})
            offer("slope", slope, fmt::format("slope {}", slope));
    }
    return trials;
}

} // namespace fortitor
