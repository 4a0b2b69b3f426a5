// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/latest.h"

#include <QMetaObject>

namespace fortitor {

LatestOutcome::LatestOutcome(QObject* parent) : QObject(parent)
{
    thread_.setMaxThreadCount(1);
}

LatestOutcome::~LatestOutcome()
{
    thread_.waitForDone(); // it answers to this
}

void LatestOutcome::ask(Work work)
{
    if (busy_)
        next_ = std::move(work);
    else
        begin(std::move(work));
}

void LatestOutcome::drop()
{
    next_ = nullptr;
    ++turn_;
}

void LatestOutcome::begin(Work work)
{
    busy_ = true;
    thread_.start([this, work = std::move(work), turn = turn_] {
        const auto outcome = std::make_shared<std::optional<Outcome>>(work());
        QMetaObject::invokeMethod(
            this, [this, outcome, turn] { ended(outcome, turn); }, Qt::QueuedConnection);
    });
}

void LatestOutcome::ended(const std::shared_ptr<std::optional<Outcome>>& outcome, int turn)
{
    busy_ = false;
    if (next_)
        begin(std::exchange(next_, nullptr));
    if (turn == turn_)
        emit ready(outcome);
}

} // namespace fortitor
