// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/chained.h"

#include "methods/cai/cai.h"
#include "methods/drop_weight/drop_weight.h"

#include <fmt/format.h>

#include <algorithm>

namespace fortitor {

std::string chainWords(const Specimen& specimen)
{
    std::string words;
    for (const auto& [key, before] :
         {std::pair(caiKeys::blow, ""), {caiKeys::dent, "dent "}, {caiKeys::first, "first damage "}}) {
        const auto it = specimen.input.notes.find(key);
        if (it != specimen.input.notes.end() && !it->second.empty())
            words += (words.empty() ? "" : ", ") + std::string(before) + it->second;
    }
    return words;
}

std::string chainedNumber(const std::string& number)
{
    return number + "C";
}

Json compressionOf(const Json& struck, const std::vector<BlowOf>& blows, const std::string& number)
{
    Json job;
    job["fortitor_job"] = 1;
    const std::string from = struck["job"].value("number", "");
    job["job"] = {{"number", number}, {"title", struck["job"].value("title", "") + ", compression"}};
    job["method"] = compressionAfterImpact().id;
    if (struck.contains("material"))
        job["material"] = struck["material"];
    job["chain"] = from;
    job["specimens"] = Json::array();
    for (const Json& plate : struck["specimens"]) {
        Json one{{"label", plate["label"]}, {"dimensions", {{"shape", dropKeys::shape}}}};
        if (const auto it = plate.find("dimensions"); it != plate.end())
            for (const char* key : {dropKeys::width, dropKeys::thickness, dropKeys::length})
                if (it->contains(key))
                    one["dimensions"][key] = (*it)[key];
        const auto blow = std::ranges::find(blows, plate["label"].get<std::string>(), &BlowOf::label);
        if (blow != blows.end()) {
            if (blow->energy)
                one["notes"][caiKeys::blow] = fmt::format("{:.2f} J", *blow->energy);
            if (blow->dent)
                one["notes"][caiKeys::dent] = fmt::format("{:.2f} mm", *blow->dent);
            if (blow->first)
                one["notes"][caiKeys::first] = fmt::format("{:.0f} N", *blow->first);
        }
        job["specimens"].push_back(std::move(one));
    }
    return job;
}

} // namespace fortitor
