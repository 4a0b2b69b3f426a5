// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"
#include "units/nearest.h"

#include <CLI/CLI.hpp>

#include <algorithm>
#include <charconv>
#include <cstdio>
#include <exception>

namespace {

void gather(const CLI::App& app, std::vector<std::string>& commands, std::vector<std::string>& flags)
{
    for (const CLI::Option* option : app.get_options())
        for (const std::string& name : option->get_lnames())
            flags.push_back("--" + name);
    for (const CLI::App* sub : app.get_subcommands([](const CLI::App*) { return true; })) {
        commands.push_back(sub->get_name());
        gather(*sub, commands, flags);
    }
}

/// What was most likely meant by the first word that nobody knows.
void tellNearest(const CLI::App& app, int argc, char** argv)
{
    std::vector<std::string> commands;
    std::vector<std::string> flags;
    gather(app, commands, flags);
    for (int i = 1; i < argc; ++i) {
        const std::string word = argv[i];
        const bool flag = word.starts_with("--");
        const std::string name = word.substr(0, word.find('='));
        const auto& known = flag ? flags : commands;
        if ((!flag && i > 1) || std::ranges::find(known, name) != known.end())
            continue;
        const std::string meant = fortitor::nearestWords(name, known);
        std::fprintf(stderr, "fortitor-cli: \"%s\" is not known.%s\n", name.c_str(), meant.c_str());
        return;
    }
}

} // namespace

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
    std::string seedText = "1";
    auto* simulateCommand = app.add_subcommand("simulate", "Make a record on the simulated frame");
    simulateCommand->add_option("--specimen", specimen, "Name from the catalogue, or \"list\"")->required();
    simulateCommand->add_option("--seed", seedText, "The same seed gives the same bytes");
    simulateCommand->add_option("--out", out, "Record to write (CSV; of a load history raw float32, from midnight)");
    double hours = 1;
    simulateCommand->add_option("--hours", hours, "How long a load history is")->check(CLI::Range(0.01, 10000.0));
    simulateCommand->add_option("--job", job, "Write a job file beside it, with the truth");

    std::string logbookFile;
    auto* logbookCommand = app.add_subcommand("logbook", "Look after a logbook");
    logbookCommand->require_subcommand(1);
    auto* checkCommand =
        logbookCommand->add_subcommand("check", "Check the file, the chain of the journal and every record");
    checkCommand->add_option("file", logbookFile, "Logbook")->required();
    std::vector<std::string> heads;
    checkCommand->add_option("--against", heads, "Heads of the journal (.head) that were kept outside");

    const auto hardness = hardnessCommands(app);
    const auto spectrum = spectrumCommand(app);
    const auto field = fieldCommand(app);
    const auto report = reportCommand(app);

    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        if (app.exit(error) == 0)
            return done;
        tellNearest(app, argc, argv);
        return wrongCommand;
    }
    try {
        if (*analyseCommand)
            return analyse(job, out, outside);
        if (app.got_subcommand("hardness"))
            return hardness();
        if (app.got_subcommand("spectrum"))
            return spectrum();
        if (app.got_subcommand("field"))
            return field();
        if (app.got_subcommand("report"))
            return report();
        if (*checkCommand)
            return checkLogbook(logbookFile, heads);
        std::uint64_t seed = 0;
        const auto [end, error] = std::from_chars(seedText.data(), seedText.data() + seedText.size(), seed);
        if (error != std::errc() || end != seedText.data() + seedText.size()) {
            std::fprintf(stderr,
                         "fortitor-cli: --seed: found \"%s\", wanted a whole number from 0 to 18446744073709551615\n",
                         seedText.c_str());
            return wrongCommand;
        }
        return simulate(specimen, seed, out, job, hours);
    } catch (const std::exception& error) {
        std::fprintf(stderr, "fortitor-cli: a fault in the program: %s\n", error.what());
        return otherFailure;
    }
}
