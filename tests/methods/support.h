// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"
#include "sim/catalogue.h"

#include <gtest/gtest.h>

#include <algorithm>

namespace fortitor::test {

/// A simulated specimen as a person would have it: keyed sizes, options of its kind, its record.
inline SpecimenInput simulatedInput(const char* name, std::uint64_t seed)
{
    const CatalogueEntry& entry = *findCatalogueEntry(name);
    auto run = simulateRun(entry, seed);
    SpecimenInput in;
    in.label = "A1";
    in.shape = entry.shape;
    in.options = entry.options;
    for (const auto& [key, values] : run.specimen.dimensions)
        for (const std::string& v : values)
            in.dimensions[key].push_back(*parseQuantity(v, Kind::Length));
    in.record = std::make_shared<const Record>(std::move(run.record));
    return in;
}

inline Quantity length(const std::string& text)
{
    return *parseQuantity(text, Kind::Length);
}

inline Outcome evaluated(const char* method, const SpecimenInput& in)
{
    auto outcome = findMethod(method)->evaluate(in);
    EXPECT_TRUE(outcome) << (outcome ? "" : outcome.problem().text());
    return outcome ? std::move(*outcome) : Outcome{};
}

inline std::optional<double> valueOf(const Outcome& o, const char* symbol)
{
    const Result* r = o.find(symbol);
    EXPECT_TRUE(r) << symbol;
    return r ? r->value : std::nullopt;
}

inline const Remark* remarkOf(const Outcome& o, const std::string& code)
{
    const auto it = std::ranges::find(o.remarks, code, &Remark::code);
    return it == o.remarks.end() ? nullptr : &*it;
}

/// Whether something says why a symbol is missing.
inline bool explained(const Outcome& o, const std::string& symbol)
{
    return std::ranges::any_of(o.remarks, [&](const Remark& r) {
        return std::ranges::find(r.symbols, symbol) != r.symbols.end()
            && (r.severity != Severity::Note || r.code == "not-applicable");
    });
}

/// Readings of one channel as on a sheet, and what one of its figures is in base units.
struct KeyedColumn {
    const char* channel;
    const std::vector<double>& values;
    double factor = 1;
};

/// A record of keyed columns; a column without readings is left out.
inline std::shared_ptr<const Record> keyedRecord(std::initializer_list<KeyedColumn> columns)
{
    auto record = std::make_shared<Record>();
    record->channels.reserve(columns.size());
    for (const KeyedColumn& column : columns) {
        if (column.values.empty())
            continue;
        Column& out = record->add(column.channel).values;
        for (const double v : column.values)
            out.append(v * column.factor);
    }
    return record;
}

inline std::shared_ptr<Record> without(const Record& record, const std::string& channel)
{
    auto out = std::make_shared<Record>(record);
    std::erase_if(out->channels, [&](const Channel& c) { return c.name == channel; });
    return out;
}

} // namespace fortitor::test
