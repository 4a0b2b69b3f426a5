// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace fortitor::test {

/// The disk as this program sees it, for the tests to spoil: every fsync takes its time, or writes to a logbook
/// find no room. All of it ends with the object.
class Disk {
public:
    Disk();
    ~Disk();
    Disk(const Disk&) = delete;
    Disk& operator=(const Disk&) = delete;
    void slow(int milliseconds);
    void full(bool on);
    /// Syncs so far, of all threads and of the main one.
    static int syncs();
    static int syncsOfTheMainThread();
};

} // namespace fortitor::test
