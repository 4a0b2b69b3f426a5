// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>

namespace fortitor {

class MainWindow;

/// Walks the main views and keeps a PNG of each in a folder. False when one could not be written.
bool captureViews(MainWindow& window, const QString& folder);

} // namespace fortitor
