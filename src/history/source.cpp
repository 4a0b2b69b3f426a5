// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/source.h"

#include "history/raw_file.h"
#include "history/sound_file.h"
#include "history/text_history.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

class Values : public HistorySource {
public:
    explicit Values(std::vector<double> values) : values_(std::move(values)) { }
    [[nodiscard]] std::uint64_t size() const override { return values_.size(); }
    void read(std::uint64_t from, std::span<double> out) const override
    {
        std::copy_n(values_.begin() + static_cast<std::ptrdiff_t>(from), out.size(), out.begin());
    }

private:
    std::vector<double> values_;
};

/// One behind the other.
class Joined : public HistorySource {
public:
    explicit Joined(std::vector<std::shared_ptr<const HistorySource>> parts) : parts_(std::move(parts))
    {
        for (const auto& part : parts_)
            ends_.push_back((ends_.empty() ? 0 : ends_.back()) + part->size());
    }
    [[nodiscard]] std::uint64_t size() const override { return ends_.back(); }
    void read(std::uint64_t from, std::span<double> out) const override
    {
        auto part = static_cast<size_t>(std::ranges::upper_bound(ends_, from) - ends_.begin());
        while (!out.empty()) {
            const std::uint64_t start = part ? ends_[part - 1] : 0;
            const auto count = static_cast<size_t>(std::min<std::uint64_t>(out.size(), ends_[part] - from));
            parts_[part]->read(from - start, out.first(count));
            out = out.subspan(count);
            from += count;
            ++part;
        }
    }
    [[nodiscard]] std::optional<Problem> trouble() const override
    {
        for (const auto& part : parts_)
            if (auto found = part->trouble())
                return found;
        return std::nullopt;
    }

private:
    std::vector<std::shared_ptr<const HistorySource>> parts_;
    std::vector<std::uint64_t> ends_;
};

class Part : public HistorySource {
public:
    Part(std::shared_ptr<const HistorySource> source, std::uint64_t from, std::uint64_t count)
        : source_(std::move(source)), from_(from), count_(count)
    {
    }
    [[nodiscard]] std::uint64_t size() const override { return count_; }
    void read(std::uint64_t from, std::span<double> out) const override { source_->read(from_ + from, out); }
    [[nodiscard]] std::optional<Problem> trouble() const override { return source_->trouble(); }

private:
    std::shared_ptr<const HistorySource> source_;
    std::uint64_t from_, count_;
};

std::string formatByName(const std::string& path)
{
    const size_t dot = path.rfind('.');
    const std::string end = dot == std::string::npos ? "" : path.substr(dot + 1);
    if (end == "f32" || end == "f64" || end == "wav")
        return end;
    return end == "h5" || end == "hdf5" ? "hdf5" : "text";
}

Expected<HistoryFile> openAs(const std::string& format, const std::string& path, const HistoryRequest& request)
{
    if (format == "text")
        return openTextHistory(path, request);
    if (format == "f32" || format == "f64")
        return openRawHistory(path, format == "f32" ? RawKind::F32 : RawKind::F64);
    if (format == "wav")
        return openSoundHistory(path, request);
    if (format == "hdf5")
        return openHdf5History(path, request);
    return Problem{path, '"' + format + "\" as its format", "auto, text, f32, f64, wav or hdf5", {}};
}

} // namespace

Expected<HistoryFile> openHistory(const std::string& path, const HistoryRequest& request)
{
    const std::string format = request.format == "auto" ? formatByName(path) : request.format;
    auto file = openAs(format, path, request);
    if (!file)
        return file.problem();
    const std::string unit = !request.unit.empty() ? request.unit : "ue";
    if (!file->unit || !request.unit.empty())
        file->unit = findUnit(unit);
    if (!file->unit || (file->unit->kind != Kind::Strain && file->unit->kind != Kind::Stress))
        return Problem{path, '"' + unit + "\" as its unit", "a unit of strain or of stress, such as ue or MPa", {}};
    if (file->source->size() < 2)
        return Problem{path, fmt::format("{} readings", file->source->size()), "at least two", {}};
    if (!(file->rate > 0) && !(request.rate > 0))
        return Problem{path, "no time in the file and no rate", "a rate above zero, such as 200 Hz",
                       "Give the rate."};
    constexpr double alike = 1e-3;
    if (file->rate > 0 && request.rate > 0 && std::abs(file->rate / request.rate - 1) > alike)
        return Problem{path, fmt::format("a time that runs at {:.6g} Hz", file->rate),
                       fmt::format("{:.6g} Hz, as was given", request.rate), "Leave the rate out, or correct it."};
    if (request.rate > 0)
        file->rate = request.rate;
    return file;
}

Expected<HistoryFile> openHistories(const std::vector<std::string>& paths, const HistoryRequest& request)
{
    if (paths.empty())
        return Problem{"history", "no file", "at least one", {}};
    HistoryFile whole;
    std::vector<std::shared_ptr<const HistorySource>> parts;
    for (const std::string& path : paths) {
        auto one = openHistory(path, request);
        if (!one)
            return one.problem();
        constexpr double alike = 1e-6;
        if (whole.rate > 0 && std::abs(one->rate / whole.rate - 1) > alike)
            return Problem{path, fmt::format("{:.6g} Hz", one->rate),
                           fmt::format("{:.6g} Hz as in {}", whole.rate, paths.front()),
                           "Several files are one history: bring them to one rate first."};
        if (whole.unit && whole.unit != one->unit)
            return Problem{path,
                           "readings in " + std::string(one->unit->symbol),
                           std::string(whole.unit->symbol) + " as in " + paths.front(),
                           {}};
        whole.unit = one->unit;
        whole.rate = whole.rate > 0 ? whole.rate : one->rate;
        parts.push_back(one->source);
        whole.notes.insert(whole.notes.end(), one->notes.begin(), one->notes.end());
    }
    whole.source = joined(std::move(parts));
    return whole;
}

std::shared_ptr<const HistorySource> joined(std::vector<std::shared_ptr<const HistorySource>> parts)
{
    return parts.size() == 1 ? parts.front() : std::make_shared<const Joined>(std::move(parts));
}

std::shared_ptr<const HistorySource> partOf(std::shared_ptr<const HistorySource> source, std::uint64_t from,
                                            std::uint64_t count)
{
    return std::make_shared<const Part>(std::move(source), from, count);
}

std::shared_ptr<const HistorySource> historyOf(std::vector<double> values)
{
    return std::make_shared<const Values>(std::move(values));
}

} // namespace fortitor
