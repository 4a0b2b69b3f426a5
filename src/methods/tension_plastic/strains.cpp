// SPDX-License-Identifier: GPL-3.0-or-later
// Strains at yield, maximum and break; the nominal strain of what necks.
#include "methods/tension_plastic/tension_plastic.h"
#include "methods/tension_plastic/figures.h"

#include "curve/first_maximum.h"
#include "methods/common/figures.h"
#include "methods/common/first_climb.h"
#include "methods/common/section.h"
#include "methods/common/segment_slope.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

namespace fortitor {

void strains(PlasticFigures& f, const StressStrain& data)
{
    const PlasticReading& r = f.reading;
    const auto set = [&](const char* symbol, const PeakFit& at, const char* letter, const char* words) {
        if (!f.strainCounts)
            return;
        if (data.removedAt && at.index > *data.removedAt) {
            f.remark("extensometer-removed", Severity::Caution, {symbol},
                     fmt::format("{} lies beyond where the extensometer was off; it is not given.", symbol),
                     "The nominal strain stands in for it.");
            return;
        }
        f.set(symbol,
              strainAtTop(f, data, at, r.origin, letter, words).named(symbol, percentUnit(), words, "ISO 527-1"));
    };
    if (r.yield)
        set("eps_y", r.yield->peak, "εy", "strain at yield, as recorded");
    if (r.yield && f.strainCounts && r.yield->peak.half > 0.05 * (r.yield->peak.x - r.origin))
        f.remark("flat-top", Severity::Note, {"eps_y", "eps_m"},
                 fmt::format("The top is flat within the noise from {} to {} % strain.",
                             formatSignificant((r.yield->peak.x - r.yield->peak.half - r.origin) * 100, 3),
                             formatSignificant((r.yield->peak.x + r.yield->peak.half - r.origin) * 100, 3)),
                 "The strain at yield is its middle, and its uncertainty that range; it can be set by hand.");
    if (r.yield && f.strainCounts && r.yield->peak.index > 0 && r.yield->peak.index < r.last) {
        const double apart = data.strain[r.yield->peak.index + 1] - data.strain[r.yield->peak.index - 1];
        if (apart > 0.1 * (r.yield->peak.x - r.origin))
            f.remark(
                "sampling-coarse", Severity::Caution, {"eps_y", "eps_m", "sigma_y"},
                fmt::format("The readings about the yield stand {} % strain apart: the true top may lie between them.",
                            formatSignificant(50 * apart, 2)),
                "Record faster, or run slower to yield.");
    }
    if (r.passed || !data.turnedAt)
        set("eps_m", r.maximum, "εm", "strain at the strength, as recorded");
    if (r.yield)
        f.notApplicable({"eps_b"}, "The bar yielded before it broke: the nominal strain at break stands in its place.");
    else if (r.broken)
        set("eps_b",
            PeakFit{.x = data.strain[r.last],
                    .half = r.last > 0 ? std::max(0.0, data.strain[r.last] - data.strain[r.last - 1]) : 0,
                    .index = r.last},
            "εb", "strain at the last reading before the break");
}

void nominalStrain(PlasticFigures& f, const StressStrain& data, double compliance)
{
    const PlasticReading& r = f.reading;
    if (!r.broken)
        return;
    if (data.displacement.empty()) {
        f.remark("no-crosshead", Severity::Caution, {"eps_tb"},
                 "There is no crosshead channel; the nominal strain at break can't be given.",
                 "Import the displacement column.");
        return;
    }
    const auto grips = lengthTerm(f.input, "grip_distance", "L", "between the grips");
    if (!grips || !(grips->value() > 0)) {
        f.remark("missing-dimension", Severity::Caution, {"eps_tb"},
                 "The distance between the grips is not given; the nominal strain can't be worked out.",
                 "Enter it on Measure.", "grip_distance");
        return;
    }
    const double So = f.section->value();
    const auto moved = [&](size_t i) { return data.displacement[i] - compliance * data.stress[i] * So; };
    const bool toYield = optionOr(f.input, "nominal", "crosshead") == "extensometer to yield";
    const Unit& mm = baseUnit(Kind::Length);
    // It may have stretched on for up to one reading more.
    const Term apart =
        Term::leaf("", 0, mm, r.last > 0 ? std::max(0.0, moved(r.last) - moved(r.last - 1)) / rectangle : 0,
                   {"readings apart at the break", SourceKind::Rate});
    if (toYield && r.yield && data.source != StrainSource::Crosshead
        && !(data.removedAt && *data.removedAt < r.yield->peak.index)) {
        const Term before =
            Term::leaf("εy", r.yield->peak.x - r.origin, percentUnit(), 0, {}, "extensometer strain at yield");
        const Term after = Term::leaf("Δs", moved(r.last) - moved(r.yield->peak.index), mm, 0.01 / rectangle,
                                      {"crosshead", SourceKind::Crosshead}, "crosshead from yield to the break");
        f.set("eps_tb",
              (before + (after + apart).named("Δs", mm, "crosshead from yield to the break") / *grips)
                  .named("eps_tb", percentUnit(), "nominal strain at break",
                         "ISO 527-1, method B: extensometer to yield, then crosshead"));
        return;
    }
    // Slack and seating: the crosshead's place where the straight part meets zero force.
    double zero = moved(data.onset);
    if (r.part && r.part->end > r.part->begin + 3) {
        std::vector<double> s;
        std::vector<double> y;
        for (size_t i = r.part->begin; i < r.part->end; ++i) {
            s.push_back(moved(i));
            y.push_back(data.stress[i]);
        }
        const LineFit line = fitLine(s, y);
        if (line.valid() && line.slope > 0)
            zero = line.meanX - line.meanY / line.slope;
    }
    const Term way = Term::leaf("s", moved(r.last) - zero, mm, 0.01 / rectangle, {"crosshead", SourceKind::Crosshead},
                                "crosshead motion, slack taken off");
    f.set("eps_tb",
          ((way + apart).named("s", mm, "crosshead motion, slack taken off") / *grips)
              .named("eps_tb", percentUnit(), "nominal strain at break",
                     "ISO 527-1, method A: crosshead over the grip distance"));
}

} // namespace fortitor
