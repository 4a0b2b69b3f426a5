// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/overview.h"

#include "methods/display.h"

#include <algorithm>

namespace fortitor {

const Settlement* settlementOf(const Specimen& specimen, const std::string& code)
{
    const auto it = std::ranges::find(specimen.settled, code, &Settlement::code);
    return it == specimen.settled.end() ? nullptr : &*it;
}

std::vector<Remark> openRemarks(const Specimen& specimen, const SpecimenOutcome& outcome, bool hasRecord)
{
    std::vector<Remark> open;
    if (outcome.outcome)
        for (const Remark& r : outcome.outcome->remarks)
            if (r.severity != Severity::Note && !settlementOf(specimen, r.code)
                && (hasRecord || (r.code != "no-record" && r.code != "no-readings" && r.code != "missing-dimension")))
                open.push_back(r);
    return open;
}

int stepsDone(const Specimen& specimen, const SpecimenOutcome& outcome, bool hasRecord)
{
    if (!outcome.outcome)
        return hasRecord ? 2 : 0;
    const auto& remarks = outcome.outcome->remarks;
    const bool measured = std::ranges::none_of(remarks, [](const Remark& r) {
        return r.code == "missing-dimension" && r.severity == Severity::Reject;
    });
    // A test need not be a curve: what gave a figure, or something to look at, is read.
    const bool worked = !outcome.outcome->views.empty()
        || std::ranges::any_of(outcome.outcome->results, [](const Result& r) { return r.value.has_value(); });
    int done = measured ? 1 : 0;
    done += hasRecord ? 1 : 0;
    done += hasRecord && worked && openRemarks(specimen, outcome, hasRecord).empty() ? 1 : 0;
    done += outcome.verdict != Verdict::Open ? 1 : 0;
    return done;
}

namespace {

/// "A1, options.yield_offset" as the pages call it: keys belong to files.
std::string placeInWords(const Method& method, const std::string& place)
{
    const size_t at = std::min(place.find_last_of(" .") + 1, place.size());
    const std::string key = place.substr(at);
    const size_t from = std::min(place.find_last_of(' ') + 1, place.size());
    if (const OptionSpec* option = method.findOption(key))
        return place.substr(0, from) + "option \"" + option->label + '"';
    if (const FieldSpec* field = method.findField(key))
        return place.substr(0, from) + field->label;
    if (const NoteSpec* note = method.findNote(key))
        return place.substr(0, from) + note->label;
    return place;
}

} // namespace

SpecimenOutcome analyseKept(const Specimen& specimen, const Job& job, std::shared_ptr<const Record> record,
                            const Problem* missing)
{
    SpecimenOutcome done = analyseSpecimen(specimen, job, std::move(record));
    if (done.problem)
        done.problem->place = placeInWords(*job.method, done.problem->place);
    if (missing && done.outcome) {
        auto& remarks = done.outcome->remarks;
        remarks.insert(remarks.begin(),
                       Remark{"record-missing",
                              Severity::Reject,
                              {},
                              "The record can't be read: " + missing->text(),
                              missing->advice,
                              {}});
        done.verdict = Verdict::Open;
    }
    return done;
}

std::vector<OverviewRow> overviewOf(const Job& job, const JobOutcome& outcome,
                                    const std::function<bool(size_t)>& hasRecord)
{
    std::vector<OverviewRow> rows;
    for (size_t i = 0; i < outcome.specimens.size() && i < job.specimens.size(); ++i) {
        const SpecimenOutcome& s = outcome.specimens[i];
        std::string figures;
        if (s.outcome)
            for (const ResultSpec& spec : job.method->results)
                if (const Result* r = spec.headline ? s.outcome->find(spec.symbol) : nullptr; r && r->value) {
                    const ShownFigure shown = showFigure(spec, *r);
                    figures += (figures.empty() ? "" : " · ") + spec.symbol + " " + shown.text + " " + shown.unit;
                }
        rows.push_back(
            {s.label, std::string(verdictName(s.verdict)), figures, stepsDone(job.specimens[i], s, hasRecord(i))});
    }
    return rows;
}

} // namespace fortitor
