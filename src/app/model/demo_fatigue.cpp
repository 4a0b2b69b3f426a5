// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/demo_fatigue.h"

#include "app/model/live_frame.h"
#include "jobs/fatigue_job.h"
#include "methods/fatigue_sn/fatigue_sn.h"

#include "methods/spectrum/spectrum.h"
#include "sim/crack_record.h"
#include "sim/load_history.h"

#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QSaveFile>

#include <fmt/format.h>

namespace fortitor {

std::vector<Json> demoFatigue()
{
    const FatigueKind& kind = *findFatigueKind("rigger-lug");
    const std::string number = "J-0120";
    Json job = fatigueJob(kind, number, "Rigger lug, fatigue");
    job["options"] = {{"class", "71 MPa"},  {"bound", "tolerance"},    {"confidence", "75 %"},
                      {"survival", "95 %"}, {"run_out_cycles", "5e6"}, {"call", "operator A, extension 14"}};
    // The laboratory's own: potential over that of the whole piece, and depth.
    std::string calibration;
    for (const double depth : {0.0, 0.5, 1.0, 2.0, 3.0, 4.5, 6.0, 8.0, 10.0})
        calibration += fmt::format("{}{:.4f}: {:g}", calibration.empty() ? "" : "; ", potentialRatio(depth), depth);
    job["options"][fatigueKeys::calibration] = calibration;
    job["options"][fatigueKeys::geometry] = "0.3: 1.12; 10: 1.12";
    job["requirements"] = Json::array({Json{{"symbol", "S_char"}, {"min", "71 MPa"}}});
    constexpr double levels[] = {260, 260, 220, 220, 180, 180, 150, 150, 130, 75, 75, 130, 110, 110};
    constexpr size_t run = 11;
    constexpr double runOut = 5e6;
    QDateTime at = QDateTime::currentDateTime().addDays(-26);
    for (size_t i = 0; i < std::size(levels); ++i) {
        const std::string label = fmt::format("L{}", i + 1);
        const std::uint64_t seed = seedOf(number + label);
        Json one = fatigueSpecimen(kind, label, levels[i], seed);
        one["notes"]["operator"] = i % 2 == 0 ? "operator A" : "operator B";
        if (i < run) {
            runFatigueSpecimen(kind, one, levels[i], runOut, seed);
            const double cycles = std::stod(one["readings"]["cycles"][0].get<std::string>());
            if (i == demoWatched) {
                one["notes"][fatigueKeys::facesWatched] = "front";
                one["notes"][fatigueKeys::crackFace] = "front";
            }
            at = at.addSecs(static_cast<qint64>(cycles / kind.frequency) + 3600);
            one["notes"][fatigueKeys::ended] = at.toString("yyyy-MM-ddTHH:mm").toStdString();
        }
        job["specimens"].push_back(std::move(one));
    }
    return {job};
}

Record demoCrack(const Json& job)
{
    const Json& piece = job["specimens"][demoWatched];
    return simulatedCrack({.range = std::stod(piece["readings"]["range"][0].get<std::string>()),
                           .life = std::stod(piece["readings"]["cycles"][0].get<std::string>())},
                          seedOf("J-0120 crack"));
}

namespace {

/// So many hours of a made-up day, raw.
Expected<Done> writeHistory(const HistoryKind& kind, const QString& path, double from, double to)
{
    const auto reading = [&](double hour) { return static_cast<size_t>(hour * 3600 * kind.rate); };
    std::vector<float> values(reading(to));
    LoadHistory(kind, seedOf("J-0121")).next(values);
    QSaveFile file(path);
    const auto bytes = static_cast<qint64>((reading(to) - reading(from)) * sizeof(float));
    if (!file.open(QIODevice::WriteOnly)
        || file.write(reinterpret_cast<const char*>(values.data() + reading(from)), bytes) != bytes || !file.commit())
        return Problem{path.toStdString(), file.errorString().toStdString(), "room for a history of the demo", {}};
    return Done{};
}

} // namespace

Expected<Json> demoHistories(const QString& logbook)
{
    const QFileInfo book(logbook);
    const QDir folder(book.absolutePath() + "/" + book.completeBaseName() + "-histories");
    if (!folder.mkpath("."))
        return Problem{folder.path().toStdString(), "a folder that can't be made", "one beside the logbook", {}};
    Json job;
    job["fortitor_job"] = 1;
    job["job"] = {{"number", "J-0121"}, {"title", "Rigger lug, a morning on the water and on the road"}};
    job["method"] = loadSpectrum().id;
    job["material"] = {{"name", findFatigueKind("rigger-lug")->material}};
    job["options"] = {{"class", "71 MPa"}, {"modulus", "210 GPa"}};
    job["requirements"] = Json::array({Json{{"symbol", spectrumKeys::cutShare}, {"max", "1 %"}}});
    job["specimens"] = Json::array();
    struct Morning {
        const char *label, *kind, *begins, *gauge, *who;
        double from, to;
    };
    for (const Morning& m : {Morning{"W1", "rowing-history", "2026-11-20T05:30:00", "gauge 1, lug, 5 mm from the toe",
                                     "operator A", 5.5, 8},
                             Morning{"W2", "transport-history", "2026-11-21T07:30:00",
                                     "gauge 1, lug, 5 mm from the toe", "operator B", 7.5, 10.25}}) {
        const QString path = folder.filePath(QString(m.kind) + ".f32");
        if (auto written = writeHistory(*findHistoryKind(m.kind), path, m.from, m.to); !written)
            return written.problem();
        job["specimens"].push_back(
            {{"label", m.label},
             {"history",
              {{"files", Json::array({path.toStdString()})}, {"rate", "200 Hz"}, {"unit", "ue"}, {"begins", m.begins}}},
             {"notes", {{spectrumKeys::gauge, m.gauge}, {"operator", m.who}}}});
    }
    return job;
}

} // namespace fortitor
