// SPDX-License-Identifier: GPL-3.0-or-later
// Plastics and laminates: options, checks, and records that are not as they should be.
#include "support.h"

#include "methods/common/segment_slope.h"
#include "methods/tension_composite/tension_composite.h"
#include "methods/tension_plastic/tension_plastic.h"

namespace fortitor::plastic_composite_test {
namespace {

using namespace test;

/// A record of a known law on a section of 40 mm² and 50 mm gauge length; crosshead over 115 mm.
SpecimenInput lawInput(const std::function<double(double)>& stress, double last, size_t points = 4000)
{
    SpecimenInput in;
    in.label = "P1";
    in.shape = "rectangular";
    in.dimensions["width"] = {*parseQuantity("10.00 mm", Kind::Length)};
    in.dimensions["thickness"] = {*parseQuantity("4.00 mm", Kind::Length)};
    in.dimensions["extensometer_gauge_length"] = {*parseQuantity("50 mm", Kind::Length)};
    in.dimensions["grip_distance"] = {*parseQuantity("115 mm", Kind::Length)};
    auto record = std::make_shared<Record>();
    record->channels.reserve(3);
    Channel& force = record->add("force");
    Channel& extension = record->add("extension");
    Channel& crosshead = record->add("displacement");
    const auto put = [&](double e, double s) {
        force.values.append(s * 40);
        extension.values.append(e * 50);
        crosshead.values.append(e * 115);
    };
    for (int i = 0; i < 30; ++i)
        put(0, 0);
    for (size_t i = 0; i <= points; ++i)
        put(last * static_cast<double>(i) / static_cast<double>(points),
            stress(last * static_cast<double>(i) / static_cast<double>(points)));
    for (int i = 0; i < 30; ++i)
        put(last, 0);
    in.record = record;
    return in;
}

TEST(Plastic, OptionsOfTheModulusOnAKnownParabola)
{
    // σ = 3000ε − 60000ε²: chord 0.05–0.25 % is 3000 − 60000·0.003 = 2820; tangent at zero 3000.
    SpecimenInput in = lawInput([](double e) { return 3000 * e - 60000 * e * e; }, 0.024);
    in.options["modulus"] = "secant";
    const double secant = *valueOf(evaluated("tension-plastic", in), "Et");
    in.options["modulus"] = "tangent";
    const double tangent = *valueOf(evaluated("tension-plastic", in), "Et");
    in.options["modulus"] = "regression";
    const double regression = *valueOf(evaluated("tension-plastic", in), "Et");
    // The origin moves to where the chord meets zero, so the two strains lie a little lower.
    EXPECT_NEAR(secant, 2820, 6);
    EXPECT_NEAR(regression, secant, 6);
    EXPECT_NEAR(tangent, 3000, 12);
    in.options["segment"] = "0.1 % 0.3 %";
    in.options["modulus"] = "secant";
    EXPECT_NEAR(*valueOf(evaluated("tension-plastic", in), "Et"), 3000 - 60000 * 0.004, 8);
    in.options["segment"] = "0.3 % 0.1 %";
    EXPECT_FALSE(findMethod("tension-plastic")->evaluate(in));
}

TEST(Plastic, BrittleBarsHaveNoYieldAndDrawnOnesNoStrainAtBreak)
{
    const Outcome brittle = evaluated("tension-plastic", simulatedInput("footplate-across", 5));
    EXPECT_FALSE(valueOf(brittle, "sigma_y"));
    EXPECT_TRUE(explained(brittle, "sigma_y"));
    EXPECT_TRUE(valueOf(brittle, "eps_b"));
    const Outcome drawn = evaluated("tension-plastic", simulatedInput("fairing-polyethylene", 5));
    EXPECT_TRUE(valueOf(drawn, "sigma_y"));
    EXPECT_FALSE(valueOf(drawn, "eps_b"));
    EXPECT_GT(*valueOf(drawn, "eps_tb"), 4);
    EXPECT_TRUE(remarkOf(drawn, "extensometer-removed"));
    EXPECT_GT(drawn.curve()->crossheadFrom, 0u);
}

TEST(Plastic, StrengthIsTheFirstMaximumOrTheGreatest)
{
    SpecimenInput in = simulatedInput("gate-nylon", 5); // hardens above its yield before it breaks
    const double first = *valueOf(evaluated("tension-plastic", in), "sigma_m");
    in.options["strength"] = "greatest";
    const double greatest = *valueOf(evaluated("tension-plastic", in), "sigma_m");
    EXPECT_GT(greatest, 1.1 * first);
    EXPECT_NEAR(first, *valueOf(evaluated("tension-plastic", in), "sigma_y"), 1e-9);
}

TEST(Plastic, NominalStrainByBothMethods)
{
    SpecimenInput in = simulatedInput("gate-nylon", 5);
    const double a = *valueOf(evaluated("tension-plastic", in), "eps_tb");
    in.options["nominal"] = "extensometer to yield";
    const double b = *valueOf(evaluated("tension-plastic", in), "eps_tb");
    EXPECT_NEAR(a, b, 0.02 * a);
}

TEST(Plastic, CrossheadOnlyLeavesModulusAndStrainsOut)
{
    SpecimenInput in = simulatedInput("footplate-crossed", 5);
    in.record = without(*in.record, "extension");
    const Outcome o = evaluated("tension-plastic", in);
    for (const char* symbol : {"Et", "eps_y", "eps_m"}) {
        EXPECT_FALSE(valueOf(o, symbol)) << symbol;
        EXPECT_TRUE(explained(o, symbol)) << symbol;
    }
    EXPECT_TRUE(valueOf(o, "sigma_y"));
    EXPECT_TRUE(valueOf(o, "eps_tb"));
    in.options["strain_from"] = "crosshead";
    EXPECT_TRUE(valueOf(evaluated("tension-plastic", in), "Et"));
}

TEST(Plastic, ExtensometerTravelAndGripBreaks)
{
    SpecimenInput in = simulatedInput("footplate-crossed", 5);
    in.instruments.extensionTravel = 1;
    EXPECT_TRUE(remarkOf(evaluated("tension-plastic", in), "extensometer-unsuitable"));
    in.instruments.extensionTravel = 25;
    EXPECT_FALSE(remarkOf(evaluated("tension-plastic", in), "extensometer-unsuitable"));
    in.notes["fracture"] = "at the grip";
    EXPECT_EQ(remarkOf(evaluated("tension-plastic", in), "break-at-grip")->severity, Severity::Caution);
    in.options["grip_break"] = "is thrown out";
    EXPECT_EQ(remarkOf(evaluated("tension-plastic", in), "break-at-grip")->severity, Severity::Reject);
}

TEST(Plastic, FiveBarsOfEachDirection)
{
    SpecimenInput along;
    along.notes["direction"] = "along 0°";
    SpecimenInput across;
    across.notes["direction"] = "across 90°";
    EXPECT_TRUE(checkPlasticSet({.inputs = {&along, &along}})->remarks.empty());
    const auto few = checkPlasticSet({.inputs = {&along, &along, &along, &along, &along, &across}})->remarks;
    ASSERT_EQ(few.size(), 1u);
    EXPECT_EQ(few[0].text, "1 bars across 90°; five of each direction are asked for.");
}

TEST(Composite, ChordPoissonAndBendingOfAKnownLaminate)
{
    SpecimenInput in;
    in.label = "L1";
    in.shape = "rectangular";
    in.dimensions["width"] = {*parseQuantity("15.00 mm", Kind::Length)};
    in.dimensions["thickness"] = {*parseQuantity("2.00 mm", Kind::Length)};
    auto record = std::make_shared<Record>();
    record->channels.reserve(4);
    Channel& force = record->add("force");
    Channel& front = record->add("strain");
    Channel& back = record->add("strain_2");
    Channel& across = record->add("transverse_strain");
    const auto put = [&](double e, double f) {
        force.values.append(f);
        front.values.append(e * 1.03);
        back.values.append(e * 0.97);
        across.values.append(-0.3 * e);
    };
    for (int i = 0; i < 30; ++i)
        put(0, 0);
    for (int i = 0; i <= 3000; ++i)
        put(0.01 * i / 3000, 60000 * 0.01 * i / 3000 * 30);
    for (int i = 0; i < 30; ++i)
        put(0.01, 0);
    in.record = record;
    const Outcome o = evaluated("tension-composite", in);
    EXPECT_NEAR(*valueOf(o, "E_chord"), 60000, 1);
    EXPECT_NEAR(*valueOf(o, "nu12"), 0.3, 1e-6);
    EXPECT_NEAR(*valueOf(o, "By"), 0.03, 1e-6);
    EXPECT_NEAR(*valueOf(o, "sigma_max"), 600, 0.5);
    EXPECT_FALSE(remarkOf(o, "bending"));
    EXPECT_FALSE(o.curve()->bending.empty());
}

TEST(Composite, MuchBendingIsCautioned)
{
    SpecimenInput in = simulatedInput("shell-skin", 5);
    auto record = std::make_shared<Record>(*in.record);
    for (Channel& c : record->channels)
        if (c.name == "strain" || c.name == "strain_2") {
            Column bent;
            for (size_t i = 0; i < c.values.size(); ++i)
                bent.append(c.values[i] * (c.name == "strain" ? 1.2 : 0.8));
            c.values = std::move(bent);
        }
    in.record = record;
    const Outcome o = evaluated("tension-composite", in);
    ASSERT_TRUE(remarkOf(o, "bending"));
    EXPECT_GT(*valueOf(o, "By"), 0.15);
}

TEST(Composite, ADeadGaugeIsLeftOutAndSaid)
{
    for (const char* name : {"strain", "strain_2"}) {
        SpecimenInput in = simulatedInput("shell-skin", 2);
        const double whole = *valueOf(evaluated("tension-composite", in), "E_chord");
        auto record = std::make_shared<Record>(*in.record);
        for (Channel& c : record->channels)
            if (c.name == name) {
                Column still;
                for (size_t i = 0; i < c.values.size(); ++i)
                    still.append(1e-6 * static_cast<double>(i % 3));
                c.values = std::move(still);
            }
        in.record = record;
        const Outcome o = evaluated("tension-composite", in);
        EXPECT_TRUE(remarkOf(o, "gauge-lost")) << name;
        EXPECT_NEAR(*valueOf(o, "E_chord"), whole, 0.03 * whole) << name; // the other face, not half of it
        EXPECT_FALSE(valueOf(o, "By"));
    }
}

TEST(Composite, StrainIsNeverTakenFromTheCrosshead)
{
    SpecimenInput in = simulatedInput("deck-skin", 5);
    // The extensometer stands still from a third of the way on.
    auto record = std::make_shared<Record>(*in.record);
    for (Channel& c : record->channels)
        if (c.name == "extension") {
            Column frozen;
            for (size_t i = 0; i < c.values.size(); ++i)
                frozen.append(c.values[std::min(i, c.values.size() / 3)]);
            c.values = std::move(frozen);
        }
    in.record = record;
    const Outcome o = evaluated("tension-composite", in);
    EXPECT_TRUE(valueOf(o, "E_chord"));
    EXPECT_FALSE(valueOf(o, "eps_max"));
    EXPECT_TRUE(remarkOf(o, "strain-not-to-break"));
    EXPECT_TRUE(valueOf(o, "sigma_max"));
}

TEST(Composite, FailureCodesAndGripFailuresOfTheSet)
{
    SpecimenInput in = simulatedInput("shell-skin", 5);
    in.notes = {{"failure_kind", "L lateral"}, {"failure_area", "G gauge length"}, {"failure_place", "M middle"}};
    const Outcome o = evaluated("tension-composite", in);
    const Remark* code = remarkOf(o, "failure-code");
    ASSERT_TRUE(code);
    EXPECT_EQ(code->text, "Failure LGM: lateral, gauge length, middle.");
    SpecimenInput grip = in;
    grip.notes["failure_area"] = "A at the grip";
    EXPECT_TRUE(checkCompositeSet({.inputs = {&in, &in, &grip}})->remarks.empty());
    const auto many = checkCompositeSet({.inputs = {&in, &grip, &grip}})->remarks;
    ASSERT_EQ(many.size(), 1u);
    EXPECT_EQ(many[0].code, "grip-failures");
}

TEST(Composite, ABilinearCurveHasItsTransition)
{
    SpecimenInput in = lawInput([](double e) { return e < 0.004 ? 20000 * e : 80 + 15000 * (e - 0.004); }, 0.015);
    in.options["transition"] = "find";
    const Outcome o = evaluated("tension-composite", in);
    EXPECT_NEAR(*valueOf(o, "eps_transition"), 0.004, 2e-4);
}

TEST(SegmentSlopes, AFootMovesTheOriginAndNotTheSlope)
{
    SpecimenInput in = lawInput([](double e) { return 2500 * e; }, 0.02);
    const double plain = *valueOf(evaluated("tension-plastic", in), "Et");
    SpecimenInput foot = lawInput([](double e) { return e < 0.001 ? 0.0 : 2500 * (e - 0.001); }, 0.02);
    const Outcome o = evaluated("tension-plastic", foot);
    EXPECT_NEAR(*valueOf(o, "Et"), plain, 0.002 * plain);
    EXPECT_NEAR(*valueOf(o, "eps_b"), 0.019, 1e-4);
}

} // namespace
} // namespace fortitor::plastic_composite_test
