// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/read/zone_bar.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "jobs/single_readings.h"
#include "methods/common/figures.h"

#include <QHBoxLayout>

namespace fortitor {

ZoneBar::ZoneBar(Session& session, PlotView* plot, QWidget* parent) : QWidget(parent), session_(session), plot_(plot)
{
    setObjectName("zoneBar");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    zone_ = new QComboBox;
    zone_->setObjectName("zoneName");
    zone_->setEditable(true);
    zone_->addItems({"weld", "heat-affected zone", "base"});
    zone_->setMinimumWidth(160);
    zone_->setFocusPolicy(Qt::ClickFocus);
    zone_->setToolTip("A name of your own can be typed");
    brush_ = button("Brush", "", "zoneBrush");
    brush_->setCheckable(true);
    brush_->setToolTip("Drag over readings to put them into the zone; once more to stop");
    numbers_ = lineEdit("zoneNumbers", "or key them: 1-4, 7");
    numbers_->setMaximumWidth(150);
    numbers_->setToolTip("Numbers of readings, as they stand in the list; Enter puts them into the zone");
    connect(numbers_, &QLineEdit::returnPressed, this, &ZoneBar::keyed);
    out_ = button("Take out", "link", "zoneOut");
    out_->setToolTip("Takes all readings out of this zone");
    words_ = label({}, "quiet");
    words_->setObjectName("zoneWords");
    words_->setWordWrap(true);
    row->addWidget(label("Zone", "quiet"));
    row->addWidget(zone_);
    row->addWidget(brush_);
    row->addWidget(numbers_);
    row->addWidget(out_);
    row->addWidget(words_, 1);
    hide();
    connect(brush_, &QPushButton::toggled, plot_, &PlotView::setBrush);
    connect(plot_, &PlotView::brushed, this, &ZoneBar::brushed);
    connect(out_, &QPushButton::clicked, this, [this] {
        const auto& zones = session_.specimen().input.zones;
        if (const auto it = zones.find(s(zone_->currentText().trimmed())); it != zones.end())
            session_.apply(edits::zone(session_.document(), session_.current(), {}, it->second));
    });
}

void ZoneBar::show(const Outcome* outcome)
{
    const bool any = outcome && !outcome->readings.empty() && !outcome->views.empty();
    setVisible(any);
    if (!any) {
        brush_->setChecked(false);
        return;
    }
    QStringList words;
    for (const ReadingGroup& group : outcome->groups) {
        QString one =
            q(group.name) + QString(": %1 of %2").arg(q(formatSignificant(group.mean, 4))).arg(group.values.size());
        if (group.values.size() > 1)
            one += QString(", s %1, %2 to %3")
                       .arg(q(formatSignificant(group.sd, 2)), q(formatSignificant(group.least, 4)),
                            q(formatSignificant(group.greatest, 4)));
        words << one + " " + q(std::string(group.unit->symbol));
        if (zone_->findText(q(group.name)) < 0)
            zone_->addItem(q(group.name));
    }
    words_->setText(words.isEmpty() ? QString("mean and scatter of parts of the piece: choose a zone, then brush")
                                    : words.join("  ·  "));
}

void ZoneBar::colour(Plot& plot, const Outcome& outcome)
{
    size_t kind = 2;
    std::vector<PlotSeries> own;
    for (const ReadingGroup& group : outcome.groups) {
        auto x = std::make_shared<std::vector<double>>(), y = std::make_shared<std::vector<double>>();
        for (const PlotSeries& series : plot.series)
            for (size_t i = 0; i < series.names.size(); ++i)
                for (const size_t number : group.readings)
                    if (series.names[i] == QString::number(number)) {
                        x->push_back(series.x[i]);
                        y->push_back(series.y[i]);
                    }
        own.push_back({.x = *x, .y = *y, .label = q(group.name), .kind = kind++, .joined = false});
        plot.held.push_back(x);
        plot.held.push_back(y);
    }
    for (PlotSeries& one : own)
        plot.series.push_back(std::move(one));
}

void ZoneBar::brushed(const QStringList& names)
{
    std::vector<size_t> numbers;
    for (const QString& name : names)
        if (const auto number = name.toULongLong(); number > 0)
            numbers.push_back(number);
    put(numbers);
}

void ZoneBar::keyed()
{
    const auto numbers = readingNumbers(s(numbers_->text()), session_.specimenOutcome().outcome->readings.size());
    if (!numbers)
        return words_->setText(q(numbers.problem().text()));
    put(*numbers);
    numbers_->clear();
}

void ZoneBar::put(const std::vector<size_t>& numbers)
{
    const std::string zone = s(zone_->currentText().trimmed());
    if (!zone.empty() && !numbers.empty())
        session_.apply(edits::zone(session_.document(), session_.current(), zone, numbers));
}

} // namespace fortitor
