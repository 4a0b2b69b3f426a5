// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/record.h"
#include "sim/virtual_frame.h"

#include <cstdint>
#include <map>
#include <string>
#include <vector>

namespace fortitor {

/// A kind of specimen on the shelf of the simulated laboratory.
struct CatalogueEntry {
    std::string name;
    std::string words;
    std::string method;
    std::string material; ///< as a job would name it
    MetalModel model;
    double diameter = 10;        ///< mm; 0 for a flat bar
    double width = 0, thickness = 0;
    double gaugeLength = 50;
    double extensometer = 50;
    double parallelLength = 60;
    double compliance = 6e-6;
    double cell = 50000;         ///< N
    double removeAtStrain = 0;   ///< take the extensometer off there; 0: it stays on
};

const std::vector<CatalogueEntry>& catalogue();
const CatalogueEntry* findCatalogueEntry(std::string_view name);

/// One specimen with its own scatter of material, size and circumstances, decided by the seed.
struct SimulatedSpecimen {
    VirtualBar bar;
    FrameConditions conditions;
    MetalTruth truth;
    std::map<std::string, std::vector<std::string>> dimensions; ///< as a person would key them
};

SimulatedSpecimen drawSpecimen(const CatalogueEntry& entry, std::uint64_t seed);

/// The steps of a run: quiet start, slow to yield, faster to the break, a moment after it.
/// Sampled about `points` times.
struct SimulatedRun {
    Record record;
    SimulatedSpecimen specimen;
};

SimulatedRun simulateRun(const CatalogueEntry& entry, std::uint64_t seed, double points = 4000);
/// The same on a specimen that is already drawn.
SimulatedRun simulateRun(const CatalogueEntry& entry, SimulatedSpecimen specimen, std::uint64_t seed, double points = 4000);

/// The record as the frame would write it: CSV with units in the header.
std::string recordCsv(const Record& record);

} // namespace fortitor
