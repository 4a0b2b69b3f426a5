// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/plan/loads_view.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "jobs/job_train.h"
#include "plan/load_train.h"

#include <QVBoxLayout>

#include <algorithm>

namespace fortitor {
namespace {

Plot plotOfProfile(const LoadProfile& profile)
{
    Plot plot;
    plot.names = Plot::Names::None;
    auto time = std::make_shared<std::vector<double>>(profile.time);
    auto load = std::make_shared<std::vector<double>>(profile.load);
    // What is led by displacement is only a guess of load and time: it is drawn dashed.
    const auto led = static_cast<size_t>(std::ranges::count_if(*time, [&](double t) {
        return !(profile.byDisplacementFrom > 0) || t <= profile.byDisplacementFrom;
    }));
    plot.series.push_back(
        {.x = std::span(*time).first(led), .y = std::span(*load).first(led), .pen = QPen(Qt::black, 2)});
    if (led > 0 && led < time->size())
        plot.series.push_back({.x = std::span(*time).subspan(led - 1),
                               .y = std::span(*load).subspan(led - 1),
                               .pen = QPen(Qt::black, 1.6, Qt::DashLine),
                               .quiet = true});
    double most = *std::ranges::max_element(*load);
    for (const LoadLevel& level : profile.levels) {
        most = std::max(most, level.load);
        plot.limits.push_back({.at = level.load, .quiet = !level.stop, .words = q(level.words)});
    }
    for (const double at : profile.checks)
        plot.limits.push_back({.at = at, .onX = true, .mark = true, .words = "check"});
    const Unit& unit = displayUnit(Kind::Force, most, units());
    plot.x = {.title = "time, min", .factor = 1.0 / 60};
    plot.y = {.title = "load, " + q(std::string(unit.symbol)), .factor = 1 / unit.factor};
    std::tie(plot.x.low, plot.x.high) = roomyRange(0, 1.5 * time->back() * plot.x.factor);
    std::tie(plot.y.low, plot.y.high) = roomyRange(0, 1.12 * most * plot.y.factor);
    plot.held = {time, load};
    return plot;
}

} // namespace

LoadsView::LoadsView(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("loadsView");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 14, 0, 0);
    column->setSpacing(6);
    auto* top = new QHBoxLayout;
    top->addWidget(label("The loads", "head"));
    top->addStretch();
    arrest_ = button("Force of an arrest…", "link", "planArrest");
    arrest_->setToolTip("What a mass that is stopped puts on the part");
    top->addWidget(arrest_);
    column->addLayout(top);
    picture_ = new PlotView;
    picture_->setObjectName("loadsPicture");
    picture_->setFixedHeight(236);
    picture_->setEmptyWords("State the working load to see the loads of the run.");
    column->addWidget(picture_);
    words_ = label({}, "quiet");
    words_->setObjectName("loadsWords");
    words_->setWordWrap(true);
    column->addWidget(words_);
    connect(arrest_, &QPushButton::clicked, this, &LoadsView::arrestAsked);
}

void LoadsView::refresh()
{
    const Method& method = *session_.job().method;
    setVisible(method.profile != nullptr);
    if (!method.profile)
        return;
    std::optional<LoadProfile> profile;
    if (session_.hasSpecimen()) {
        const SpecimenInput& input = session_.specimen().input;
        const ExpectedLoad expected = expectedLoad(method, input);
        profile = method.profile({input, expected, planRates(method, input, expected).value_or(RatePlan{})});
    }
    if (profile)
        picture_->show(plotOfProfile(*profile));
    else
        picture_->clear();
    QStringList words;
    if (profile)
        for (const std::string& one : profile->words)
            words << q(one);
    // What is weaker than it is thought of stops the run, or gives way.
    const auto weakest = weakestLink(trainOf(session_.document().json(), method));
    if (weakest) {
        QString link = QString("Weakest of the load train: %1, %2.")
                           .arg(q(weakest->name), shownQuantity(weakest->capacity, method.train.load));
        if (profile)
            for (const LoadLevel& level : profile->levels)
                if (level.stop && level.load > 1.001 * weakest->capacity)
                    link += " The limit that is stated for the fixture is above it.";
        words << link;
    } else {
        words << "No capacity of the load train is known: choose cell and fixture on Set up.";
    }
    words_->setText(words.join("\n"));
}

} // namespace fortitor
