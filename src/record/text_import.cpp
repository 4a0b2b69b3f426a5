// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/text_import.h"

#include "record/row_reader.h"
#include "record/text_cells.h"
#include "record/text_encoding.h"
#include "record/text_rows.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <limits>
#include <optional>

namespace fortitor {
namespace {

/// The needed channels are there with units, or the Problem that says which is not.
Expected<Done> checkNeeded(const TextLayout& layout, const ImportRequest& request, const std::string& place)
{
    for (const auto& oneOf : request.needed) {
        const TextColumn* unitless = nullptr;
        bool found = false;
        std::string names;
        for (const std::string& name : oneOf) {
            names += (names.empty() ? "" : " or ") + name;
            for (const TextColumn& column : layout.columns) {
                if (column.channel != name)
                    continue;
                found = found || (column.unit && column.numeric);
                if (!column.unit)
                    unitless = &column;
            }
        }
        if (found)
            continue;
        if (unitless)
            return Problem{
                place + ", column \"" + shownText(unitless->header) + '"',
                unitless->unitText.empty() ? "no unit" : "unit \"" + shownText(unitless->unitText, 20) + '"',
                "a unit of " + std::string(kindName(findChannelName(unitless->channel)->kind)) + ": "
                    + listUnits(findChannelName(unitless->channel)->kind),
                "Name it in the header, or settle it by hand (record.columns, or the preview page). There is: "
                    + describeColumns(layout)};
        return Problem{place, "no column that is known as " + names + ". There is: " + describeColumns(layout),
                       "a column for " + names,
                       "Say which column it is by hand (record.columns, or the preview page)."};
    }
    return Done{};
}

/// Whether no figure, as it stands in its unit, is about as large as one between two. Quick, and never wrongly true.
bool noneNear(std::span<const double> values, double least, double most, const Unit& unit)
{
    constexpr double about = 1e-6;
    const double low = (least * (1 - about)), high = most * (1 + about);
    const double scale = 1 / unit.factor, shift = unit.shift;
    bool any = false;
    for (const double value : values) {
        const double raw = std::abs(value * scale - shift);
        any |= (raw > low) & (raw < high);
    }
    return !any;
}

/// A converter at the end of its 16 bits: the same ±32767 or ±32768 three times running is no reading. Marks these
/// rows; empty when there are none.
std::vector<bool> converterEnds(std::span<const double> values, const TextColumn& column)
{
    constexpr size_t inRow = 3;
    const auto atEnd = [&](size_t i) {
        const double raw = std::abs(values[i] / column.unit->factor - column.unit->shift);
        return std::abs(raw - 32767) < 1e-6 || std::abs(raw - 32768) < 1e-6;
    };
    std::vector<bool> blank;
    if (noneNear(values, 32767, 32768, *column.unit))
        return blank;
    for (size_t i = 0; i < values.size();) {
        size_t k = i;
        while (k < values.size() && atEnd(k))
            ++k;
        if (k >= i + inRow) {
            blank.resize(values.size());
            std::fill(blank.begin() + static_cast<std::ptrdiff_t>(i), blank.begin() + static_cast<std::ptrdiff_t>(k),
                      true);
        }
        i = std::max(k, i + 1);
    }
    return blank;
}

/// Values without the rows that are blank, from one on; counts these.
Column withoutBlanks(std::span<const double> values, const std::vector<bool>& blank, size_t from, size_t to,
                     size_t& count)
{
    Column out;
    out.reserve(to - from);
    for (size_t i = from; i < to; ++i) {
        const bool none = !blank.empty() && blank[i];
        out.append(none ? missingCell : values[i]);
        count += none;
    }
    return out;
}

/// The columns of a file that become channels, in the order of the record's channels.
std::vector<const TextColumn*> takenColumns(const TextLayout& layout)
{
    std::vector<const TextColumn*> taken;
    for (const TextColumn& column : layout.columns)
        if (!column.channel.empty() && column.unit && column.numeric)
            taken.push_back(&column);
    return taken;
}

void noteLosses(Record& record, size_t beyond, size_t passedOver)
{
    if (beyond > 0)
        record.notes.push_back(
            fmt::format("{} readings were beyond their instrument's range and count as missing.", beyond));
    if (passedOver > 0)
        record.notes.push_back(fmt::format(
            "{} rows of figures above the readings do not fit their columns and were passed over.", passedOver));
}

Expected<TextLayout> settledLayout(std::string_view text, const std::string& place, const ImportRequest& request)
{
    const auto placed = [&](Problem problem) {
        problem.place = problem.place.empty() ? place : place + ", " + problem.place;
        return problem;
    };
    auto layout = recogniseLayout(text, request.decimal);
    if (!layout)
        return placed(layout.problem());
    if (auto ok = applyChoices(*layout, request.choices); !ok)
        return placed(ok.problem());
    if (auto question = openQuestion(*layout))
        return placed(*question);
    if (auto ok = checkNeeded(*layout, request, place); !ok)
        return ok.problem();
    return layout;
}

Problem severalTests(const std::string& place, const std::vector<Stretch>& tests)
{
    constexpr size_t most = 12;
    std::string list;
    for (size_t k = 0; k < std::min(tests.size(), most); ++k)
        list += fmt::format("{}part {}: lines {} to {}, {} readings", k ? "; " : "", k + 1, tests[k].part.firstLine,
                            tests[k].part.lastLine, tests[k].part.rows);
    if (tests.size() > most)
        list += fmt::format("; and {} more", tests.size() - most);
    return {place, fmt::format("{} blocks of readings ({})", tests.size(), list), "one test, or which part is meant",
            "Say which (record.part), or take each as a specimen on the import page. If it is one test, export it with "
            "a clock that runs on."};
}

Expected<Record> readText(std::string_view text, const std::string& place, const ImportRequest& request);

/// One of several tests by itself: under its own header where it has one, else under the first one's.
Expected<Record> readPart(std::string_view text, const std::string& place, const ImportRequest& request,
                          const TextLayout& layout, const std::vector<Stretch>& tests)
{
    if (request.part > tests.size())
        return Problem{
            place + ", record.part", std::to_string(request.part), "1 to " + std::to_string(tests.size()), {}};
    const Stretch& test = tests[request.part - 1];
    ImportRequest one = request;
    one.part = 0;
    const std::string where = fmt::format("{}, part {}", place, request.part);
    const std::string_view own(test.above, static_cast<size_t>(test.end - test.above));
    if (request.part == 1)
        return readText(text.substr(0, static_cast<size_t>(test.end - text.data())), where, one);
    if (const auto header = recogniseLayout(own, request.decimal);
        header && std::ranges::any_of(header->columns, [](const TextColumn& c) { return !c.channel.empty(); }))
        return readText(own, where, one);
    const char* at = text.data();
    for (size_t line = 1; line < layout.firstDataLine && at < text.data() + text.size(); ++line)
        at = lineEnd(at, text.data() + text.size()) + 1;
    std::string joined(text.substr(0, static_cast<size_t>(at - text.data())));
    joined.append(test.begin, static_cast<size_t>(test.end - test.begin));
    return readText(joined, where, one);
}

Expected<Record> readText(std::string_view text, const std::string& place, const ImportRequest& request)
{
    const auto layout = settledLayout(text, place, request);
    if (!layout)
        return layout.problem();
    auto reading = readRows(text, *layout, place, request.progress);
    if (!reading)
        return reading.problem();
    if (reading->tests.size() > 1 && request.part == 0)
        return severalTests(place, reading->tests);
    if (reading->tests.size() > 1)
        return readPart(text, place, request, *layout, reading->tests);
    if (request.part > 1)
        return Problem{place + ", record.part", std::to_string(request.part), "1: the file holds one test", {}};
    Record& record = reading->record;
    record.source = place;
    size_t beyond = reading->beyond;
    const auto taken = takenColumns(*layout);
    for (size_t c = 0; c < taken.size(); ++c) {
        Column& values = record.channels[c].values;
        if (const auto blank = converterEnds(values.values(), *taken[c]); !blank.empty())
            values = withoutBlanks(values.values(), blank, 0, values.size(), beyond);
    }
    noteLosses(record, beyond, layout->passedOver);
    return std::move(record);
}

/// Hands out what a reader has taken in stretches. Two rows before and behind each are looked at with it, so that three
/// in a row at a converter's end are seen across a seam.
class Stretches {
public:
    Stretches(std::vector<const TextColumn*> columns, size_t rows, const TakeRows& take)
        : columns_(std::move(columns)), rows_(std::max(rows, size_t{1})), take_(take)
    {
    }

