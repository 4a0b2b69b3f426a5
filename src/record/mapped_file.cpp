// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/text_import.h"

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>

namespace fortitor {

Expected<MappedFile> MappedFile::open(const std::string& path)
{
    const int handle = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
    if (handle < 0)
        return Problem{path, std::strerror(errno), "a readable text file",
                       "Check the name, and that the folder is still there."};
    struct stat info { };
    if (::fstat(handle, &info) != 0 || !S_ISREG(info.st_mode)) {
        ::close(handle);
        return Problem{path, "not an ordinary file", "a text file", {}};
    }
    const auto size = static_cast<size_t>(info.st_size);
    if (size == 0) {
        ::close(handle);
        return MappedFile(nullptr, 0);
    }
    void* data = ::mmap(nullptr, size, PROT_READ, MAP_PRIVATE, handle, 0);
    ::close(handle);
    if (data == MAP_FAILED)
        return Problem{path, std::strerror(errno), "a readable text file", {}};
    ::madvise(data, size, MADV_SEQUENTIAL);
    return MappedFile(static_cast<const char*>(data), size);
}

MappedFile::MappedFile(MappedFile&& other) noexcept
    : data_(std::exchange(other.data_, nullptr)), size_(std::exchange(other.size_, 0))
{
}

MappedFile::~MappedFile()
{
    if (data_)
        ::munmap(const_cast<char*>(data_), size_);
}

} // namespace fortitor
