// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/report/report_page.h"

#include "store/person_key.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/busy.h"
#include "report/scrap_labels.h"

#include <QDate>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QPainter>
#include <QPaintEvent>
#include <QSettings>
#include <QVBoxLayout>

namespace fortitor {

void PagePreview::show(std::shared_ptr<const Report> report)
{
    report_ = std::move(report);
    pages_ = report_ ? std::make_unique<ReportPages>(*report_) : nullptr;
    fit();
    update();
}

void PagePreview::fit()
{
    const auto count = pages_ ? static_cast<double>(pages_->count()) : 1;
    setMinimumHeight(static_cast<int>(count * (ReportPages::height * scale() + 16) + 24));
}

void PagePreview::paintEvent(QPaintEvent* event)
{
    QPainter painter(this);
    if (!pages_)
        return;
    const double k = scale();
    const double x = (width() - ReportPages::width * k) / 2;
    for (size_t i = 0; i < pages_->count(); ++i) {
        const double y = 16 + static_cast<double>(i) * (ReportPages::height * k + 16);
        const QRectF sheet(x, y, ReportPages::width * k, ReportPages::height * k);
        if (!sheet.intersects(event->rect()))
            continue;
        painter.save();
        painter.translate(x, y);
        painter.scale(k, k);
        painter.setClipRect(QRectF(0, 0, ReportPages::width, ReportPages::height));
        pages_->paint(painter, i);
        painter.restore();
        painter.setPen(pal().hair);
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(sheet);
    }
}

ReportPage::ReportPage(Session& session, QWidget* parent) : Page(session, parent)
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 20, 0);
    row->setSpacing(20);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setObjectName("reportScroll");
    preview_ = new PagePreview;
    scroll->setWidget(preview_);
    row->addWidget(scroll, 1);
    auto* column = new QVBoxLayout;
    column->setContentsMargins(0, 18, 0, 14);
    column->setSpacing(8);
    row->addLayout(column);
    const auto fixed = [](QWidget* w) {
        w->setFixedWidth(216);
        return w;
    };
    column->addWidget(fixed(label("What it shows", "head")));
    connect(&session, &Session::kept, this, [this] {
        if (isVisible())
            refresh();
    });
    QSettings settings;
    laboratory_ = new QLineEdit(settings.value("laboratory", "Skerrow Bench").toString());
    laboratory_->setObjectName("laboratory");
    laboratory_->setToolTip("Name of the laboratory on the page");
    column->addWidget(fixed(laboratory_));
    curves_ = new QCheckBox("curves");
    dimensions_ = new QCheckBox("dimensions as measured");
    remarks_ = new QCheckBox("remarks, who settled them and why");
    remarks_->setText("remarks and reasons");
    derivations_ = new QCheckBox("derivations, as an appendix");
    curves_->setObjectName("reportCurves");
    derivations_->setObjectName("reportDerivations");
    for (QCheckBox* box : {curves_, dimensions_, remarks_})
        box->setChecked(true);
    for (QCheckBox* box : {curves_, dimensions_, remarks_, derivations_}) {
        column->addWidget(fixed(box));
        connect(box, &QCheckBox::toggled, this, &ReportPage::refresh);
    }
    column->addSpacing(8);
    column->addWidget(fixed(label("Rounding", "head")));
    rounding_ = new QComboBox;
    rounding_->setObjectName("reportRounding");
    rounding_->addItems({"steps, half to even", "steps, half up", "four digits"});
    rounding_->setToolTip(
        "Steps of ISO 6892-1: strengths to 1 MPa, elongations to 0.5 %, Z to 1 %. For print only; files keep every "
        "digit.");
    column->addWidget(fixed(rounding_));
    column->addSpacing(12);
    auto* pdf = button("Save as PDF…", "primary", "savePdf");
    auto* xlsx = button("Figures as XLSX…", "", "saveXlsx");
    auto* csv = button("Figures as CSV…", "", "saveCsv");
    auto* json = button("Results as JSON…", "", "saveJson");
    scrap_ = button("Labels for scrap…", "", "saveScrap");
    scrap_->setToolTip("A label for each part that was loaded, so that none of them is ever used again");
    for (QPushButton* b : {pdf, xlsx, csv, json, scrap_})
        column->addWidget(fixed(b));
    connect(scrap_, &QPushButton::clicked, this, [this] { ask("labels.pdf", "PDF (*.pdf)"); });
    note_ = label({}, "quiet");
    note_->setObjectName("reportNote");
    column->addWidget(fixed(note_));
    column->addStretch();
    connect(rounding_, &QComboBox::activated, this, &ReportPage::refresh);
    connect(laboratory_, &QLineEdit::editingFinished, this, [this] {
        QSettings().setValue("laboratory", laboratory_->text());
        refresh();
    });
    connect(pdf, &QPushButton::clicked, this, [this] { ask("pdf", "PDF (*.pdf)"); });
    connect(xlsx, &QPushButton::clicked, this, [this] { ask("xlsx", "Workbook (*.xlsx)"); });
    connect(csv, &QPushButton::clicked, this, [this] { ask("csv", "Comma-separated (*.csv)"); });
    connect(json, &QPushButton::clicked, this, [this] { ask("json", "Results (*.json)"); });
}

