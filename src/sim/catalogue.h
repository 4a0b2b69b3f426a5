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
    std::string direction; ///< of printing or fibres, where it matters
    SpecimenModel model;
    std::string shape = "round";
    double diameter = 10; ///< mm; 0 for a flat bar
    double width = 0, thickness = 0;
    double length = 0; ///< of a bonded block, mm
    double span = 0; ///< between supports, mm
    double loadSpan = 0; ///< between two loads, mm; 0: one load in the middle
    double height = 0; ///< of a piece under compression, mm
    double gaugeLength = 50; ///< between marks; 0: none
    double extensometer = 50; ///< 0: none
    double parallelLength = 60; ///< or between the grips, or the height
    double compliance = 6e-6;
    double cell = 50000; ///< N
    double removeAtStrain = 0; ///< take the extensometer off there; 0: it stays on
    bool gauges = false; ///< front, back and transverse strain are recorded
    bool plate = false; ///< four gauges, two a face
    double slowRate = 0.000275; ///< 1/s of the length
    double changeAt = 0.018; ///< strain
    double fastRate = 0.0067;
    double points = 4000; ///< readings of a run
    double stopStrain = 0; ///< the run is ended there and goes back; 0: to the break
    double backRate = 0; ///< 1/s of the length on the way back; 0: the fast one
    bool recordedNegative = false; ///< this frame writes compression as negative
    std::map<std::string, std::string> options; ///< of a job that goes with it
    int steps = 0; ///< read by hand at so many holds up to `stopStrain`, and at zero again; or at options["steps"]
    std::string fixture = "grips"; ///< "grips", "platens", "bending", "torsion"
};

const std::vector<CatalogueEntry>& catalogue();
/// Of the catalogue, or made for a job (stand_in.h); nullptr for an unknown name.
const CatalogueEntry* findCatalogueEntry(std::string_view name);
/// The kind of specimen that a job of a method and material hangs in the frame, by its direction where
/// several differ in that only, by its shape, or by the options that go with it; nullptr when the shelf has none.
const CatalogueEntry* entryFor(std::string_view method, std::string_view material, std::string_view direction,
                               std::string_view shape = {}, const std::map<std::string, std::string>& options = {});

/// One specimen with its own scatter of material, size and circumstances, decided by the seed.
struct SimulatedSpecimen {
    VirtualBar bar;
    FrameConditions conditions;
    SpecimenModel model;
    std::map<std::string, double> truth; ///< symbol → value in base units; those that apply
    std::map<std::string, std::vector<std::string>> dimensions; ///< as a person would key them
    std::map<std::string, std::string> notes; ///< what a person would find on it after the run

    [[nodiscard]] double trueValue(const std::string& symbol) const
    {
        const auto it = truth.find(symbol);
        return it == truth.end() ? 0 : it->second;
    }
};

SimulatedSpecimen drawSpecimen(const CatalogueEntry& entry, std::uint64_t seed);
/// The truth of a model, and the law that goes with it, put in place anew after it was changed.
void settleTruth(SimulatedSpecimen& specimen, const CatalogueEntry& entry);

/// The steps of a run: quiet start, slow, faster, to the break or the stop, a moment after it.
/// Sampled about `points` times; 0: as often as the entry's frame does.
struct SimulatedRun {
    Record record;
    SimulatedSpecimen specimen;
};

SimulatedRun simulateRun(const CatalogueEntry& entry, std::uint64_t seed, double points = 0);
/// The same on a specimen that is already drawn.
SimulatedRun simulateRun(const CatalogueEntry& entry, SimulatedSpecimen specimen, std::uint64_t seed,
                         double points = 0);

/// A part with a rated load through its method's own program: proof loads, then to the end; in `proof_run.cpp`.
SimulatedRun simulateProof(const CatalogueEntry& entry, SimulatedSpecimen specimen, std::uint64_t seed, double points);

/// The record as the frame would write it: CSV with units in the header.
std::string recordCsv(const Record& record);

} // namespace fortitor
