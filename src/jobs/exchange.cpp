// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/exchange.h"

#include <fmt/format.h>

#include <cmath>
#include <filesystem>

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

Expected<Done> writeExchange(const std::string& path, Json json, const Job& job, const std::function<std::shared_ptr<const Record>(size_t)>& record)
{
    namespace fs = std::filesystem;
    const auto safe = [](std::string name) {
        for (char& c : name)
            if (!std::isalnum(static_cast<unsigned char>(c)) && c != '-' && c != '_' && c != '.')
                c = '_';
        return name;
    };
    for (size_t i = 0; i < job.specimens.size(); ++i) {
        Json& specimen = json["specimens"][i];
        if (job.specimens[i].readings)
            continue;
        const auto data = record(i);
        specimen.erase("record");
        if (!data)
            continue;
        const std::string name = safe((job.number.empty() ? "job" : job.number) + "-" + job.specimens[i].label) + ".csv";
        const auto written = writeFileWhole((fs::path(path).parent_path() / name).string(), exchangeCsv(*data));
        if (!written)
            return written;
        specimen["record"] = {{"file", name}};
    }
    return writeFileWhole(path, json.dump(2, ' ', false, Json::error_handler_t::replace) + "\n");
}

} // namespace fortitor
