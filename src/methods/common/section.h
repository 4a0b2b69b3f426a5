// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// A length typed once or several times, as a term with the calliper's doubt; mean of the readings.
/// Nothing when it was not given.
std::optional<Term> lengthTerm(const SpecimenInput& input, const std::string& key, const std::string& symbol,
                               const std::string& description);

/// The section from the repeat readings: mean of the sections (ISO 6892-1), or the least
/// (option area_from). `prefix` "" for the original section, "final_" for the neck.
/// Nothing when readings are missing. Refuses a section that is zero or negative.
Expected<std::optional<Term>> sectionTerm(const SpecimenInput& input, const std::string& prefix,
                                          const std::string& symbol);

/// The area of the section, mm²; nothing while readings are missing or refused.
std::optional<double> sectionArea(const SpecimenInput& input);
/// What Measure says of it: mean or least of the places; of the neck.
Expected<SectionShown> shownSection(const SpecimenInput& input, bool afterBreak);
/// The same of a method that loads a piece as it is: nothing but the figure.
Expected<SectionShown> noSection(const SpecimenInput& input, bool afterBreak);

/// Whether a shape is flat: a strip or a plate, with square shoulders.
bool isFlat(std::string_view shape);

/// The shape that the readings speak of where none is named; empty when they speak of none that the method knows.
std::string impliedShape(const SpecimenInput& input, const std::vector<std::string>& shapes);
/// A dimension of a section that may be given without being one of the method's fields: an area outright, an inner
/// diameter.
bool isSectionKey(std::string_view key);
/// A section that can't be: a wall above the radius.
std::optional<Problem> impossibleSection(const SpecimenInput& input);

/// Keys of the section's readings for a shape, in the order of measuring.
std::vector<std::string> sectionKeys(const SpecimenInput& input);

/// Remarks on the readings themselves: nominal-dimension, dimension-spread, reading-slip.
std::vector<Remark> checkReadings(const SpecimenInput& input);

/// The factor (10, 25.4, 2 or their inverse) by which a reading differs from what it is held
/// against, or 0 when it does not. Used as a reading is made.
double slipFactor(double reading, double others);

/// What a reading is queried with as it is made, in words; empty when it stands among the others. Held
/// against the other readings on the piece (the nearest of them) and the same place on the pieces before
/// (their median); over a fifth away it is queried, and a slip of ten, of the unit or of two is named.
/// Lengths and other plain figures in their base unit.
std::string readingQuery(double reading, const std::vector<double>& onThePiece, const std::vector<double>& piecesBefore,
                         const Unit& unit);

/// The same checks (nominal figures, slips of ten or of the unit, spread) on the dimensions named.
std::vector<Remark> checkDimensions(const SpecimenInput& input, const std::vector<std::string>& keys);

} // namespace fortitor
