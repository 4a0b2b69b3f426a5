// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QApplication>

#include <functional>

namespace fortitor {

/// The one guard around everything that happens in the window: an exception that nobody expected ends the
/// act it came from, not the program. What is in the logbook is there already, a frame is led on, and a
/// report tells what happened.
class Application : public QApplication {
    Q_OBJECT
public:
    Application(int& argc, char** argv) : QApplication(argc, argv) { }
    bool notify(QObject* receiver, QEvent* event) override;
    /// Told in words, with the file of the report.
    std::function<void(const QString& words, const QString& report)> tell;
    /// Writes down what happened; gives the file, empty where none could be written.
    static QString writeReport(const QString& where, const QString& what);
};

} // namespace fortitor
