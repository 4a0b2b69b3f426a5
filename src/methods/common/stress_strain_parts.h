// SPDX-License-Identifier: GPL-3.0-or-later
// What prepareStressStrain is put together from.
#pragma once

#include "methods/common/stress_strain.h"

namespace fortitor {

/// The rows of a column without those that are left out (rising).
std::vector<double> gatherWithout(const Column& column, const std::vector<size_t>& gaps);

/// The readings of a channel: looked at in the record as long as they are not changed, then a copy of their own.
struct Readings {
    std::span<const double> values; ///< in the record, or in `own`
    std::vector<double> own;

    /// Those of a column without the rows that are left out (rising).
    Readings(const Column& column, const std::vector<size_t>& gaps);
    Readings() = default;
    Readings(Readings&&) = default; // it looks at itself: moved, never copied
    Readings& operator=(Readings&&) = default;

    std::span<double> toChange();
    void take(std::vector<double> changed);
    void turnSign();
};

/// A dimension of the specimen; null where it is not given.
const Quantity* dimensionOf(const SpecimenInput& input, const std::string& key);

/// What shows where the drive went: the crosshead, else the strain; rising while the load is put on.
struct Way {
    std::span<const double> values; ///< in the record, or in `own` where they had to be changed
    std::vector<double> own;
    bool crosshead = false;
};
Way wayOf(const Channel* crosshead, const Channel* strain, const std::vector<size_t>& gaps, size_t topAt);

/// Force at the quiet start: a zero error, real preload, or not known. Finds onset and break.
void settleZero(const SpecimenInput& input, const PrepareRules& rules, Readings& force, double noise, const Way& way,
                StressStrain& data, std::vector<Remark>& remarks);
void remarkPreload(const SpecimenInput& input, const PrepareRules& rules, const StressStrain& data, double section,
                   std::vector<Remark>& remarks);

struct StrainChoice {
    const Channel* first = nullptr;
    const Channel* second = nullptr;
    StrainSource source = StrainSource::None;
};

StrainChoice chooseStrain(const SpecimenInput& input, const PrepareRules& rules, std::vector<Remark>& remarks);

/// The chosen channel as it was read: an extension in mm, or a strain; of two faces the mean.
Readings readStrainChannel(const StrainChoice& choice, const PrepareRules& rules, const std::vector<size_t>& gaps,
                           StressStrain& data, std::vector<Remark>& remarks);

/// Slips, and whether it was taken off, seen on the extension itself (mm).
void watchExtensometer(Readings& extension, double perUnit, const PrepareRules& rules, std::span<const double> force,
                       double forceNoise, StressStrain& data, std::vector<Remark>& remarks);

/// What becomes of the strain once the extensometer is off.
void goOnWithoutExtensometer(const PrepareRules& rules, const Channel& channel, std::span<const double> force,
                             double compliance, StressStrain& data, std::vector<Remark>& remarks);

} // namespace fortitor
