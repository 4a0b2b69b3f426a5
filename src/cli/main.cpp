// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"

#include <CLI/CLI.hpp>

#include <cstdio>
#include <exception>

int main(int argc, char** argv)
{
    using namespace fortitor::cli;
    CLI::App app{"Fortitor on the command line: reads jobs and records, works out results.", "fortitor-cli"};
    app.set_version_flag("--version", "fortitor-cli " FORTITOR_VERSION);
    app.require_subcommand(1);

    std::string job;
    std::string out;
    bool outside = false;
    auto* analyseCommand = app.add_subcommand("analyse", "Read a job and its records, write the results as JSON");
    analyseCommand->add_option("job", job, "Job file (JSON)")->required();
    analyseCommand->add_option("--out", out, "Write the results there instead of printing them");
    analyseCommand->add_flag("--allow-outside", outside, "Records may lie outside the job's folder");

    std::string specimen;
    std::uint64_t seed = 1;
    auto* simulateCommand = app.add_subcommand("simulate", "Make a record on the simulated frame");
    simulateCommand->add_option("--specimen", specimen, "Name from the catalogue, or \"list\"")->required();
    simulateCommand->add_option("--seed", seed, "The same seed gives the same bytes");
    simulateCommand->add_option("--out", out, "Record to write (CSV)");
    simulateCommand->add_option("--job", job, "Write a job file beside it, with the truth");

    std::string logbookFile;
    auto* logbookCommand = app.add_subcommand("logbook", "Look after a logbook");
    logbookCommand->require_subcommand(1);
    auto* checkCommand = logbookCommand->add_subcommand("check", "Check the file, the chain of the journal and every record");
    checkCommand->add_option("file", logbookFile, "Logbook")->required();
    std::vector<std::string> heads;
    checkCommand->add_option("--against", heads, "Heads of the journal (.head) that were kept outside");

    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        return app.exit(error) == 0 ? done : wrongCommand;
    }
    try {
        if (*analyseCommand)
            return analyse(job, out, outside);
        if (*checkCommand)
            return checkLogbook(logbookFile, heads);
        return simulate(specimen, seed, out, job);
    } catch (const std::exception& error) {
        std::fprintf(stderr, "fortitor-cli: a fault in the program: %s\n", error.what());
        return otherFailure;
    }
}
