// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/json_text.h"
#include "units/json_bounds.h"

#include <fcntl.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <set>
#include <vector>

namespace fortitor {

Expected<Json> parseJson(std::string_view text, const std::string& place)
{
    return parseJsonTo(deepestJson, text, place);
}

Expected<Json> parseJsonTo(std::size_t deepest, std::string_view text, const std::string& place)
{
    if (auto beyond = jsonBeyondBounds(text, place, deepest))
        return *beyond;
    std::vector<std::set<std::string>> keys;
    std::string twice;
    const auto watch = [&](int, Json::parse_event_t event, Json& parsed) {
        if (event == Json::parse_event_t::object_start)
            keys.emplace_back();
        else if (event == Json::parse_event_t::object_end)
            keys.pop_back();
        else if (event == Json::parse_event_t::key && !keys.empty() && !keys.back().insert(parsed.get<std::string>()).second)
            twice = parsed.get<std::string>();
        return true;
    };
    try {
        Json json = Json::parse(text, watch);
        if (!twice.empty())
            return Problem{place, "the key \"" + twice + "\" twice in one object", "each key once", "Take one of them out."};
        return json;
    } catch (const Json::parse_error& error) {
        size_t line = 1;
        for (size_t i = 0; i < std::min(error.byte, text.size()); ++i)
            line += text[i] == '\n';
        return Problem{place + ", line " + std::to_string(line), "text that is not JSON", "a job file", error.what()};
    } catch (const Json::exception& error) {
        return Problem{place, "text that is not JSON", "a job file", error.what()};
    }
}

Expected<Json> readJsonFile(const std::string& path)
{
    std::ifstream in(path, std::ios::binary);
    if (!in)
        return Problem{path, std::strerror(errno), "a job file (JSON)", "Check the name."};
    std::string text;
    std::vector<char> piece(1 << 16);
    do {
        in.read(piece.data(), static_cast<std::streamsize>(piece.size()));
        text.append(piece.data(), static_cast<size_t>(in.gcount()));
    } while (in && text.size() <= longestJson); // what is longer is refused by its length, not read to its end
    if (in.bad() || (text.empty() && std::filesystem::is_directory(path)))
        return Problem{path, "not readable", "a job file (JSON)", "Is it a folder?"};
    return parseJson(text, path);
}

Expected<Done> writeFileWhole(const std::string& path, std::string_view bytes)
{
    const std::string beside = path + ".part" + std::to_string(::getpid());
    const auto failed = [&](const char* doing) {
        const int code = errno;
        ::unlink(beside.c_str());
        return Problem{path, std::string(doing) + ": " + std::strerror(code), "room to write", code == ENOSPC ? "The disk is full; free some space. What was there before is unchanged." : "Check the folder and its rights. What was there before is unchanged."};
    };
    const int handle = ::open(beside.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644);
    if (handle < 0)
        return failed("could not write");
    for (size_t done = 0; done < bytes.size();) {
        const auto n = ::write(handle, bytes.data() + done, bytes.size() - done);
        if (n < 0 && errno == EINTR)
            continue;
        if (n < 0) {
            const auto problem = failed("could not write");
            ::close(handle);
            return problem;
        }
        done += static_cast<size_t>(n);
    }
    if (::fsync(handle) != 0 || ::close(handle) != 0 || ::rename(beside.c_str(), path.c_str()) != 0)
        return failed("could not finish");
    return Done{};
}

} // namespace fortitor
