// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/scrap_labels.h"

#include "draw/palette.h"
#include "methods/common/figures.h"
#include "report/pages.h"

#include <QFontMetricsF>

#include <algorithm>

namespace fortitor {
namespace {

constexpr double perMillimetre = 72 / 25.4;

/// The greatest of what a part is known to have carried.
std::string loadedTo(const Method& method, const SpecimenOutcome& one)
{
    const Result* most = nullptr;
    if (one.outcome)
        for (const std::string& symbol : method.onMaximum)
            if (const Result* r = one.outcome->find(symbol); r && r->value && !most)
                most = r;
    if (!most)
        return "loaded in a test";
    const ResultSpec spec = specFor(method, most->symbol);
    const ShownFigure shown = showFigure(spec, *most);
    return "loaded to " + shown.text + " " + shown.unit;
}

} // namespace

std::vector<ScrapLabel> scrapLabels(const Job& job, const JobOutcome& outcome, const ReportChoices& choices)
{
    std::vector<ScrapLabel> all;
    for (size_t i = 0; i < outcome.specimens.size() && i < job.specimens.size(); ++i) {
        const Specimen& specimen = job.specimens[i];
        if (specimen.recordId.empty() && specimen.recordFile.empty() && !specimen.readings)
            continue;
        ScrapLabel one{.number = job.number, .label = specimen.label};
        one.why = loadedTo(*job.method, outcome.specimens[i]);
        one.title = job.title;
        one.foot = choices.laboratory + (choices.date.empty() ? "" : " · " + choices.date)
            + (choices.testedBy.empty() ? "" : " · " + choices.testedBy);
        all.push_back(std::move(one));
    }
    return all;
}

void paintScrapLabel(QPainter& painter, const ScrapLabel& label)
{
    const auto q = [](const std::string& text) { return QString::fromStdString(text); };
    const double w = scrapWidth * perMillimetre, h = scrapHeight * perMillimetre;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(QRectF(0, 0, w, h), Qt::white);
    painter.setPen(QPen(Qt::black, 3));
    painter.drawRect(QRectF(5, 5, w - 10, h - 10));
    const QRectF band(5, 5, w - 10, 40);
    painter.fillRect(band, Qt::black);
    painter.setPen(Qt::white);
    painter.setFont(wordFont(26, QFont::Bold));
    painter.drawText(band, Qt::AlignCenter, "SCRAP");
    painter.setPen(Qt::black);
    painter.setFont(wordFont(18, QFont::DemiBold));
    painter.drawText(QRectF(14, 50, w - 28, 24), Qt::AlignLeft | Qt::AlignVCenter,
                     q(label.number + "  " + label.label));
    const auto line = [&](double y, const QString& text, double size, QFont::Weight weight = QFont::Normal) {
        painter.setFont(wordFont(size, weight));
        painter.drawText(QPointF(14, y), QFontMetricsF(painter.font()).elidedText(text, Qt::ElideRight, w - 28));
    };
    line(90, q(label.title), 10);
    line(107, q(label.why), 11, QFont::DemiBold);
    line(123, "Never use it again. Cut it, or make it unfit for use.", 9.5);
    line(141, q(label.foot), 8.5);
    painter.restore();
}

Expected<Done> writeScrapLabels(const std::string& path, const std::vector<ScrapLabel>& labels)
{
    if (labels.empty())
        return Problem{path, "no part that was loaded", "at least one", {}};
    return writePages(path,
                      {.millimetres = {scrapWidth, scrapHeight},
                       .title = QString::fromStdString("Scrap labels " + labels.front().number),
                       .count = labels.size(),
                       .paint = [&](QPainter& painter, size_t i) { paintScrapLabel(painter, labels[i]); }});
}

} // namespace fortitor
