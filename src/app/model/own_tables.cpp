// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/own_tables.h"

#include "jobs/json_at.h"

namespace fortitor {
namespace {

const QString limitsName = "limits of reference blocks";
const QString rulesName = "acceptance rules";
const QString conversionName = "conversion: ";

} // namespace

std::vector<OwnLimit> readOwnLimits(const Logbook& book)
{
    const auto row = book.instrument(limitsName);
    if (!row || !row->body.contains("rows") || !row->body["rows"].is_array())
        return {};
    std::vector<OwnLimit> all;
    const auto number = [](const Json& j, const char* key) {
        return j.contains(key) && j[key].is_number() ? j[key].get<double>() : 0.0;
    };
    for (const Json& one : row->body["rows"])
        if (one.is_object())
            all.push_back({textAt(one, "scale"), number(one, "up_to"), number(one, "error"), number(one, "spread"),
                           textAt(one, "source")});
    return all;
}

std::vector<OwnConversion> readOwnConversions(const Logbook& book)
{
    std::vector<OwnConversion> all;
    for (const InstrumentRow& row : book.instruments()) {
        if (row.kind != ownTableKind || !row.name.startsWith(conversionName))
            continue;
        const std::string text = textAt(row.body, "csv");
        if (auto table = readConversionTable(text, row.name.mid(conversionName.size()).toStdString()))
            all.push_back({std::move(*table), text});
    }
    return all;
}

std::vector<AcceptanceRule> readOwnRules(const Logbook& book)
{
    const auto row = book.instrument(rulesName);
    std::vector<AcceptanceRule> all;
    if (row && row->body.contains("rows") && row->body["rows"].is_array())
        for (const Json& one : row->body["rows"])
            if (auto rule = ruleFrom(one, "rule "))
                all.push_back(std::move(*rule));
    return all;
}

InstrumentRow ownRulesRow(const Json& rules)
{
    return {rulesName, ownTableKind, Json{{"rows", rules}}, {}};
}

InstrumentRow ownConversionRow(const OwnConversion& conversion)
{
    return {conversionName + QString::fromStdString(conversion.table.name),
            ownTableKind,
            Json{{"csv", conversion.text}},
            {}};
}

InstrumentRow ownLimitsRow(const std::vector<OwnLimit>& limits)
{
    Json rows = Json::array();
    for (const OwnLimit& one : limits)
        rows.push_back({{"scale", one.scale},
                        {"up_to", one.upTo},
                        {"error", one.error},
                        {"spread", one.spread},
                        {"source", one.source}});
    return {limitsName, ownTableKind, Json{{"rows", rows}}, {}};
}

} // namespace fortitor
