// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/common/stress_strain.h"
#include "methods/method.h"

#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// The figures of one specimen while they are being worked out.
struct Figures {
    explicit Figures(const SpecimenInput& from) : input(from) { }

    const SpecimenInput& input;
    Outcome outcome;
    std::optional<Term> section;

    /// An empty result for each symbol of the method, of a specimen or of the set.
    void begin(const Method& method, ResultSpec::Of of = ResultSpec::Of::Specimen);
    /// A symbol that was not begun is a fault of the program: std::logic_error.
    void set(const std::string& symbol, const Term& term);
    [[nodiscard]] bool has(const std::string& symbol) const;
    [[nodiscard]] std::optional<double> value(const std::string& symbol) const;
    void remark(const std::string& code, Severity severity, std::vector<std::string> symbols, const std::string& text,
                const std::string& advice = {}, const std::string& field = {});
    /// A note that results do not apply to what was seen.
    void notApplicable(std::vector<std::string> symbols, const std::string& why);
    /// A caution for those of the symbols that stayed empty without a remark that says why.
    void sayMissing(const std::vector<std::string>& symbols, const std::string& code, const std::string& text,
                    const std::string& advice, const std::string& field = {});
    /// The last word: whatever is still empty and unexplained.
    void sayRest();
};

/// A choice that is not one of the option's is refused.
Expected<Done> checkOptions(const SpecimenInput& input, const Method& method);

/// First and mean reading of a dimension, mm; 0 without one.
double firstLength(const SpecimenInput& input, const std::string& key);
double meanLength(const SpecimenInput& input, const std::string& key);

/// A note of the specimen, empty without one.
std::string noteOf(const SpecimenInput& input, const std::string& key);

const Unit& MPa();
const Unit& percentUnit();

constexpr double rectangle = 1.7320508075688772; ///< half width ÷ this: standard uncertainty

/// Doubts that several figures share: one object a specimen, so that they cancel in ratios.
struct SharedDoubts {
    Term force;
    Term strain;
};

/// Relative error of a strain by its source, for a span of strain.
double relativeStrainError(const SpecimenInput& input, const StressStrain& data, double strainSpan);
/// What the strain was taken by.
UncertaintySource extensionSource(const SpecimenInput& input, bool crosshead = false);
/// The force cell's, as a factor of one.
Term forceDoubt(const SpecimenInput& input);
Term factorDoubt(double relative, const UncertaintySource& source);
SharedDoubts doubtsOf(const SpecimenInput& input, const StressStrain& data, double strainSpan);

/// A force read off the curve, `stress`·`section`, with noise and calibration; N or kN.
Term forceAt(double stress, double section, const SharedDoubts& doubts, const std::string& symbol,
             const std::string& description, double noise);

/// The modulus from a slope of stress on strain, tied to section and gauge length.
Term modulusTerm(const Figures& figures, const StressStrain& data, const StraightPart& part, const SharedDoubts& doubts,
                 const std::string& symbol, const std::string& rule);

/// A strain counted from the origin, with the doubt of its source.
Term strainTerm(const Figures& figures, const StressStrain& data, double strain, double origin,
                const std::string& letter, const std::string& words);

/// The strain at a maximum, with what a flat top leaves open.
Term strainAtTop(const Figures& figures, const StressStrain& data, const PeakFit& peak, double origin,
                 const std::string& letter, const std::string& words);

/// The strain at the last reading before a break, which may have come up to one reading later.
Term strainAtLast(const Figures& figures, const StressStrain& data, size_t last, double origin,
                  const std::string& letter, const std::string& words);

std::string pointsText(size_t from, size_t to);

/// The remarks on how straight the straight part is; `symbols` stand on it. A slope between two stated
/// strains may bend: there only scatter counts, by a lower R².
void remarkFit(Figures& figures, const StraightPart& part, const std::vector<std::string>& symbols,
               bool mayBend = false);

/// slope-off-published.
void againstPublished(Figures& figures, const std::string& symbol, const std::vector<std::string>& symbols);

/// The curve of stress and strain as read; the data are used up. Marks are counted from the origin.
CurveView curveFrom(StressStrain&& data, const std::optional<StraightPart>& part, double origin, double section,
                    std::vector<CurveMark> marks);

/// The first reading at or beyond a strain, from `from` on; `to` − 1 when none is.
size_t indexAtStrain(const StressStrain& data, double strain, size_t from, size_t to);

} // namespace fortitor
