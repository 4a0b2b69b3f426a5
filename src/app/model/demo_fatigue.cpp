// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/demo_fatigue.h"

#include "app/model/live_frame.h"
#include "jobs/fatigue_job.h"
#include "methods/fatigue_sn/fatigue_sn.h"

#include <QDateTime>

#include <fmt/format.h>

namespace fortitor {

std::vector<Json> demoFatigue()
{
    const FatigueKind& kind = *findFatigueKind("rigger-lug");
    const std::string number = "J-0120";
    Json job = fatigueJob(kind, number, "Rigger lug, fatigue");
    job["options"] = {{"class", "71 MPa"},  {"bound", "tolerance"},    {"confidence", "75 %"},
                      {"survival", "95 %"}, {"run_out_cycles", "5e6"}, {"call", "operator A, extension 14"}};
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
            at = at.addSecs(static_cast<qint64>(cycles / kind.frequency) + 3600);
            one["notes"][fatigueKeys::ended] = at.toString("yyyy-MM-ddTHH:mm").toStdString();
        }
        job["specimens"].push_back(std::move(one));
    }
    return {job};
}

} // namespace fortitor
