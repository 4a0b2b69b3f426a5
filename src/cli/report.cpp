// SPDX-License-Identifier: GPL-3.0-or-later
// The report of a job: drawn by a program of its own, so that the others do not wait for fonts and pages.
#include "cli/commands.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>

#include <cerrno>
#include <cstring>
#include <filesystem>
#include <memory>

#include <unistd.h>

namespace fortitor::cli {
namespace {

struct Wanted {
    std::string job, pdf, laboratory;
    bool outside = false, derivations = false;
};

int draw(const Wanted& wanted)
{
    std::error_code none;
    const auto own = std::filesystem::read_symlink("/proc/self/exe", none);
    const std::string program = (own.parent_path() / "fortitor-report").string();
    std::vector<std::string> words{program, wanted.job, "--pdf", wanted.pdf};
    if (!wanted.laboratory.empty())
        words.insert(words.end(), {"--laboratory", wanted.laboratory});
    if (wanted.outside)
        words.emplace_back("--allow-outside");
    if (wanted.derivations)
        words.emplace_back("--derivations");
    std::vector<char*> raw;
    for (std::string& word : words)
        raw.push_back(word.data());
    raw.push_back(nullptr);
    ::execv(program.c_str(), raw.data());
    fmt::print(stderr, "fortitor-cli: {}: {}. It comes with the application.\n", program, std::strerror(errno));
    return otherFailure;
}

} // namespace

std::function<int()> reportCommand(CLI::App& app)
{
    auto wanted = std::make_shared<Wanted>();
    auto* command = app.add_subcommand("report", "Read a job and its records, write its report as PDF");
    command->add_option("job", wanted->job, "Job file (JSON)")->required();
    command->add_option("--pdf", wanted->pdf, "The report to write")->required();
    command->add_option("--laboratory", wanted->laboratory, "Name at its head");
    command->add_flag("--derivations", wanted->derivations, "With the working of each result");
    command->add_flag("--allow-outside", wanted->outside, "Records may lie outside the job's folder");
    return [wanted] { return draw(*wanted); };
}

} // namespace fortitor::cli
