// SPDX-License-Identifier: GPL-3.0-or-later
// One indent, or one number looked up on another scale.
#include "cli/commands.h"
#include "jobs/analysis.h"
#include "methods/hardness/conversion.h"
#include "methods/hardness/from_picture.h"
#include "methods/hardness/notation.h"
#include "vision/vision.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>

#include <cmath>
#include <fstream>
#include <iterator>
#include <memory>

namespace fortitor::cli {
namespace {

/// What was typed behind the flags.
struct Typed {
    std::string force, ball, dwell, scale, depth, from, to, file, kind, table;
    std::string material = "steel";
    std::vector<std::string> lengths;
};

int wrong(const Problem& problem)
{
    fmt::print(stderr, "fortitor-cli: {}\n", problem.text());
    return wrongInput;
}

Expected<Quantity> read(const char* flag, const std::string& text, Kind kind)
{
    auto q = parseQuantity(text, kind);
    if (q)
        return q;
    Problem p = q.problem();
    p.place = flag;
    return p;
}

Expected<Pressed> pressedBy(const Typed& typed, bool byBall)
{
    Pressed pressed;
    auto force = read("--force", typed.force, Kind::Force);
    if (!force)
        return force.problem();
    pressed.force = force->base;
    if (byBall) {
        auto ball = read("--ball", typed.ball, Kind::Length);
        if (!ball)
            return ball.problem();
        pressed.ball = ball->base;
    }
    if (!typed.dwell.empty()) {
        auto dwell = read("--dwell", typed.dwell, Kind::Time);
        if (!dwell)
            return dwell.problem();
        pressed.dwell = dwell->base;
    }
    return pressed;
}

Expected<std::vector<Quantity>> lengthsOf(const char* flag, const Typed& typed)
{
    std::vector<Quantity> all;
    for (const std::string& text : typed.lengths) {
        auto one = read(flag, text, Kind::Length);
        if (!one)
            return one.problem();
        all.push_back(*one);
    }
    return all;
}

const HardnessScale* scaleOf(const std::string& name)
{
    const HardnessScale* scale = findHardnessScale(name);
    if (!scale) {
        std::string known;
        for (const HardnessScale& one : hardnessScales())
            known += (known.empty() ? "" : ", ") + std::string(one.name);
        wrong({"scale", '"' + name + '"', "one of " + known, {}});
    }
    return scale;
}

Json remarksJson(const std::vector<Remark>& remarks)
{
    Json list = Json::array();
    for (const Remark& one : remarks)
        list.push_back(remarkJson(one));
    return list;
}

int print(const Expected<IndentReading>& indent)
{
    if (!indent)
        return wrong(indent.problem());
    Json j;
    j["value"] = nullptr;
    j["notation"] = nullptr;
    if (const auto& read = indent->read) {
        j["value"] = read->value();
        j["notation"] = indent->notation;
        j["formula"] = formulaText(*read);
        j["working"] = workingText(*read);
    }
    j["remarks"] = remarksJson(indent->remarks);
    fmt::print("{}\n", j.dump(2));
    if (indent->read)
        return done;
    for (const Remark& one : indent->remarks)
        fmt::print(stderr, "fortitor-cli: {} {}\n", one.text, one.advice);
    return noResult;
}

int rockwell(const Typed& typed)
{
    const HardnessScale* scale = scaleOf(typed.scale);
    if (!scale)
        return wrongInput;
    auto depth = read("--depth", typed.depth, Kind::Length);
    return depth ? print(rockwellIndent(*scale, *depth)) : wrong(depth.problem());
}

int underTheLens(const Typed& typed, HardnessScale::By by, const char* flag)
{
    const bool ball = by == HardnessScale::By::Brinell;
    const auto pressed = pressedBy(typed, ball);
    if (!pressed)
        return wrong(pressed.problem());
    const auto lengths = lengthsOf(flag, typed);
    if (!lengths)
        return wrong(lengths.problem());
    if (by == HardnessScale::By::Knoop)
        return print(knoopIndent(*pressed, *lengths));
    const std::array two{lengths->at(0), lengths->at(1)};
    return print(ball ? brinellIndent(*pressed, two) : vickersIndent(*pressed, two));
}

Json pointJson(const PixelPoint& p)
{
    return Json::array({p.x, p.y});
}

int noPicture(const Problem& why)
{
    Json j;
    j["value"] = nullptr;
    j["notation"] = nullptr;
    j["remarks"] = remarksJson({{"not-read", Severity::Reject, {}, why.text(), {}, {}}});
    fmt::print("{}\n", j.dump(2));
    wrong(why);
    return noResult;
}

/// An indent by its picture: corners or rim, lengths, hardness with its uncertainty.
int picture(const Typed& typed)
{
    const bool ball = typed.kind == "brinell";
    if (!ball && typed.kind != "vickers" && typed.kind != "knoop")
        return wrong({"--kind", '"' + typed.kind + '"', "vickers, knoop or brinell", {}});
    auto scale = read("--scale", typed.scale, Kind::Length);
    if (!scale || !(scale->base > 0))
        return wrong(scale ? Problem{"--scale", '"' + typed.scale + '"', "a length above zero", {}} : scale.problem());
    auto pressed = pressedBy(typed, ball);
    if (!pressed)
        return wrong(pressed.problem());
    pressed->forceDoubt = verifiedForceDoubt(pressed->force);
    const auto reader = vision();
    if (!reader)
        return wrong(reader.problem());
    const auto bytes = pictureBytes(typed.file);
    if (!bytes)
        return wrong(bytes.problem());
    const auto grey = (*reader)->decode(*bytes, typed.file);
    if (!grey)
        return wrong(grey.problem());
    using enum HardnessScale::By;
    const auto by = ball ? Brinell : typed.kind == "knoop" ? Knoop : Vickers;
    const auto found = (*reader)->find(*grey, shapeOf(by));
    if (!found)
        return noPicture(found.problem());
    const MarkedIndent marked = markedBy(*found);
    const auto reading = readMarked(by, *pressed, marked, {scale->base, 0, "as stated"});
    if (!reading)
        return wrong(reading.problem());
    const IndentReading* indent = &reading->indent;
    Json j;
    j["value"] = indent->read ? Json(indent->read->value()) : Json(nullptr);
    j["notation"] = indent->read ? Json(indent->notation) : Json(nullptr);
    j[ball ? "diameters" : "diagonals"] = {reading->lengths[0].base, reading->lengths[1].base};
    if (ball) {
        j["rim"] = {
            {"centre", pointJson(found->centre)}, {"half_axes", {found->halfA, found->halfB}}, {"angle", found->angle}};
    } else {
        j["corners"] = Json::array();
        for (const PixelPoint& corner : marked.ends)
            j["corners"].push_back(pointJson(corner));
    }
    if (indent->read)
        j["uncertainty"] = reading->budget.expanded;
    j["remarks"] = remarksJson(indent->remarks);
    fmt::print("{}\n", j.dump(2));
    return indent->read ? done : noResult;
}

int convert(const Typed& typed)
{
    auto number = read("--from", typed.from, Kind::Hardness);
    if (!number)
        return wrong(number.problem());
    const HardnessScale* from = scaleOf(std::string(number->unit->symbol));
    const HardnessScale* to = scaleOf(typed.to);
    if (!from || !to)
        return wrongInput;
    auto converted = Expected<Converted>(Problem{});
    if (typed.table.empty()) {
        converted = convertHardness(number->base, *from, *to, typed.material);
    } else {
        std::ifstream file(typed.table, std::ios::binary);
        if (!file)
            return wrong({typed.table, "no file that can be read", "a table of conversion", {}});
        const auto own = readConversionTable(std::string(std::istreambuf_iterator<char>(file), {}), typed.table);
        if (!own)
            return wrong(own.problem());
        converted = convertByTable(number->base, *from, *to, *own);
    }
    Json j;
    j["value"] = nullptr;
    j["table"] = nullptr;
    if (converted) {
        j["value"] = converted->value;
        j["table"] = converted->table;
        j["remarks"] = remarksJson(converted->remarks);
        fmt::print("{}\n", j.dump(2));
        return done;
    }
    const Problem& why = converted.problem();
    j["remarks"] = remarksJson({{"not-converted", Severity::Reject, {}, why.text(), {}, {}}});
    fmt::print("{}\n", j.dump(2));
    wrong(why);
    return noResult;
}

} // namespace

std::function<int()> hardnessCommands(CLI::App& app)
{
    auto typed = std::make_shared<Typed>();
    auto* hardness = app.add_subcommand("hardness", "One indent as hardness, or a number on another scale");
    hardness->require_subcommand(1);
    const auto make = [&](const char* name, const char* words) { return hardness->add_subcommand(name, words); };
    const auto force = [&](CLI::App* command) {
        command->add_option("--force", typed->force, "\"98.07 N\" or \"10 kgf\"")->required();
        command->add_option("--dwell", typed->dwell, "How long it stood, \"12 s\"");
    };
    auto* rockwellCommand = make("rockwell", "From the lasting depth");
    rockwellCommand->add_option("--scale", typed->scale, "HRC, HRB, HR30N …")->required();
    rockwellCommand->add_option("--depth", typed->depth, "\"0.112 mm\"")->required();

    auto* brinellCommand = make("brinell", "From two diameters across");
    force(brinellCommand);
    brinellCommand->add_option("--ball", typed->ball, "\"10 mm\"")->required();
    brinellCommand->add_option("--indent", typed->lengths, "Both diameters")->required()->expected(2);

    auto* vickersCommand = make("vickers", "From two diagonals");
    force(vickersCommand);
    vickersCommand->add_option("--diagonals", typed->lengths, "Both diagonals")->required()->expected(2);

    auto* knoopCommand = make("knoop", "From the long diagonal");
    force(knoopCommand);
    knoopCommand->add_option("--long-diagonal", typed->lengths, "Whole, or its two halves")->required()->expected(1, 2);

    auto* pictureCommand = make("picture", "From a picture of the indent");
    pictureCommand->add_option("FILE", typed->file, "PNG, JPEG, TIFF or BMP")->required();
    pictureCommand->add_option("--kind", typed->kind, "vickers, knoop or brinell")->required();
    pictureCommand->add_option("--scale", typed->scale, "Length of a pixel's side, \"0.1736 um\"")->required();
    force(pictureCommand);
    pictureCommand->add_option("--ball", typed->ball, "\"2.5 mm\", of Brinell");

    auto* convertCommand = make("convert", "Looked up in a table of conversion");
    convertCommand->add_option("--from", typed->from, "\"45 HRC\"")->required();
    convertCommand->add_option("--to", typed->to, "HV, HBW, HRB …")->required();
    convertCommand->add_option("--material", typed->material, "steel (not austenitic)");
    convertCommand->add_option("--table", typed->table, "A table of your own, CSV");

    return [=] {
        using enum HardnessScale::By;
        if (*rockwellCommand)
            return rockwell(*typed);
        if (*brinellCommand)
            return underTheLens(*typed, Brinell, "--indent");
        if (*vickersCommand)
            return underTheLens(*typed, Vickers, "--diagonals");
        if (*knoopCommand)
            return underTheLens(*typed, Knoop, "--long-diagonal");
        if (*pictureCommand)
            return picture(*typed);
        return convert(*typed);
    };
}

} // namespace fortitor::cli
