// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/analysis.h"
#include "methods/display.h"

#include <string>
#include <vector>

namespace fortitor {

struct ReportChoices {
    std::string laboratory = "Skerrow Bench";
    std::string testedBy;
    RoundingRule rounding = RoundingRule::StepsToEven;
    UnitSystem units = UnitSystem::SI; ///< of the table; what is printed and saved stays SI
    bool curves = true;
    bool dimensions = true;
    bool remarks = true;
    bool derivations = false;
    std::string date; ///< as it will print
    std::string journal; ///< where the journal stood: "journal line 12, hash …"; empty: not from a logbook
};

struct ReportColumn {
    std::string symbol;
    std::string unit;
    std::string wanted; ///< "≥ 290", empty without a requirement
};

struct ReportCell {
    std::string text = "–";
    double value = 0;
    bool known = false;
    bool failed = false;
    std::string uncertainty;
};

struct ReportRow {
    std::string label;
    std::vector<ReportCell> cells;
    std::string verdict;
    std::string excludedBecause;
    std::string problem;
    std::vector<std::string> dimensions; ///< "diameter 10.02, 10.01, 10.02 mm" …
    std::vector<std::string> readings; ///< single ones, and zones, where the method is read so
};

struct ReportRemark {
    std::string label;
    Remark remark;
    std::string settledBy; ///< who, when and why; empty while open
};

struct ReportDerivation {
    std::string label;
    std::string symbol;
    std::vector<WorkingLine> lines;
    Budget budget;
    double perBase = 1;
    std::string unit;
};

/// A result of the set as a whole.
struct ReportSetFigure {
    std::string symbol, name, text, unit, uncertainty;
    std::string wanted; ///< "≥ 10 N/mm"; empty without a requirement
    std::string verdict; ///< of that requirement
    std::string why; ///< why it is missing
};

struct ReportCurve {
    std::string label;
    const CurveView* curve = nullptr;
};

/// Everything that the page, the tables and the files say, as words and numbers.
struct Report {
    ReportChoices choices;
    std::string number, title, material, method, standards, wanted, verdict;
    std::vector<ReportColumn> columns;
    std::vector<ReportRow> rows;
    std::vector<std::pair<std::string, std::vector<std::string>>> statistics; ///< "mean" → a text a column
    std::vector<ReportSetFigure> set; ///< what only the set as a whole gives
    std::vector<ReportRemark> remarks;
    std::vector<std::string> instruments;
    std::vector<ReportDerivation> derivations;
    std::vector<std::string> scatter; ///< of each figure that is wanted: where the scatter comes from, bounds
    std::vector<std::string> rules; ///< cited, with what they ask and where they stand written
    std::vector<std::string> told; ///< what the method says of each specimen and kind, in sentences
    const View* figure = nullptr; ///< of the set, where it shows itself by one; points into the outcome too
    std::vector<ReportCurve> curves; ///< points into the outcome, which must outlive the report
};

Report makeReport(const Job& job, const JobOutcome& outcome, const ReportChoices& choices);

/// "4 of 5 meet Rm ≥ 290 MPa and A ≥ 8 %; A3 does not (A 7.5 %)."
std::string verdictSentence(const Job& job, const JobOutcome& outcome);

/// "Rm ≥ 290 MPa · A ≥ 8 %"
std::string wantedText(const Job& job);
/// The requirements on results of the set as a whole, a sentence; empty without one.
std::string setSentence(const Job& job, const JobOutcome& outcome);
/// The requirements on the lot against its figures, a sentence each; empty without one.
std::string lotSentence(const Job& job, const JobOutcome& outcome);

/// The figures as comma-separated text: a row a specimen, unrounded, then the statistics.
std::string reportCsv(const JobOutcome& outcome, const std::string& journal = {});
/// The same as a workbook with sheets of results, statistics, dimensions and remarks.
Expected<Done> writeXlsx(const std::string& path, const Job& job, const JobOutcome& outcome, const Report& report);

} // namespace fortitor
