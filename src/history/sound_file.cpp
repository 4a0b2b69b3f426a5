// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/sound_file.h"

#include "history/raw_file.h"
#include "units/quantity.h"

#include <fmt/format.h>
#include <sndfile.h>

#include <cmath>
#include <memory>

namespace fortitor {

Expected<size_t> numberedChannel(const std::string& path, const std::string& wanted, size_t channels)
{
    if (wanted.empty() && channels == 1)
        return size_t{0};
    const auto number = parseNumber(wanted);
    if (!number || *number < 1 || *number > static_cast<double>(channels) || *number != std::floor(*number))
        return Problem{path, wanted.empty() ? fmt::format("{} channels", channels) : "no channel \"" + wanted + '"',
                       fmt::format("a number from 1 to {}", channels), "Say which channel."};
    return static_cast<size_t>(*number) - 1;
}

Expected<HistoryFile> openSoundHistory(const std::string& path, const HistoryRequest& request)
{
    SF_INFO info{};
    const std::unique_ptr<SNDFILE, int (*)(SNDFILE*)> file(sf_open(path.c_str(), SFM_READ, &info), sf_close);
    if (!file)
        return Problem{path, sf_strerror(nullptr), "a sound file", {}};
    const auto channels = static_cast<size_t>(info.channels);
    const auto channel = numberedChannel(path, request.channel, channels);
    if (!channel)
        return channel.problem();
    auto spill = Spill::make();
    if (!spill)
        return spill.problem();
    constexpr sf_count_t frames = 1 << 15;
    std::vector<double> read(static_cast<size_t>(frames) * channels), own(static_cast<size_t>(frames));
    sf_count_t all = 0;
    while (const sf_count_t got = sf_readf_double(file.get(), read.data(), frames)) {
        for (size_t i = 0; i < static_cast<size_t>(got); ++i)
            own[i] = read[i * channels + *channel];
        if (auto ok = spill->append(std::span(own).first(static_cast<size_t>(got))); !ok)
            return ok.problem();
        all += got;
    }
    if (all < info.frames)
        return Problem{path, fmt::format("{} of {} readings", all, static_cast<long long>(info.frames)),
                       "the whole file", "Was the copy cut short? Get the whole file."};
    return HistoryFile{.source = std::move(*spill).source(), .rate = static_cast<double>(info.samplerate)};
}

} // namespace fortitor
