// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/rehearsed.h"

#include <cmath>

namespace fortitor {
namespace {

Json column(const std::vector<double>& values)
{
    Json list = Json::array();
    for (const double v : values) {
        const double step = v == 0 ? 1 : std::pow(10.0, std::floor(std::log10(std::abs(v))) - 5);
        list.push_back(std::round(v / step) * step);
    }
    return list;
}

} // namespace

Json rehearsedJson(const Rehearsed& r)
{
    return {{"date", r.date},
            {"axis", r.byTravel ? "travel" : "strain"},
            {"value", r.asForce ? "force" : "stress"},
            {"x", column(r.x)},
            {"low", column(r.low)},
            {"middle", column(r.middle)},
            {"high", column(r.high)},
            {"words", r.words}};
}

std::optional<Rehearsed> rehearsedOf(const Json& specimen)
{
    const auto it = specimen.is_object() ? specimen.find("rehearsal") : specimen.end();
    if (it == specimen.end() || !it->is_object())
        return std::nullopt;
    Rehearsed r;
    const auto read = [&](const char* key, std::vector<double>& into) {
        const auto list = it->find(key);
        if (list == it->end() || !list->is_array())
            return false;
        for (const Json& v : *list) {
            if (!v.is_number())
                return false;
            into.push_back(v.get<double>());
        }
        return true;
    };
    if (!read("x", r.x) || !read("low", r.low) || !read("middle", r.middle) || !read("high", r.high))
        return std::nullopt;
    if (r.x.empty() || r.low.size() != r.x.size() || r.middle.size() != r.x.size() || r.high.size() != r.x.size())
        return std::nullopt;
    const auto text = [&](const char* key) {
        const auto v = it->find(key);
        return v != it->end() && v->is_string() ? v->get<std::string>() : std::string();
    };
    r.date = text("date");
    r.byTravel = text("axis") == "travel";
    r.asForce = text("value") == "force";
    if (const auto words = it->find("words"); words != it->end() && words->is_array())
        for (const Json& w : *words)
            if (w.is_string())
                r.words.push_back(w.get<std::string>());
    return r;
}

} // namespace fortitor
