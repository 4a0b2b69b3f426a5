// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "store/logbook.h"

#include <QLockFile>

#include <atomic>
#include <mutex>

#include <unistd.h>

namespace fortitor {

/// What all connections to one open logbook share. Goes with the last of them.
struct Logbook::Held {
    ~Held()
    {
        if (handle >= 0)
            ::close(handle);
    }
    int handle = -1; ///< of the file, locked: two names of one file are one logbook
    bool immutable = false;
    std::unique_ptr<QLockFile> lock;
    std::atomic<bool> written = false;
    std::mutex mutex; ///< of all below, once a second connection is there
    QString readOnlyBecause;
    QString rescued;
    QString headFolder;
    QString headWho, headKey;
    Signer headSigner;
};

} // namespace fortitor
