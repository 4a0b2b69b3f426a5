// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QCheckBox>
#include <QLabel>
#include <QLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QString>

namespace fortitor {

/// Of text that people typed, for a place that would read markup in it (tooltips, questions).
QString plain(const QString& text);
/// A label of a kind of the style sheet: "title", "head", "quiet", "warn" or "". It shows
/// its text as it is; markup is asked for with setTextFormat.
QLabel* label(const QString& text, const char* kind = "", QWidget* parent = nullptr);
/// A button of a kind: "primary", "stop", "big", "link", "segment" or "". `name` is its object name.
QPushButton* button(const QString& text, const char* kind, const char* name, QWidget* parent = nullptr);
/// A field to key in; `hint` stands in it while it is empty.
QLineEdit* lineEdit(const char* name, const QString& hint);
/// A hairline.
QWidget* hairline(QWidget* parent = nullptr);
/// Shows what was just put into a layout and has its scroll area look again: else a page seen for the
/// first time may be squeezed into the room it had while it was empty.
void settleLayout(QLayout* layout);
/// Takes a widget away that may be in the middle of a signal: it goes a moment later, but has no name any more, so that
/// what is filled in by name goes to the one that takes its place.
void discard(QWidget* widget);
/// Takes all widgets and layouts out of a layout.
void clearLayout(QLayout* layout);
inline QString q(const std::string& text)
{
    return QString::fromStdString(text);
}
inline std::string s(const QString& text)
{
    return text.toStdString();
}

} // namespace fortitor
