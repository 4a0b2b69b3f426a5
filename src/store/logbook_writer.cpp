// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/logbook_writer.h"

#include <exception>
#include <future>
#include <optional>

namespace fortitor {
namespace {

Expected<Done> carriedOut(const LogbookWriter::Work& work, Logbook& book)
{
    try {
        return work(book);
    } catch (const std::exception& thrown) {
        return Problem{book.file().toStdString(), thrown.what(), "a step that can be kept", "Nothing of it was kept."};
    }
}

} // namespace

LogbookWriter::LogbookWriter(Logbook& book) : book_(book)
{
    if (!book.readOnlyBecause().isEmpty()) {
        alone_ = true; // nothing will be written
        return;
    }
    std::promise<bool> opened;
    auto open = opened.get_future();
    thread_ = std::thread([this, &opened] {
        auto twin = book_.twin();
        opened.set_value(static_cast<bool>(twin));
        if (!twin)
            return;
        std::unique_lock lock(mutex_);
        while (true) {
            asked_.wait(lock, [this] { return ending_ || !todo_.empty(); });
            if (todo_.empty())
                return;
            Piece piece = std::move(todo_.front());
            todo_.pop_front();
            busy_ = true;
            lock.unlock();
            piece.done = carriedOut(piece.work, **twin);
            piece.work = {};
            lock.lock();
            busy_ = false;
            const bool tell = answered_.empty();
            answered_.push_back(std::move(piece));
            idle_.notify_all();
            if (tell)
                QMetaObject::invokeMethod(
                    this, [this] { deliver(); }, Qt::QueuedConnection);
        }
    });
    alone_ = !open.get();
    if (alone_)
        thread_.join();
}

LogbookWriter::~LogbookWriter()
{
    if (!thread_.joinable())
        return;
    {
        const std::lock_guard lock(mutex_);
        ending_ = true;
    }
    asked_.notify_all();
    thread_.join();
}

void LogbookWriter::post(Work work, Answer answer)
{
    ++waiting_;
    if (alone_) {
        Piece piece{{}, std::move(answer), carriedOut(work, book_)};
        answered_.push_back(std::move(piece));
        QMetaObject::invokeMethod(
            this, [this] { deliver(); }, Qt::QueuedConnection);
        return;
    }
    {
        const std::lock_guard lock(mutex_);
        todo_.push_back({std::move(work), std::move(answer)});
    }
    asked_.notify_one();
}

Expected<Done> LogbookWriter::now(const Work& work, const std::function<void()>& turn)
{
    finish();
    std::optional<Expected<Done>> done;
    post(work, [&done](const Expected<Done>& answer) { done = answer; });
    while (turn && !done)
        turn();
    if (!done)
        finish();
    return *done;
}

void LogbookWriter::finish()
{
    // What an answer asks for in its turn is waited for as well.
    while (waiting_ > 0) {
        if (!alone_) {
            std::unique_lock lock(mutex_);
            idle_.wait(lock, [this] { return todo_.empty() && !busy_; });
        }
        deliver();
    }
}

void LogbookWriter::deliver()
{
    while (true) {
        std::unique_lock lock(mutex_);
        if (answered_.empty())
            return;
        const Piece piece = std::move(answered_.front());
        answered_.pop_front();
        lock.unlock();
        --waiting_;
        if (piece.answer)
            piece.answer(piece.done);
    }
}

} // namespace fortitor
