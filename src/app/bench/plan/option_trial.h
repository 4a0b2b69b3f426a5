// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>

namespace fortitor {

/// A choice on trial: the figures before and after side by side until it is accepted or dropped. Of a
/// set that is judged already it asks for a reason first.
class OptionTrial : public QWidget {
    Q_OBJECT
public:
    OptionTrial(Session& session, QWidget* parent = nullptr);
    /// Puts a choice on trial for the specimen at hand. `forJob`: accepting it changes the whole job.
    /// Taken at once where there is no record yet to compare on.
    void propose(const std::string& option, const std::string& value, const QString& words, bool forJob);
    void drop();
    [[nodiscard]] bool onTrial() const { return !option_.empty(); }
    [[nodiscard]] const Outcome* after() const { return after_ ? &*after_ : nullptr; }
    [[nodiscard]] QString tableText() const { return table_->text(); }

signals:
    void changed(); ///< something went on trial, was accepted or dropped

private:
    void accept();
    Session& session_;
    QLabel* table_ = nullptr;
    QLineEdit* reason_ = nullptr;
    QPushButton* accept_ = nullptr;
    std::string option_, value_;
    std::int64_t job_ = 0;
    std::string specimen_;
    bool forJob_ = false;
    std::optional<Outcome> after_;
};

} // namespace fortitor
