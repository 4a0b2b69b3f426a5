// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/pages.h"
#include "report/report.h"

#include "jobs/edits.h"
#include "sim/catalogue.h"

#include <gtest/gtest.h>

#include <QFile>
#include <QImage>
#include <QProcess>
#include <QTemporaryDir>

#include <sstream>

namespace fortitor {
namespace {

/// A judged set of simulated bars.
struct Set {
    explicit Set(int count, const char* min = "290 MPa", const char* entryName = "rigger-tube")
    {
        const CatalogueEntry& entry = *findCatalogueEntry(entryName);
        Json json = edits::newJob("J-0101", "Rigger tube", *findMethod(entry.method), 0);
        json["material"]["name"] = entry.material;
        json["requirements"] = Json::array({{{"symbol", "Rm"}, {"min", min}}, {{"symbol", "A"}, {"min", "8 %"}}});
        std::vector<std::shared_ptr<const Record>> made;
        for (int i = 1; i <= count; ++i) {
            auto run = simulateRun(entry, static_cast<std::uint64_t>(i), count > 5 ? 1200 : 4000);
            Json specimen{{"label", "A" + std::to_string(i)}, {"dimensions", {{"shape", "round"}}}};
            for (const auto& [key, values] : run.specimen.dimensions)
                specimen["dimensions"][key] = values;
            json["specimens"].push_back(specimen);
            made.push_back(std::make_shared<const Record>(std::move(run.record)));
        }
        source = json;
        read(made);
    }
    void read(const std::vector<std::shared_ptr<const Record>>& from)
    {
        records = from;
        job = *readJob(source);
        outcome = {};
        for (size_t i = 0; i < job.specimens.size(); ++i)
            outcome.specimens.push_back(analyseSpecimen(job.specimens[i], job, records[i]));
        analyseSet(job, outcome);
    }
    Json source;
    Job job;
    JobOutcome outcome;
    std::vector<std::shared_ptr<const Record>> records;
};

TEST(VerdictSentence, SaysHowManyAndWhoNot)
{
    Set good(3, "250 MPa");
    EXPECT_EQ(verdictSentence(good.job, good.outcome), "All 3 meet Rm ≥ 250 MPa · A ≥ 8 %.");
    Set bad(3, "900 MPa");
    const std::string words = verdictSentence(bad.job, bad.outcome);
    EXPECT_EQ(words.substr(0, 8), "0 of 3 m");
    EXPECT_NE(words.find("Not met by A1 (Rm 30"), std::string::npos) << words;
    Set mixed(3, "250 MPa");
    mixed.source["specimens"][1]["excluded"] = "grip slipped";
    mixed.source["specimens"][2]["dimensions"].erase("final_gauge_length");
    mixed.read(mixed.records);
    const std::string open = verdictSentence(mixed.job, mixed.outcome);
    EXPECT_NE(open.find("1 of 2 meet"), std::string::npos) << open;
    EXPECT_NE(open.find("Still open: A3"), std::string::npos) << open;
    mixed.source["requirements"] = Json::array();
    mixed.read(mixed.records);
    EXPECT_NE(verdictSentence(mixed.job, mixed.outcome).find("nothing is judged"), std::string::npos);
}

TEST(Report, RowsColumnsAndRounding)
{
    Set set(4);
    const Report even = makeReport(set.job, set.outcome, {});
    ASSERT_EQ(even.rows.size(), 4u);
    const auto column = [](const Report& r, const char* symbol) {
        return static_cast<size_t>(std::ranges::find(r.columns, symbol, &ReportColumn::symbol) - r.columns.begin());
    };
    const size_t Rm = column(even, "Rm");
    EXPECT_EQ(even.columns[Rm].wanted, "≥ 290");
    const double value = *set.outcome.specimens[0].outcome->find("Rm")->value;
    EXPECT_EQ(even.rows[0].cells[Rm].text, formatFixed(roundToStep(value, 1), 0));
    ReportChoices four;
    four.rounding = RoundingRule::FourDigits;
    EXPECT_EQ(makeReport(set.job, set.outcome, four).rows[0].cells[Rm].text, formatSignificant(value, 4));
    EXPECT_EQ(even.statistics.front().first, "mean");
    EXPECT_EQ(even.curves.size(), 4u);
    EXPECT_TRUE(even.derivations.empty());
}

TEST(Report, FailuresRemarksAndReasons)
{
    Set set(2, "900 MPa");
    set.source["specimens"][0]["dimensions"]["diameter"] = {"10.00 mm", "10.00 mm", "10.00 mm"};
    set.source["specimens"][0]["settled"] = Json::array(
        {{{"code", "nominal-dimension"}, {"who", "operator B"}, {"why", "measured again"}, {"when", "2026-11-24"}}});
    set.read(set.records);
    const Report r = makeReport(set.job, set.outcome, {});
    const size_t Rm =
        static_cast<size_t>(std::ranges::find(r.columns, "Rm", &ReportColumn::symbol) - r.columns.begin());
    EXPECT_TRUE(r.rows[0].cells[Rm].failed);
    EXPECT_EQ(r.rows[0].verdict, "fail");
    const auto settled =
        std::ranges::find_if(r.remarks, [](const ReportRemark& x) { return x.remark.code == "nominal-dimension"; });
    ASSERT_NE(settled, r.remarks.end());
    EXPECT_NE(settled->settledBy.find("operator B"), std::string::npos);
    EXPECT_NE(settled->settledBy.find("measured again"), std::string::npos);
}

TEST(Report, CsvHoldsEveryDigit)
{
    Set set(3);
    std::istringstream csv(reportCsv(set.outcome));
    std::string head;
    std::getline(csv, head);
    EXPECT_TRUE(head.starts_with("specimen,E (MPa),E U k=2"));
    std::string row;
    std::getline(csv, row);
    std::istringstream cells(row);
    std::string label;
    std::string E;
    std::getline(cells, label, ',');
    std::getline(cells, E, ',');
    EXPECT_EQ(label, "A1");
    EXPECT_EQ(std::stod(E), *set.outcome.specimens[0].outcome->find("E")->value);
    const auto commas = [](const std::string& line) { return std::ranges::count(line, ','); };
    for (std::string line; std::getline(csv, line);)
        EXPECT_EQ(commas(line), commas(head)) << line;
}

TEST(Report, XlsxIsAWorkbook)
{
    Set set(3);
    const QTemporaryDir folder;
    const std::string path = folder.filePath("r.xlsx").toStdString();
    const Report r = makeReport(set.job, set.outcome, {});
    ASSERT_TRUE(writeXlsx(path, set.job, set.outcome, r));
    QFile file(QString::fromStdString(path));
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    EXPECT_TRUE(file.readAll().startsWith("PK"));
    const auto refused = writeXlsx("/no/such/folder/r.xlsx", set.job, set.outcome, r);
    ASSERT_FALSE(refused);
    EXPECT_NE(refused.problem().text().find("/no/such/folder"), std::string::npos);
}

TEST(Report, OnePageForASetAndMoreForMany)
{
    Set five(5);
    EXPECT_EQ(ReportPages(makeReport(five.job, five.outcome, {})).count(), 1u);
    ReportChoices appendix;
    appendix.derivations = true;
    EXPECT_GT(ReportPages(makeReport(five.job, five.outcome, appendix)).count(), 2u);
    Set forty(40);
    EXPECT_GE(ReportPages(makeReport(forty.job, forty.outcome, {})).count(), 2u);
}

TEST(Report, NothingIsPaintedOutsideThePage)
{
    Set set(40);
    ReportChoices all;
    all.derivations = true;
    const ReportPages pages(makeReport(set.job, set.outcome, all));
    for (size_t i = 0; i < std::min<size_t>(pages.count(), 6); ++i) {
        QImage image(595 + 60, 842 + 60, QImage::Format_RGB32);
        image.fill(Qt::green);
        QPainter painter(&image);
        painter.translate(30, 30);
        pages.paint(painter, i);
        painter.end();
        for (int x = 0; x < image.width(); ++x)
            for (int y : {5, 25, 842 + 35, 842 + 55})
                ASSERT_EQ(image.pixelColor(x, y), QColor(Qt::green)) << i;
        // The margins of the sheet stay empty.
        for (int y = 40; y < 860; ++y) {
            ASSERT_EQ(image.pixelColor(30 + 30, y), QColor(Qt::white)) << i << " " << y;
            ASSERT_EQ(image.pixelColor(30 + 595 - 30, y), QColor(Qt::white)) << i << " " << y;
        }
    }
}

TEST(Report, SingleReadingsAndZonesAreListed)
{
    const Job job = *readJob(*parseJson(R"({"fortitor_job": 1, "job": {"number": "J-9"}, "method": "hardness",
        "material": {"name": "X20Cr13"}, "options": {"scale": "HRC"}, "specimens": [{"label": "W", "notes":
        {"after_change": "yes"}, "readings": {"value": ["30 HRC", "31 HRC", "40.2 HRC", "41 HRC", "52 HRC"]},
        "zones": {"weld": [3, 4], "base": [5]}}]})",
                                        "job"));
    const JobOutcome outcome = analyseJob(job, ".", false);
    const Report report = makeReport(job, outcome, {});
    ASSERT_EQ(report.rows[0].readings.size(), 3u);
    EXPECT_EQ(report.rows[0].readings[0], "40.2, 41.0, 52.0 HRC; set aside 30.0, 31.0");
    EXPECT_EQ(report.rows[0].readings[1], "base: mean 52.00 of 1, 52.00 to 52.00 HRC");
    EXPECT_EQ(report.rows[0].readings[2], "weld: mean 40.60 of 2, s 0.57, 40.20 to 41.00 HRC");
    EXPECT_TRUE(makeReport(Set(2).job, Set(2).outcome, {}).rows[0].readings.empty()) << "of a curve there are none";
}

