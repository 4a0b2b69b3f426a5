// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/sketch.h"
#include "units/unit.h"

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// A place where a person measures or states something.
struct FieldSpec {
    std::string key{};
    std::string label{};
    Kind kind = Kind::Length;
    int readings = 1; ///< how many places the method asks for
    std::string shape{}; ///< only for this shape; empty: for all
    std::string place{}; ///< on the drawing: "across", "between-marks", "parallel", "neck" …
    bool afterBreak = false; ///< measured on the broken pieces
    bool needed = true;
    bool negative = false; ///< may lie below zero
    std::string help{};
};

struct ResultSpec {
    std::string symbol{};
    std::string name{};
    std::string unit{}; ///< spelling of the unit results are written in
    double step = 0; ///< rounding step of the report in that unit; 0: four significant digits
    bool headline = false; ///< shown as a card
    std::string help{};
    std::string mark{}; ///< the mark of the curve it stands on; empty: one of its own symbol
    std::string published{}; ///< key of the published value it is held against; empty: its symbol
    std::string written{}; ///< the symbol as people write it, "Re/Rm"; empty: by the usual rule
    bool fromPieces = false; ///< stands on what is measured on the broken pieces
    enum class Of { Specimen, Set } of = Of::Specimen;

    [[nodiscard]] const std::string& standsOn() const { return mark.empty() ? symbol : mark; }
    [[nodiscard]] const std::string& publishedKey() const { return published.empty() ? symbol : published; }
};

/// The unit its results are written in.
const Unit& unitOf(const ResultSpec& spec);

/// A choice with its sensible default first, or a quantity.
struct OptionSpec {
    std::string key{};
    std::string label{};
    std::vector<std::string>
        choices{}; ///< keys, as files hold them; first is the default; empty for a quantity or free form
    std::string fallback{}; ///< default of a quantity
    Kind kind = Kind::Number;
    std::string help{};
    /// Where a person meets it: asked on Plan, moved on the curve of Read, or both.
    enum class Place { Plan, Curve, Both } place = Place::Plan;
    /// What it decides: the figures; only how the test is run; its steps; the load that is
    /// expected; the figures, from a file that it names.
    enum class Role { Figures, Run, Steps, ExpectedLoad, File } role = Role::Figures;
    std::map<std::string, std::string> words{}; ///< of choices that people see otherwise than their keys
    std::map<std::string, Sketch> sketches{}; ///< of choices that are known by their drawing

    [[nodiscard]] std::string shown(const std::string& choice) const;

    [[nodiscard]] bool onPlan() const { return place != Place::Curve; }
    [[nodiscard]] bool onCurve() const { return place != Place::Plan; }
};

enum class Stage { Plan, Measure, SetUp, Load, Read, Judge, Report };

/// A page of the bench: the stage it serves, the verb of the ribbon, and which of the bench's pages it is.
struct PageSpec {
    Stage stage = Stage::Plan;
    std::string verb{};
    std::string page{};
};

/// Plan, Measure, Set up, Load, Read, Judge, Report.
std::vector<PageSpec> standardPages();

/// What a person does, with the words of caution that belong there.
struct StepSpec {
    Stage stage = Stage::SetUp;
    std::string text{};
    std::string safety{};
    std::string watch{}; ///< what ticks it by itself ("force-zeroed", "guard-closed" …); empty: the person
    std::string onlyIf{}; ///< "option=choice": the step belongs to that choice only
};

/// Something looked at and named rather than measured: a kind of break, a print direction.
struct NoteSpec {
    std::string key{};
    std::string label{};
    std::vector<std::string> choices{}; ///< keys, as files hold them; empty: free words
    Stage stage = Stage::Measure;
    std::string help{};
    /// How it is noted: by its choices or words; on a cross-section; as an adhesive with its clock of cure.
    enum class By { Words, Section, Cure } by = By::Words;
    /// What it adds to the drawing of the specimen.
    enum class Shown { Nothing, Direction, Rings, Grain, Knots } shownAs = Shown::Nothing;
    std::map<std::string, Sketch> sketches{}; ///< of the choices; none: words only
    std::vector<SketchLayer> section{}; ///< the cross-section it is picked on
};

