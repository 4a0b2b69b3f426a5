// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/compare_page.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"

#include <QFontMetricsF>
#include <QPainter>

#include <algorithm>

namespace fortitor {
namespace {

constexpr int listWidth = 300;

} // namespace

ComparePage::ComparePage(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("comparePage");
    search_ = new QLineEdit(this);
    search_->setObjectName("compareSearch");
    search_->setPlaceholderText("label, number or title");
    search_->setGeometry(28, 62, listWidth - 40, 32);
    search_->setClearButtonEnabled(true);
    list_ = new QListWidget(this);
    list_->setObjectName("compareList");
    connect(search_, &QLineEdit::textChanged, this, &ComparePage::refresh);
    connect(list_, &QListWidget::itemChanged, this, &ComparePage::pick);
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void ComparePage::refresh()
{
    const QSignalBlocker quiet(list_);
    list_->clear();
    for (const SpecimenRow& row : session_.logbook().specimens(search_->text().trimmed(), 300)) {
        if (row.stage < 2)
            continue;
        auto* item = new QListWidgetItem(row.number + "  " + row.label + (row.title.isEmpty() ? "" : "   " + row.title));
        item->setData(Qt::UserRole, QVariant::fromValue<qlonglong>(row.job));
        item->setData(Qt::UserRole + 1, row.position);
        item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
        item->setCheckState(picked_.contains({row.job, row.position}) ? Qt::Checked : Qt::Unchecked);
        item->setToolTip(row.figures);
        list_->addItem(item);
    }
    list_->setGeometry(28, 104, listWidth - 40, std::max(60, height() - 124));
    update();
}

void ComparePage::pick(QListWidgetItem* item)
{
    const Key key{item->data(Qt::UserRole).toLongLong(), item->data(Qt::UserRole + 1).toInt()};
    problem_.clear();
    if (item->checkState() != Qt::Checked) {
        picked_.erase(key);
        std::erase(order_, key);
        update();
        return;
    }
    auto body = session_.logbook().loadJob(key.first);
    auto job = body ? readJob(*body) : Expected<Job>(body.problem());
    if (!job || static_cast<size_t>(key.second) >= job->specimens.size()) {
        problem_ = job ? QString("That specimen is gone.") : q(job.problem().text());
    } else {
        const Specimen& specimen = job->specimens[static_cast<size_t>(key.second)];
        std::shared_ptr<const Record> record = specimen.readings ? std::make_shared<const Record>(*specimen.readings) : nullptr;
        if (!record) {
            auto loaded = session_.logbook().loadRecord(q(specimen.recordId));
            if (loaded)
                record = *loaded;
            else
                problem_ = q(loaded.problem().text());
        }
        SpecimenOutcome out = analyseSpecimen(specimen, *job, record);
        if (out.outcome && out.outcome->curve) {
            picked_[key] = {q(job->number + " " + specimen.label), item->toolTip(), std::move(*out.outcome)};
            order_.push_back(key);
        } else if (problem_.isEmpty()) {
            problem_ = q(specimen.label + " has no curve: " + (out.problem ? out.problem->text() : "its remarks say why."));
        }
    }
    if (!picked_.contains(key)) {
        const QSignalBlocker quiet(list_);
        item->setCheckState(Qt::Unchecked);
    }
    update();
}

void ComparePage::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    list_->setGeometry(28, 104, listWidth - 40, std::max(60, height() - 124));
    QPainter painter(this);
    painter.fillRect(rect(), p.surface);
    painter.setFont(wordFont(17, QFont::DemiBold));
    painter.setPen(p.ink);
    painter.drawText(QPointF(28, 42), "Compare");
    painter.setPen(p.hair);
    painter.drawLine(listWidth + 4, 0, listWidth + 4, height());
    const QRectF room(listWidth + 30, 16, width() - listWidth - 60, height() - 40);
    painter.setFont(wordFont(13));
    painter.setPen(p.quiet);
    if (!problem_.isEmpty())
        painter.drawText(QRectF(room.left(), room.bottom() - 4, room.width(), 20), Qt::AlignLeft, problem_);
    if (order_.empty()) {
        painter.drawText(room, Qt::AlignCenter, list_->count() == 0 ? "No specimen has a record yet." : "Tick specimens at the left to lay their curves over each other.");
        return;
    }
    double maxX = 0.1;
    double maxY = 1;
    for (const Key& key : order_) {
        for (double e : picked_[key].outcome.curve->x)
            maxX = std::max(maxX, e * 100);
        for (double v : picked_[key].outcome.curve->y)
            maxY = std::max(maxY, v);
    }
    const double legend = 26.0 * static_cast<double>(std::min<size_t>(order_.size(), 10)) + 12;
    const auto [x0, x1] = roomyRange(0, maxX);
    const auto [y0, y1] = roomyRange(0, maxY);
    const Chart chart(QRectF(room.left() + 46, room.top() + 26, room.width() - 60, room.height() - 70 - legend), x0, x1, y0, y1);
    chart.drawAxes(painter, p, "strain, %, from the corrected origin", "stress, MPa");
    static constexpr Qt::PenStyle styles[] = {Qt::SolidLine, Qt::DashLine, Qt::DotLine};
    double y = room.bottom() - legend + 22;
    painter.setRenderHint(QPainter::Antialiasing);
    for (size_t i = 0; i < order_.size(); ++i) {
        const Picked& one = picked_[order_[i]];
        const QPen pen(p.data[i % p.data.size()], 1.7, styles[i / p.data.size() % 3]);
        chart.drawCurve(painter, one.outcome.curve->x, one.outcome.curve->y, pen, 100);
        if (i >= 10)
            continue;
        painter.setPen(pen);
        painter.drawLine(QPointF(room.left() + 46, y - 4), QPointF(room.left() + 76, y - 4));
        painter.setPen(p.ink);
        painter.setFont(wordFont(12.5, QFont::Medium));
        painter.drawText(QPointF(room.left() + 86, y), one.label);
        painter.setPen(p.quiet);
        painter.setFont(wordFont(12));
        painter.drawText(QPointF(room.left() + 186, y), QFontMetricsF(painter.font()).elidedText(one.figures, Qt::ElideRight, room.width() - 200));
        y += 26;
    }
}

} // namespace fortitor
