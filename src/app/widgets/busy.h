// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/text_import.h"

#include <QObject>
#include <QProgressDialog>
#include <QWidget>

#include <exception>
#include <functional>
#include <optional>

namespace fortitor {

/// While it lives the window paints and answers, but keys and clicks do nothing, except that a frame can be stopped and
/// the dialog that tells of the work has its button.
class InputHeld : public QObject {
public:
    InputHeld();
    ~InputHeld() override;
    bool eventFilter(QObject* watched, QEvent* event) override;

    /// Lets the window paint and what waits be delivered; back after 20 ms at the latest.
    static void turn();
};

/// Long work with a bar and a way to stop it; shows itself only when the work takes a while.
class Busy {
public:
    /// Does it in a thread of its own, while the window goes on painting. It must not touch what the window shows.
    template <class Work> auto run(Work work)
    {
        std::optional<decltype(work(Progress{}))> result;
        std::exception_ptr thrown;
        runBeside([&](const Progress& progress) {
            try {
                result.emplace(work(progress));
            } catch (...) {
                thrown = std::current_exception();
            }
        });
        if (thrown)
            std::rethrow_exception(thrown);
        return std::move(*result);
    }
    Busy(const QString& words, QWidget* parent);
    /// For functions that take a Progress.
    [[nodiscard]] Progress progress();
    /// Part `done` of `of` steps, each with its own progress inside.
    [[nodiscard]] Progress part(int done, int of);
    [[nodiscard]] bool stopped() const { return dialog_.wasCanceled(); }

private:
    void runBeside(const std::function<void(const Progress&)>& work);
    QProgressDialog dialog_;
};

} // namespace fortitor
