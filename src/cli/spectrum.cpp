// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"
#include "history/synthesis.h"
#include "jobs/spectrum_json.h"
#include "methods/spectrum/spectrum.h"
#include "units/quantity.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>

#include <cmath>
#include <map>
#include <memory>

namespace fortitor::cli {
namespace {

/// As they were typed.
struct SpectrumFlags {
    std::vector<std::string> files, before, after, parts;
    bool partial = false, trendBack = false;
    std::string spikeLimit;
    std::string out, format = "auto", dataset, synthesise, count = "100000", seed = "1", channel, unit, rate,
                     threads = "0";
    std::map<std::string, std::string> deciding; ///< all that decides the figures, by the options of the method
};

int wrongSpectrum(const Problem& problem)
{
    fmt::print(stderr, "fortitor-cli: {}\n", problem.text());
    return wrongInput;
}

Expected<double> numberOf(const char* flag, const std::string& text, bool whole = false)
{
    const auto value = parseNumber(text);
    if (!value || !(*value >= 0) || (whole && *value != std::floor(*value)) || !(*value <= 1e15))
        return Problem{flag, '"' + text + '"', whole ? "a whole number" : "a number", {}};
    return *value;
}

/// The first problem of what was typed, or all of it as numbers.
std::optional<Problem> readFlags(const SpectrumFlags& t, HistoryRequest& request, SpectrumSettings& s)
{
    auto said = historyRequest(
        {.files = {}, .format = t.format, .dataset = t.dataset, .channel = t.channel, .unit = t.unit, .rate = t.rate});
    if (!said) {
        Problem p = said.problem();
        p.place = "--rate";
        return p;
    }
    request = std::move(*said);
    auto settings = spectrumSettings(t.deciding);
    if (!settings)
        return settings.problem();
    s = std::move(*settings);
    const auto threads = numberOf("--threads", t.threads, true);
    if (!threads)
        return threads.problem();
    s.chain.threads = static_cast<size_t>(*threads);
    if (t.spikeLimit.empty())
        return std::nullopt;
    const auto limit = numberOf("--spike-limit", t.spikeLimit);
    if (!limit)
        return limit.problem();
    s.chain.spikeLimit = *limit;
    return std::nullopt;
}

/// A turning point a line.
Expected<Done> writeSynthetic(const SpectrumFlags& t, const Spectrum& spectrum)
{
    const auto count = numberOf("--count", t.count, true), seed = numberOf("--seed", t.seed, true);
    if (!count)
        return count.problem();
    if (!seed)
        return seed.problem();
    const Counts& c = spectrum.counts;
    auto points = synthesise({c.levels, c.peakToValley, c.valleyToPeak}, static_cast<std::uint64_t>(*count),
                             static_cast<std::uint64_t>(*seed));
    if (!points)
        return points.problem();
    if (t.trendBack)
        addTrend(*points, spectrum.chain.trend, spectrum.chain.joints);
    return writeFileWhole(t.synthesise, pointsCsv(*points, *spectrum.unit));
}

int keep(const std::string& out, const Json& json)
{
    const std::string text = json.dump(1) + "\n";
    if (out.empty()) {
        fmt::print("{}", text);
        return done;
    }
    const auto kept = writeFileWhole(out, text);
    if (kept)
        return done;
    fmt::print(stderr, "fortitor-cli: {}\n", kept.problem().text());
    return otherFailure;
}

Json flagsOf(const SpectrumFlags& t)
{
    Json flags;
    for (const OptionSpec& option : loadSpectrum().options)
        flags[option.key] = t.deciding.at(option.key);
    return flags;
}

void takeFlags(SpectrumFlags& t, const Json& flags)
{
    for (auto& [key, text] : t.deciding)
        if (flags.contains(key) && flags[key].is_string())
            text = flags[key].get<std::string>();
}

int finish(const SpectrumFlags& t, const Expected<Spectrum>& spectrum)
{
    if (!spectrum)
        return wrongSpectrum(spectrum.problem());
    if (!t.synthesise.empty())
        if (const auto kept = writeSynthetic(t, *spectrum); !kept)
            return wrongSpectrum(kept.problem());
    const int code = keep(t.out, spectrumJson(*spectrum));
    return code == done && !(spectrum->counts.rangeMax > 0) ? noResult : code;
}

/// A stretch with the readings beside it.
int runPart(const SpectrumFlags& t, const HistoryRequest& request, SpectrumSettings& settings, const HistoryFile& file)
{
    std::optional<HistoryFile> beside[2];
    for (const auto& [paths, into] : {std::pair(&t.before, &beside[0]), {&t.after, &beside[1]}}) {
        if (paths->empty())
            continue;
        auto opened = openHistories(*paths, request);
        if (!opened)
            return wrongSpectrum(opened.problem());
        *into = std::move(*opened);
    }
    const auto whole =
        withNeighbours(file, beside[0] ? &*beside[0] : nullptr, beside[1] ? &*beside[1] : nullptr, settings.chain);
    if (!whole)
        return wrongSpectrum(whole.problem());
    const auto part = readPart(*whole, settings);
    if (!part)
        return wrongSpectrum(part.problem());
    return keep(t.out, partJson(*part, flagsOf(t)));
}

int runSpectrum(const SpectrumFlags& t)
{
    if (t.files.empty()) {
        fmt::print(stderr,
                   "fortitor-cli: spectrum: found no file, wanted one or more, or merge with what --partial wrote\n");
        return wrongCommand;
    }
    HistoryRequest request;
    SpectrumSettings settings;
    if (const auto problem = readFlags(t, request, settings))
        return wrongSpectrum(*problem);
    if (!t.partial && (!t.before.empty() || !t.after.empty()))
        return wrongSpectrum({"--before, --after", "no --partial", "them with --partial only",
                              "Several files are one history as they are: give them in their order."});
    const auto file = openHistories(t.files, request);
    if (!file)
        return wrongSpectrum(file.problem());
    if (t.partial)
        return runPart(t, request, settings, *file);
    const auto spectrum = readSpectrum(*file, settings);
    return finish(t, spectrum);
}

int runMerge(SpectrumFlags t)
{
    std::vector<SpectrumPart> parts;
    Json flags;
    for (const std::string& path : t.parts) {
        const auto json = readJsonFile(path);
        if (!json)
            return wrongSpectrum(json.problem());
        auto part = partFromJson(*json, path);
        if (!part)
            return wrongSpectrum(part.problem());
        const Json own = json->contains("flags") ? (*json)["flags"] : Json();
        if (parts.empty())
            flags = own;
        else if (own != flags)
            return wrongSpectrum({path, "worked with other flags than " + t.parts.front(), "the same", {}});
        parts.push_back(std::move(*part));
    }
    takeFlags(t, flags);
    HistoryRequest request;
    SpectrumSettings settings;
    if (const auto problem = readFlags(t, request, settings))
        return wrongSpectrum(*problem);
    const auto spectrum = countParts(parts, settings);
    return finish(t, spectrum);
}

} // namespace

std::function<int()> spectrumCommand(CLI::App& app)
{
    const auto t = std::make_shared<SpectrumFlags>();
    auto* command = app.add_subcommand("spectrum", "Count the ranges of a load history, several files as one");
    command->add_option("files", t->files, "Files of the history, in their order");
    const auto flag = [&](const char* name, std::string& into, const char* words) {
        command->add_option(name, into, words)->capture_default_str();
    };
    flag("--out", t->out, "Write the results there instead of printing them");
    flag("--format", t->format, "auto, text, f32, f64, wav, hdf5");
    flag("--dataset", t->dataset, "Path of the data set in an HDF5 file");
    flag("--channel", t->channel, "Header or number of the column");
    flag("--unit", t->unit, "Unit of the readings: ue, MPa, % ...");
    flag("--rate", t->rate, "Readings a second, where the file has no time: 200 Hz");
    for (const OptionSpec& option : loadSpectrum().options) {
        std::string& text = t->deciding[option.key] = option.fallback;
        flag(fortitor::flagOf(option.key).c_str(), text, option.help.c_str());
    }
    flag("--synthesise", t->synthesise, "Write a random history with the same transitions there (CSV)");
    command->add_flag("--trend-back", t->trendBack, "Put the slow trend back under it");
    flag("--count", t->count, "Its turning points");
    flag("--seed", t->seed, "The same seed gives the same points");
    flag("--threads", t->threads, "0: one a core");
    command->add_flag("--partial", t->partial, "Write a stretch for merge instead of results");
    command->add_option("--before", t->before, "The history before the stretch, 16 h or more");
    command->add_option("--after", t->after, "The history after it");
    flag("--spike-limit", t->spikeLimit, "Reading less median above which it is a spike, where merge asks for one");
    auto* merge = command->add_subcommand("merge", "Join stretches that --partial wrote, in their order");
    merge->add_option("parts", t->parts, "What --partial wrote")->required();
    merge->add_option("--out", t->out, "Write the results there instead of printing them");
    merge->add_option("--synthesise", t->synthesise, "Write a random history with the same transitions there (CSV)");
    merge->add_option("--count", t->count, "Its turning points");
    merge->add_option("--seed", t->seed, "The same seed gives the same points");
    return [t, merge] { return *merge ? runMerge(*t) : runSpectrum(*t); };
}

} // namespace fortitor::cli
