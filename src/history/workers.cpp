// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/workers.h"

#include <algorithm>
#include <atomic>
#include <exception>
#include <mutex>
#include <thread>
#include <vector>

namespace fortitor {

size_t workersFor(size_t tasks, size_t threads)
{
    const size_t cores = std::max(1U, std::thread::hardware_concurrency());
    return std::max<size_t>(1, std::min(tasks, threads > 0 ? threads : cores));
}

bool shareOut(size_t tasks, size_t threads, const std::function<void(size_t, size_t)>& act,
              const std::function<bool(double)>& goOn)
{
    std::atomic<size_t> next = 0, done = 0;
    std::atomic<bool> stopped = false;
    std::mutex asking;
    std::exception_ptr thrown;
    const auto work = [&](size_t worker) {
        for (size_t task = next++; task < tasks && !stopped; task = next++) {
            try {
                act(task, worker);
            } catch (...) {
                const std::lock_guard lock(asking);
                thrown = std::current_exception();
                stopped = true;
            }
            const size_t finished = ++done;
            if (!goOn)
                continue;
            const std::lock_guard lock(asking);
            if (!stopped && !goOn(static_cast<double>(finished) / static_cast<double>(tasks)))
                stopped = true;
        }
    };
    std::vector<std::thread> others;
    for (size_t worker = 1; worker < workersFor(tasks, threads); ++worker)
        others.emplace_back(work, worker);
    work(0);
    for (std::thread& one : others)
        one.join();
    if (thrown)
        std::rethrow_exception(thrown);
    return !stopped;
}

} // namespace fortitor
