// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/job.h"

#include <QByteArray>
#include <QString>

#include <utility>
#include <vector>

namespace fortitor {

struct HardnessDemo {
    std::vector<Json> jobs; ///< the newest first
    std::vector<std::pair<QString, QByteArray>> pictures; ///< names and files of those that readings stand on
};

/// The demo's jobs of hardness, with what the simulated testers read and saw.
HardnessDemo demoHardness();

} // namespace fortitor
