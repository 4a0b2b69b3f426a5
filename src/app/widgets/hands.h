// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>
#include <QVariant>

#include <functional>
#include <vector>

class QComboBox;
class QCompleter;
class QLineEdit;
class QWidget;

namespace fortitor::hands {

// What a person is in the middle of is never rewritten, rebuilt, closed, scrolled or robbed of the focus: by
// no timer, signal, live reading, undo, theme or unit. Pages fill and rebuild through these and nothing else.

/// Whether something stands in the field that was typed and is not kept yet.
bool typing(const QLineEdit* edit);

/// Whether inside `area` something is being typed, a list or a menu is open, or the mouse is held down.
bool on(const QWidget* area);

/// Puts a text into the field where it differs; what is being typed there stays.
void fill(QLineEdit* edit, const QString& text);

/// Hears whether what was handed over is kept.
using Answered = std::function<void(bool)>;
/// Takes a text over; false when it is refused at once, else `answered` hears.
using Keep = std::function<bool(const QString& text, Answered answered)>;

/// Calls `keep` with the trimmed text when the field is left or Enter is pressed, if it was typed in. What
/// could not be kept stays typed.
void onKept(QLineEdit* edit, QObject* owner, Keep keep);

/// A dotted line under the field for as long as what stands in it is not kept yet.
void showKeeping(QWidget* field, bool on);

struct Item {
    QString text;
    QVariant data{};
};

/// Brings a list up to date: items that stand already are left alone, and a list that is open changes
/// once it is closed.
void fill(QComboBox* box, const std::vector<Item>& items, int current);

/// Runs `act` now, or as soon as nobody is in the middle of something inside `area`. What is asked twice
/// meanwhile, by the same name, is done once. Nothing happens once `area` is gone.
void whenFree(QWidget* area, const char* name, std::function<void()> act);

/// Before another specimen, job or page comes: what is typed in the field that has the focus is handed
/// over as if it had been left, so that it lands where it belongs.
void finish();

/// Its list of suggestions has a ground of its own, also where nothing composes windows.
void groundPopup(QCompleter* completer);

} // namespace fortitor::hands
