// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/text_import.h"

#include <QProgressDialog>
#include <QWidget>

namespace fortitor {

/// Long work with a bar and a way to stop it; shows itself only when the work takes a while.
class Busy {
public:
    Busy(const QString& words, QWidget* parent);
    /// For functions that take a Progress.
    [[nodiscard]] Progress progress();
    /// Part `done` of `of` steps, each with its own progress inside.
    [[nodiscard]] Progress part(int done, int of);
    [[nodiscard]] bool stopped() const { return dialog_.wasCanceled(); }

private:
    QProgressDialog dialog_;
};

} // namespace fortitor
