// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/raw_file.h"

#include "curve/wide.h"

#include <fmt/format.h>

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <bit>
#include <cerrno>
#include <cstdlib>
#include <cstring>
#include <limits>

namespace fortitor {
namespace {

static_assert(std::endian::native == std::endian::little, "raw files are read as they lie");

FORTITOR_WIDE void widen(const float* from, double* to, int n)
{
    for (int i = 0; i < n; ++i)
        to[i] = static_cast<double>(from[i]);
}

/// Reads by position; noughts for what the file does not give, and false then.
bool readAt(int file, std::uint64_t at, char* into, size_t bytes)
{
    while (bytes > 0) {
        const ssize_t got = ::pread(file, into, bytes, static_cast<off_t>(at));
        if (got <= 0) {
            std::memset(into, 0, bytes);
            return false;
        }
        at += static_cast<std::uint64_t>(got);
        into += got;
        bytes -= static_cast<size_t>(got);
    }
    return true;
}

/// Read by position, not mapped: a file that shrinks meanwhile is a trouble, not a crash.
class RawFile : public HistorySource {
public:
    RawFile(std::string path, int file, RawKind kind, const struct stat& as) : path_(std::move(path)), file_(file)
    {
        wide_ = kind == RawKind::F64;
        size_ = static_cast<std::uint64_t>(as.st_size) / (wide_ ? 8 : 4);
        bytes_ = as.st_size;
        changed_ = as.st_mtim;
    }
    ~RawFile() override { ::close(file_); }
    RawFile(const RawFile&) = delete;
    RawFile& operator=(const RawFile&) = delete;
    [[nodiscard]] std::uint64_t size() const override { return size_; }
    void read(std::uint64_t from, std::span<double> out) const override
    {
        if (wide_)
            return fill(from * 8, reinterpret_cast<char*>(out.data()), out.size_bytes());
        std::array<float, 4096> narrow;
        for (size_t at = 0; at < out.size(); at += narrow.size()) {
            const size_t count = std::min(narrow.size(), out.size() - at);
            fill((from + at) * 4, reinterpret_cast<char*>(narrow.data()), count * 4);
            widen(narrow.data(), out.data() + at, static_cast<int>(count));
        }
    }
    [[nodiscard]] std::optional<Problem> trouble() const override
    {
        struct stat now { };
        if (short_)
            return Problem{path_, "fewer readings than when it was opened", "a file that is not written meanwhile",
                           "Read it again once the logger is done."};
        if (::fstat(file_, &now) == 0
            && (now.st_size != bytes_ || now.st_mtim.tv_sec != changed_.tv_sec
                || now.st_mtim.tv_nsec != changed_.tv_nsec))
            return Problem{path_, "a file that changed while it was read", "one that is not written meanwhile",
                           "Read it again once the logger is done."};
        return std::nullopt;
    }

private:
    void fill(std::uint64_t at, char* into, size_t bytes) const
    {
        if (!readAt(file_, at, into, bytes))
            short_ = true;
    }

    std::string path_;
    int file_;
    bool wide_ = false;
    std::uint64_t size_ = 0;
    off_t bytes_ = 0;
    timespec changed_{};
    mutable std::atomic<bool> short_ = false;
};

} // namespace

Expected<Spill> Spill::make()
{
    const char* folder = std::getenv("TMPDIR");
    std::string path = std::string(folder && *folder ? folder : "/tmp") + "/fortitor-" + std::string(6, 'X');
    const int file = ::mkostemp(path.data(), O_CLOEXEC);
    if (file < 0)
        return Problem{path, std::strerror(errno), "a folder for temporary files", "Set TMPDIR to one with room."};
    ::unlink(path.c_str());
    return Spill(file);
}

Spill::Spill(Spill&& other) noexcept : file_(std::exchange(other.file_, -1)) { }

Spill::~Spill()
{
    if (file_ >= 0)
        ::close(file_);
}

bool Spill::read(std::uint64_t at, std::span<std::byte> into) const
{
    return readAt(file_, at, reinterpret_cast<char*>(into.data()), into.size());
}

Expected<Done> Spill::append(std::span<const std::byte> bytes)
{
    const char* at = reinterpret_cast<const char*>(bytes.data());
    size_t left = bytes.size();
    while (left > 0) {
        const ssize_t put = ::write(file_, at, left);
        if (put < 0 && errno == EINTR)
            continue;
        if (put <= 0)
            return Problem{"temporary file", std::strerror(errno), "room for 8 bytes a reading, 12 a turning point",
                           "Set TMPDIR to a folder with more room."};
        at += put;
        left -= static_cast<size_t>(put);
    }
    return Done{};
}

std::shared_ptr<const HistorySource> Spill::source() &&
{
    struct stat as { };
    ::fstat(file_, &as);
    return std::make_shared<const RawFile>("temporary file", std::exchange(file_, -1), RawKind::F64, as);
}

Expected<HistoryFile> openRawHistory(const std::string& path, RawKind kind)
{
    const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    struct stat as { };
    if (file < 0 || ::fstat(file, &as) != 0 || !S_ISREG(as.st_mode)) {
        if (file >= 0)
            ::close(file);
        return Problem{path, "no file that can be read", "a file of raw numbers", {}};
    }
    const auto sample = kind == RawKind::F64 ? 8 : 4;
    auto source = std::make_shared<const RawFile>(path, file, kind, as);
    if (as.st_size % sample != 0)
        return Problem{path, fmt::format("{} bytes: it ends in mid-sample", as.st_size),
                       fmt::format("a multiple of {} bytes", sample),
                       "Was the copy cut short, or is it of the other width? Get the whole file."};
    return HistoryFile{.source = source};
}

} // namespace fortitor
