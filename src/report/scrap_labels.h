// SPDX-License-Identifier: GPL-3.0-or-later
// Labels for parts that were tested and look as if they could be used.
#pragma once

#include "report/report.h"

#include <QPainter>

#include <string>
#include <vector>

namespace fortitor {

struct ScrapLabel {
    std::string number{}, label{}; ///< of the job, of the part
    std::string why{}; ///< "loaded to at least 45.0 kN, 5.7 × working load"
    std::string title{}; ///< of the job
    std::string foot{}; ///< laboratory, date, who tested
};

/// One for each part that has carried a load, also where its figures could not be worked out.
std::vector<ScrapLabel> scrapLabels(const Job& job, const JobOutcome& outcome, const ReportChoices& choices);

constexpr double scrapWidth = 90, scrapHeight = 55; // mm
/// In points, from the top left corner.
void paintScrapLabel(QPainter& painter, const ScrapLabel& label);
/// A page a label.
Expected<Done> writeScrapLabels(const std::string& path, const std::vector<ScrapLabel>& labels);

} // namespace fortitor
