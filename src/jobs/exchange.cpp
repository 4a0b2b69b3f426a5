// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/exchange.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <filesystem>
#include <map>

namespace fortitor {

Json withoutRecordFiles(Json job)
{
    for (Json& specimen : job["specimens"])
        specimen.erase("record");
    return job;
}

std::string exchangeCsv(const Record& record)
{
    std::string out;
    for (const Channel& c : record.channels) {
        const auto& unit = baseUnit(c.kind);
        const std::string symbol = c.kind == Kind::Strain ? "mm/mm" : std::string(unit.symbol);
        out += (out.empty() ? "" : ",") + c.name + " (" + symbol + ")";
    }
    out += '\n';
    for (size_t i = 0; i < record.rows(); ++i) {
        for (size_t k = 0; k < record.channels.size(); ++k) {
            if (k)
                out += ',';
            const double v = record.channels[k].values[i];
            if (!std::isnan(v))
                fmt::format_to(std::back_inserter(out), "{}", v);
        }
        out += '\n';
    }
    return out;
}

std::string recordFileName(const std::string& number, const std::string& label, size_t index,
                           std::set<std::string>& taken, const std::string& ending)
{
    // Each byte that is not plain becomes _XX, the underscore too, so that no two labels give one name.
    std::string name;
    for (const char c : (number.empty() ? "job" : number) + "-" + label) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte < 128 && (std::isalnum(byte) || c == '-' || (c == '.' && !name.empty())))
            name += c;
        else
            name += fmt::format("_{:02X}", byte);
    }
    constexpr size_t longest = 120;
    // Cut short, or the same but for capitals, which some file systems do not tell apart: the place in the
    // job makes it one of its own.
    const auto lowered = [](std::string text) {
        for (char& c : text)
            c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        return text;
    };
    if (name.size() > longest || taken.contains(lowered(name)))
        name = name.substr(0, longest) + "_" + std::to_string(index + 1);
    taken.insert(lowered(name));
    return name + ending;
}

namespace {

/// Of a picture's file as it came; what is no plain ending is left away.
std::string endingOf(const std::string& file)
{
    const std::string ending = std::filesystem::path(file).extension().string();
    const bool plain = ending.size() > 1 && ending.size() < 6
        && std::all_of(ending.begin() + 1, ending.end(), [](unsigned char c) { return std::isalnum(c); });
    return plain ? ending : std::string();
}

/// Each under a name of its own; one that two readings share is written once.
Expected<Done> writePictures(const std::filesystem::path& folder, Json& specimen, const Job& job, size_t index,
                             std::set<std::string>& taken, const PictureBytes& bytesOf,
                             std::vector<std::string>* missing)
{
    std::map<std::string, std::string> written;
    const auto& pictures = job.specimens[index].pictures;
    for (size_t k = 0; k < pictures.size(); ++k) {
        const ReadingPicture& one = pictures[k];
        std::string& name = written[one.sha256];
        if (name.empty()) {
            const auto bytes = bytesOf ? bytesOf(one.sha256) : std::nullopt;
            if (!bytes) {
                written.erase(one.sha256);
                if (missing)
                    missing->push_back(one.file);
                continue;
            }
            name = recordFileName(job.number, fmt::format("{}-{}", job.specimens[index].label, one.reading), index,
                                  taken, endingOf(one.file));
            if (auto ok = writeFileWhole((folder / name).string(), *bytes); !ok)
                return ok;
        }
        specimen["pictures"][k]["file"] = name;
    }
    return Done{};
}

} // namespace

Expected<Done> writeExchange(const std::string& path, Json json, const Job& job,
                             const std::function<std::shared_ptr<const Record>(size_t)>& record,
                             const PictureBytes& picture, std::vector<std::string>* missing)
{
    namespace fs = std::filesystem;
    std::set<std::string> taken;
    for (size_t i = 0; i < job.specimens.size(); ++i) {
        Json& specimen = json["specimens"][i];
        if (auto ok = writePictures(fs::path(path).parent_path(), specimen, job, i, taken, picture, missing); !ok)
            return ok;
        if (job.specimens[i].readings)
            continue;
        const auto data = record(i);
        specimen.erase("record");
        if (!data)
            continue;
        const std::string name = recordFileName(job.number, job.specimens[i].label, i, taken);
        const auto written = writeFileWhole((fs::path(path).parent_path() / name).string(), exchangeCsv(*data));
        if (!written)
            return written;
        specimen["record"] = {{"file", name}};
        if (!data->incompleteBecause.empty())
            specimen["record"]["incomplete"] = data->incompleteBecause;
        for (const Event& e : data->events)
            specimen["record"]["events"].push_back({{"time", e.time}, {"code", e.code}, {"text", e.text}});
    }
    return writeFileWhole(path, json.dump(2, ' ', false, Json::error_handler_t::replace) + "\n");
}

} // namespace fortitor
