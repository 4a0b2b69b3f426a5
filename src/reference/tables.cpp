// SPDX-License-Identifier: GPL-3.0-or-later
#include "reference/tables.h"

#include "record/text_layout.h"
#include "reference/embedded.h"
#include "units/quantity.h"

#include <algorithm>
#include <cctype>

namespace fortitor {
namespace {

/// Rows of an embedded CSV, comments and header left out.
std::vector<std::vector<std::string>> rowsOf(std::string_view text)
{
    std::vector<std::vector<std::string>> rows;
    bool header = true;
    for (size_t at = 0; at < text.size();) {
        const size_t end = std::min(text.find('\n', at), text.size());
        const std::string_view line = text.substr(at, end - at);
        at = end + 1;
        if (line.empty() || line[0] == '#')
            continue;
        if (!header)
            rows.push_back(splitFields(line, ','));
        header = false;
    }
    return rows;
}

std::optional<double> scaled(const std::string& cell, double factor)
{
    const auto number = parseNumber(cell);
    return number ? std::optional(*number * factor) : std::nullopt;
}

std::vector<std::string> wordsOf(std::string_view text)
{
    std::vector<std::string> words(1);
    for (const char c : text) {
        if (std::isalnum(static_cast<unsigned char>(c)) || c == '.')
            words.back() += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        else if (!words.back().empty())
            words.emplace_back();
    }
    if (words.back().empty())
        words.pop_back();
    return words;
}

} // namespace

const std::vector<PublishedMaterial>& publishedMaterials()
{
    static const std::vector<PublishedMaterial> materials = [] {
        std::vector<PublishedMaterial> out;
        for (auto& row : rowsOf(embedded::materials)) {
            row.resize(10);
            out.push_back({row[0], row[1], row[2], scaled(row[3], 1e3), scaled(row[4], 1), scaled(row[5], 1),
                           scaled(row[6], 1), scaled(row[7], 0.01), scaled(row[9], 1), scaled(row[8], 1e3)});
        }
        return out;
    }();
    return materials;
}

const PublishedMaterial* findPublishedMaterial(std::string_view words)
{
    const auto wanted = wordsOf(words);
    const PublishedMaterial* best = nullptr;
    size_t bestScore = 0;
    for (const PublishedMaterial& m : publishedMaterials()) {
        const auto name = wordsOf(m.name);
        const auto state = wordsOf(m.state);
        // The last word of a name is what tells it from its family: 6082, 1.4301, S235.
        if (name.empty() || std::ranges::find(wanted, name.back()) == wanted.end())
            continue;
        size_t score = 1;
        for (const std::string& w : wanted)
            score += (std::ranges::find(name, w) != name.end()) + (std::ranges::find(state, w) != state.end());
        if (score > bestScore) {
            best = &m;
            bestScore = score;
        }
    }
    return best;
}

const std::vector<WoodSpecies>& woodSpecies()
{
    static const std::vector<WoodSpecies> species = [] {
        std::vector<WoodSpecies> out;
        for (auto& row : rowsOf(embedded::woodSpecies)) {
            row.resize(6);
            const auto number = [&](size_t i) { return scaled(row[i], 1).value_or(0); };
            out.push_back({row[0], number(1), number(2), number(3), number(4), number(5)});
        }
        return out;
    }();
    return species;
}

std::optional<WoodSpecies> findWoodSpecies(std::string_view words)
{
    const auto wanted = wordsOf(words);
    std::vector<const WoodSpecies*> best;
    size_t bestScore = 0;
    for (const WoodSpecies& w : woodSpecies()) {
        const auto name = wordsOf(w.name);
        // The kind of tree stands before the bracket.
        const auto trees = wordsOf(std::string_view(w.name).substr(0, w.name.find('(')));
        if (!std::ranges::all_of(trees,
                                 [&](const std::string& t) { return std::ranges::find(wanted, t) != wanted.end(); }))
            continue;
        const auto score = static_cast<size_t>(std::ranges::count_if(wanted, [&](const std::string& t) {
            return std::ranges::find(name, t) != name.end();
        }));
        if (score > bestScore)
            best.clear();
        if (score >= bestScore)
            best.push_back(&w);
        bestScore = std::max(bestScore, score);
    }
    if (best.empty())
        return std::nullopt;
    WoodSpecies mean;
    const auto share = 1.0 / static_cast<double>(best.size());
    for (const WoodSpecies* w : best) {
        mean.name += (mean.name.empty() ? "" : ", ") + w->name;
        mean.density += share * w->density;
        mean.rupture += share * w->rupture;
        mean.modulus += share * w->modulus;
        mean.compression += share * w->compression;
        mean.shear += share * w->shear;
    }
    return mean;
}

const std::vector<PlasticRange>& plasticRanges()
{
    static const std::vector<PlasticRange> ranges = [] {
        std::vector<PlasticRange> out;
        for (auto& row : rowsOf(embedded::izodPlastics)) {
            row.resize(3);
            out.push_back({row[0], scaled(row[1], 1).value_or(0), scaled(row[2], 1).value_or(0)});
        }
        return out;
    }();
    return ranges;
}

const PlasticRange* findPlasticRange(std::string_view words)
{
    const auto wanted = wordsOf(words);
    for (const PlasticRange& range : plasticRanges())
        if (std::ranges::all_of(wordsOf(range.name), [&](const std::string& part) {
                return std::ranges::find(wanted, part) != wanted.end();
            }))
            return &range;
    return nullptr;
}

std::string_view materialSourceNote()
{
    const std::string_view text = embedded::materials;
    const std::string_view line = text.substr(0, text.find('\n'));
    return line.starts_with("# ") ? line.substr(2) : line;
}

const std::vector<DeviceClass>& deviceClasses()
{
    static const std::vector<DeviceClass> classes = [] {
        std::vector<DeviceClass> out;
        for (auto& row : rowsOf(embedded::deviceClasses)) {
            row.resize(7);
            out.push_back({row[0], row[1], scaled(row[2], 0.01).value_or(0), scaled(row[3], 1e-3).value_or(0),
                           scaled(row[4], 0.01).value_or(0), scaled(row[6], 0.01).value_or(0)});
        }
        return out;
    }();
    return classes;
}

const DeviceClass* findDeviceClass(std::string_view device, std::string_view name)
{
    const auto it = std::ranges::find_if(deviceClasses(),
                                         [&](const DeviceClass& c) { return c.device == device && c.name == name; });
    return it == deviceClasses().end() ? nullptr : &*it;
}

const std::vector<HardnessRow>& hardnessRows(HardnessRange range)
{
    const auto read = [](std::string_view text) {
        std::vector<HardnessRow> out;
        for (const auto& row : rowsOf(text)) {
            HardnessRow& made = out.emplace_back();
            for (size_t i = 0; i < std::min(row.size(), made.size()); ++i)
                made[i] = scaled(row[i], 1);
        }
        return out;
    };
    static const std::vector<HardnessRow> hard = read(embedded::hardnessHard);
    static const std::vector<HardnessRow> soft = read(embedded::hardnessSoft);
    return range == HardnessRange::Hard ? hard : soft;
}

} // namespace fortitor
