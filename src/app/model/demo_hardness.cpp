// SPDX-License-Identifier: GPL-3.0-or-later
// The demo's hardness: a bar on both sides of a scale's limit, bushes read under the lens, pins with a case.
#include "app/model/demo_hardness.h"

#include "jobs/edits.h"
#include "jobs/single_readings.h"
#include "methods/common/figures.h"
#include "methods/hardness/desk.h"
#include "methods/hardness/from_picture.h"
#include "methods/hardness/hardness.h"
#include "sim/indent_camera.h"
#include "sim/indented_piece.h"
#include "store/logbook.h"
#include "units/quantity.h"

#include <QBuffer>
#include <QDateTime>
#include <QImage>

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

/// Readings of a piece as the simulated tester gives them, at places or without.
Json readings(const std::map<std::string, std::string>& options, const IndentedPiece& piece, const std::string& way,
              size_t count, const std::vector<Spot>& places = {}, std::optional<size_t> uneven = {})
{
    SpecimenInput input;
    input.options = options;
    const HardnessSetting setting = *settingOf(input);
    const auto ways = entryWays(setting.scale->by);
    const auto chosen = std::ranges::find(ways, way, &EntryWay::words);
    Json lists;
    for (size_t i = 0; i < count; ++i) {
        const Spot* place = i < places.size() ? &places[i] : nullptr;
        const double number = indentedNumber(piece, i, place ? place->depth : std::nullopt);
        const double apart = uneven == i ? 0.056 : 0.004 * (static_cast<double>(i * 7 % 5) - 2);
        for (const auto& [name, text] : readingsOf(setting, *chosen, number, apart))
            lists[name].push_back(text);
        if (place) {
            lists["x"].push_back(fmt::format("{:.4g} mm", place->x + 0.0));
            lists["y"].push_back(fmt::format("{:.4g} mm", place->y + 0.0));
            if (place->depth)
                lists["from_surface"].push_back(fmt::format("{:.4g} mm", *place->depth));
        }
    }
    return lists;
}

Json placesJson(const std::vector<Spot>& places)
{
    Json list = Json::array();
    for (const Spot& place : places) {
        list.push_back(
            {{"x", fmt::format("{:.4g} mm", place.x + 0.0)}, {"y", fmt::format("{:.4g} mm", place.y + 0.0)}});
        if (place.depth)
            list.back()["depth"] = fmt::format("{:.4g} mm", *place.depth);
    }
    return list;
}

Json jobOf(const char* number, const char* title, const char* material,
           const std::map<std::string, std::string>& options)
{
    Json job = edits::newJob(number, title, *findMethod(hardness().id), 0);
    job["material"] = {{"name", material}};
    for (const auto& [key, value] : options)
        job["options"][key] = value;
    return job;
}

/// A block that the tester reads so much too high.
IndentedPiece blockOf(double number, double high, std::uint64_t seed)
{
    return {.core = number, .surface = number, .scatter = 0.004, .tester = high, .seed = seed};
}

/// So many days ago, at a time of the morning.
std::string daysAgo(int days, int minutes)
{
    return QDateTime(QDate::currentDate().addDays(-days), QTime(8, 0))
        .addSecs(60 * minutes)
        .toString("yyyy-MM-ddTHH:mm")
        .toStdString();
}

/// The same tester on the same block, each working day: the last week it reads higher and higher.
Json blockChecks()
{
    const std::map<std::string, std::string> options{{"scale", "HRC"}, {"expected", "45 HRC"}};
    Json job = jobOf("J-0098", "Daily block checks, tester R-2", "reference block", options);
    for (int i = 0; i < 16; ++i) {
        const double drift = i > 8 ? 0.11 * (i - 8) : 0;
        const IndentedPiece made = blockOf(45.2, (0.15 + drift) / 45.2, 200 + static_cast<std::uint64_t>(i));
        Json one{{"label", fmt::format("D{}", i + 1)},
                 {"dimensions", {{"shape", "block"}, {"thickness", "10 mm"}, {"diameter", "60 mm"}}},
                 {"notes",
                  {{"block", "45.2 HRC"},
                   {"finish", "ground"},
                   {"tester", "tester R-2"},
                   {"read_at", daysAgo(3 + (15 - i) + 2 * ((15 - i) / 5), 10 + 3 * (i % 4))}}}};
        const auto places = planGrid(0, -20 + 2.2 * i, 5, 1, 2.2);
        one["places"] = placesJson(places);
        one["readings"] = readings(options, made, "number", 5, places);
        job["specimens"].push_back(one);
    }
    Json today{{"label", "D17"},
               {"dimensions", {{"shape", "block"}, {"thickness", "10 mm"}, {"diameter", "60 mm"}}},
               {"notes", {{"block", "45.2 HRC"}, {"finish", "ground"}, {"tester", "tester R-2"}}}};
    job["specimens"].push_back(today);
    return job;
}

