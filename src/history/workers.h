// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <functional>

namespace fortitor {

/// Does `act(task, worker)` for each task, on so many threads (0: one a core). What is made of a task must not depend
/// on the worker. False where `goOn(share)` asked to stop; it is asked after each task, from any thread, one at a time.
/// What a task throws is thrown here once all have stopped.
bool shareOut(size_t tasks, size_t threads, const std::function<void(size_t, size_t)>& act,
              const std::function<bool(double)>& goOn = {});
/// How many that will be.
size_t workersFor(size_t tasks, size_t threads);

} // namespace fortitor
