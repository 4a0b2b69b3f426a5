// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <nlohmann/json.hpp>

#include <string>

namespace fortitor {

// What one asks of a job's JSON: the value where it is there and of that kind, else what stands in for it.
// Null counts as absent. None of them throws, whatever the JSON is; `readJob` says what is of a wrong kind.

inline const nlohmann::ordered_json* memberOf(const nlohmann::ordered_json& json, const std::string& key)
{
    const auto it = json.is_object() ? json.find(key) : json.end();
    return json.is_object() && it != json.end() ? &*it : nullptr;
}

inline std::string textAt(const nlohmann::ordered_json& json, const std::string& key, const std::string& otherwise = {})
{
    const auto* value = memberOf(json, key);
    return value && value->is_string() ? value->get<std::string>() : otherwise;
}

inline double numberAt(const nlohmann::ordered_json& json, const std::string& key, double otherwise = 0)
{
    const auto* value = memberOf(json, key);
    return value && value->is_number() ? value->get<double>() : otherwise;
}

inline bool flagAt(const nlohmann::ordered_json& json, const std::string& key, bool otherwise = false)
{
    const auto* value = memberOf(json, key);
    return value && value->is_boolean() ? value->get<bool>() : otherwise;
}

/// Lives as long as `json` does; the empty one for ever.
inline const nlohmann::ordered_json& objectAt(const nlohmann::ordered_json& json, const std::string& key)
{
    static const nlohmann::ordered_json empty = nlohmann::ordered_json::object();
    const auto* value = memberOf(json, key);
    return value && value->is_object() ? *value : empty;
}

inline const nlohmann::ordered_json& listAt(const nlohmann::ordered_json& json, const std::string& key)
{
    static const nlohmann::ordered_json empty = nlohmann::ordered_json::array();
    const auto* value = memberOf(json, key);
    return value && value->is_array() ? *value : empty;
}

} // namespace fortitor
