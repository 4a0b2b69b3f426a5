// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "frame/program.h"
#include "frame/steps.h"
#include "judge/acceptance_rule.h"
#include "methods/outcome.h"
#include "methods/specs.h"
#include "units/expected.h"

#include <map>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// What a method works out of sizes and published values where it is not simply the strength times the section.
struct ExpectedMaximum {
    double load = 0; ///< N, or N·mm
    double yield = 0; ///< the same where it yields; 0: unknown
    std::string basis{};
};

/// What the specimen is expected to do. N or N·mm.
struct ExpectedLoad {
    std::optional<double> maximum{};
    std::optional<double> yield{};
    double elongation = 0; ///< strain at break, 0 unknown
    bool stated = false; ///< by a person, on Plan
    std::string basis{}; ///< "Rm 320 MPa (…) on 78.80 mm²", or why there is none
};

/// Speeds and times of a run (methods basis, "Rates"). mm/s, or rad/s of a torsion head.
struct RatePlan {
    double yieldSpeed = 0; ///< of the drive to yield, Lc·0.00025 /s
    double afterSpeed = 0; ///< after it, Lc·0.0067 /s
    double strainRate = 0; ///< 1/s to yield, where the rule is one of strain; 0: it is one of speed
    double changeStrain = 0; ///< strain at which the speed changes
    double changeTravel = 0; ///< travel of the drive at which it changes, where no strain is read; 0: it does not
    double yieldTime = 0; ///< s, without the frame's own stretch
    double wholeTime = 0; ///< s
    double lowest = 0, highest = 0; ///< window of the strain rate to yield, 1/s
};

/// All that a run is made from.
struct RunInput {
    const SpecimenInput& specimen;
    const ExpectedLoad& expected;
    const RatePlan& rates;
};

/// A way to carry the test out, as it follows from what is known of the piece.
struct Proposal {
    std::string name{}; ///< "HV 10"
    std::map<std::string, std::string> options{}; ///< that choose it; an empty one is taken out
    std::vector<std::pair<std::string, std::string>> figures{}; ///< name and figure: the same names for all
    bool fits = false;
    std::string why{}; ///< why it falls away, or what to know of it
    std::string more{}; ///< further figures, in words
};

/// How those ways are told on Plan.
struct ProposalWords {
    std::string head = "Which scale";
    std::string first = "scale"; ///< head of the first column
    std::string order = "the largest indents first";
    std::string taking = "Enter or a double click takes a scale, with its force and ball.";
    bool ladder = true; ///< scales of hardness stand side by side
};

/// Pieces that are to be tested at one value of a condition, or were.
struct SpreadGroup {
    double value = 0; ///< in the base unit of the condition
    size_t pieces = 0;
    size_t done = 0; ///< of them, those that were tested
};

/// A condition that the pieces are spread over before they are tested.
struct SpreadSpec {
    std::string planned{}; ///< note: what is planned of a piece
    std::string noted{}; ///< note, or reading: what was when it was tested
    std::string label{}, unit{};
    Kind kind = Kind::Number;
    std::string example{}; ///< "-60: 3; -40: 3"
    double low = -80, high = 40; ///< what is drawn while nothing is planned, in that unit
    double alike = 0.75; ///< base units: what was tested lies that near to what was planned
    /// What they take, in words.
    std::string (*words)(const SpecimenInput&, std::span<const SpreadGroup>) = nullptr;
};

/// A figure of a machine that is taken on a day.
struct DailyValue {
    std::string when{}; ///< 2026-11-30T08:10
    double value = 0; ///< in the base unit
};

/// What the values of some days say.
struct DailyJudged {
    std::optional<double> limit{}; ///< that none may pass
    bool within = true; ///< the last one
    bool today = false; ///< the last one is of this day
    std::vector<std::string> words{};
};

/// A check of a machine that is made once a day: its value is an option of the job, and each is kept with its time.
struct DailySpec {
    std::string option{}, of{}; ///< the option it sets, and the one that says which machine it is
    std::string label{}, unit{};
    Kind kind = Kind::Number;
    std::string help{};
    /// The values in the order of time; `today`: 2026-11-30.
    DailyJudged (*judge)(std::span<const DailyValue>, const SpecimenInput&, const std::string& today) = nullptr;
};

/// A load that stands across a picture of loads.
struct LoadLevel {
    double load = 0; ///< N
    std::string words{}; ///< "working load 0.8 t"
    bool stop = false; ///< the drive stops there
};

/// The loads of a run over its time, as Plan draws them.
struct LoadProfile {
    std::vector<double> time{}, load{}; ///< s, N
    std::vector<double> checks{}; ///< s at which it waits for a person
    double byDisplacementFrom =
        0; ///< s from which the drive is led by its way: load and time are rough there; 0: never
    std::vector<LoadLevel> levels{};
    double rated = 0; ///< N that the part is rated for; 0: not known
    std::vector<std::string> words{}; ///< a sentence each
};

/// What Measure says of the section.
struct SectionShown {
    std::string title = "section now";
    std::optional<double> area{}; ///< mm²; nothing while it is not measured
    std::string how{}; ///< "mean of the places"
    std::string words{}; ///< below it
};

