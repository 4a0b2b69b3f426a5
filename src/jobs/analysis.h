// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/job.h"
#include "judge/normality.h"
#include "judge/tolerance.h"
#include "judge/variance_shares.h"
#include "judge/statistics.h"
#include "record/text_import.h"

#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// One specimen worked out, or the Problem that kept it from being.
struct SpecimenOutcome {
    std::string label;
    std::optional<Outcome> outcome;
    std::optional<Problem> problem;
    std::vector<Check> checks;
    Verdict verdict = Verdict::Open;
    std::string excludedBecause;
};

struct SetFigure {
    std::string symbol;
    const Unit* unit = nullptr;
    SetStatistics statistics; ///< in the result's own unit
    std::optional<Grubbs> grubbs;
    std::vector<std::string> labels; ///< in the order of the values
    std::vector<double> values;
    std::vector<char> open; ///< of each value, whether it is only a lower bound; empty: none is
    std::optional<Normality> normality;
    std::optional<ToleranceBounds> bounds;
    std::vector<std::pair<std::string, VarianceShares>> sources; ///< by "operator", "batch"
};

/// Figures of the specimens that are averaged together: of one temperature, of one kind of break.
struct LotFigures {
    std::string name;
    std::vector<SetFigure> figures; ///< statistics only
};

struct JobOutcome {
    std::vector<SpecimenOutcome> specimens;
    std::vector<SetFigure> batch; ///< empty where the set is of several lots
    std::vector<LotFigures> lots; ///< empty where it is of one
    std::vector<Remark> remarks;
    std::vector<LotCheck> lot;
    std::optional<Outcome> set; ///< what only the set as a whole gives; nothing where the method has no such results
    std::vector<Check> setChecks; ///< requirements on results of the set
    Verdict setVerdict = Verdict::Open;
};

/// The specimen's record from its file (contract: no path that is absolute or leaves the folder,
/// unless allowed). Null when it has none.
Expected<std::shared_ptr<const Record>> loadRecord(const Specimen& specimen, const Method& method,
                                                   const std::string& folder, bool allowOutside,
                                                   const Progress& progress = {});

/// Works out one specimen with its record, and holds it against the requirements. Remarks that a
/// person has settled do not hold the verdict open.
SpecimenOutcome analyseSpecimen(const Specimen& specimen, const Job& job, std::shared_ptr<const Record> record);

/// What another option would make of a figure.
struct Alternative {
    std::string option; ///< "area_from"
    std::string choice; ///< "least"
    std::string words; ///< "Section from: least"
    double value = 0; ///< base unit of the result
};

/// Works the specimen out by every other choice of the method's options, and gives those that move
/// the figure by more than a ten-thousandth.
std::vector<Alternative> alternatives(const Specimen& specimen, const Job& job,
                                      const std::shared_ptr<const Record>& record, const std::string& symbol);

/// Statistics of the set and the remarks on it. Specimens that a person excluded are left out.
void analyseSet(const Job& job, JobOutcome& outcome);

/// The whole job, on all cores. `each` sees every outcome with its place in the job as it comes, on whatever thread:
/// who needs no curves and derivations lets them go there.
JobOutcome analyseJob(const Job& job, const std::string& folder, bool allowOutside,
                      const std::function<void(size_t, SpecimenOutcome&)>& each = {});

/// Where the scatter of a figure comes from, as a sentence; empty when nothing can be said.
std::string scatterSentence(const SetFigure& figure);

/// The results file of the contract.
Json resultsJson(const Job& job, const JobOutcome& outcome);
/// One remark of it.
Json remarkJson(const Remark& remark);
/// One specimen of it, as text.
std::string specimenText(const SpecimenOutcome& specimen, const Job& job);
/// The same as text, put together from the texts of its specimens: the same bytes as of the whole.
std::string resultsText(const Job& job, const JobOutcome& outcome, const std::vector<std::string>& specimens);

} // namespace fortitor
