// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "curve/fracture.h"
#include "curve/maximum.h"
#include "curve/signal.h"
#include "curve/straight_part.h"
#include "methods/method.h"
#include "record/row_view.h"

#include <limits>
#include <optional>
#include <span>
#include <vector>

namespace fortitor {

enum class StrainSource { None, Extensometer, StrainChannel, Crosshead };

/// A record made ready for reading: force zeroed, strain from the right source, stress worked out.
struct StressStrain {
    StressStrain() = default;
    StressStrain(StressStrain&&) = default; // it looks at the record and at itself: moved, never copied
    StressStrain& operator=(StressStrain&&) = default;

    std::vector<double> strain; ///< 1, as recorded (origin not yet corrected)
    std::vector<double> stress; ///< MPa
    std::vector<Channel> held; ///< strain channels that ended before the force did, at their last reading
    RowView displacement; ///< mm, looked at in the record; empty without the channel
    RowView time; ///< s, the same
    RowView front, back; ///< the two faces as recorded; empty with one only
    RowView transverse; ///< 1, the strain across; empty without the channel
    std::span<const double> way; ///< where the drive went, rising under load: crosshead, else extension; may be empty
    std::vector<double> wayOwn; ///< what `way` looks at where the record's own rows would not do
    double noise = 0; ///< of the stress, MPa
    double peakRaw = 0; ///< greatest force as read, N, zero taken off
    size_t topAt = 0; ///< the reading of the greatest force of the whole record, the first of equals
    size_t onset = 0;
    size_t end = 0; ///< one past the last point that counts
    size_t forceEnd = 0; ///< one past the last force that counts; later than `end` when the strain was lost first
    size_t drawnEnd = 0; ///< one past the last point drawn; later than `end` when a break was moved back
    std::optional<Fracture> fracture;
    std::optional<size_t> turnedAt; ///< the load was taken off from here on, without a break before it
    StrainSource source = StrainSource::None;
    double gaugeLength = 0; ///< what strain is divided by, mm; 0 when it came as strain
    std::optional<size_t> removedAt; ///< the extensometer stops telling from here on
    bool crossheadAfterRemoval = false;
    double parallelLength = 0; ///< Lc or the grip distance, mm; 0 unknown
    double zeroTaken = 0; ///< force taken off, N
    double zeroLeft = 0; ///< zero error known but left in place, N
};

/// What a method asks of a record, and which of its symbols stand on what.
struct PrepareRules {
    std::vector<std::string> stresses; ///< on the force
    std::vector<std::string> strains; ///< on the strain
    std::vector<std::string> late; ///< on the strain after the extensometer may be off
    std::vector<std::string> atBreak; ///< on the break
    bool compression = false; ///< shortening counts as positive; the record ends where it is greatest
    bool cutWithStrain = false; ///< where the strain is lost for good the reading ends too; else the force is read on
    bool drawing = false; ///< a polymer that may neck and draw: only a fall of 30 % within 1 % of the time is a break
};

/// The option's value or its default.
std::string optionOr(const SpecimenInput& input, const std::string& key, const std::string& fallback);

/// An option that is a quantity; Problem when it does not read. Nothing when it is not set.
Expected<std::optional<double>> optionQuantity(const SpecimenInput& input, const std::string& key, Kind kind);

/// Makes a record ready. `section` in mm². Remarks on zero, preload, strain source, extensometer,
/// missing rows are added as they are found. Refuses a record without force or with under 3 rows.
Expected<StressStrain> prepareStressStrain(const SpecimenInput& input, double section, const PrepareRules& rules,
                                           std::vector<Remark>& remarks);

/// Without a strain the number of the reading stands in its place, so that a greatest stress can be found.
void strainIsTheReading(StressStrain& data);

/// The straight part by the option `slope`, indices counted in `data`; looked for below the reading `before`.
Expected<StraightPart> straightPartByOption(const SpecimenInput& input, const StressStrain& data,
                                            size_t before = std::numeric_limits<size_t>::max());
/// The option `slope` must be readable, with or without a record: Problem when it is not.
Expected<Done> checkSlopeOption(const std::string& option);

/// Fewer readings than this were keyed by hand: the greatest of them is the load that was seen, also at the end.
constexpr size_t keyedAtMost = 60;

/// Whether the stress comes below a level after a reading while the drive goes on (three readings).
bool goesOnBelow(const StressStrain& data, size_t index, double level);

/// Whether a maximum is one: it broke there, or the stress fell by half a per cent (and clear of the noise)
/// while the drive still went on.
bool maximumPassed(const StressStrain& data, const PeakFit& peak);

/// Bending by two strains on opposite faces, (a−b)/(a+b), each from its own start; nothing with one
/// face only or without strain there.
std::optional<double> bendingAt(const StressStrain& data, size_t index);

} // namespace fortitor
