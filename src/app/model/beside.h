// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/overview.h"
#include "store/logbook.h"

#include <QObject>

#include <condition_variable>
#include <deque>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <thread>
#include <vector>

namespace fortitor {

/// Works specimens out beside the interface, on all cores: records come from the logbook by a connection of each
/// thread's own, outcomes go back to the thread that asked. What was asked before is dropped when something else counts.
class Beside : public QObject {
    Q_OBJECT
public:
    struct Task {
        size_t index = 0; ///< of the specimen in the job
        std::uint64_t stamp = 0; ///< which state of it
        std::shared_ptr<const Job> job{};
        std::string recordId{}; ///< to be read; empty: `record` counts
        std::shared_ptr<const Record> record{};
        std::optional<Problem> missing{}; ///< why its record can't be had
    };
    struct Answer {
        size_t index = 0;
        std::uint64_t stamp = 0;
        std::string recordId{};
        std::shared_ptr<const Record> record{};
        std::optional<Problem> missing{};
        SpecimenOutcome outcome{};
    };

    explicit Beside(const Logbook& book) : book_(book) { }
    ~Beside() override;

    void ask(std::vector<Task> tasks);
    /// What waits is dropped; what is under way comes and is not wanted any more.
    void drop();
    /// Takes apart what is not wanted any more: the outcomes of a large job take as long as a picture.
    void dispose(std::shared_ptr<const void> old);
    /// Asked and not answered yet.
    [[nodiscard]] size_t waiting() const { return waiting_; }
    /// Waits for all of it; answers are given before it returns.
    void finish();

signals:
    /// Some are there; `take` gives them.
    void answered();

public:
    [[nodiscard]] std::vector<Answer> take();

private:
    void work();
    static Answer workedOut(const Task& task, std::unique_ptr<Logbook>& own, const Logbook& book);
    const Logbook& book_;
    std::vector<std::thread> threads_;
    std::mutex mutex_;
    std::condition_variable asked_, idle_;
    std::deque<Task> todo_;
    std::vector<Answer> done_;
    std::vector<std::shared_ptr<const void>> old_;
    size_t busy_ = 0;
    size_t waiting_ = 0; ///< of the thread that asks only
    bool ending_ = false, told_ = false;
};

} // namespace fortitor
