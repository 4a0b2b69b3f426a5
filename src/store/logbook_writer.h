// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "store/logbook.h"

#include <QObject>

#include <condition_variable>
#include <deque>
#include <functional>
#include <mutex>
#include <thread>

namespace fortitor {

/// Writes a logbook from one thread of its own, in the order that was asked, so that nobody waits for a disk.
/// Each piece of work is answered, kept or failed with the reason, in the thread that made the writer.
class LogbookWriter : public QObject {
public:
    using Work = std::function<Expected<Done>(Logbook&)>;
    using Answer = std::function<void(const Expected<Done>&)>;

    explicit LogbookWriter(Logbook& book);
    /// Does all that was asked; what is answered then is heard by nobody.
    ~LogbookWriter() override;

    /// Asked for now, done soon. Nothing it holds is touched by the asking thread any more.
    void post(Work work, Answer answer = {});
    /// Waits for all that was asked, answers it, and does this. `turn`: what the asking thread does meanwhile, so that
    /// its events, answers among them, are delivered; without it, it waits.
    Expected<Done> now(const Work& work, const std::function<void()>& turn = {});
    /// Waits for all that was asked, and answers it.
    void finish();
    /// Asked and not answered yet.
    [[nodiscard]] size_t waiting() const { return waiting_; }

private:
    struct Piece {
        Work work;
        Answer answer;
        Expected<Done> done = Done{};
    };
    void deliver();

    Logbook& book_;
    size_t waiting_ = 0; ///< of the asking thread alone
    std::mutex mutex_;
    std::condition_variable asked_, idle_;
    std::deque<Piece> todo_, answered_;
    bool busy_ = false, ending_ = false;
    bool alone_ = false; ///< no second connection could be had: the asking thread writes
    std::thread thread_;
};

} // namespace fortitor
