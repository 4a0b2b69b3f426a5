// SPDX-License-Identifier: GPL-3.0-or-later
// The demo's pendulum: a steel through its transition with two pieces left, gates of nylon at three temperatures.
#include "app/model/demo_impact.h"

#include "jobs/struck_job.h"
#include "methods/impact/impact.h"

#include <QDateTime>

#include <fmt/format.h>

#include <cmath>

namespace fortitor {
namespace {

/// The pieces struck at the temperatures, one every four minutes two days ago, and some that wait.
void addPieces(Json& job, const StruckKind& kind, char letter, std::span<const double> temperatures, size_t waiting)
{
    const std::string stamp =
        findMethod(impact().id, {{impactKeys::geometry, std::string(kind.geometry)}})->intake.stamp;
    const QDateTime first = QDateTime::currentDateTime().addDays(-2);
    for (size_t i = 0; i < temperatures.size() + waiting; ++i) {
        const bool struck = i < temperatures.size();
        Json one = struckSpecimen(kind, fmt::format("{}{}", letter, i + 1),
                                  struck ? std::optional(temperatures[i]) : std::nullopt, i + 1);
        one["notes"]["operator"] = i % 2 == 0 ? "operator A" : "operator B";
        if (struck)
            one["notes"][stamp] =
                first.addSecs(240 * static_cast<qint64>(i)).toString("yyyy-MM-ddTHH:mm").toStdString();
        job["specimens"].push_back(std::move(one));
    }
}

/// A free swing on each working day of the two weeks before, as the dial shows it.
void addSwings(Json& job, const StruckKind& kind)
{
    const QDateTime now = QDateTime::currentDateTime();
    constexpr double about[] = {1.0, 1.0, 1.17, 0.83, 1.0, 1.17, 1.0, 1.0, 1.17};
    for (int back = 13, i = 0; back >= 2; --back) {
        const QDateTime day = now.addDays(-back);
        if (day.date().dayOfWeek() > 5)
            continue;
        const double loss = std::round(kind.loss * about[i++ % 9] / kind.step) * kind.step;
        job["daily"].push_back({{"at", day.toString("yyyy-MM-ddT07:52").toStdString()},
                                {"value", fmt::format("{:.10g} J", loss)},
                                {"who", "operator A"}});
    }
}

Json backstaySteel()
{
    const StruckKind& kind = *struckKind("S355");
    Json job = struckJob(kind, "J-0116", "Backstay steel, notch impact");
    job["requirements"] = Json::array({Json{{"symbol", "T_27J"}, {"max", "-20 °C"}}});
    job["options"]["expected"] = "5 J; 110 J";
    constexpr double temperatures[] = {-60, -60, -60, -40, -40, -40, -30, -20, -20, -20, -10, 0, 0, 0, 20, 20};
    addPieces(job, kind, 'K', temperatures, 2);
    addSwings(job, kind);
    return job;
}

Json nylonGates()
{
    const StruckKind& kind = *struckKind("PA66");
    Json job = struckJob(kind, "J-0115", "Nylon gates, Izod at three temperatures");
    job["requirements"] = Json::array({Json{{"symbol", "a_izod"}, {"min", "40 J/m"}}});
    constexpr double temperatures[] = {-30, -30, -30, 0, 0, 0, 23, 23, 23};
    addPieces(job, kind, 'N', temperatures, 1);
    addSwings(job, kind);
    return job;
}

} // namespace

std::vector<Json> demoImpact()
{
    return {backstaySteel(), nylonGates()};
}

} // namespace fortitor