/// Where and when a job's pieces were read, in their order.
void noteTester(Json& job, const char* tester, int days)
{
    int minutes = 20;
    for (Json& one : job["specimens"])
        if (one.contains("readings")) {
            one["notes"]["tester"] = tester;
            one["notes"]["read_at"] = daysAgo(days, minutes += 12);
        }
}

Json stainlessBar()
{
    const std::map<std::string, std::string> soft{{"scale", "HRB"}, {"expected", "97 HRB"}};
    const std::map<std::string, std::string> hard{{"scale", "HRC"}, {"expected", "24 HRC"}};
    Json job = jobOf("J-0112", "Backstay bar, hardness of the lot", "X20Cr13", soft);
    job["requirements"] = Json::array({Json{{"symbol", "H"}, {"max", "100 HRB"}}});
    const auto piece = [&](const char* label, std::uint64_t seed, double number, size_t count) {
        Json one{{"label", label},
                 {"dimensions", {{"shape", "bar"}, {"thickness", "12.1 mm"}, {"diameter", "12.1 mm"}}}};
        one["notes"] = {{"finish", "ground"}, {"operator", seed % 2 == 0 ? "operator A" : "operator B"}};
        const IndentedPiece made{.core = number, .surface = number, .scatter = 0.006, .seed = seed};
        if (count > 0)
            one["readings"] = readings(soft, made, "number", count);
        return one;
    };
    Json block{{"label", "block B"}, {"dimensions", {{"shape", "block"}, {"thickness", "10 mm"}}}};
    block["notes"] = {{"block", "92.4 HRB"}, {"after_change", "yes"}, {"finish", "ground"}};
    block["readings"] = readings(soft, blockOf(92.4, 0.003, 5), "number", 7);
    job["specimens"].push_back(block);
    job["specimens"].push_back(piece("S1", 11, 96.4, 5));
    job["specimens"].push_back(piece("S2", 12, 98.6, 5));
    job["specimens"].push_back(piece("S3", 13, 101.8, 3)); // over the band: to be read on the cone
    Json cone = piece("S3c", 14, 24.2, 0);
    cone["options"] = {{"scale", "HRC"}, {"expected", "24 HRC"}};
    cone["notes"]["after_change"] = "yes";
    cone["readings"] = readings(hard, {.core = 24.2, .surface = 24.2, .scatter = 0.015, .seed = 15}, "number", 7);
    job["specimens"].push_back(cone);
    job["specimens"].push_back(piece("S4", 16, 97.0, 2));
    job["specimens"].push_back(piece("S5", 17, 97.0, 0));
    return job;
}

Json castBushes()
{
    const std::map<std::string, std::string> options{
        {"scale", "HBW"}, {"force", "7355 N"}, {"ball", "5 mm"}, {"expected", "205 HBW"}};
    Json job = jobOf("J-0113", "Cast bushes, hardness", "grey iron", options);
    job["requirements"] = Json::array({Json{{"symbol", "H"}, {"min", "180 HBW"}, {"max", "230 HBW"}}});
    const IndentedKind& kind = *indentedKind("grey iron", "HBW");
    Json block{{"label", "block H"}, {"dimensions", {{"shape", "block"}, {"thickness", "16 mm"}}}};
    block["notes"] = {{"block", "207 HBW"}, {"finish", "ground"}};
    block["readings"] = readings(options, blockOf(207, -0.004, 21), "diameters", 3);
    job["specimens"].push_back(block);
    for (std::uint64_t i = 0; i < 6; ++i) {
        Json one{{"label", fmt::format("C{}", i + 1)},
                 {"dimensions", {{"shape", "disc"}, {"diameter", "38 mm"}, {"thickness", "14 mm"}}}};
        one["notes"] = {{"finish", "ground"}, {"operator", "operator A"}};
        std::vector<Spot> places = planGrid(0, 0, 3, 1, 8);
        one["places"] = placesJson(places);
        const size_t made = i < 4 ? 3 : i == 4 ? 1 : 0;
        places.resize(made);
        if (made > 0)
            one["readings"] = readings(options, drawPiece(kind, 30 + i), "diameters", made, places);
        job["specimens"].push_back(one);
    }
    return job;
}

