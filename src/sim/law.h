// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "sim/metal_bar.h"

#include <variant>
#include <vector>

namespace fortitor {

/// A polymer: climbs to its yield along σy·(1 − (1 − ε/εy)^m), m so that it starts at the modulus; breaks
/// on the way there when it is brittle. Else it falls to the drawing stress, draws, hardens, breaks.
struct PlasticModel {
    double modulus = 2500;
    double yieldStress = 50; ///< MPa
    double yieldStrain = 0.04;
    double drawStress = 38;
    double drawStrain = 1.2; ///< where hardening begins
    double breakStress = 46;
    double breakStrain = 1.8; ///< below the yield strain: brittle
    [[nodiscard]] bool brittle() const { return breakStrain <= yieldStrain; }
    [[nodiscard]] double stress(double strain) const;
};

/// A laminate: nearly straight, a little stiffer or softer with strain, to an abrupt break.
struct LaminateModel {
    double modulus = 60000;
    double stiffening = 2; ///< E grows by this share a strain of 1
    double strength = 600;
    double poisson = 0.06;
    double bending = 0; ///< share by which front and back differ
    [[nodiscard]] double stress(double strain) const { return modulus * strain * (1 + stiffening * strain); }
};

/// A block of core between skins, pulled or pressed through its thickness: straight, then brittle.
struct CoreModel {
    double modulus = 75;
    double strength = 1.9;
};

/// A solid piece under compression that climbs, has a top, and softens: wood along the grain.
struct SofteningModel {
    double modulus = 11000;
    double strength = 42;
    double strainAtTop = 0.006;
    double rest = 0.75; ///< share of the strength left at `end`
    double end = 0.03; ///< strain where the run is ended
};

/// A soft piece under compression: cell walls that carry to a plateau and are then pressed together (a foam), or a
/// network that stiffens from the beginning (an elastomer; plateau 0).
struct SoftModel {
    double modulus = 12; ///< MPa, at the beginning
    double plateau = 0.6; ///< MPa; 0: an elastomer
    double rise = 0.15; ///< MPa over the plateau, a strain of 1
    double together = 0.55; ///< strain where it begins to densify
    double end = 0.7; ///< strain where the run is ended, or a pulled one breaks
    double stiffening = 0; ///< MPa at a strain of 1, with its cube; above 0: an elastomer under tension
    [[nodiscard]] double stress(double strain) const;
};

/// A thin shell under its own force–travel law: straight to the peak, down to a wavy plateau of folds,
/// then crushed together.
struct ShellModel {
    double peak = 900; ///< N
    double peakTravel = 1.1; ///< mm
    double plateau = 380; ///< N
    double wave = 0.16; ///< share of the plateau
    double waveLength = 6; ///< mm
    double together = 42; ///< mm, where it climbs for good
    double climb = 60; ///< N/mm² of the last climb
    double end = 48; ///< mm, where the run is ended
    [[nodiscard]] double force(double travel) const;
};

/// A beam on its supports, force over deflection under the load: straight to its limit, then ever slower
/// to its strength, and a break.
struct BeamModel {
    double slope = 118; ///< N/mm
    double limit = 620; ///< N
    double strength = 1050; ///< N, never quite reached
    double breakDeflection = 14; ///< mm
    [[nodiscard]] double force(double deflection) const;
};

/// A shaft in a torsion head, torque over its twist: elastic, then plastic from the surface inwards with
/// some hardening, to the break. A solid section's torque climbs by a third once all of it yields, a tube's
/// by less.
struct ShaftModel {
    double stiffness = 1.3e6; ///< N·mm/rad
    double yieldTorque = 9.4e4; ///< N·mm, the surface yields
    double hardening = 6e3; ///< N·mm/rad
    double breakTwist = 9; ///< rad
    double bore = 0; ///< inner over outer diameter
    double shear = 0.04; ///< surface shear strain a radian, r/L
    [[nodiscard]] double torque(double twist) const;
};

/// A part with a rated load, force over its travel: straight to where it yields for good, then ever more slowly towards
/// its strength, to a break. Its joints rub, so that loading and unloading part.
struct PartModel {
    double stiffness = 16000; ///< N/mm
    double knee = 30000; ///< N, onset of lasting yield
    double hardening = 0.3; ///< share of the stiffness just behind the knee
    double strength = 52000; ///< N that it never quite reaches
    double breakTravel = 9; ///< mm of its own
    double rub = 0.008; ///< friction in the joints, as a share of the load
    double slack = 0.15; ///< mm of free travel before its first load
    double seating = 0.02; ///< mm of lasting set, once it has carried half of its knee
    double creep = 0.006; ///< mm that it gives while it is held near its knee
    /// Over the travel without slack and seating.
    [[nodiscard]] double force(double travel) const;
};

using SpecimenModel = std::variant<MetalModel, PlasticModel, LaminateModel, CoreModel, SofteningModel, SoftModel,
                                   ShellModel, BeamModel, ShaftModel, PartModel>;

/// Stress over strain as a polyline, strain rising but for a jump where a metal's yield drops; what
/// it unloads along. A shell, a beam and a shaft have force over travel or torque over twist, on a
/// section and a length of 1.
struct Law {
    std::vector<double> strain;
    std::vector<double> stress;
    double modulus = 1;
    bool breaks = true; ///< the end of the polyline is a break, not only the end of what is known
};

Law lawOf(const SpecimenModel& model);

/// The way a specimen in a frame goes: crosshead, stress, strain. Where the machine springs back faster
/// than the specimen gives way, the crosshead stands and the specimen jumps on. mm, mm², mm/N.
BarPath barPath(const Law& law, double length, double section, double compliance);

/// The slope of the law between two strains.
double chordOf(const Law& law, double from, double to);

} // namespace fortitor