TEST(Report, PdfSaysWhatTheReportSays)
{
    Set set(3);
    const QTemporaryDir folder;
    const QString path = folder.filePath("r.pdf");
    const Report r = makeReport(set.job, set.outcome, {});
    ASSERT_TRUE(writePdf(path.toStdString(), r));
    QProcess text;
    text.start("pdftotext", {"-layout", path, "-"});
    ASSERT_TRUE(text.waitForFinished());
    const QString words = QString::fromUtf8(text.readAllStandardOutput());
    for (const QString& part : {QString("Rigger tube"), QString("J-0101"), QString("Skerrow Bench"),
                                QString::fromStdString(r.rows[0].cells[0].text), QString("page 1 of 1")})
        EXPECT_TRUE(words.contains(part)) << part.toStdString();
    EXPECT_FALSE(writePdf("/no/such/folder/r.pdf", r));
}

TEST(Report, StoppingTheWritingLeavesNoFile)
{
    Set set(40);
    const QTemporaryDir folder;
    const QString path = folder.filePath("r.pdf");
    const Report r = makeReport(set.job, set.outcome, {});
    EXPECT_FALSE(writePdf(path.toStdString(), r, [](double) { return false; }));
    EXPECT_TRUE(QDir(folder.path()).entryList(QDir::Files).isEmpty());
}

} // namespace
} // namespace fortitor
