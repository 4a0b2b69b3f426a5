// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "history/pyramid.h"
#include "history/seen_stretch.h"

#include <QObject>
#include <QThreadPool>
#include <QTimer>

#include <atomic>
#include <memory>
#include <optional>
#include <vector>

namespace fortitor {

/// What one trial of another setting came to.
struct TriedSetting {
    std::string words;
    std::optional<double> damage, equivalent; ///< base units
    bool done = false;
};

/// The history of the specimen at hand beside the interface: opened, its pyramid, stretches of it, trials. What is
/// asked last counts.
class HistoryWork : public QObject {
    Q_OBJECT
public:
    explicit HistoryWork(Session& session, QObject* parent = nullptr);
    ~HistoryWork() override;

    /// Looks at the specimen at hand; opens what is not open.
    void look();
    [[nodiscard]] const std::shared_ptr<const HistoryFile>& file() const { return file_; }
    [[nodiscard]] const std::shared_ptr<const Pyramid>& pyramid() const { return pyramid_; }
    [[nodiscard]] const std::optional<Problem>& problem() const { return problem_; }
    [[nodiscard]] const QString& notKept() const { return notKept_; }
    [[nodiscard]] bool opening() const { return opening_; }
    /// What the session worked out of it; null while it has not.
    [[nodiscard]] std::shared_ptr<const HistoryFigures> figures() const;
    /// Of the work on the whole, 0 to 1; below 0 where none is under way.
    [[nodiscard]] double share() const;
    void stop();
    /// A stretch with the options of the specimen at hand.
    void askStretch(std::uint64_t from, size_t count);
    /// Works trials out one by one; others that wait are forgotten.
    void askTrials(const std::vector<std::pair<std::string, std::string>>& settings,
                   const std::vector<std::string>& words);
    void dropTrials();
    [[nodiscard]] const std::vector<TriedSetting>& trials() const { return trials_; }

signals:
    void changed(); ///< file, pyramid or problem
    void progressed();
    void stretchReady(std::shared_ptr<const fortitor::SeenStretch> stretch);
    void stretchRefused(const QString& why);
    void tried();

private:
    Session& session_;
    QString key_; ///< of what is open
    std::shared_ptr<const HistoryFile> file_;
    std::shared_ptr<const Pyramid> pyramid_;
    std::optional<Problem> problem_;
    QString notKept_;
    bool opening_ = false;
    int stretchTurn_ = 0;
    std::shared_ptr<std::atomic<int>> trialTurn_ = std::make_shared<std::atomic<int>>(0),
                                      openTurn_ = std::make_shared<std::atomic<int>>(0);
    std::vector<TriedSetting> trials_;
    QThreadPool opener_, stretcher_, trier_;
    QTimer ticks_;
};

} // namespace fortitor
