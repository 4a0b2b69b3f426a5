// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/report.h"

#include <xlsxwriter.h>

#include <cstdio>
#include <unistd.h>

namespace fortitor {

namespace {

lxw_col_t column(size_t c)
{
    return static_cast<lxw_col_t>(c);
}

void addResults(lxw_workbook* book, lxw_format* bold, const JobOutcome& outcome)
{
    lxw_worksheet* results = workbook_add_worksheet(book, "Results");
    worksheet_write_string(results, 0, 0, "specimen", bold);
    lxw_row_t row = 1;
    size_t last = 0;
    for (const SpecimenOutcome& s : outcome.specimens) {
        worksheet_write_string(results, row, 0, s.label.c_str(), nullptr);
        size_t c = 1;
        if (s.outcome)
            for (const Result& r : s.outcome->results) {
                worksheet_write_string(results, 0, column(c),
                                       (r.symbol + " (" + std::string(r.unit->symbol) + ")").c_str(), bold);
                worksheet_write_string(results, 0, column(c + 1), (r.symbol + " U, k=2").c_str(), bold);
                if (r.value)
                    worksheet_write_number(results, row, column(c), r.unit->fromBase(*r.value), nullptr);
                if (r.value && r.budget.expanded > 0)
                    worksheet_write_number(results, row, column(c + 1), r.budget.expanded / r.unit->factor, nullptr);
                c += 2;
            }
        last = std::max(last, c);
        ++row;
    }
    worksheet_write_string(results, 0, column(last), "verdict", bold);
    worksheet_write_string(results, 0, column(last + 1), "left out because", bold);
    row = 1;
    for (const SpecimenOutcome& s : outcome.specimens) {
        worksheet_write_string(results, row, column(last), std::string(verdictName(s.verdict)).c_str(), nullptr);
        worksheet_write_string(results, row++, column(last + 1), s.excludedBecause.c_str(), nullptr);
    }
}

void addStatistics(lxw_workbook* book, lxw_format* bold, const JobOutcome& outcome)
{
    lxw_worksheet* set = workbook_add_worksheet(book, "Statistics");
    const char* heads[] = {"symbol", "unit", "n", "mean", "s", "CV %", "min", "max", "95 % half width"};
    for (size_t c = 0; c < std::size(heads); ++c)
        worksheet_write_string(set, 0, column(c), heads[c], bold);
    lxw_row_t row = 1;
    for (const SetFigure& f : outcome.batch) {
        worksheet_write_string(set, row, 0, f.symbol.c_str(), nullptr);
        worksheet_write_string(set, row, 1, std::string(f.unit->symbol).c_str(), nullptr);
        const SetStatistics& s = f.statistics;
        const double values[] = {static_cast<double>(s.n), s.mean, s.sd, s.cvPercent, s.min, s.max, s.ciHalfWidth};
        for (size_t c = 0; c < std::size(values); ++c)
            if (s.n > 1 || c < 2)
                worksheet_write_number(set, row, column(c + 2), values[c], nullptr);
        ++row;
    }
}

void addDimensions(lxw_workbook* book, const Job& job)
{
    lxw_worksheet* sizes = workbook_add_worksheet(book, "Dimensions");
    lxw_row_t row = 0;
    for (const Specimen& s : job.specimens)
        for (const auto& [key, readings] : s.input.dimensions) {
            worksheet_write_string(sizes, row, 0, s.label.c_str(), nullptr);
            worksheet_write_string(sizes, row, 1, key.c_str(), nullptr);
            for (size_t c = 0; c < readings.size(); ++c)
                worksheet_write_string(sizes, row, column(c + 2), readings[c].text.c_str(), nullptr);
            ++row;
        }
}

void addRemarks(lxw_workbook* book, const Report& report)
{
    lxw_worksheet* remarks = workbook_add_worksheet(book, "Remarks");
    lxw_row_t row = 0;
    for (const ReportRemark& r : report.remarks) {
        const std::string cells[] = {r.label, std::string(severityName(r.remark.severity)), r.remark.code,
                                     r.remark.text, r.settledBy};
        for (size_t c = 0; c < std::size(cells); ++c)
            worksheet_write_string(remarks, row, column(c), cells[c].c_str(), nullptr);
        ++row;
    }
}

} // namespace

Expected<Done> writeXlsx(const std::string& path, const Job& job, const JobOutcome& outcome, const Report& report)
{
    const std::string beside = path + ".part" + std::to_string(::getpid());
    lxw_workbook* book = workbook_new(beside.c_str());
    const Problem failed{path, "the workbook could not be written", "room and rights in the folder",
                         "What was there before is unchanged."};
    if (!book)
        return failed;
    lxw_format* bold = workbook_add_format(book);
    format_set_bold(bold);
    addResults(book, bold, outcome);
    addStatistics(book, bold, outcome);
    addDimensions(book, job);
    addRemarks(book, report);
    if (workbook_close(book) != LXW_NO_ERROR || std::rename(beside.c_str(), path.c_str()) != 0) {
        std::remove(beside.c_str());
        return failed;
    }
    return Done{};
}

} // namespace fortitor
