// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/compare_page.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "draw/overlay.h"
#include "app/widgets/basics.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QPainter>
#include <QVBoxLayout>

#include <algorithm>

namespace fortitor {

ComparePage::ComparePage(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("comparePage");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(28, 18, 24, 16);
    row->setSpacing(24);
    auto* left = new QVBoxLayout;
    left->setSpacing(10);
    left->addWidget(label("Compare", "title"));
    search_ = new QLineEdit;
    search_->setObjectName("compareSearch");
    search_->setPlaceholderText("label, number or title");
    search_->setClearButtonEnabled(true);
    search_->setMinimumHeight(32);
    left->addWidget(search_);
    list_ = new QListWidget;
    list_->setObjectName("compareList");
    list_->setFixedWidth(264);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setTextElideMode(Qt::ElideRight);
    left->addWidget(list_, 1);
    row->addLayout(left);
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    auto* tools = new QHBoxLayout;
    auto* byWord = label("grouped by", "quiet");
    byWord->setWordWrap(false);
    by_ = new QComboBox;
    by_->setObjectName("compareBy");
    for (const char* key : {"job", "direction", "batch", "operator", "specimen"})
        by_->addItem(key, key);
    tools->addWidget(byWord);
    tools->addWidget(by_);
    tools->addStretch();
    savePicture_ = button("Save the picture…", "link", "comparePicture");
    saveData_ = button("Save the data…", "link", "compareData");
    tools->addWidget(savePicture_);
    tools->addWidget(saveData_);
    right->addLayout(tools);
    plot_ = new PlotView;
    plot_->setObjectName("comparePlot");
    plot_->setMinimumSize(320, 220);
    right->addWidget(plot_, 3);
    words_ = label({}, "quiet");
    words_->setObjectName("compareWords");
    words_->setTextFormat(Qt::RichText);
    right->addWidget(words_);
    table_ = new QTableWidget;
    table_->setObjectName("compareTable");
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionMode(QAbstractItemView::NoSelection);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(25);
    table_->setShowGrid(false);
    right->addWidget(table_, 2);
    row->addLayout(right, 1);
    connect(search_, &QLineEdit::textChanged, this, &ComparePage::refresh);
    connect(list_, &QListWidget::itemChanged, this, &ComparePage::pick);
    connect(by_, &QComboBox::activated, this, &ComparePage::rebuild);
    connect(&Theme::instance(), &Theme::changed, this, &ComparePage::rebuild);
    connect(&Units::instance(), &Units::changed, this, &ComparePage::rebuild);
    connect(savePicture_, &QPushButton::clicked, this, [this] {
        const QString path =
            QFileDialog::getSaveFileName(this, "Save the picture", "comparison.png", "Picture (*.png)");
        if (!path.isEmpty() && !savePicture(path))
            words_->setText("The picture could not be written to " + path.toHtmlEscaped());
    });
    connect(saveData_, &QPushButton::clicked, this, [this] {
        const QString path =
            QFileDialog::getSaveFileName(this, "Save the data", "comparison.csv", "Comma-separated text (*.csv)");
        if (!path.isEmpty() && !saveData(path))
            words_->setText("The data could not be written to " + path.toHtmlEscaped());
    });
}

bool ComparePage::savePicture(const QString& path)
{
    return plot_->savePicture(path);
}

bool ComparePage::saveData(const QString& path)
{
    // The figures in one file, the curves in one beside it.
    const QFileInfo file(path);
    const QString curves = file.path() + "/" + file.completeBaseName() + "-curves.csv";
    return writeFileWhole(s(path), comparisonCsv(comparison_, compared()))
        && writeFileWhole(s(curves), curvesCsv(compared()));
}

void ComparePage::refresh()
{
    const QSignalBlocker quiet(list_);
    list_->clear();
    for (const SpecimenRow& row : session_.logbook().specimens(search_->text().trimmed(), 300)) {
        if (row.stage < 2)
            continue;
        auto* item =
            new QListWidgetItem(row.number + "  " + row.label + (row.title.isEmpty() ? "" : "   " + row.title));
        item->setData(Qt::UserRole, QVariant::fromValue<qlonglong>(row.job));
        item->setData(Qt::UserRole + 1, row.position);
        item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
        item->setCheckState(picked_.contains({row.job, row.position}) ? Qt::Checked : Qt::Unchecked);
        item->setToolTip(plain(row.number + " " + row.label + ", " + row.title + "\n" + row.figures));
        list_->addItem(item);
    }
    rebuild();
}

void ComparePage::pick(QListWidgetItem* item)
{
    const Key key{item->data(Qt::UserRole).toLongLong(), item->data(Qt::UserRole + 1).toInt()};
    if (item->checkState() != Qt::Checked) {
        picked_.erase(key);
        std::erase(order_, key);
        rebuild();
        return;
    }
    QString problem;
    auto body = session_.logbook().loadJob(key.first);
    auto job = body ? readJob(*body) : Expected<Job>(body.problem());
    if (!job || static_cast<size_t>(key.second) >= job->specimens.size()) {
        problem = job ? QString("That specimen is gone.") : q(job.problem().text());
    } else {
        const Specimen& specimen = job->specimens[static_cast<size_t>(key.second)];
        std::shared_ptr<const Record> record =
            specimen.readings ? std::make_shared<const Record>(*specimen.readings) : nullptr;
        if (!record) {
            auto loaded = session_.logbook().loadRecord(q(specimen.recordId));
            if (loaded)
                record = *loaded;
            else
                problem = q(loaded.problem().text());
        }
        SpecimenOutcome out = analyseSpecimen(specimen, *job, record);
        if (out.outcome && out.outcome->curve()) {
            Picked one{q(job->number + " " + specimen.label),
                       {{"job", job->number}, {"specimen", job->number + " " + specimen.label}},
                       std::move(*out.outcome),
                       job->method};
            for (const char* note : {"direction", "batch", "operator"})
                if (const auto it = specimen.input.notes.find(note); it != specimen.input.notes.end())
                    one.by[note] = it->second;
            picked_[key] = std::move(one);
            order_.push_back(key);
        } else if (problem.isEmpty()) {
            problem =
                q(specimen.label + " has no curve: " + (out.problem ? out.problem->text() : "its remarks say why."));
        }
    }
    if (!picked_.contains(key)) {
        const QSignalBlocker quiet(list_);
        item->setCheckState(Qt::Unchecked);
    }
    rebuild();
    if (!problem.isEmpty())
        words_->setText(problem.toHtmlEscaped());
}

std::vector<ComparedSpecimen> ComparePage::compared() const
{
    const std::string by = s(by_->currentData().toString());
    std::vector<ComparedSpecimen> out;
    for (const Key& key : order_) {
        const Picked& one = picked_.at(key);
        const auto it = one.by.find(by);
        out.push_back({it == one.by.end() ? "not noted" : it->second, s(one.label), &one.outcome});
    }
    return out;
}

/// The curves laid over each other; a curve of other axes than the first is left out.
Plot ComparePage::plotOfPicked(const std::vector<ComparedSpecimen>& specimens, bool byGroup) const
{
    std::vector<OverlaidCurve> curves;
    for (size_t i = 0; i < order_.size(); ++i) {
        const auto group =
            static_cast<size_t>(std::ranges::find(comparison_.groups, specimens[i].group) - comparison_.groups.begin());
        curves.push_back({.view = picked_.at(order_[i]).outcome.curve(),
                          .label = q(byGroup ? specimens[i].group : specimens[i].label),
                          .kind = byGroup ? group : i});
    }
    Plot plot = overlayOf(curves, units()).plot;
    plot.x.title += ", from the corrected origin";
    plot.names = byGroup || curves.size() > 8 ? Plot::Names::Legend : Plot::Names::Ends;
    return plot;
}

void ComparePage::rebuild()
{
    const auto specimens = compared();
    comparison_ = compareGroups(specimens);
    plot_->show(plotOfPicked(specimens, comparison_.groups.size() > 1 && comparison_.groups.size() < specimens.size()));
    const bool any = !order_.empty();
    plot_->setVisible(any);
    table_->setVisible(any);
    savePicture_->setEnabled(any);
    saveData_->setEnabled(any);
    fillTable();
    if (!any) {
        words_->setText(
            list_->count() == 0
                ? "No specimen has a record yet."
                : "Tick specimens at the left to lay their curves over each other, and to see how their figures "
                  "differ.");
        return;
    }
    bool mixed = false;
    for (const Key& key : order_)
        mixed = mixed || picked_.at(key).method != picked_.at(order_.front()).method;
    QString text;
    if (mixed)
        text += "Specimens of different methods: only figures of the same name are compared. ";
    if (comparison_.groups.size() > 1)
        text += "Mean, s and number of each group. Differences are to " + q(comparison_.groups.front()).toHtmlEscaped()
            + ", with the 95 % interval of Welch; a bold one is larger than its interval.";
    else
        text += "One group only: tick specimens of another, or group otherwise.";
    words_->setText(text);
}

void ComparePage::fillTable()
{
    table_->clear();
    const bool several = comparison_.groups.size() > 1;
    QStringList heads{"figure"};
    for (size_t g = 0; g < comparison_.groups.size(); ++g) {
        heads << q(comparison_.groups[g]);
        if (g > 0)
            heads << "difference";
    }
    table_->horizontalHeader()->setTextElideMode(Qt::ElideRight);
    table_->setColumnCount(static_cast<int>(heads.size()));
    table_->setHorizontalHeaderLabels(heads);
    table_->setRowCount(static_cast<int>(comparison_.figures.size()));
    const Method* method = order_.empty() ? nullptr : picked_.at(order_.front()).method;
    int r = 0;
    for (const ComparedFigure& f : comparison_.figures) {
        const ResultSpec spec = specFor(*method, f.symbol);
        const auto shown = [&](double own) {
            return showValue(spec, f.unit->toBase(own), 0, RoundingRule::FourDigits, units());
        };
        const auto put = [&](int column, const QString& text, bool bold) {
            auto* item = new QTableWidgetItem(text);
            QFont font = column == 0 ? wordFont(13) : figureFont(12);
            font.setBold(bold);
            item->setFont(font);
            item->setForeground(bold || column == 0 ? pal().ink : pal().quiet);
            item->setTextAlignment((column == 0 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
            table_->setItem(r, column, item);
        };
        const QString unit = q(shown(f.groups.front().mean).unit);
        put(0, q(symbolText(f.symbol)) + (unit.isEmpty() ? "" : ", " + unit), false);
        int column = 1;
        for (size_t g = 0; g < f.groups.size(); ++g) {
            const SetStatistics& s = f.groups[g];
            put(column++,
                s.n == 0       ? QString("–")
                    : s.n == 1 ? q(shown(s.mean).text) + ", 1"
                               : q(shown(s.mean).text) + ", " + q(formatSignificant(shown(s.sd).value, 2)) + ", "
                        + QString::number(s.n),
                false);
            if (g == 0)
                continue;
            if (const auto& d = f.against[g])
                put(column++,
                    (d->difference > 0 ? "+" : "") + q(shown(d->difference).text) + " ± "
                        + q(formatSignificant(shown(d->halfWidth).value, 2)),
                    d->told());
            else
                put(column++, several && s.n > 0 && f.groups[0].n > 0 ? "two of each needed" : "–", false);
        }
        ++r;
    }
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setStretchLastSection(true);
    for (int c = 1; c < table_->columnCount(); ++c)
        table_->horizontalHeaderItem(c)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
}

void ComparePage::paintEvent(QPaintEvent*)
{
    QPainter(this).fillRect(rect(), pal().surface);
}

} // namespace fortitor
