// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "judge/derivation.h"
#include "judge/remark.h"
#include "methods/curve_view.h"
#include "record/record.h"
#include "units/expected.h"
#include "units/quantity.h"

#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// A place where a person measures or states something.
struct FieldSpec {
    std::string key;
    std::string label;
    Kind kind = Kind::Length;
    int readings = 1;        ///< how many places the method asks for
    std::string shape;       ///< only for this shape; empty: for all
    std::string place;       ///< on the drawing: "across", "between-marks", "parallel", "neck" …
    bool afterBreak = false; ///< measured on the broken pieces
    bool needed = true;
    std::string help;
};

struct ResultSpec {
    std::string symbol;
    std::string name;
    std::string unit;       ///< spelling of the unit results are written in
    double step = 0;        ///< rounding step of the report in that unit; 0: four significant digits
    bool headline = false;  ///< shown as a slip
    std::string help;
};

/// A school: a choice with its sensible default first, or a quantity.
struct OptionSpec {
    std::string key;
    std::string label;
    std::vector<std::string> choices; ///< first is the default; empty for a quantity or free form
    std::string fallback;             ///< default of a quantity
    Kind kind = Kind::Number;
    std::string help;
    /// Where a person meets it: asked on Plan, moved on the curve of Read, or both.
    enum class Place { Plan, Curve, Both } place = Place::Plan;

    [[nodiscard]] bool onPlan() const { return place != Place::Curve; }
    [[nodiscard]] bool onCurve() const { return place != Place::Plan; }
};

enum class Stage { Plan, Measure, SetUp, Load, Read, Judge, Report };

/// What a person does, with the words of caution that belong there.
struct StepSpec {
    Stage stage = Stage::SetUp;
    std::string text;
    std::string safety;
    std::string watch; ///< what ticks it by itself ("force-zeroed", "guard-closed" …); empty: the person
    std::string onlyIf{}; ///< "option=choice": the step belongs to that school only
};

/// Something looked at and named rather than measured: a kind of break, a print direction.
struct NoteSpec {
    std::string key;
    std::string label;
    std::vector<std::string> choices; ///< empty: free words
    Stage stage = Stage::Measure;
    std::string drawing{};            ///< family of the small drawings that stand for the choices; empty: words only
    std::string help{};
};

/// Speeds of a test (methods basis, "Rates").
struct RateSpec {
    double slow = 0.00025;    ///< strain rate to the end of the elastic part, 1/s
    double fast = 0.0067;     ///< after it
    double changeAt = 0.018;  ///< strain at which it changes; 0: it does not
    double window = 0.2;      ///< relative, about `slow`
    double speed = 0;         ///< a fixed crosshead speed instead, mm/s; 0: by strain rate
    std::string words;        ///< "0.00025 /s ± 20 %, ISO 6892-1 method A"
    double edge = 0;          ///< of a beam: strain rate of its edge, 1/s; the speed comes from the span
};

/// A channel read by hand at each step.
struct PadChannel {
    std::string name;         ///< of the record's channel
    std::string label;
    std::string unit;         ///< what a bare number is taken in
    bool optional = false;    ///< read only where the gauge or dial is there
    std::string division{};   ///< option that holds what a division of its scale is worth
};

/// What the reading pad asks for, in the order of reading; no channels: nothing is read by hand.
struct PadSpec {
    std::vector<PadChannel> channels{};
    std::string stepped{}; ///< the channel that is brought to the next target
    std::string across{};  ///< the channel along the pad's x axis
    bool returns = false;  ///< the zero is read again after the last step

    [[nodiscard]] const PadChannel* find(std::string_view name) const;
};

/// How the specimen is loaded: what the load train and the drawings show.
enum class Loading { Tension, Compression };

/// What a live curve is drawn over: strain, or the travel of the crosshead; as stress, or as force.
enum class LiveAxes { StressStrain, StressTravel, ForceTravel };

/// What the doubt of a reading comes from. Relative parts are half widths of a rectangle.
struct Instruments {
    double forceError = 0.01;
    std::string forceName = "force cell, class 1 (assumed)";
    double extensionError = 0.01;
    double extensionFloor = 0.003; ///< mm
    std::string extensionName = "extensometer, class 1 (assumed)";
    double extensionTravel = 0;    ///< mm; 0: not known
    double calliperError = 0.02;   ///< mm
    bool calliperChosen = false;
    std::string calliperName = "calliper, ±0.02 mm (assumed)";
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
    std::vector<std::string> alsoWanted;     ///< symbols asked for by requirements
    std::map<std::string, std::string> notes;
    std::shared_ptr<const Record> record;
};

