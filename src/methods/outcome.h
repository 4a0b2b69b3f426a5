// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "judge/uncertainty.h"
#include "judge/acceptance_rule.h"
#include "judge/remark.h"
#include "judge/requirement.h"
#include "methods/view.h"
#include "record/record.h"
#include "units/quantity.h"

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace fortitor {

struct HistoryFigures;

/// What the doubt of a reading comes from. Relative parts are half widths of a rectangle.
struct Instruments {
    double forceError = 0.01;
    std::string forceName = "force cell, class 1 (assumed)";
    double extensionError = 0.01;
    double extensionFloor = 0.003; ///< mm
    std::string extensionName = "extensometer, class 1 (assumed)";
    double extensionTravel = 0; ///< mm; 0: not known
    double calliperError = 0.02; ///< mm
    bool calliperChosen = false;
    std::string calliperName = "calliper, ±0.02 mm (assumed)";
};

/// A place on a piece, mm: from its centre, or along its surface with the depth below it.
struct Spot {
    double x = 0, y = 0;
    std::optional<double> depth{};
};

/// A long signal in files of its own, several as one; texts as the job has them, empty where nothing is said.
struct HistorySaid {
    std::vector<std::string> files{}; ///< where they are
    std::string format{}, dataset{}, channel{}, unit{}, rate{};
    std::string begins{}; ///< of the first reading: 2026-11-20T06:00
};

/// All that is known of one specimen when its figures are worked out.
struct SpecimenInput {
    std::string label;
    std::string shape;
    std::map<std::string, std::vector<Quantity>> dimensions;
    std::map<std::string, std::string> options;
    std::map<std::string, double> published; ///< symbol → base value
    std::string publishedSource;
    Instruments instruments;
    std::vector<std::string> alsoWanted; ///< symbols asked for by requirements
    std::map<std::string, std::string> notes;
    std::shared_ptr<const Record> record;
    std::string material; ///< its name, as the job has it
    /// What was keyed reading by reading, where the method is read so: lists of equal length; nothing for one missed.
    std::map<std::string, std::vector<std::optional<Quantity>>> readings;
    std::vector<Spot> places; ///< where readings are to be taken, in their order
    std::map<std::string, std::vector<size_t>> zones; ///< parts of the piece with the readings in them, from 1
    std::optional<HistorySaid> history;
};

/// The stress across a section, from the axis to the surface, as a result takes it to be.
struct StressProfile {
    std::vector<double> radius; ///< as a share of the outer one, rising
    std::vector<double> stress; ///< MPa
    std::string words;
};

struct Result {
    std::string symbol{};
    const Unit* unit = nullptr;
    std::optional<double> value{}; ///< base unit
    std::optional<Term> derivation{};
    Budget budget{};
    std::vector<std::string> wouldChange{}; ///< "smooth top of 24.61 kN raw: 312.4 MPa"
    std::optional<StressProfile> profile{};
    /// Whether the value is what was sought, or only something that it is not below.
    enum class Bound { Exact, AtLeast } bound = Bound::Exact;
    std::optional<std::pair<double, double>>
        interval{}; ///< base unit, where it is not symmetric; in place of the budget
    std::vector<double> perReading{}; ///< base unit, in the order of reading; NaN: none

    /// Value in the result's own unit.
    [[nodiscard]] std::optional<double> shown() const
    {
        return value ? std::optional(unit->fromBase(*value)) : std::nullopt;
    }
};

constexpr double intervalLevel = 0.95; ///< of every interval

/// What another place of a mark among the readings would give.
struct StepChoice {
    std::string option; ///< the option that puts it there
    std::string value;
    std::string words; ///< "reading 5, 2.80 kN"
    std::vector<std::pair<std::string, double>> figures; ///< symbol and base value
    bool now = false;
};

/// What one reading of several gave.
struct SingleReading {
    std::optional<double> value{}; ///< base unit; nothing where none may be given
    const Unit* unit = nullptr;
    std::string notation{};
    bool setAside = false; ///< it does not count
    std::vector<Remark> remarks{};
};

/// The readings of one part of a piece, those that count.
struct ReadingGroup {
    std::string name{};
    std::vector<size_t> readings{}; ///< from 1
    std::vector<double> values{}; ///< base unit
    double mean = 0, sd = 0, least = 0, greatest = 0; ///< of fewer than two no `sd`
    const Unit* unit = nullptr;
};

/// What would tell most next: pieces that are left, and what to note with them.
struct NextStep {
    std::string words{}; ///< "Struck at −32 °C they would narrow T27 from ± 5 to ± 3.6 K; at −20 °C only to ± 4.7 K."
    std::string act{}; ///< "Plan both at −32 °C"
    std::vector<std::string> labels{}; ///< of the specimens
    std::string note{}, value{}; ///< that is set on them
};

/// What stands beside a curve in words: what was seen between the loads, what rules say.
struct ToldRow {
    std::string label{}; ///< "after cycle 1"
    std::string words{}; ///< "free by hand"
    enum class State { Plain, Good, Bad, Open } state = State::Plain;
    std::string more{}; ///< below it, small
};
struct ToldGroup {
    std::string heading{};
    std::vector<ToldRow> rows{};
    std::string note{}; ///< at its end: "None of them is law by itself."
};

struct Outcome {
    bool apart = false; ///< a check beside the set: its figures are not of the lot
    std::vector<Result> results{};
    std::vector<SingleReading> readings{}; ///< in their order, where the method is read reading by reading
    std::vector<ReadingGroup> groups{}; ///< by zones, where there are any
    std::vector<Remark> remarks{};
    std::vector<View> views{};
    std::vector<StepChoice> choices{};
    std::optional<NextStep> next{};
    std::vector<ToldGroup> told{};
    std::vector<RuleVerdict> rules{}; ///< of the job's acceptance rules, in their order
    std::shared_ptr<const HistoryFigures> history{}; ///< what was counted of a long signal

    [[nodiscard]] const Result* find(std::string_view symbol) const;
    [[nodiscard]] bool remarked(std::string_view code) const;
    /// The first view of a kind; nullptr without one.
    template <class Kind> [[nodiscard]] const Kind* view() const
    {
        for (const View& one : views)
            if (const Kind* found = std::get_if<Kind>(&one))
                return found;
        return nullptr;
    }
    /// The first of the curves, or another; nullptr where there are fewer.
    [[nodiscard]] const CurveView* curve(size_t which = 0) const
    {
        for (const View& one : views)
            if (const auto* found = std::get_if<CurveView>(&one); found && which-- == 0)
                return found;
        return nullptr;
    }
};

/// The specimens of a set that count, in their order; an outcome is null where there is none.
struct SetInput {
    std::vector<const SpecimenInput*> inputs{};
    std::vector<const Outcome*> outcomes{};
    std::vector<Requirement> requirements{}; ///< of the job
};

} // namespace fortitor