ReportChoices ReportPage::choices() const
{
    ReportChoices c;
    c.laboratory = s(laboratory_->text());
    c.testedBy = s(session_.who());
    c.rounding = rounding_->currentIndex() == 0 ? RoundingRule::StepsToEven
        : rounding_->currentIndex() == 1        ? RoundingRule::StepsAwayFromZero
                                                : RoundingRule::FourDigits;
    c.curves = curves_->isChecked();
    c.dimensions = dimensions_->isChecked();
    c.remarks = remarks_->isChecked();
    c.derivations = derivations_->isChecked();
    c.date = s(QDate::currentDate().toString("yyyy-MM-dd"));
    const JournalHead head = session_.logbook().head();
    c.journal = s(QString("journal line %1, hash %2").arg(head.line).arg(head.hash));
    if (const auto signature = session_.logbook().signatureOf(session_.jobId()))
        c.journal += s(QString("; approved and signed by %1 in line %2, key %3")
                           .arg(signature->who)
                           .arg(signature->line)
                           .arg(keyWords(signature->key)));
    return c;
}

void ReportPage::refresh()
{
    if (!session_.isOpen())
        return;
    scrap_->setVisible(session_.job().method->scraps);
    scrap_->setEnabled(!scrapLabels(session_.job(), session_.outcome(), {}).empty());
    preview_->show(std::make_shared<const Report>(makeReport(session_.job(), session_.outcome(), choices())));
}

void ReportPage::ask(const QString& ending, const QString& filter)
{
    if (!session_.isOpen())
        return;
    const QString folder = QSettings().value("reportFolder").toString();
    const QString name = q(session_.job().number.empty() ? "report" : session_.job().number) + "." + ending;
    const QString path =
        QFileDialog::getSaveFileName(this, "Save", folder.isEmpty() ? name : folder + "/" + name, filter);
    if (path.isEmpty())
        return;
    QSettings().setValue("reportFolder", QFileInfo(path).absolutePath());
    save(path.endsWith("." + ending) ? path : path + "." + ending);
}

bool ReportPage::save(const QString& path)
{
    session_.finish(); // the head is to hold all that is written
    session_.settleWork();
    const Report report = makeReport(session_.job(), session_.outcome(), choices());
    Expected<Done> done = Done{};
    if (path.endsWith(".labels.pdf")) {
        done = writeScrapLabels(s(path), scrapLabels(session_.job(), session_.outcome(), report.choices));
    } else if (path.endsWith(".pdf")) {
        Busy busy("Writing " + path, this);
        done = busy.run([&](const Progress& progress) { return writePdf(s(path), report, progress); });
    } else if (path.endsWith(".xlsx"))
        done = writeXlsx(s(path), session_.job(), session_.outcome(), report);
    else if (path.endsWith(".csv"))
        done = writeFileWhole(s(path), reportCsv(session_.outcome(), report.choices.journal));
    else {
        Json results = resultsJson(session_.job(), session_.outcome());
        results["journal"] = report.choices.journal;
        done = writeFileWhole(s(path), results.dump(2, ' ', false, Json::error_handler_t::replace) + "\n");
    }
    note_->setText(done ? "Saved: " + path : q(done.problem().text()));
    if (done)
        emit saved(path);
    return static_cast<bool>(done);
}

QStringList ReportPage::keys() const
{
    return {"Ctrl+P|save as PDF", "Tab|the choices", "Page up, Page down|the pages"};
}

} // namespace fortitor
