// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "store/person_key.h"

#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include <optional>

namespace fortitor {

/// The key that a person signs with: asked for its phrase, or made with a new one.
class KeyDialog : public QDialog {
    Q_OBJECT
public:
    enum class For { Sign, SetUp };
    KeyDialog(Session& session, For purpose, QWidget* parent = nullptr);
    /// Once it was accepted.
    [[nodiscard]] const PersonKey& key() const { return *key_; }
    /// Where keys are kept on this machine.
    static QString folder();

private:
    void go();
    void say(const QString& words);
    [[nodiscard]] Expected<PersonKey> found() const;

    Session& session_;
    For purpose_;
    bool make_ = false; ///< a new key, not the one that is there
    std::optional<PersonKey> key_;
    QLineEdit* phrase_ = nullptr;
    QLineEdit* again_ = nullptr;
    QLabel* message_ = nullptr;
};

} // namespace fortitor
