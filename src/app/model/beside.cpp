// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/beside.h"

#include <QTimer>

#include <sys/resource.h>
#include <unistd.h>

#include <algorithm>
#include <exception>
#include <utility>

namespace fortitor {

Beside::~Beside()
{
    {
        const std::lock_guard lock(mutex_);
        ending_ = true;
        todo_.clear();
    }
    asked_.notify_all();
    for (std::thread& one : threads_)
        one.join();
}

void Beside::ask(std::vector<Task> tasks)
{
    waiting_ += tasks.size();
    {
        const std::lock_guard lock(mutex_);
        for (Task& one : tasks)
            todo_.push_back(std::move(one));
    }
    const size_t cores = std::max(1u, std::thread::hardware_concurrency());
    while (threads_.size() < std::min(cores, waiting_))
        threads_.emplace_back([this] { work(); });
    asked_.notify_all();
}

void Beside::drop()
{
    const std::lock_guard lock(mutex_);
    waiting_ -= todo_.size();
    todo_.clear();
}

void Beside::dispose(std::shared_ptr<const void> old)
{
    if (threads_.empty())
        return; // nobody to hand it to: it goes here and now, or it would be kept until somebody works
    const std::lock_guard lock(mutex_);
    old_.push_back(std::move(old));
    asked_.notify_one();
}

Beside::Answer Beside::workedOut(const Task& task, std::unique_ptr<Logbook>& own, const Logbook& book)
{
    Answer answer{.index = task.index,
                  .stamp = task.stamp,
                  .recordId = task.recordId,
                  .record = task.record,
                  .missing = task.missing};
    const Specimen& specimen = task.job->specimens[task.index];
    if (!task.recordId.empty() && !own) {
        auto twin = book.twin();
        if (twin)
            own = std::move(*twin);
        else
            answer.missing = twin.problem();
    }
    if (!task.recordId.empty() && own) {
        auto loaded = own->loadRecord(QString::fromStdString(task.recordId));
        if (loaded)
            answer.record = *loaded;
        else
            answer.missing = loaded.problem();
    }
    answer.outcome = analyseKept(specimen, *task.job, answer.record, answer.missing ? &*answer.missing : nullptr);
    return answer;
}

void Beside::work()
{
    // Behind the interface: as many of these as cores would have it wait for its turn.
    setpriority(PRIO_PROCESS, static_cast<id_t>(gettid()), 10);
    std::unique_ptr<Logbook> own; // a connection belongs to the thread that made it
    std::unique_lock lock(mutex_);
    while (true) {
        asked_.wait(lock, [this] { return ending_ || !todo_.empty() || !old_.empty(); });
        if (ending_)
            return;
        if (!old_.empty()) {
            auto old = std::exchange(old_, {});
            lock.unlock();
            old.clear();
            lock.lock();
            continue;
        }
        const Task task = std::move(todo_.front());
        todo_.pop_front();
        ++busy_;
        lock.unlock();
        Answer answer;
        try {
            answer = workedOut(task, own, book_);
        } catch (const std::exception& thrown) {
            answer = {.index = task.index, .stamp = task.stamp};
            answer.outcome.label = task.job->specimens[task.index].label;
            answer.outcome.problem = Problem{answer.outcome.label, thrown.what(), "a specimen that can be worked out",
                                             "This is a fault of the program; what is kept is in the logbook."};
        }
        lock.lock();
        --busy_;
        done_.push_back(std::move(answer));
        idle_.notify_all();
        if (!std::exchange(told_, true))
            // By a timer: what is posted comes before keys and mouse, and the page they wait for may just be painted.
            QMetaObject::invokeMethod(
                this, [this] { QTimer::singleShot(0, this, &Beside::answered); }, Qt::QueuedConnection);
    }
}

std::vector<Beside::Answer> Beside::take()
{
    const std::lock_guard lock(mutex_);
    told_ = false;
    waiting_ -= done_.size();
    return std::exchange(done_, {});
}

void Beside::finish()
{
    {
        std::unique_lock lock(mutex_);
        idle_.wait(lock, [this] { return todo_.empty() && busy_ == 0; });
    }
    emit answered();
}

} // namespace fortitor
