// SPDX-License-Identifier: GPL-3.0-or-later
// What must hold for any bar: scaling, order of channels, dialects, thinning, coverage of the doubt.
#include "methods/tension_metal/tension_metal.h"

#include "record/text_import.h"
#include "sim/catalogue.h"
#include "sim/random.h"

#include <gtest/gtest.h>

#include <cmath>
#include <functional>

namespace fortitor::tension_properties_test {
namespace {

SpecimenInput barInput(const CatalogueEntry& entry, const SimulatedSpecimen& specimen)
{
    SpecimenInput in;
    in.label = entry.name;
    in.shape = entry.diameter > 0 ? "round" : "rectangular";
    for (const auto& [key, values] : specimen.dimensions)
        for (const std::string& v : values)
            in.dimensions[key].push_back(*parseQuantity(v, Kind::Length));
    return in;
}

Record changed(const Record& record, const std::function<double(const std::string&, double)>& f)
{
    Record out;
    out.channels.reserve(record.channels.size());
    for (const Channel& c : record.channels) {
        Channel& to = out.add(c.name);
        for (size_t i = 0; i < c.values.size(); ++i)
            to.values.append(f(c.name, c.values[i]));
    }
    return out;
}

Outcome read(SpecimenInput in, Record record)
{
    in.record = std::make_shared<const Record>(std::move(record));
    auto outcome = evaluateTensionMetal(in);
    EXPECT_TRUE(outcome) << (outcome ? "" : outcome.problem().text());
    return outcome ? std::move(*outcome) : Outcome{};
}

void expectSame(const Outcome& a, const Outcome& b, double relative, const std::string& why)
{
    for (const Result& r : a.results) {
        const Result* other = b.find(r.symbol);
        ASSERT_EQ(r.value.has_value(), other->value.has_value()) << why << " " << r.symbol;
        if (r.value) {
            EXPECT_NEAR(*other->value, *r.value, relative * std::abs(*r.value)) << why << " " << r.symbol;
        }
    }
}

class EveryBar : public testing::TestWithParam<const char*> {
protected:
    void SetUp() override
    {
        entry = findCatalogueEntry(GetParam());
        run = simulateRun(*entry, 17);
        input = barInput(*entry, run.specimen);
        plain = read(input, run.record);
    }
    const CatalogueEntry* entry = nullptr;
    SimulatedRun run;
    SpecimenInput input;
    Outcome plain;
};

TEST_P(EveryBar, TwiceTheSectionUnderTwiceTheForceIsTheSameMetal)
{
    SpecimenInput twice = input;
    const double area = 2;
    for (const char* key : {"diameter", "final_diameter"})
        if (twice.dimensions.contains(key))
            for (Quantity& q : twice.dimensions[key])
                q.base *= std::sqrt(area);
    for (const char* key : {"width", "final_width"})
        if (twice.dimensions.contains(key))
            for (Quantity& q : twice.dimensions[key])
                q.base *= area;
    expectSame(plain,
               read(twice,
                    changed(run.record, [](const std::string& name, double v) { return name == "force" ? 2 * v : v; })),
               2e-6, "twice");
}

TEST_P(EveryBar, TwiceTheLengthsUnderTwiceTheExtensionIsTheSameMetal)
{
    SpecimenInput longer = input;
    for (const char* key : {"gauge_length", "extensometer_gauge_length", "parallel_length", "final_gauge_length"})
        for (Quantity& q : longer.dimensions[key])
            q.base *= 2;
    expectSame(plain,
               read(longer,
                    changed(run.record,
                            [](const std::string& name, double v) {
                                return name == "extension" || name == "displacement" ? 2 * v : v;
                            })),
               1e-3, "longer");
}

TEST_P(EveryBar, WhereTheClockAndTheCrossheadBeganDoesNotMatter)
{
    expectSame(plain,
               read(input,
                    changed(run.record,
                            [](const std::string& name, double v) {
                                return name == "time" ? v + 1000 : name == "displacement" ? v + 37.5 : v;
                            })),
               1e-6, "shifted");
}

TEST_P(EveryBar, AnExtensometerThatWasNotZeroedChangesNothing)
{
    // Counted strains lie on the edge of the local line's window; which side a rounding puts them on
    // moves a proof strength by a hundred-thousandth.
    expectSame(
        plain,
        read(input,
             changed(run.record, [](const std::string& name, double v) { return name == "extension" ? v + 0.5 : v; })),
        5e-5, "not zeroed");
}

TEST_P(EveryBar, EveryDialectReadsTheSame)
{
    const std::string comma = recordCsv(run.record);
    std::string semicolon = comma;
    for (char& c : semicolon)
        c = c == ',' ? ';' : c == '.' ? ',' : c;
    std::string tabs = comma;
    for (char& c : tabs)
        c = c == ',' ? '\t' : c;
    const std::string preamble = "Skerrow Bench\noperator B\n\n" + comma;
    const auto outcomeOf = [&](const std::string& text) {
        auto record = importTextBytes(text, "dialect", {});
        EXPECT_TRUE(record) << (record ? "" : record.problem().text());
        return read(input, record ? std::move(*record) : Record{});
    };
    const Outcome first = outcomeOf(comma);
    expectSame(first, outcomeOf(semicolon), 0, "semicolons");
    expectSame(first, outcomeOf(tabs), 0, "tabs");
    expectSame(first, outcomeOf(preamble), 0, "preamble");
}

TEST_P(EveryBar, HalfTheReadingsGiveTheSameFiguresWithinTheirDoubt)
{
    Record every;
    every.events = run.record.events;
    every.channels.reserve(run.record.channels.size());
    for (const Channel& c : run.record.channels) {
        Column& out = every.add(c.name).values;
        for (size_t i = 0; i < c.values.size(); i += 2)
            out.append(c.values[i]);
    }
    const Outcome half = read(input, std::move(every));
    for (const char* symbol : {"Rm", "Rp0.2", "ReH", "A_ext"}) {
        const Result* a = plain.find(symbol);
        const Result* b = half.find(symbol);
        if (!a->value)
            continue;
        ASSERT_TRUE(b->value) << symbol;
        EXPECT_NEAR(*b->value / *a->value, 1, 0.01) << symbol;
    }
}

TEST_P(EveryBar, FiguresStandInTheirOrder)
{
    const auto value = [&](const char* symbol) { return plain.find(symbol)->value.value_or(std::nan("")); };
    if (plain.find("Rp0.2")->value) {
        EXPECT_LT(value("Rp0.2"), value("Rm"));
    }
    if (plain.find("ReH")->value) {
        EXPECT_LT(value("ReL"), value("ReH"));
    }
    EXPECT_LT(value("Ag"), value("Agt"));
    EXPECT_LT(value("Agt"), value("At"));
    EXPECT_LT(value("A_ext"), value("At"));
    EXPECT_LT(value("Ur"), value("Ut"));
    for (const Result& r : plain.results)
        if (r.value) {
            EXPECT_TRUE(std::isfinite(*r.value)) << r.symbol;
            EXPECT_GE(r.budget.expanded, 0) << r.symbol;
            ASSERT_TRUE(r.derivation) << r.symbol;
            EXPECT_DOUBLE_EQ(r.derivation->value(), *r.value) << r.symbol;
            EXPECT_FALSE(workingText(*r.derivation).empty()) << r.symbol;
        }
}

INSTANTIATE_TEST_SUITE_P(Catalogue, EveryBar,
                         testing::Values("rigger-tube", "backstay-bar", "backstay-twin", "mild-bar", "tempered-bar",
                                         "titanium-bar", "brass-bar", "strip-5083"));

/// Cells and extensometers off by what their class allows: the truth lies inside ±U nearly always.
TEST(Coverage, TheTruthLiesInsideTheDoubt)
{
    const CatalogueEntry& entry = *findCatalogueEntry("tempered-bar");
    Random random(404);
    int inside = 0;
    int asked = 0;
    for (std::uint64_t seed = 1; seed <= 60; ++seed) {
        auto run = simulateRun(entry, seed);
        const double cell = 1 + random.between(-0.01, 0.01);
        const double scale = 1 + random.between(-0.01, 0.01);
        const Outcome o =
            read(barInput(entry, run.specimen), changed(run.record, [&](const std::string& name, double v) {
                     return name == "force" ? v * cell : name == "extension" ? v * scale : v;
                 }));
        for (const auto& [symbol, truth] :
             {std::pair{"E", run.specimen.trueValue("E")}, std::pair{"Rm", run.specimen.trueValue("Rm")},
              std::pair{"Rp0.2", run.specimen.trueValue("Rp0.2")}}) {
            const Result* r = o.find(symbol);
            ASSERT_TRUE(r->value) << symbol;
            ++asked;
            inside += std::abs(*r->value - truth) <= r->budget.expanded;
        }
    }
    EXPECT_EQ(asked, 180);
    EXPECT_GE(inside, 166) << "k = 2 should hold in about 95 of 100";
}

} // namespace
} // namespace fortitor::tension_properties_test
