// SPDX-License-Identifier: GPL-3.0-or-later
#include "reference/published.h"

#include "reference/tables.h"

namespace fortitor {

std::optional<PublishedValues> publishedValues(std::string_view table, std::string_view material)
{
    PublishedValues found;
    const auto put = [&](const char* key, std::optional<double> value) {
        if (value)
            found.values[key] = *value;
    };
    if (table == "woods") {
        const auto wood = findWoodSpecies(material);
        if (!wood)
            return std::nullopt;
        found.source = wood->name + ", clear wood at 12 %";
        put("MOE", wood->modulus);
        put("MOR", wood->rupture);
        return found;
    }
    const PublishedMaterial* row = findPublishedMaterial(material);
    if (!row)
        return std::nullopt;
    found.source = row->name + " " + row->state + ", reference table";
    put("E", row->youngsModulus);
    put("yield", row->yield);
    put("Rm", row->strength);
    put("A", row->elongation);
    put("G", row->shearModulus);
    return found;
}

std::optional<Kind> publishedKind(std::string_view key)
{
    static const std::map<std::string_view, Kind> kinds{{"E", Kind::Stress},     {"G", Kind::Stress},
                                                        {"yield", Kind::Stress}, {"Rm", Kind::Stress},
                                                        {"A", Kind::Strain},     {"nu", Kind::Number}};
    const auto it = kinds.find(key);
    return it == kinds.end() ? std::nullopt : std::optional(it->second);
}

} // namespace fortitor
