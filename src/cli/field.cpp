// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"
#include "jobs/exchange.h"
#include "jobs/job.h"
#include "methods/fatigue_sn/displacement_field.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>

#include <memory>

namespace fortitor::cli {
namespace {

struct FieldFlags {
    std::string file, toe, length = "2 mm", along, out;
};

int wrongField(const Problem& problem)
{
    fmt::print(stderr, "fortitor-cli: {}\n", problem.text());
    return wrongInput;
}

int runField(const FieldFlags& t)
{
    const auto gauges = readGauges(t.toe, t.length, t.along);
    if (!gauges)
        return wrongField(gauges.problem());
    const auto record = recordOfField(t.file, *gauges);
    if (!record)
        return wrongField(record.problem());
    const std::string text = exchangeCsv(*record);
    if (t.out.empty()) {
        fmt::print("{}", text);
        return done;
    }
    const auto kept = writeFileWhole(t.out, text);
    if (kept)
        return done;
    fmt::print(stderr, "fortitor-cli: {}\n", kept.problem().text());
    return otherFailure;
}

} // namespace

std::function<int()> fieldCommand(CLI::App& app)
{
    const auto t = std::make_shared<FieldFlags>();
    auto* command =
        app.add_subcommand("field",
                           "Lay extensometers across a weld toe over a field of displacements (a grid in CSV)");
    command->add_option("file", t->file, "Columns cycles, x, y, u, v; a row a point")->required();
    command->add_option("--toe", t->toe, "Where the toe runs, across the load: y = 12 mm")->required();
    command->add_option("--length", t->length, "Of an extensometer, half on either side")->capture_default_str();
    command->add_option("--along", t->along, "A place each along the toe: 0, 5, 10 mm")->required();
    command->add_option("--out", t->out, "Write the record there instead of printing it");
    return [t] { return runField(*t); };
}

} // namespace fortitor::cli
