// SPDX-License-Identifier: GPL-3.0-or-later
// Stands before the C library's own fsync and writes, for SQLite too: the program exports its symbols.
#include "app/disk.h"

#include <atomic>
#include <cerrno>
#include <chrono>
#include <cstring>
#include <string>
#include <thread>

#include <sys/syscall.h>
#include <unistd.h>

namespace {

std::atomic<int> takes = 0; // ms
std::atomic<bool> isFull = false;
std::atomic<int> all = 0;
std::atomic<int> ofMain = 0;

int synced(long call, int file)
{
    ++all;
    if (::syscall(SYS_gettid) == ::getpid())
        ++ofMain;
    if (const int wait = takes; wait > 0)
        std::this_thread::sleep_for(std::chrono::milliseconds(wait));
    return static_cast<int>(::syscall(call, file));
}

bool noRoom(int file)
{
    if (!isFull)
        return false;
    char name[512] = {};
    if (::readlink(("/proc/self/fd/" + std::to_string(file)).c_str(), name, sizeof name - 1) <= 0)
        return false;
    if (!std::strstr(name, ".sqlite"))
        return false;
    errno = ENOSPC;
    return true;
}

} // namespace

extern "C" {

int fsync(int file)
{
    return synced(SYS_fsync, file);
}

int fdatasync(int file)
{
    return synced(SYS_fdatasync, file);
}

ssize_t write(int file, const void* bytes, size_t count)
{
    return noRoom(file) ? -1 : ::syscall(SYS_write, file, bytes, count);
}

ssize_t pwrite(int file, const void* bytes, size_t count, off_t at)
{
    return noRoom(file) ? -1 : ::syscall(SYS_pwrite64, file, bytes, count, at);
}

ssize_t pwrite64(int file, const void* bytes, size_t count, off64_t at)
{
    return noRoom(file) ? -1 : ::syscall(SYS_pwrite64, file, bytes, count, at);
}
}

namespace fortitor::test {

Disk::Disk()
{
    all = ofMain = 0;
}

Disk::~Disk()
{
    takes = 0;
    isFull = false;
}

void Disk::slow(int milliseconds)
{
    takes = milliseconds;
}

void Disk::full(bool on)
{
    isFull = on;
}

int Disk::syncs()
{
    return all;
}

int Disk::syncsOfTheMainThread()
{
    return ofMain;
}

} // namespace fortitor::test