    bool afterRow(Record& record)
    {
        if (record.rows() < before_ + rows_ + aside)
            return true;
        const bool on = handOut(record, record.rows() - aside);
        // Two rows already handed out and two that come next stay.
        const size_t kept = std::min(record.rows(), 2 * aside);
        for (Channel& c : record.channels) {
            Column rest;
            rest.append(c.values.values().last(kept));
            c.values = std::move(rest);
        }
        before_ = kept - aside;
        return on;
    }

    void rest(Record& record)
    {
        handOut(record, record.rows());
        for (Channel& c : record.channels)
            c.values = Column();
    }

    size_t beyond = 0;

private:
    static constexpr size_t aside = 2;

    bool handOut(const Record& record, size_t to)
    {
        if (to <= before_)
            return true;
        std::vector<Column> values;
        RowsChunk chunk{record, first_, {}};
        for (size_t c = 0; c < record.channels.size(); ++c) {
            const auto own = record.channels[c].values.values();
            values.push_back(withoutBlanks(own, converterEnds(own, *columns_[c]), before_, to, beyond));
            chunk.channels.push_back(values.back().values());
        }
        first_ += to - before_;
        return take_(chunk);
    }

    std::vector<const TextColumn*> columns_;
    size_t rows_;
    const TakeRows& take_;
    size_t first_ = 0;
    size_t before_ = 0; ///< rows at the head that were handed out
};

} // namespace

void forEachChunk(const Record& record, size_t rows, const TakeRows& take)
{
    rows = std::max(rows, size_t{1});
    for (size_t first = 0; first < record.rows(); first += rows) {
        RowsChunk chunk{record, first, {}};
        for (const Channel& c : record.channels)
            chunk.channels.push_back(c.values.values().subspan(first, std::min(rows, record.rows() - first)));
        if (!take(chunk))
            return;
    }
}

/// The file's bytes as text, which may lie in the file: it stays open as long. Problems name the file.
static Expected<Done> decodeFile(const Expected<MappedFile>& file, const std::string& path, DecodedText& text)
{
    if (!file)
        return file.problem();
    auto decoded = decodeText(file->bytes(), text);
    if (decoded)
        return decoded;
    Problem problem = decoded.problem();
    problem.place = path;
    return problem;
}

Expected<Record> forEachChunk(const std::string& path, const ImportRequest& request, size_t rows, const TakeRows& take)
{
    if (request.part > 0) { // one of several tests: small beside the whole
        auto record = importText(path, request);
        if (record)
            forEachChunk(*record, rows, take);
        return record;
    }
    const auto file = MappedFile::open(path);
    DecodedText text;
    if (auto ok = decodeFile(file, path, text); !ok)
        return ok.problem();
    const auto layout = settledLayout(text.view, path, request);
    if (!layout)
        return layout.problem();
    Stretches stretches(takenColumns(*layout), rows, take);
    auto reading = readRows(text.view, *layout, path, request.progress,
                            [&](Record& record) { return stretches.afterRow(record); });
    if (!reading)
        return reading.problem();
    if (reading->tests.size() > 1)
        return severalTests(path, reading->tests);
    stretches.rest(reading->record);
    reading->record.source = path;
    noteLosses(reading->record, reading->beyond + stretches.beyond, layout->passedOver);
    return std::move(reading->record);
}

Expected<TextLayout> readLayout(const std::string& path, char decimal)
{
    auto file = MappedFile::open(path);
    if (!file)
        return file.problem();
    // A record of any size is recognised from its first part; half a letter at the cut does no harm.
    DecodedText text;
    if (auto ok = decodeText(file->bytes().substr(0, size_t{4} << 20), text); !ok) {
        Problem problem = ok.problem();
        problem.place = path;
        return problem;
    }
    auto layout = recogniseLayout(text.view, decimal);
    if (layout && text.encoding != "UTF-8")
        layout->encoding = text.encoding;
    return layout;
}

Expected<std::vector<TextPart>> readParts(const std::string& path, const ImportRequest& request)
{
    const auto file = MappedFile::open(path);
    DecodedText text;
    if (auto ok = decodeFile(file, path, text); !ok)
        return ok.problem();
    auto layout = recogniseLayout(text.view, request.decimal);
    if (!layout)
        return layout.problem();
    if (auto ok = applyChoices(*layout, request.choices); !ok)
        return ok.problem();
    auto reading = readRows(text.view, *layout, path, request.progress);
    if (!reading)
        return reading.problem();
    std::vector<TextPart> parts;
    for (const Stretch& test : reading->tests)
        parts.push_back(test.part);
    return parts;
}

Expected<Record> importTextBytes(std::string_view bytes, const std::string& place, const ImportRequest& request)
{
    DecodedText text;
    if (auto ok = decodeText(bytes, text); !ok) {
        Problem problem = ok.problem();
        problem.place = problem.place.empty() ? place : place + ", " + problem.place;
        return problem;
    }
    return readText(text.view, place, request);
}

Expected<Record> importText(const std::string& path, const ImportRequest& request)
{
    auto file = MappedFile::open(path);
    if (!file)
        return file.problem();
    return importTextBytes(file->bytes(), path, request);
}

} // namespace fortitor
