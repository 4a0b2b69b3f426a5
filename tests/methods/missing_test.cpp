// SPDX-License-Identifier: GPL-3.0-or-later
// Each field and each channel of each method missing in turn: nothing else stands in its place, and
// whatever can't be had says why.
#include "support.h"

namespace fortitor {
namespace {

using namespace test;

struct Kind_ {
    const char* method;
    const char* entry;
    std::uint64_t seed = 4;
};

class Missing : public testing::TestWithParam<Kind_> { };

void expectHonest(const Outcome& less, const Outcome& whole, const std::string& what)
{
    for (const Result& r : less.results) {
        if (!r.value) {
            EXPECT_TRUE(explained(less, r.symbol)) << r.symbol << " is missing without a reason, without " << what;
            continue;
        }
        // What is still given is the same figure as before, or says that it stands on something else.
        const Result* before = whole.find(r.symbol);
        ASSERT_TRUE(before);
        const bool same =
            before->value && std::abs(*r.value - *before->value) <= 0.01 * std::abs(*before->value) + 1e-9;
        const bool told = std::ranges::any_of(less.remarks, [&](const Remark& m) {
            return m.severity != Severity::Note
                && (m.symbols.empty() || std::ranges::find(m.symbols, r.symbol) != m.symbols.end());
        });
        EXPECT_TRUE(same || told) << r.symbol << " changed silently without " << what;
    }
}

TEST_P(Missing, EachFieldInTurn)
{
    const SpecimenInput in = simulatedInput(GetParam().entry, GetParam().seed);
    const Outcome whole = evaluated(GetParam().method, in);
    for (const auto& [key, readings] : in.dimensions) {
        SpecimenInput less = in;
        less.dimensions.erase(key);
        expectHonest(evaluated(GetParam().method, less), whole, key);
    }
    SpecimenInput none = in;
    none.dimensions.clear();
    expectHonest(evaluated(GetParam().method, none), whole, "any dimension");
}

TEST_P(Missing, EachChannelInTurn)
{
    const SpecimenInput in = simulatedInput(GetParam().entry, GetParam().seed);
    const Outcome whole = evaluated(GetParam().method, in);
    for (const Channel& channel : in.record->channels) {
        if (channel.name == "force") {
            SpecimenInput less = in;
            less.record = without(*in.record, "force");
            EXPECT_FALSE(findMethod(GetParam().method)->evaluate(less));
            continue;
        }
        SpecimenInput less = in;
        less.record = without(*in.record, channel.name);
        expectHonest(evaluated(GetParam().method, less), whole, channel.name);
    }
    SpecimenInput force = in;
    auto only = std::make_shared<Record>(*in.record);
    std::erase_if(only->channels, [](const Channel& c) { return c.name != "force"; });
    force.record = only;
    expectHonest(evaluated(GetParam().method, force), whole, "all channels but force");
    SpecimenInput none = in;
    none.record = nullptr;
    for (const Result& r : evaluated(GetParam().method, none).results)
        EXPECT_TRUE(r.value || explained(evaluated(GetParam().method, none), r.symbol)) << r.symbol;
}

TEST_P(Missing, NeverACrashOnWhatIsNoTest)
{
    const SpecimenInput in = simulatedInput(GetParam().entry, GetParam().seed);
    for (const int rows : {0, 1, 2, 3, 9, 12, 40}) {
        for (const char* kind : {"zero", "constant", "nan", "falling"}) {
            auto record = std::make_shared<Record>();
            record->channels.reserve(in.record->channels.size());
            for (const Channel& c : in.record->channels) {
                Column& column = record->add(c.name).values;
                for (int i = 0; i < rows; ++i)
                    column.append(std::string(kind) == "zero"           ? 0
                                      : std::string(kind) == "constant" ? 7
                                      : std::string(kind) == "nan"      ? std::nan("")
                                                                        : 100.0 - i);
            }
            SpecimenInput odd = in;
            odd.record = record;
            const auto o = findMethod(GetParam().method)->evaluate(odd);
            if (!o)
                continue;
            for (const Result& r : o->results)
                EXPECT_TRUE(!r.value || std::isfinite(*r.value)) << r.symbol << " " << kind << " " << rows;
        }
    }
}

TEST_P(Missing, TheSameWhateverTheUnit)
{
    // The record times a factor on the force and the section by the same: stresses stay, forces follow.
    const SpecimenInput in = simulatedInput(GetParam().entry, GetParam().seed);
    const Outcome one = evaluated(GetParam().method, in);
    auto record = std::make_shared<Record>(*in.record);
    for (Channel& c : record->channels)
        if (c.name == "force") {
            Column twice;
            for (size_t i = 0; i < c.values.size(); ++i)
                twice.append(2 * c.values[i]);
            c.values = std::move(twice);
        }
    SpecimenInput two = in;
    two.record = record;
    const Outcome other = evaluated(GetParam().method, two);
    for (const Result& r : one.results) {
        const Result* o = other.find(r.symbol);
        if (!r.value || !o->value || r.unit->kind == Kind::Strain || r.unit->kind == Kind::Number
            || r.unit->kind == Kind::Length)
            continue;
        EXPECT_NEAR(*o->value / *r.value, 2, 0.01) << r.symbol;
    }
}

INSTANTIATE_TEST_SUITE_P(
    Methods, Missing,
    testing::Values(Kind_{"tension-metal", "rigger-tube"}, Kind_{"tension-plastic", "footplate-crossed"},
                    Kind_{"tension-plastic", "gate-nylon"}, Kind_{"tension-composite", "shell-skin", 2},
                    Kind_{"tension-composite", "deck-skin"}, Kind_{"flatwise-tension", "shell-sandwich"},
                    Kind_{"compression", "sill-block"}, Kind_{"compression", "spruce-block"},
                    Kind_{"crush", "canister"}),
    [](const testing::TestParamInfo<Kind_>& one) {
        std::string name = one.param.entry;
        std::erase(name, '-');
        return name;
    });

} // namespace
} // namespace fortitor
