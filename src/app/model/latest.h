// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/outcome.h"

#include <QObject>
#include <QThreadPool>

#include <functional>
#include <optional>

namespace fortitor {

/// Works outcomes out beside the interface, one at a time; of what is asked meanwhile only the last counts. For a hand
/// that moves faster than a record can be read.
class LatestOutcome : public QObject {
    Q_OBJECT
public:
    using Work = std::function<std::optional<Outcome>()>; ///< on a thread of its own: stands on copies only
    explicit LatestOutcome(QObject* parent = nullptr);
    ~LatestOutcome() override;
    void ask(Work work);
    /// Nothing asked so far is wanted any more.
    void drop();
    [[nodiscard]] bool busy() const { return busy_; }

signals:
    void ready(std::shared_ptr<std::optional<fortitor::Outcome>> outcome);

private:
    void begin(Work work);
    void ended(const std::shared_ptr<std::optional<Outcome>>& outcome, int turn);
    QThreadPool thread_;
    Work next_;
    bool busy_ = false;
    int turn_ = 0; ///< goes up when what is under way is not wanted any more
};

} // namespace fortitor
