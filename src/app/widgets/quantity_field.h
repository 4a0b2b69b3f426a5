// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/widgets/hands.h"
#include "units/quantity.h"

#include <QLineEdit>

#include <functional>
#include <map>
#include <memory>

namespace fortitor {

/// A field for a number with its unit. Fractions and other units are understood as typed. Enter
/// hands the text over and asks to go on; a reading that looks like a slip is queried first and
/// taken on a second Enter. What is typed and not kept yet is never rewritten.
class QuantityField : public QLineEdit {
    Q_OBJECT
public:
    explicit QuantityField(Kind kind, QWidget* parent = nullptr);

    /// Text as stored ("10.02 mm"); the base unit is shown apart, in a lighter ink. `place` names what the
    /// field stands for (a reading of a specimen): while it stays the same, what is being typed stays too,
    /// and what was typed for another place is there again, with its mark, when that one comes back.
    void setStored(const QString& place, const QString& text);
    /// Where what is typed and not kept waits, by place; of the page, since fields come and go.
    using Drafts = std::map<QString, QString>;
    void setDrafts(std::shared_ptr<Drafts> drafts) { drafts_ = std::move(drafts); }
    /// Something stands in it that is not kept.
    [[nodiscard]] bool typing() const { return typed() != stored_; }
    /// As if the focus went away: what reads is kept, what is queried or wrong stays and is marked.
    void leave();
    /// Puts what is not kept aside, before the field goes or stands for another place.
    void putAside();
    /// What would be stored now: trimmed.
    [[nodiscard]] QString typed() const { return text().trimmed(); }
    /// Words to query a reading with, empty when it looks right.
    std::function<QString(const Quantity&)> suspicious;
    /// Keeps a new text that reads, or empty. What could not be kept stays typed, marked.
    hands::Keep keep;

signals:
    void goOn(); ///< Enter on a text that stands
    void goBack();
    void message(const QString& words); ///< query or problem; empty when it is gone

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    bool check(bool insist);
    void answered(const QString& place, const QString& text, const QString& before, bool kept);
    void query();
    void mark(const char* property, bool on);

    Kind kind_;
    QString place_;
    QString stored_;
    std::shared_ptr<Drafts> drafts_ = std::make_shared<Drafts>();
    QString queried_;
    std::map<QString, int> keeping_; ///< by place, what was handed over and not answered
};

} // namespace fortitor
