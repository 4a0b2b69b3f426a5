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

struct Result {
    std::string symbol;
    const Unit* unit = nullptr;
    std::optional<double> value; ///< base unit
    std::optional<Term> derivation;
    Budget budget;
    std::vector<std::string> wouldChange; ///< "smooth top of 24.61 kN raw: 312.4 MPa"

    /// Value in the result's own unit.
    [[nodiscard]] std::optional<double> shown() const { return value ? std::optional(unit->fromBase(*value)) : std::nullopt; }
};

struct Outcome {
    std::vector<Result> results;
    std::vector<Remark> remarks;
    std::optional<CurveView> curve;

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
    std::vector<std::string> leavesSet; ///< reject codes that take a specimen out of the set by themselves
    std::vector<std::vector<std::string>> channels; ///< needed channels; of each inner list one
    int leastSpecimens = 3;
    /// Pure. Refuses only what makes no sense at all (a section of zero, an option that is not one).
    Expected<Outcome> (*evaluate)(const SpecimenInput&) = nullptr;
    /// Remarks on the set as a whole; none without it.
    std::vector<Remark> (*checkSet)(const std::vector<const SpecimenInput*>&) = nullptr;

    [[nodiscard]] const ResultSpec* findResult(std::string_view symbol) const;
    [[nodiscard]] const FieldSpec* findField(std::string_view key) const;
    [[nodiscard]] const OptionSpec* findOption(std::string_view key) const;
    [[nodiscard]] const NoteSpec* findNote(std::string_view key) const;
};

/// Whether a step belongs to the schools that are chosen.
bool stepApplies(const StepSpec& step, const Method& method, const std::map<std::string, std::string>& options);

/// All methods, in the order of the rail.
const std::vector<Method>& methodRegistry();
const Method* findMethod(std::string_view id);

} // namespace fortitor
