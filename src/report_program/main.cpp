// SPDX-License-Identifier: GPL-3.0-or-later
// fortitor-report: the report of a job file as PDF, without a display and without a logbook.
#include "cli/worked_job.h"
#include "report/pages.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>

#include <QDate>
#include <QGuiApplication>

#include <exception>
#include <filesystem>

namespace fortitor {
namespace {

struct Wanted {
    std::string job, pdf;
    ReportChoices choices{};
    bool outside = false;
};

int complain(const Problem& problem, int code)
{
    fmt::print(stderr, "fortitor-report: {}\n", problem.text());
    return code;
}

int write(const Wanted& wanted)
{
    const auto job = cli::jobOf(wanted.job);
    if (!job)
        return complain(job.problem(), cli::wrongInput);
    const JobOutcome outcome =
        analyseJob(*job, std::filesystem::path(wanted.job).parent_path().string(), wanted.outside);
    for (const SpecimenOutcome& s : outcome.specimens)
        if (s.problem)
            complain(*s.problem, 0);
    const int code = cli::exitCode(outcome);
    if (code == cli::wrongInput)
        return code; // nothing was worked out: what an older report says stays
    if (const auto written = writePdf(wanted.pdf, makeReport(*job, outcome, wanted.choices)); !written)
        return complain(written.problem(), cli::otherFailure);
    return code;
}

} // namespace
} // namespace fortitor

int main(int argc, char** argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    fortitor::Wanted wanted;
    wanted.choices.date = QDate::currentDate().toString("yyyy-MM-dd").toStdString();
    CLI::App app{"The report of a job as PDF.", "fortitor-report"};
    app.set_version_flag("--version", "fortitor-report " FORTITOR_VERSION);
    app.add_option("job", wanted.job, "Job file (JSON)")->required();
    app.add_option("--pdf", wanted.pdf, "The report to write")->required();
    app.add_option("--laboratory", wanted.choices.laboratory, "Name at its head");
    app.add_flag("--derivations", wanted.choices.derivations, "With the working of each result");
    app.add_flag("--allow-outside", wanted.outside, "Records may lie outside the job's folder");
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        return app.exit(error) == 0 ? fortitor::cli::done : fortitor::cli::wrongCommand;
    }
    try {
        const QGuiApplication gui(argc, argv);
        return fortitor::write(wanted);
    } catch (const std::exception& error) {
        fmt::print(stderr, "fortitor-report: a fault in the program: {}\n", error.what());
        return fortitor::cli::otherFailure;
    }
}
