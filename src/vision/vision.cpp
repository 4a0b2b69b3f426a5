// SPDX-License-Identifier: GPL-3.0-or-later
#include "vision/vision.h"

#include <dlfcn.h>

#include <filesystem>
#include <fstream>
#include <iterator>
#include <vector>

namespace fortitor {
namespace {

/// Beside the program, as it is built and as it is installed.
std::vector<std::string> places()
{
    std::error_code error;
    const auto program = std::filesystem::read_symlink("/proc/self/exe", error).parent_path();
    const std::string name = "libfortitor_vision.so";
    return {(program / ".." / "lib" / "fortitor" / name).string(),
            (program / ".." / "lib64" / "fortitor" / name).string(),
            (program / ".." / FORTITOR_LIBRARY_FOLDER / "fortitor" / name).string()};
}

Expected<const Vision*> load()
{
    std::string why;
    for (const std::string& place : places()) {
        void* library = dlopen(place.c_str(), RTLD_NOW | RTLD_LOCAL);
        if (!library) {
            const char* said = dlerror();
            if (std::error_code error; why.empty() || std::filesystem::exists(place, error))
                why = said ? said : "";
            continue;
        }
        using Entry = const Vision* (*)();
        if (const auto entry = reinterpret_cast<Entry>(dlsym(library, "fortitorVision")))
            return entry();
        why = "it is of another version";
    }
    return Problem{"pictures", "the library that reads them can't be loaded: " + why,
                   "libfortitor_vision.so beside the program", "Install Fortitor anew."};
}

} // namespace

Expected<std::vector<std::uint8_t>> pictureBytes(const std::string& path)
{
    constexpr std::uintmax_t most = 500'000'000;
    std::error_code error;
    const auto size = std::filesystem::file_size(path, error);
    std::ifstream file(path, std::ios::binary);
    if (error || !file)
        return Problem{path, "no file that can be read", "a PNG, JPEG, TIFF or BMP picture", {}};
    if (size > most)
        return Problem{path, std::to_string(size / 1'000'000) + " MB", "a picture of up to 500 MB", {}};
    return std::vector<std::uint8_t>(std::istreambuf_iterator<char>(file), {});
}

Expected<const Vision*> vision()
{
    static const Expected<const Vision*> loaded = load();
    return loaded;
}

} // namespace fortitor
