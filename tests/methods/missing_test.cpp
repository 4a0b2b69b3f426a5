// SPDX-License-Identifier: GPL-3.0-or-later
// Each field and each channel of each method missing in turn: nothing else stands in its place, and
// whatever can't be had says why.
#include "record/text_import.h"
#include "support.h"

#include <fmt/format.h>

#include <regex>

namespace fortitor::missing_test {
namespace {

using namespace test;

struct Kind_ {
    const char* method;
    const char* entry;
    std::uint64_t seed = 4;
};

std::string loadOf(const Record& record)
{
    return record.find("force") ? "force" : "torque";
}

class Missing : public testing::TestWithParam<Kind_> { };

/// No key of a file is shown to a person: not in what is said, nor in the advice.
void expectNoKeys(const Outcome& o, const std::string& what)
{
    static const std::regex key("[a-z0-9]+_[a-z0-9_]+");
    for (const Remark& r : o.remarks)
        for (const std::string& words : {r.text, r.advice})
            EXPECT_FALSE(std::regex_search(words, key)) << words << " (without " << what << ")";
}

void expectHonest(const Outcome& less, const Outcome& whole, const std::string& what)
{
    expectNoKeys(less, what);
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
            // What is measured on one face stays sound where the piece does not bend: a note, no caution.
            return (m.severity != Severity::Note || m.code == "one-face")
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

/// Whether the channels a method declares as needed are there.
bool enough(const Method& method, const Record& record)
{
    return std::ranges::all_of(method.channels, [&](const std::vector<std::string>& one) {
        return std::ranges::any_of(one, [&](const std::string& name) { return record.find(name) != nullptr; });
    });
}

TEST_P(Missing, EachChannelInTurn)
{
    const SpecimenInput in = simulatedInput(GetParam().entry, GetParam().seed);
    const Method& method = *findMethod(GetParam().method);
    const Outcome whole = evaluated(GetParam().method, in);
    size_t answered = 0;
    const auto tryWith = [&](std::shared_ptr<const Record> record, const std::string& what) {
        SpecimenInput less = in;
        less.record = record;
        const auto o = method.evaluate(less);
        if (!o) {
            // Refused only where a channel that has to be there is not, and in words.
            EXPECT_FALSE(enough(method, *record)) << "refused without " << what;
            EXPECT_FALSE(o.problem().found.empty() || o.problem().wanted.empty()) << what;
            return;
        }
        ++answered;
        expectHonest(*o, whole, what);
    };
    const std::string load = loadOf(*in.record);
    for (const Channel& channel : in.record->channels)
        tryWith(without(*in.record, channel.name), channel.name);
    EXPECT_GT(answered, 0u);
    auto only = std::make_shared<Record>(*in.record);
    std::erase_if(only->channels, [&](const Channel& c) { return c.name != load; });
    tryWith(only, "all channels but the load");
    SpecimenInput none = in;
    none.record = nullptr;
    for (const Result& r : evaluated(GetParam().method, none).results)
        EXPECT_TRUE(r.value || explained(evaluated(GetParam().method, none), r.symbol)) << r.symbol;
}

TEST_P(Missing, NeverACrashOnWhatIsNoTest)
{
    const SpecimenInput in = simulatedInput(GetParam().entry, GetParam().seed);
    const auto finite = [&](const Record& bad, const std::string& what) {
        SpecimenInput odd = in;
        odd.record = std::make_shared<const Record>(bad);
        const auto o = findMethod(GetParam().method)->evaluate(odd);
        if (!o) {
            EXPECT_FALSE(o.problem().found.empty()) << what << ": refused without a word";
            return false;
        }
        size_t given = 0;
        for (const Result& r : o->results) {
            EXPECT_TRUE(!r.value || std::isfinite(*r.value)) << r.symbol << " " << what;
            EXPECT_TRUE(r.value || explained(*o, r.symbol)) << r.symbol << " is missing without a reason, " << what;
            given += r.value.has_value();
        }
        return given > 0;
    };
    const auto record = [&](size_t rows, auto value) {
        Record out;
        out.channels.reserve(in.record->channels.size());
        for (const Channel& c : in.record->channels) {
            Column& column = out.add(c.name).values;
            for (size_t i = 0; i < rows; ++i)
                column.append(value(c.values[i], i));
        }
        return out;
    };
    const size_t all = in.record->rows();
    for (const size_t rows : {0, 1, 2, 3, 9, 12, 40})
        for (const double filler : {0.0, 7.0, std::nan(""), 100.0})
            finite(record(std::min(rows, all),
                          [&](double, size_t i) { return filler - (filler == 100 ? double(i) : 0); }),
                   "filled with " + std::to_string(filler) + ", rows " + std::to_string(rows));
    // What is left of a real one has figures; those are as finite.
    EXPECT_TRUE(finite(record(all, [](double v, size_t) { return v; }), "whole"));
    EXPECT_TRUE(finite(record(all * 9 / 10, [](double v, size_t) { return v; }), "the end cut off"));
    finite(record(all, [&](double v, size_t i) { return i % 3 == 1 ? std::nan("") : v; }), "every third missing");
    finite(record(all, [](double v, size_t) { return -v; }), "all signs turned");
    finite(record(all, [&](double v, size_t i) { return i > all / 2 ? 0 : v; }), "dead from the middle");
}

TEST_P(Missing, TwiceTheForceOnTheSamePieceIsTwiceTheStress)
{
    const SpecimenInput in = simulatedInput(GetParam().entry, GetParam().seed);
    const Outcome one = evaluated(GetParam().method, in);
    auto record = std::make_shared<Record>(*in.record);
    for (Channel& c : record->channels)
        if (c.name == loadOf(*in.record)) {
            Column twice;
            for (size_t i = 0; i < c.values.size(); ++i)
                twice.append(2 * c.values[i]);
            c.values = std::move(twice);
        }
    SpecimenInput two = in;
    two.record = record;
    // Loads that are stated are twice as large then, and what gives way half as soft.
    for (const OptionSpec& option : findMethod(GetParam().method)->options)
        if (const auto it = two.options.find(option.key); it != two.options.end())
            for (const auto& [kind, times] : {std::pair(Kind::Force, 2.0), {Kind::Compliance, 0.5}})
                if (const auto stated = parseQuantity(it->second, kind); stated && option.kind == kind)
                    it->second = fmt::format("{:.12g} {}", stated->base * times, baseUnit(kind).symbol);
    const Outcome other = evaluated(GetParam().method, two);
    for (const Result& r : one.results) {
        const Result* o = other.find(r.symbol);
        if (!r.value || !o->value || r.unit->kind == Kind::Strain || r.unit->kind == Kind::Number
            || r.unit->kind == Kind::Length || r.unit->kind == Kind::Angle)
            continue;
        EXPECT_NEAR(*o->value / *r.value, 2, 0.01) << r.symbol;
    }
}

/// The unit a laboratory elsewhere writes this kind of channel in.
const Unit& otherUnit(Kind kind)
{
    switch (kind) {
    case Kind::Force: return *findUnit("lbf", Kind::Force);
    case Kind::Length: return *findUnit("in", Kind::Length);
    case Kind::Strain: return *findUnit("ue", Kind::Strain);
    case Kind::Torque: return *findUnit("lbf·in", Kind::Torque);
    case Kind::Angle: return *findUnit("rad", Kind::Angle);
    default: return baseUnit(kind);
    }
}

/// Written as text in other units and read again: the same figures.
TEST_P(Missing, TheSameWhateverTheUnit)
{
    const SpecimenInput in = simulatedInput(GetParam().entry, GetParam().seed);
    std::string text;
    std::vector<const Unit*> units;
    for (const Channel& c : in.record->channels) {
        units.push_back(&otherUnit(c.kind));
        text += fmt::format("{}{} ({})", text.empty() ? "" : ";", c.name, units.back()->symbol);
    }
    for (size_t row = 0; row < in.record->rows(); ++row)
        for (size_t c = 0; c < units.size(); ++c)
            text +=
                fmt::format("{}{:.17g}", c == 0 ? '\n' : ';', units[c]->fromBase(in.record->channels[c].values[row]));
    auto back = importTextBytes(text, "other units", {});
    ASSERT_TRUE(back) << back.problem().text();
    ASSERT_EQ(back->rows(), in.record->rows());
    size_t other = 0;
    for (const Unit* unit : units)
        other += unit != &baseUnit(unit->kind);
    ASSERT_GE(other, 1u);
    for (size_t c = 0; c < units.size(); ++c) {
        EXPECT_EQ(back->channels[c].name, in.record->channels[c].name);
        EXPECT_EQ(back->channels[c].kind, in.record->channels[c].kind) << back->channels[c].name;
    }
    back->notes.clear();
    back->events = in.record->events;
    SpecimenInput elsewhere = in;
    elsewhere.record = std::make_shared<const Record>(std::move(*back));
    const Outcome one = evaluated(GetParam().method, in);
    const Outcome same = evaluated(GetParam().method, elsewhere);
    for (const Result& r : one.results) {
        const Result* o = same.find(r.symbol);
        ASSERT_EQ(r.value.has_value(), o->value.has_value()) << r.symbol;
        if (r.value) {
            EXPECT_NEAR(*o->value, *r.value, 1e-9 * std::abs(*r.value)) << r.symbol;
        }
    }
}

INSTANTIATE_TEST_SUITE_P(
    Methods, Missing,
    testing::Values(Kind_{"tension-metal", "rigger-tube"}, Kind_{"tension-plastic", "footplate-crossed"},
                    Kind_{"tension-plastic", "gate-nylon"}, Kind_{"tension-composite", "shell-skin", 2},
                    Kind_{"tension-composite", "deck-skin"}, Kind_{"flatwise-tension", "shell-sandwich"},
                    Kind_{"compression", "sill-block"}, Kind_{"compression", "spruce-block"},
                    Kind_{"crush", "canister"}, Kind_{"poisson", "rigger-strip"}, Kind_{"flexure", "loom-batten-third"},
                    Kind_{"torsion", "sill-pin"}, Kind_{"torsion", "hollow-shaft"}, Kind_{"proof-load", "lifting-eye"}),
    [](const testing::TestParamInfo<Kind_>& one) {
        std::string name = one.param.entry;
        std::erase(name, '-');
        return name;
    });

} // namespace
} // namespace fortitor::missing_test
