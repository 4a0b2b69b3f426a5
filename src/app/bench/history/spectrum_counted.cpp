// SPDX-License-Identifier: GPL-3.0-or-later
// What was counted, and what is made of it for others.
#include "app/bench/history/spectrum_page.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "history/block_program.h"
#include "history/synthesis.h"
#include "jobs/job.h"
#include "jobs/spectrum_json.h"
#include "methods/spectrum/spectrum.h"

#include <QDir>
#include <QFileDialog>
#include <QInputDialog>
#include <QSettings>

#include <fmt/format.h>

#include <algorithm>

namespace fortitor {
namespace {

/// Damage of each day, or hour, as bars.
Plot inTimePlot(const DamageInTime& told)
{
    constexpr double day = 86400, hour = 3600;
    const bool days = told.seconds >= day, hours = told.seconds >= hour;
    const double each = days || hours ? 1 : told.seconds / 60;
    Plot plot;
    PlotBars bars;
    for (size_t k = 0; k <= told.damage.size(); ++k)
        bars.edges.push_back(each * static_cast<double>(k));
    bars.heights = told.damage;
    plot.bars = std::move(bars);
    plot.x = {.title = days ? "time, d" : hours ? "time, h" : "time, min"};
    plot.y = {.title = days ? "damage of a day" : hours ? "damage of an hour" : "damage of a tenth"};
    plot.fit();
    return plot;
}

/// What was measured in ink, what is assumed or drawn beside it dashed and quiet.
void drawAsMeasured(Plot& plot)
{
    size_t lines = 0;
    for (PlotSeries& series : plot.series)
        if (series.joined) {
            series.quiet = lines++ > 0;
            series.pen = series.quiet ? QPen(pal().quiet, 1.4, Qt::DashLine) : QPen(pal().ink, 1.8);
        }
}

constexpr size_t exceedance = 0, transitions = 1, rangeMean = 2, crossings = 3, gassner = 4; // views of the outcome
constexpr int inTime = 100, synthetic = 101, summed = 102;

} // namespace

void SpectrumPage::showCounted()
{
    const Outcome* now = outcome();
    const auto h = work_.figures();
    if (!now || !h || now->views.empty()) {
        left_->clear();
        right_->clear();
        return;
    }
    const bool drawn = !drawn_.empty() && drawnOf_ == h;
    std::vector<hands::Item> left{{"exceedance", int{exceedance}}, {"level crossings", int{crossings}}};
    if (now->views.size() > gassner)
        left.push_back({"Gassner line", int{gassner}});
    if (!h->inTime.damage.empty())
        left.push_back({"damage in time", inTime});
    if (drawn)
        left.push_back({"synthetic over counted", synthetic});
    hands::fill(leftChoice_, left, std::clamp(leftChoice_->currentIndex(), 0, static_cast<int>(left.size()) - 1));
    std::vector<hands::Item> right{{"transitions", int{transitions}}, {"range and mean", int{rangeMean}}};
    if (session_.outcome().set && session_.outcome().set->views.size() > 1 && session_.job().specimens.size() > 1)
        right.push_back({"transitions, all histories", summed});
    hands::fill(rightChoice_, right, std::clamp(rightChoice_->currentIndex(), 0, static_cast<int>(right.size()) - 1));
    views_ = now->views; // the plots point into them
    const int which = leftChoice_->currentData().toInt();
    if (which == inTime) {
        left_->show(inTimePlot(h->inTime));
    } else {
        if (which == synthetic && drawn)
            views_.push_back(overlaidExceedance(*h, drawn_));
        const size_t at = which == synthetic ? views_.size() - 1 : static_cast<size_t>(which);
        if (at < views_.size()) {
            Plot plot = plotOf(views_[at], units());
            plot.names = Plot::Names::Row;
            drawAsMeasured(plot);
            left_->show(std::move(plot));
        }
    }
    const auto& set = session_.outcome().set;
    const int matrix = rightChoice_->currentData().toInt();
    if (matrix == summed && set && set->views.size() > 1)
        views_.push_back(set->views[1]);
    if (const size_t at = matrix == summed ? views_.size() - 1 : static_cast<size_t>(matrix); at < views_.size())
        right_->show(plotOf(views_[at], units()));
    synthetic_->setText(drawn ? QString::number(drawn_.size()) + " turning points, the same transitions"
                              : QString("turning points with the same transitions; a seed gives the same again"));
    saveSynthetic_->setVisible(drawn);
    trendBack_->setVisible(drawn && h->spectrum.chain.trend.size() > 1);
    block_->setEnabled(h->spectrum.counts.cycles > 0);
}

void SpectrumPage::generate()
{
    const auto h = work_.figures();
    if (!h)
        return;
    const Counts& c = h->spectrum.counts;
    constexpr std::uint64_t count = 100000, seed = 1;
    auto points = synthesise({c.levels, c.peakToValley, c.valleyToPeak}, count, seed);
    if (!points) {
        message_->setText(q(points.problem().text()));
        message_->show();
        return;
    }
    drawn_ = std::move(*points);
    drawnOf_ = h;
    showCounted();
    leftChoice_->setCurrentIndex(leftChoice_->count() - 1);
    showCounted();
}

void SpectrumPage::saveText(const QString& title, const QString& name, const std::string& text)
{
    QSettings settings;
    const QString path =
        QFileDialog::getSaveFileName(this, title, QDir(settings.value("historyFolder").toString()).filePath(name),
                                     "Text (*.csv *.json)");
    if (path.isEmpty())
        return;
    const auto kept = writeFileWhole(s(path), text);
    message_->setText(kept ? "Saved: " + path : q(kept.problem().text()));
    message_->show();
}

void SpectrumPage::saveSynthetic()
{
    const auto h = work_.figures();
    if (!h || drawn_.empty())
        return;
    std::vector<double> points = drawn_;
    if (trendBack_->isChecked())
        addTrend(points, h->spectrum.chain.trend, h->spectrum.chain.joints);
    saveText("Save the synthetic history", q(session_.specimen().label) + "-synthetic.csv",
             pointsCsv(points, *h->spectrum.unit));
}

void SpectrumPage::saveBlock()
{
    const auto h = work_.figures();
    if (!h)
        return;
    bool taken = false;
    const int cycles =
        QInputDialog::getInt(this, "Block program", "Cycles in a block (steps of ranges, up and down):", 100000, 100,
                             100000000, 1000, &taken);
    if (!taken)
        return;
    constexpr size_t steps = 8;
    const auto program = blockProgram(h->spectrum.counts, std::min(steps, h->spectrum.counts.histogram.size()),
                                      static_cast<std::uint64_t>(cycles), h->settings.counts.exponent);
    if (!program) {
        message_->setText(q(program.problem().text()));
        message_->show();
        return;
    }
    saveText("Save the block program", q(session_.specimen().label) + "-block.csv",
             blockCsv(*program, std::string(h->spectrum.unit->symbol)));
    message_->setText(
        message_->text()
        + QString(" The block does %1 % of the damage of as many measured cycles.").arg(100 * program->share, 0, 'f', 1)
        + (program->left.empty() ? QString() : " Left out: " + q(program->left) + "."));
    message_->show();
}

void SpectrumPage::saveMatrices()
{
    if (const auto h = work_.figures())
        saveText("Save matrices and counts", q(session_.specimen().label) + "-spectrum.json",
                 spectrumJson(h->spectrum).dump(1) + "\n");
}

} // namespace fortitor