/// The stress across a section, from the axis to the surface, as a result takes it to be.
struct StressProfile {
    std::vector<double> radius; ///< as a share of the outer one, rising
    std::vector<double> stress; ///< MPa
    std::string words;
};

struct Result {
    std::string symbol;
    const Unit* unit = nullptr;
    std::optional<double> value; ///< base unit
    std::optional<Term> derivation;
    Budget budget;
    std::vector<std::string> wouldChange{}; ///< "smooth top of 24.61 kN raw: 312.4 MPa"
    std::optional<StressProfile> profile{};

    /// Value in the result's own unit.
    [[nodiscard]] std::optional<double> shown() const { return value ? std::optional(unit->fromBase(*value)) : std::nullopt; }
};

/// What another place of a mark among the readings would give.
struct StepChoice {
    std::string option; ///< the option that puts it there
    std::string value;
    std::string words;  ///< "reading 5, 2.80 kN"
    std::vector<std::pair<std::string, double>> figures; ///< symbol and base value
    bool now = false;
};

/// The greatest load that is to be expected, with what it rests on.
struct ExpectedMaximum {
    double load = 0; ///< N, or N·mm
    double yield = 0; ///< the same where it yields; 0: unknown
    std::string basis;
};

struct Outcome {
    std::vector<Result> results;
    std::vector<Remark> remarks;
    std::optional<CurveView> curve;
    std::vector<StepChoice> choices;

    [[nodiscard]] const Result* find(std::string_view symbol) const;
    [[nodiscard]] bool remarked(std::string_view code) const;
};

/// A test method: one declaration that the application, the command line, the report and the tests
/// all live off.
struct Method {
    std::string id;
    std::string name;
    std::string standards;
    std::vector<std::string> shapes;
    std::vector<FieldSpec> fields;
    std::vector<ResultSpec> results;
    std::vector<OptionSpec> options;
    std::vector<StepSpec> steps;
    std::vector<NoteSpec> notes;
    RateSpec rates;
    std::string form = "waisted"; ///< of the drawings: waisted, strip, sandwich, beam, column, shell
    Loading loading = Loading::Tension;
    LiveAxes live = LiveAxes::StressStrain;
    PadSpec pad{};
    Kind loadKind = Kind::Force; ///< what the load train carries: a force, or a torque
    std::vector<std::string> onMaximum; ///< results that stand on the greatest load, or end there
    bool anyProof = false; ///< a proof strength at any offset may be asked for
    std::vector<std::string> leavesSet; ///< reject codes that take a specimen out of the set by themselves
    std::vector<std::vector<std::string>> channels; ///< needed channels; of each inner list one
    int leastSpecimens = 3;
    /// Pure. Refuses only what makes no sense at all (a section of zero, an option that is not one).
    Expected<Outcome> (*evaluate)(const SpecimenInput&) = nullptr;
    /// From published values and sizes, where it is not simply the strength times the section.
    std::optional<ExpectedMaximum> (*expect)(const SpecimenInput&) = nullptr;
    /// Remarks on the set as a whole; none without it.
    std::vector<Remark> (*checkSet)(const std::vector<const SpecimenInput*>&) = nullptr;

    [[nodiscard]] const ResultSpec* findResult(std::string_view symbol) const;
    [[nodiscard]] const FieldSpec* findField(std::string_view key) const;
    [[nodiscard]] const OptionSpec* findOption(std::string_view key) const;
    [[nodiscard]] const NoteSpec* findNote(std::string_view key) const;
};

/// Whether a test is read step by step only: the frame's own run does not know it.
inline bool readByHand(const Method& method)
{
    return !method.pad.channels.empty() && method.live == LiveAxes::ForceTravel;
}

/// Whether a step belongs to the schools that are chosen.
bool stepApplies(const StepSpec& step, const Method& method, const std::map<std::string, std::string>& options);

/// All methods, in the order of the rail.
const std::vector<Method>& methodRegistry();
const Method* findMethod(std::string_view id);

} // namespace fortitor
