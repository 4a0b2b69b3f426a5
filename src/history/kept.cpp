// SPDX-License-Identifier: GPL-3.0-or-later
// What is kept of the histories looked at last, and what is under way.
#include "history/figures.h"
#include "history/pyramid.h"

#include <fmt/format.h>

#include <algorithm>
#include <list>
#include <map>
#include <mutex>

namespace fortitor {
namespace {

struct KeptFile {
    std::string key, stamp;
    std::shared_ptr<const HistoryFile> file{};
};
struct KeptPart {
    std::string key;
    std::shared_ptr<const HistoryFile> file{}; ///< held, so that its address stays its own
    std::shared_ptr<const SpectrumPart> part{};
};
struct UnderWay {
    double share = 0;
    bool stop = false;
};

class Shelf {
public:
    std::mutex small; ///< held for moments
    std::mutex large; ///< held while a history is worked out: one at a time, on all cores
    std::list<KeptFile> files;
    std::list<KeptPart> parts;
    std::map<const HistoryFile*, UnderWay> work;
};

Shelf& shelf()
{
    static Shelf one;
    return one;
}

std::string keyOf(const SpectrumSettings& s)
{
    return fmt::format("{} {:.17g} {:.17g} {:.17g} {:.17g} {:.17g}", s.chain.spikes, s.chain.detrend, s.chain.lowPass,
                       s.chain.spikeLimit.value_or(-1), s.bridge, s.modulus.value_or(-1));
}

std::shared_ptr<const SpectrumPart> found(const HistoryFile& file, const std::string& key)
{
    const std::lock_guard lock(shelf().small);
    for (auto it = shelf().parts.begin(); it != shelf().parts.end(); ++it)
        if (it->file.get() == &file && it->key == key) {
            shelf().parts.splice(shelf().parts.begin(), shelf().parts, it);
            return it->part;
        }
    return nullptr;
}

void keep(const std::shared_ptr<const HistoryFile>& file, const std::string& key,
          std::shared_ptr<const SpectrumPart> part)
{
    constexpr size_t most = 6, points = 40'000'000; // a point takes twelve bytes
    const std::lock_guard lock(shelf().small);
    shelf().parts.push_front({key, file, std::move(part)});
    size_t held = 0, number = 0;
    std::erase_if(shelf().parts, [&](const KeptPart& one) {
        held += one.part->chain.turning.size();
        ++number;
        return number > 1 && (number > most || held > points);
    });
}

Expected<std::shared_ptr<const SpectrumPart>> partOf(const std::shared_ptr<const HistoryFile>& file,
                                                     const SpectrumSettings& settings)
{
    const std::string key = keyOf(settings);
    if (auto known = found(*file, key))
        return known;
    const std::lock_guard whole(shelf().large);
    if (auto known = found(*file, key)) // another one had begun with it
        return known;
    SpectrumSettings s = settings;
    const HistoryFile* one = file.get();
    {
        const std::lock_guard lock(shelf().small);
        shelf().work[one] = {};
    }
    s.chain.progress = [&settings, one](double share) {
        const bool wanted = !settings.chain.progress || settings.chain.progress(share);
        const std::lock_guard lock(shelf().small);
        UnderWay& now = shelf().work[one];
        now.share = share;
        return wanted && !now.stop;
    };
    auto read = readPart(*file, s);
    {
        const std::lock_guard lock(shelf().small);
        shelf().work.erase(one);
    }
    if (!read)
        return read.problem();
    auto part = std::make_shared<const SpectrumPart>(std::move(*read));
    if (!part->chain.stopped)
        keep(file, key, part);
    return std::shared_ptr<const SpectrumPart>(std::move(part));
}

} // namespace

Expected<std::shared_ptr<const HistoryFile>> keptHistory(const std::vector<std::string>& files,
                                                         const HistoryRequest& request)
{
    if (files.empty())
        return Problem{"history", "no file", "at least one", {}};
    auto stamp = stampOf(files);
    if (!stamp)
        return stamp.problem();
    std::string key = fmt::format("{}\n{}\n{}\n{}\n{:.17g}\n", request.format, request.dataset, request.channel,
                                  request.unit, request.rate);
    for (const std::string& path : files)
        key += path + "\n";
    {
        const std::lock_guard lock(shelf().small);
        for (const KeptFile& one : shelf().files)
            if (one.key == key && one.stamp == *stamp)
                return one.file;
    }
    auto opened = openHistories(files, request);
    if (!opened)
        return opened.problem();
    auto file = std::make_shared<const HistoryFile>(std::move(*opened));
    const std::lock_guard lock(shelf().small);
    std::erase_if(shelf().files, [&](const KeptFile& one) { return one.key == key; });
    shelf().files.push_front({key, std::move(*stamp), file});
    constexpr size_t most = 16;
    if (shelf().files.size() > most)
        shelf().files.pop_back();
    return std::shared_ptr<const HistoryFile>(std::move(file));
}

Expected<std::shared_ptr<const HistoryFigures>> historyFigures(const std::shared_ptr<const HistoryFile>& file,
                                                               const SpectrumSettings& settings)
{
    const auto part = partOf(file, settings);
    if (!part)
        return part.problem();
    if ((*part)->chain.stopped) {
        auto out = std::make_shared<HistoryFigures>();
        out->stopped = true;
        out->settings = settings;
        out->spectrum.unit = (*part)->unit;
        return std::shared_ptr<const HistoryFigures>(std::move(out));
    }
    auto figures = figuresOf(**part, settings);
    if (!figures)
        return figures.problem();
    return std::make_shared<const HistoryFigures>(std::move(*figures));
}

HistoryWatch watchHistory(const HistoryFile& file)
{
    const std::lock_guard lock(shelf().small);
    const auto it = shelf().work.find(&file);
    return it == shelf().work.end() ? HistoryWatch{} : HistoryWatch{it->second.share};
}

void stopHistory(const HistoryFile& file)
{
    const std::lock_guard lock(shelf().small);
    if (const auto it = shelf().work.find(&file); it != shelf().work.end())
        it->second.stop = true;
}

} // namespace fortitor
