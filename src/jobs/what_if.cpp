// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/what_if.h"

#include "jobs/json_at.h"
#include "jobs/edits.h"

#include <fmt/format.h>

#include <algorithm>

namespace fortitor {
namespace {

std::string lowered(std::string text)
{
    // "Width b" reads "width b" inside a sentence; "MOE from" keeps its symbol.
    if (text.size() > 1 && text[0] >= 'A' && text[0] <= 'Z' && text[1] >= 'a' && text[1] <= 'z')
        text[0] = static_cast<char>(text[0] - 'A' + 'a');
    return text;
}

bool same(const WhatIfItem& a, const WhatIfItem& b)
{
    return a.sort == b.sort && a.key == b.key && a.place == b.place;
}

} // namespace

std::vector<WhatIfItem> whatIfItems(const JobDocument& document, size_t index)
{
    using Sort = WhatIfItem::Sort;
    std::vector<WhatIfItem> items;
    const Method& method = *document.job().method;
    const SpecimenInput& input = document.job().specimens[index].input;
    for (const OptionSpec& spec : method.options) {
        if (spec.role != OptionSpec::Role::Figures)
            continue; // of the run
        const auto it = input.options.find(spec.key);
        const std::string now = it != input.options.end() && !it->second.empty() ? it->second : spec.fallback;
        items.push_back({Sort::Option, spec.key, 0, lowered(spec.label), now, {}});
        for (const std::string& choice : spec.choices)
            items.back().choices.emplace_back(choice, spec.shown(choice));
    }
    const PadTable table = padTable(document, index);
    for (size_t c = 0; c < table.channels.size(); ++c)
        for (size_t r = 0; r < table.rows; ++r)
            items.push_back({Sort::Reading,
                             table.channels[c].name,
                             r,
                             fmt::format("{}, reading {}", lowered(table.channels[c].label), r + 1),
                             table.cells[c][r].value_or(""),
                             {}});
    const Json& sizes = objectAt(document.json()["specimens"][index], "dimensions");
    for (const FieldSpec& field : method.fields) {
        if (!field.shape.empty() && field.shape != input.shape)
            continue;
        const auto it = sizes.find(field.key);
        const Json list = it == sizes.end() ? Json::array() : it->is_array() ? *it : Json::array({*it});
        const size_t places = std::max<size_t>(1, list.size());
        for (size_t i = 0; i < places; ++i)
            items.push_back({Sort::Dimension,
                             field.key,
                             i,
                             lowered(field.label) + (places > 1 ? fmt::format(" {}", i + 1) : ""),
                             i < list.size() && list[i].is_string() ? list[i].get<std::string>() : "",
                             {}});
    }
    return items;
}

WhatIf::WhatIf(const JobDocument& document, size_t index) : document_(document), index_(index) { }

Expected<Done> WhatIf::change(const WhatIfItem& item, const std::string& text, UnitSystem system)
{
    const Method& method = *document_.job().method;
    std::string now = text;
    if (!text.empty() && item.sort == WhatIfItem::Sort::Reading) {
        const PadChannel* channel = method.intake.find(item.key);
        if (!channel)
            return Problem{item.label, item.key, "a channel that is read by hand", {}};
        const auto q = parseReading(text, padScale(*channel, document_.job().specimens[index_].input, system));
        if (!q)
            return Problem{item.label, q.problem().found, q.problem().wanted, q.problem().advice};
        now = q->text;
    } else if (!text.empty() && item.sort == WhatIfItem::Sort::Dimension) {
        const FieldSpec* field = method.findField(item.key);
        const auto q = field ? parseQuantity(text, field->kind, &baseUnit(field->kind)) : Expected<Quantity>(Problem{});
        if (!q)
            return Problem{item.label, q.problem().found, q.problem().wanted, q.problem().advice};
        now = parseNumber(text) ? text + " " + std::string(baseUnit(field->kind).symbol) : text;
    }
    const std::vector<Change> before = changes_;
    std::erase_if(changes_, [&](const Change& c) { return same(c.item, item); });
    if (now != item.now)
        changes_.push_back({item, now});
    if (auto ok = changed(); !ok) {
        changes_ = before;
        return ok.problem();
    }
    return Done{};
}

WhatIf WhatIf::onto(const JobDocument& document, UnitSystem system) const
{
    WhatIf moved(document, index_);
    const auto items = whatIfItems(document, index_);
    for (const Change& c : changes_)
        if (const auto it = std::ranges::find_if(items, [&](const WhatIfItem& item) { return same(item, c.item); });
            it != items.end())
            (void)moved.change(*it, c.now, system); // what does not read there any more stays out
    return moved;
}

/// The job with the side copy in the specimen's place.
Expected<Json> WhatIf::changed() const
{
    using Sort = WhatIfItem::Sort;
    Json json = document_.json();
    Json& specimen = json["specimens"][index_];
    for (const Change& c : changes_) {
        if (c.item.sort == Sort::Option) {
            if (c.now.empty())
                specimen["options"].erase(c.item.key);
            else
                specimen["options"][c.item.key] = c.now;
        } else if (c.item.sort == Sort::Reading) {
            specimen["readings"][c.item.key][c.item.place] = c.now.empty() ? Json(nullptr) : Json(c.now);
        } else {
            Json& list = specimen["dimensions"][c.item.key];
            if (c.now.empty()) {
                if (!list.is_array() || list.size() <= 1)
                    specimen["dimensions"].erase(c.item.key);
                else
                    list.erase(c.item.place);
            } else if (list.is_array() && c.item.place < list.size()) {
                list[c.item.place] = c.now;
            } else {
                list = c.now;
            }
        }
    }
    if (auto job = readJob(json); !job)
        return job.problem();
    return json;
}

Expected<SpecimenOutcome> WhatIf::outcome(const std::shared_ptr<const Record>& record) const
{
    auto json = changed();
    if (!json)
        return json.problem();
    const auto job = readJob(*json);
    if (!job)
        return job.problem();
    const Specimen& specimen = job->specimens[index_];
    return analyseSpecimen(specimen, *job,
                           specimen.readings ? std::make_shared<const Record>(*specimen.readings) : record);
}

Expected<Command> WhatIf::keep(const std::string& who, const std::string& when, const std::string& why) const
{
    if (changes_.empty())
        return Problem{"what if", "nothing changed", "a change", {}};
    if (why.empty())
        return Problem{"what if", "no reason", "why it is kept", "It stays with the specimen."};
    const auto json = changed();
    if (!json)
        return json.problem();
    const std::string path = fmt::format("/specimens/{}", index_);
    std::string words;
    for (const Change& c : changes_)
        words += (words.empty() ? "" : "; ") + c.item.label + " " + (c.item.now.empty() ? "–" : c.item.now) + " → "
            + (c.now.empty() ? "–" : c.now);
    CommandBuilder builder(document_, document_.job().specimens[index_].label + ", what if: " + words, why);
    const Json& specimen = (*json)["specimens"][index_];
    const Json& before = document_.json()["specimens"][index_];
    for (const char* part : {"options", "readings", "dimensions"})
        if (specimen.value(part, Json()) != before.value(part, Json()))
            builder.set(path + "/" + part, specimen.contains(part) ? std::optional(specimen[part]) : std::nullopt);
    for (const Change& c : changes_)
        if (c.item.sort == WhatIfItem::Sort::Reading && !c.item.now.empty())
            builder.append(path + "/corrections",
                           Json{{"step", c.item.place + 1},
                                {"channel", c.item.key},
                                {"was", c.item.now},
                                {"now", c.now.empty() ? Json(nullptr) : Json(c.now)},
                                {"why", why},
                                {"who", who},
                                {"when", when}});
    return builder.take();
}

} // namespace fortitor
