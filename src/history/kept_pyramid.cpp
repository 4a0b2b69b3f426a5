// SPDX-License-Identifier: GPL-3.0-or-later
// The pyramid beside its file: read where it is of the file's age, else built and put there.
#include "history/pyramid.h"

#include <fmt/format.h>

#include <cerrno>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <sstream>

#include <sys/stat.h>
#include <unistd.h>

namespace fortitor {
namespace {

/// Whole or not at all; the reason where it could not be. Nothing is lost with it: it can be built again.
std::string put(const std::string& path, const std::string& bytes)
{
    const std::string beside = fmt::format("{}.{}.part", path, ::getpid());
    const auto failed = [&](FILE* file) {
        const std::string why = std::strerror(errno);
        if (file)
            std::fclose(file);
        std::remove(beside.c_str());
        return why;
    };
    FILE* file = std::fopen(beside.c_str(), "wb");
    if (!file)
        return failed(nullptr);
    if (std::fwrite(bytes.data(), 1, bytes.size(), file) != bytes.size() || std::fflush(file) != 0)
        return failed(file);
    if (std::fclose(file) != 0 || std::rename(beside.c_str(), path.c_str()) != 0)
        return failed(nullptr);
    return {};
}

} // namespace

std::string pyramidPath(const std::vector<std::string>& files)
{
    return files.front() + ".extents";
}

Expected<std::string> stampOf(const std::vector<std::string>& files)
{
    std::string stamp;
    for (const std::string& path : files) {
        struct stat found { };
        if (::stat(path.c_str(), &found) != 0)
            return Problem{path, std::strerror(errno), "a file that can be read", {}};
        stamp += fmt::format("{} {} {}.{:09}\n", std::filesystem::path(path).filename().string(), found.st_size,
                             found.st_mtim.tv_sec, found.st_mtim.tv_nsec);
    }
    return stamp;
}

Expected<std::optional<KeptPyramid>> keptPyramid(const HistorySource& source, const std::vector<std::string>& files,
                                                 const Progress& goOn)
{
    const auto stamp = stampOf(files);
    if (!stamp)
        return stamp.problem();
    const std::string path = pyramidPath(files);
    if (std::ifstream in(path, std::ios::binary); in) {
        std::stringstream whole;
        whole << in.rdbuf();
        if (auto kept = Pyramid::fromBytes(whole.view(), *stamp); kept && kept->size() == source.size())
            return std::optional(KeptPyramid{std::move(*kept), false, {}});
    }
    auto built = Pyramid::build(source, goOn);
    if (!built)
        return built.problem();
    if (!*built)
        return std::optional<KeptPyramid>();
    KeptPyramid out{std::move(**built), true, {}};
    out.notKept = put(path, out.pyramid.bytes(*stamp));
    return std::optional(std::move(out));
}

} // namespace fortitor