/// A test method: one declaration that the application, the command line, the report and the tests
/// all live off.
struct Method {
    std::string id{};
    std::string name{};
    std::string variant{}; ///< which one of those that `byOptions` gives
    std::string question{}; ///< what it answers, as a person asks
    std::string standards{};
    std::vector<std::string> shapes{};
    std::vector<FieldSpec> fields{};
    std::vector<ResultSpec> results{};
    std::vector<OptionSpec> options{};
    std::vector<StepSpec> steps{};
    std::vector<NoteSpec> notes{};
    Intake intake{};
    Drawing drawing{};
    Live live{};
    LoadTrain train{};
    RateSpec rates{};
    std::vector<std::string> lengths{}; ///< fields with the length that is strained, the first that was measured counts
    std::vector<PageSpec> pages = standardPages();
    std::string leads{}; ///< the result that Read opens with; empty: the first
    std::vector<std::string> onMaximum{}; ///< results that stand on the greatest load, or end there
    std::vector<std::string> leavesSet{}; ///< reject codes that take a specimen out of the set by themselves
    std::vector<std::vector<std::string>> channels{}; ///< needed channels; of each inner list one
    std::string checks{}; ///< the result by which a check beside the set is told
    std::string readingsKey{}; ///< of the list of single readings in the results; empty: there is none
    std::vector<std::string> reference{"materials"}; ///< tables of published values that serve it
    int leastSpecimens = 3;
    ProposalWords proposals{};
    std::optional<SpreadSpec> spread{};
    std::optional<DailySpec> daily{};
    bool averaged = true; ///< the figures of specimens have a mean; false: each stands for itself, the set tells
    bool scraps = false; ///< what was tested looks like a part that may be used: it gets a label for scrap

    /// The method as it is by options that decide what is read and in which unit; nullptr: it is always the same.
    Method (*byOptions)(const std::map<std::string, std::string>&) = nullptr;
    /// Pure. Refuses only what makes no sense at all (a section of zero, an option that is not one).
    Expected<Outcome> (*evaluate)(const SpecimenInput&) = nullptr;
    /// Specimens of one name are averaged together; nullptr: all are of one lot.
    std::string (*lotOf)(const SpecimenInput&) = nullptr;
    /// What only the set as a whole can give: results with their derivation, remarks, views. The set is what counts.
    Expected<Outcome> (*evaluateSet)(const SetInput&) = nullptr;
    /// The area that carries the load, mm². Nothing while it is not measured.
    std::optional<double> (*loadedArea)(const SpecimenInput&) = nullptr;
    /// The section in words, as Measure shows it: of the specimen, or of the broken pieces.
    Expected<SectionShown> (*section)(const SpecimenInput&, bool afterBreak) = nullptr;
    /// Where the load is not simply the strength times the section.
    std::optional<ExpectedMaximum> (*expect)(const SpecimenInput&) = nullptr;
    /// Where the speeds do not follow from the length alone.
    std::optional<RatePlan> (*speeds)(const RateSpec&, const SpecimenInput&, const ExpectedLoad&) = nullptr;
    /// The run as the frame is told it; nothing where it is not run on a frame.
    Expected<RunProgram> (*program)(const RunInput&) = nullptr;
    /// The loads of the run as they are planned; nothing while they are not known.
    std::optional<LoadProfile> (*profile)(const RunInput&) = nullptr;
    /// Holds a specimen against an acceptance rule that the job cites; nullptr: the method knows no such rules.
    RuleVerdict (*judgeRule)(const AcceptanceRule&, const Outcome&, const SpecimenInput&) = nullptr;
    /// Which of the rules asks for most, in words; empty where they can't be compared, or are alike.
    std::string (*strictestRule)(std::span<const AcceptanceRule>, const SpecimenInput&) = nullptr;
    /// Of a result beside those listed, such as a proof strength at another offset.
    std::optional<ResultSpec> (*specLike)(const std::string& symbol) = nullptr;
    /// Ways to test a piece, the best first; those that fall away behind, with the reason.
    std::vector<Proposal> (*propose)(const SpecimenInput&) = nullptr;
    /// The steps of the reading pad where none are stated.
    StepPlan (*proposeSteps)(const SpecimenInput&, const ExpectedLoad&, const Unit&) = nullptr;

    [[nodiscard]] const ResultSpec* findResult(std::string_view symbol) const;
    [[nodiscard]] const FieldSpec* findField(std::string_view key) const;
    [[nodiscard]] const OptionSpec* findOption(std::string_view key) const;
    [[nodiscard]] const OptionSpec* optionOf(OptionSpec::Role role) const;
    [[nodiscard]] const NoteSpec* findNote(std::string_view key) const;
    [[nodiscard]] const NoteSpec* noteShownAs(NoteSpec::Shown what) const;
    [[nodiscard]] const PageSpec* pageOf(Stage stage) const;
};

/// Whether a step belongs to the options that are chosen.
bool stepApplies(const StepSpec& step, const Method& method, const std::map<std::string, std::string>& options);

/// All methods, in the order of the rail.
const std::vector<Method>& methodRegistry();
/// By its id, of those and of `furtherMethods`; nullptr for none.
const Method* findMethod(std::string_view id);
/// The same by its options; nullptr for an unknown id. It stays for as long as the program runs.
const Method* findMethod(std::string_view id, const std::map<std::string, std::string>& options);
/// Methods beside the registry's, such as one under trial; the program has none.
std::vector<Method>& furtherMethods();

} // namespace fortitor
