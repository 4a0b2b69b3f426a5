// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QStringList>
#include <QWidget>

namespace fortitor::test {

/// What can't be read in a window: words wider than their place, what stands outside, a page that has to be moved
/// sideways, a list in which nothing is chosen.
QStringList unreadable(const QWidget& window);

} // namespace fortitor::test