/// Speeds of a test (methods basis, "Rates").
struct RateSpec {
    double slow = 0.00025; ///< strain rate to the end of the elastic part, 1/s
    double fast = 0.0067; ///< after it
    double changeAt = 0.018; ///< strain at which it changes; 0: it does not
    double window = 0.2; ///< relative, about `slow`
    double speed = 0; ///< a fixed crosshead speed instead, mm/s; 0: by strain rate
    std::string words{}; ///< "0.00025 /s ± 20 %, ISO 6892-1 method A"
    double edge = 0; ///< of a beam: strain rate of its edge, 1/s; the speed comes from the span
};

/// What is read by hand at each step, or of each reading.
struct PadChannel {
    std::string name{}; ///< of the record's channel, or a key of the readings
    std::string label{};
    std::string unit{}; ///< what a bare number is taken in; of a figure without a unit "1"
    bool optional = false; ///< read only where the gauge or dial is there
    std::string division{}; ///< option that holds what a division of its scale is worth
    Kind kind = Kind::Number; ///< of a reading that is no channel of a record
    std::optional<Kind> formerly{}; ///< old records give it as this
    enum class Role { Figure, X, Y, Depth } role = Role::Figure; ///< or a part of the reading's place
};

/// How the figures of a specimen come in. A text file is always taken where the method needs channels.
struct Intake {
    enum class By { Frame, Steps, Readings, File, History };
    std::vector<By> ways{By::Frame}; ///< the usual one first
    std::vector<PadChannel> columns{}; ///< what is keyed at each step or reading, in that order
    std::string stepped{}; ///< the channel that is brought to the next target
    std::string across{}; ///< the channel along the pad's x axis
    bool returns = false; ///< the zero is read again after the last step
    std::string stamp{}; ///< note that the time of the first reading goes to; empty: it is not kept
    bool recordBeside = false; ///< a record may stand beside what is keyed
    std::string machine{}; ///< note that names the machine it is read on; empty: the load train does

    [[nodiscard]] bool has(By way) const;
    [[nodiscard]] By usual() const { return ways.empty() ? By::File : ways.front(); }
    [[nodiscard]] bool keyed() const { return !columns.empty(); }
    [[nodiscard]] const PadChannel* find(std::string_view name) const;
};

/// A length drawn under the specimen, with the words before its value.
struct LengthLabel {
    std::string field{};
    std::string words{};
};

/// The loads that stand on a beam: its span, and the distance of two of them.
struct DrawnLoads {
    double span = 0; ///< mm; 0 unknown
    std::optional<double> between{};
};

struct SpecimenInput;

/// How the specimen is drawn, and where its lengths stand on it.
struct Drawing {
    std::string form = "waisted"; ///< one of the forms that the drawings know
    std::vector<std::string> across{"diameter", "outer_diameter",
                                    "width"}; ///< the first that fits the shape and was measured
    std::string along{}; ///< the length of the part that is tested
    std::string marks{}; ///< the distance of the marks on it
    std::vector<LengthLabel> inner{}, outer{}; ///< between the marks; of the part that is tested
    std::vector<LengthLabel> innerAfter{}; ///< between the marks, halves fitted together
    std::string heading{}; ///< over the drawing; empty: from the fields
    std::string headingAfter = "Halves fitted together";
    std::optional<DrawnLoads> (*loads)(const SpecimenInput&) = nullptr;
    /// The form by what is noted of the specimen; nullptr: all are of one.
    std::string (*formOf)(const SpecimenInput&) = nullptr;

    [[nodiscard]] std::string formFor(const SpecimenInput& input) const { return formOf ? formOf(input) : form; }
};

/// What a live curve is drawn over, and as what.
struct Live {
    bool strain = true; ///< else the travel of the drive
    bool stress = true; ///< else the load as it is
    bool balance = false; ///< four gauges of a plate stand beside it, to align the fixture by
};

/// A link of the load train, top to bottom, as Set up asks for it.
struct LinkSpec {
    std::string key{}; ///< in the job's "instruments"
    std::string kind{}; ///< of the list of instruments
    std::string none{}; ///< what is said while none is chosen; empty: it stands there only once it is chosen
    enum class Form { Cell, Grips, Platens, Supports, Chucks, Extra } form = Form::Extra;
};

/// What carries the load from the frame to the specimen.
struct LoadTrain {
    std::vector<LinkSpec> links{};
    std::string fixture = "grips"; ///< as the frame calls it
    Kind load = Kind::Force; ///< what it carries: a force, or a torque
    bool pressed = false; ///< the drive moves onto the specimen, which stands free before it
    std::string extensometer{}; ///< the field with the gauge length of one; empty: none is used
};

} // namespace fortitor
