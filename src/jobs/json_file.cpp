// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/json_text.h"
#include "units/json_bounds.h"

#include <fcntl.h>
#include <sys/stat.h>
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
        else if (event == Json::parse_event_t::key && !keys.empty()
                 && !keys.back().insert(parsed.get<std::string>()).second)
            twice = parsed.get<std::string>();
        return true;
    };
    try {
        Json json = Json::parse(text, watch);
        if (!twice.empty())
            return Problem{place, "the key \"" + twice + "\" twice in one object", "each key once",
                           "Take one of them out."};
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

namespace {

Problem notWritten(const std::string& path, const char* doing)
{
    const int code = errno;
    return Problem{path, std::string(doing) + ": " + std::strerror(code), "room to write",
                   code == ENOSPC ? "The disk is full; free some space. What was there before is unchanged."
                                  : "Check the folder and its rights. What was there before is unchanged."};
}

bool writeAll(int handle, std::string_view bytes)
{
    while (!bytes.empty()) {
        const auto n = ::write(handle, bytes.data(), bytes.size());
        if (n < 0 && errno == EINTR)
            continue;
        if (n < 0)
            return false;
        bytes.remove_prefix(static_cast<size_t>(n));
    }
    return true;
}

/// Into a FIFO or a device: it is no file that could be replaced.
Expected<Done> writeThrough(const std::string& path, std::string_view bytes)
{
    const int handle = ::open(path.c_str(), O_WRONLY | O_NOCTTY | O_CLOEXEC);
    if (handle < 0)
        return notWritten(path, "could not write");
    const bool whole = writeAll(handle, bytes);
    const auto problem = notWritten(path, "could not write");
    return ::close(handle) == 0 && whole ? Expected<Done>(Done{}) : problem;
}

/// What a name leads to in the end, also where nothing is there yet.
std::string target(std::string path)
{
    constexpr int mostLinks = 40; // as many as the system follows
    for (int i = 0; i < mostLinks; ++i) {
        std::error_code error;
        const auto next = std::filesystem::read_symlink(path, error);
        if (error)
            return path;
        path = next.is_absolute() ? next.string() : (std::filesystem::path(path).parent_path() / next).string();
    }
    return path;
}

} // namespace

Expected<Done> writeFileWhole(const std::string& name, std::string_view bytes)
{
    const std::string path = target(name);
    struct stat there { };
    const bool exists = ::stat(path.c_str(), &there) == 0;
    if (exists && S_ISDIR(there.st_mode))
        return Problem{name, "a folder", "the name of a file", {}};
    if (exists && !S_ISREG(there.st_mode))
        return writeThrough(path, bytes);
    const std::string beside = path + ".part" + std::to_string(::getpid());
    const int handle = ::open(beside.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0644);
    if (handle < 0)
        return notWritten(name, "could not write");
    const auto failed = [&](const char* doing) {
        Problem problem = notWritten(name, doing);
        ::unlink(beside.c_str());
        return problem;
    };
    if (!writeAll(handle, bytes) || (exists && ::fchmod(handle, there.st_mode & 07777) != 0)) {
        Problem problem = failed("could not write");
        ::close(handle);
        return problem;
    }
    if (::fsync(handle) != 0 || ::close(handle) != 0 || ::rename(beside.c_str(), path.c_str()) != 0)
        return failed("could not finish");
    return Done{};
}

} // namespace fortitor