Json sillPins()
{
    const std::map<std::string, std::string> options{{"scale", "HV"},
                                                     {"force", "9.807 N"},
                                                     {"expected", "600 HV"},
                                                     {"case_limit", "550 HV"},
                                                     {"filar_factor", "0.25 um"}};
    Json job = jobOf("J-0114", "Sill pins, case-hardened", "16MnCr5", options);
    job["requirements"] = Json::array({Json{{"symbol", "CHD"}, {"min", "0.6 mm"}, {"max", "0.9 mm"}}});
    const IndentedKind& kind = *indentedKind("16MnCr5", "HV");
    Json block{{"label", "block V"}, {"dimensions", {{"shape", "block"}, {"thickness", "6 mm"}}}};
    block["notes"] = {{"block", "729 HV"}, {"finish", "polished"}};
    block["readings"] = readings(options, blockOf(729, 0.004, 41), "diagonals", 5);
    job["specimens"].push_back(block);
    const auto places = planTraverse(0.15, 0.1, 13, 0.24);
    for (std::uint64_t i = 0; i < 4; ++i) {
        Json one{{"label", fmt::format("P{}", i + 1)},
                 {"dimensions", {{"shape", "mounted piece"}, {"layer_depth", "0.8 mm"}, {"thickness", "12 mm"}}}};
        one["notes"] = {{"finish", "polished"}, {"operator", "operator B"}};
        one["places"] = placesJson(places);
        const size_t made = i == 0 || i == 2 ? places.size() : i == 1 ? 6 : 0;
        if (made > 0)
            one["readings"] = readings(options, drawPiece(kind, 50 + i), "diagonals", made, places,
                                       i == 1 ? std::optional<size_t>(4) : std::nullopt);
        job["specimens"].push_back(one);
    }
    return job;
}

/// The pictures that the readings of a specimen were taken from, with the ends where a person placed them.
void photograph(HardnessDemo& demo, Json& job, const std::string& label, const std::array<std::string, 2>& names,
                IndentShape shape, const PixelScale& scale)
{
    Json& specimen = *std::ranges::find_if(job["specimens"], [&](const Json& one) { return one["label"] == label; });
    const auto length = [&](size_t k, size_t i) {
        return parseQuantity(specimen["readings"][names[k]][i].get<std::string>(), Kind::Length)->base;
    };
    for (size_t i = 0; i < specimen["readings"][names[0]].size(); ++i) {
        const IndentShot shot{.shape = shape,
                              .first = length(0, i),
                              .second = length(1, i),
                              .pixel = scale.side,
                              .angle = std::numbers::pi / 2 + 0.02 * (static_cast<double>(i % 5) - 2),
                              .offX = static_cast<double>(i * 37 % 31) - 15,
                              .offY = static_cast<double>(i * 53 % 23) - 11,
                              .seed = 70 + i};
        const GreyPicture seen = takeShot(shot);
        const QImage image(seen.pixels.data(), seen.width, seen.height, seen.width, QImage::Format_Grayscale8);
        QByteArray bytes;
        QBuffer into(&bytes);
        into.open(QIODevice::WriteOnly);
        image.save(&into, "PNG");
        const std::string name = fmt::format("{}-{}-{:02}.png", job["job"]["number"].get<std::string>(), label, i + 1);
        MarkedIndent marked;
        const double a = shot.first / 2 / shot.pixel, b = shot.second / 2 / shot.pixel;
        const double c = std::cos(shot.angle), s = std::sin(shot.angle);
        const double x = (shot.width - 1) / 2.0 + shot.offX, y = (shot.height - 1) / 2.0 + shot.offY;
        const PixelPoint ends[] = {
            {x - a * c, y - a * s}, {x + b * s, y - b * c}, {x + a * c, y + a * s}, {x - b * s, y + b * c}};
        for (size_t k = 0; k < 4; ++k)
            placeByHand(marked, k, ends[k]);
        PictureTaken taken{.sha256 = Logbook::pictureDigest(bytes).toStdString(),
                           .file = name,
                           .pixel = formatSignificant(scale.side * 1000, 6) + " um",
                           .scale = scale.words};
        for (const PixelPoint& p : marked.ends)
            taken.placed.push_back({std::round(p.x * 10) / 10, std::round(p.y * 10) / 10});
        for (size_t k = 0; k < 2; ++k)
            taken.doubts[names[k]] = formatSignificant(marked.doubts[k] * scale.side * 1000, 3) + " um";
        specimen["pictures"].push_back(pictureJson(taken, i + 1));
        demo.pictures.emplace_back(QString::fromStdString(name), bytes);
    }
}

} // namespace

HardnessDemo demoHardness()
{
    HardnessDemo demo{{sillPins(), castBushes(), stainlessBar(), blockChecks()}, {}};
    noteTester(demo.jobs[0], "tester M-1", 1);
    noteTester(demo.jobs[1], "tester H-3", 2);
    noteTester(demo.jobs[2], "tester R-2", 2);
    // The pin that is half read came from the camera; of the bushes the one that is begun.
    const PixelScale fine{0.1736e-3, 0.0006e-3 / std::sqrt(3.0), "objective 40×"};
    const PixelScale coarse{6.04e-3, 0.02e-3 / std::sqrt(3.0), "objective Brinell lens 2×"};
    photograph(demo, demo.jobs[0], "P2", {"diagonal_1", "diagonal_2"}, IndentShape::Square, fine);
    photograph(demo, demo.jobs[1], "C5", {"diameter_1", "diameter_2"}, IndentShape::Round, coarse);
    return demo;
}

} // namespace fortitor
