// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "jobs/what_if.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace fortitor {

/// "What if the limit were at reading 4?" A side copy of the specimen at hand: whatever is changed in it shows in
/// all figures, old and new, and is thrown away or kept with a reason.
class WhatIfPanel : public QWidget {
    Q_OBJECT
public:
    explicit WhatIfPanel(Session& session, QWidget* parent = nullptr);
    void open();
    /// Opens with one option changed already.
    void ask(const std::string& option, const std::string& value);
    void drop();
    [[nodiscard]] bool isOpen() const { return copy_.has_value(); }
    /// What the copy gives; nullptr while nothing is changed.
    [[nodiscard]] const Outcome* after() const { return after_ ? &*after_ : nullptr; }

signals:
    void changed();

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void fill();
    void follow();
    void showItem();
    void tryIt();
    void workOut();
    void keep();
    Session& session_;
    std::optional<WhatIf> copy_;
    QString openFor_; ///< job and specimen
    std::vector<WhatIfItem> items_;
    std::optional<Outcome> after_;
    QComboBox* what_ = nullptr;
    QComboBox* choice_ = nullptr;
    QLineEdit* value_ = nullptr;
    QLabel* changes_ = nullptr;
    QLabel* figures_ = nullptr;
    QLineEdit* reason_ = nullptr;
    QPushButton* keep_ = nullptr;
};

} // namespace fortitor
