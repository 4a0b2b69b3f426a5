// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/text_import.h"

#include "record/row_reader.h"
#include "record/text_cells.h"
#include "record/text_encoding.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <limits>
#include <optional>

namespace fortitor {
namespace {

constexpr double missing = std::numeric_limits<double>::quiet_NaN();
constexpr size_t progressBytes = size_t{4} << 20;

std::string excerpt(std::string_view line)
{
    return '"' + shownText(line, 40) + '"';
}

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

std::vector<Sink> makeSinks(const TextLayout& layout, Record& record)
{
    record.channels.reserve(layout.columns.size());
    std::vector<Sink> sinks(layout.columns.size());
    for (size_t i = 0; i < layout.columns.size(); ++i) {
        const TextColumn& column = layout.columns[i];
        if (column.channel.empty() || !column.unit || !column.numeric) {
            if (!column.header.empty() || !column.channel.empty())
                record.notes.push_back(fmt::format(
                    "Column {} \"{}\" was left out: {}.", i + 1, shownText(column.header),
                    column.channel.empty() ? (channelFromHeader(column.header, findUnit(column.unitText)).empty()
                                                  ? "its name is not known"
                                                  : "another column was chosen in its place")
                        : !column.unit     ? "its unit is missing or not known"
                                           : "it does not hold numbers"));
            continue;
        }
        Channel& channel = record.add(column.channel);
        channel.unitFound = column.unitText;
        channel.headerFound = column.header;
    }
    size_t next = 0;
    for (size_t i = 0; i < layout.columns.size(); ++i) {
        const TextColumn& column = layout.columns[i];
        if (!column.channel.empty() && column.unit && column.numeric)
            sinks[i] = {&record.channels[next++].values, column.unit->factor, column.unit->shift};
    }
    return sinks;
}

const char* lineEnd(const char* at, const char* end)
{
    const auto* found = static_cast<const char*>(std::memchr(at, '\n', static_cast<size_t>(end - at)));
    return found ? found : end;
}

const char* trimmedEnd(const char* at, const char* stop)
{
    while (stop > at && (stop[-1] == '\r' || stop[-1] == ' ' || stop[-1] == '\x1a'))
        --stop;
    return stop;
}

bool hasNumbers(const char* at, const char* end, char delimiter)
{
    const auto fields = splitFields(std::string_view(at, static_cast<size_t>(end - at)), delimiter);
    size_t numbers = 0;
    for (const std::string& field : fields)
        numbers += !field.empty() && field.find_first_not_of("0123456789.,+-eE") == std::string::npos;
    return numbers >= 2;
}

/// A test within the text: its readings, and where what stands before them begins.
struct Stretch {
    TextPart part;
    const char* above = nullptr; ///< behind the readings of the test before
    const char* begin = nullptr;
    const char* end = nullptr;
    size_t firstRow = 0;
};

struct Reading {
    Record record;
    std::vector<Stretch> tests;
    size_t beyond = 0;
};

/// Reads the rows of a text and notes where one test ends and the next begins.
class Reader {
public:
    Reader(std::string_view text, const TextLayout& layout, const std::string& place, const Progress& progress)
        : text_(text), layout_(layout), place_(place), progress_(progress),
          rows_(layout.delimiter, layout.marks, makeSinks(layout, out_.record))
    {
        for (size_t i = 0; i < layout.columns.size(); ++i)
            if (rows_.sinks()[i].column && layout.columns[i].channel == "time")
                clock_ = i;
    }

    Expected<Reading> all()
    {
        const char* at = text_.data();
        const char* const end = at + text_.size();
        const char* nextReport = at + progressBytes;
        size_t line = 1;
        for (; line < layout_.firstDataLine && at < end; ++line)
            at = lineEnd(at, end) + 1;
        bool parted = false; // blank lines or words since the last row
        for (; at < end; ++line) {
            const char* stop = lineEnd(at, end);
            const char* trim = trimmedEnd(at, stop);
            if (trim == at) {
                parted = parted || !out_.tests.empty();
                blanks_ += !out_.tests.empty();
            } else if (const size_t field = rows_.take(at, trim); field == 0) {
                keep(at, stop, line, parted);
                parted = false;
            } else if (auto further = judge(at, end, line, field); !further) {
                return further.problem();
            } else if (!*further) {
                break;
            } else {
                parted = true;
            }
            at = stop + 1;
            if (at > nextReport && progress_) {
                nextReport = at + progressBytes;
                if (!progress_(static_cast<double>(at - text_.data()) / static_cast<double>(text_.size())))
                    return Problem{place_, "stopped by hand", {}, "Nothing was changed."};
            }
        }
        out_.beyond = rows_.beyond();
        if (blanks_ * 2 >= row_) // a blank line after every reading parts nothing
            joinByBlanks();
        return std::move(out_);
    }

private:
    void keep(const char* at, const char* stop, size_t line, bool parted)
    {
        const double t = clock_ ? rows_.value(*clock_) : missing;
        const bool goesOn = clock_ && keepsTime(t);
        const bool restarts =
            clock_ && row_ - rowOfTest_ >= 5 && t < latest_ && t - earliest_ <= 0.1 * (latest_ - earliest_);
        if (out_.tests.empty() || restarts || (parted && !goesOn)) {
            byBlank_.push_back(!restarts && blanksBefore_ < blanks_ && !words_);
            out_.tests.push_back({{line, line, 0}, lastEnd_ ? lastEnd_ : text_.data(), at, stop, row_});
            rowOfTest_ = row_;
            earliest_ = latest_ = t;
        }
        blanksBefore_ = blanks_;
        words_ = false;
        Stretch& test = out_.tests.back();
        test.part.lastLine = line;
        ++test.part.rows;
        test.end = lastEnd_ = stop;
        ++row_;
        if (!std::isnan(t))
            latest_ = std::isnan(latest_) ? t : std::max(latest_, t);
    }

    /// Whether a time follows on the last one as the others did: behind a gap a figure far off is no time of this test.
    [[nodiscard]] bool keepsTime(double t) const
    {
        constexpr double steps = 20;
        const auto rows = static_cast<double>(std::max<size_t>(1, row_ - rowOfTest_));
        return t >= latest_ && t - latest_ <= steps * std::max((latest_ - earliest_) / rows, 1e-12);
    }

    /// Parts that only blank lines made are one test where these stand after every reading.
    void joinByBlanks()
    {
        std::vector<Stretch> joined;
        for (size_t k = 0; k < out_.tests.size(); ++k) {
            if (joined.empty() || !byBlank_[k]) {
                joined.push_back(out_.tests[k]);
                continue;
            }
            joined.back().part.lastLine = out_.tests[k].part.lastLine;
            joined.back().part.rows += out_.tests[k].part.rows;
            joined.back().end = out_.tests[k].end;
        }
        out_.tests = std::move(joined);
    }

    /// After a line that would not read: true to go on behind it (words between two tests), false at the end (a footer,
    /// a last line cut short); a Problem for damage.
    Expected<bool> judge(const char* at, const char* end, size_t line, size_t field)
    {
        const char* stop = lineEnd(at, end);
        const std::string_view bad(at, static_cast<size_t>(stop - at));
        if (words_)
            return true; // known to stand between two tests
        const bool last = stop == end
            || std::string_view(stop, static_cast<size_t>(end - stop)).find_first_not_of(" \t\r\n\x1a")
                == std::string_view::npos;
        if (last && hasNumbers(at, stop, layout_.delimiter)) {
            out_.record.notes.push_back(
                fmt::format("The last line ({}) is cut short and was left out: {}", line, excerpt(bad)));
            return false;
        }
        size_t between = 1; // lines up to the next row
        for (const char* from = stop + 1; from < end; ++between) {
            const char* to = lineEnd(from, end);
            const char* trim = trimmedEnd(from, to);
            if (trim > from && rows_.read(from, trim) == 0 && hasNumbers(from, trim, layout_.delimiter)) {
                const bool goesOn = clock_ && keepsTime(rows_.value(*clock_));
                const bool damaged = goesOn || (!clock_ && between == 1 && !namesAChannel(bad));
                if (damaged)
                    return damage(line, field, bad);
                words_ = true;
                return true;
            }
            from = to + 1;
        }
        // No further row of this shape. Figures in other columns are another test, or damage.
        for (const char* from = at; from < end;) {
            const char* to = lineEnd(from, end);
            if (hasNumbers(from, to, layout_.delimiter) && rowsOfOwn(from, end) >= 3) {
                out_.tests.push_back(
                    {{line, line, rowsOfOwn(from, end)}, lastEnd_ ? lastEnd_ : text_.data(), from, end, row_});
                byBlank_.push_back(false);
                return false;
            }
            from = to + 1;
        }
        if (hasNumbers(at, stop, layout_.delimiter) && !startsWithWord(bad))
            return damage(line, field, bad);
        out_.record.notes.push_back(fmt::format("Words after the readings (line {}): {}", line, excerpt(bad)));
        return false;
    }

    [[nodiscard]] bool namesAChannel(std::string_view line) const
    {
        const auto fields = splitFields(line, layout_.delimiter);
        return std::ranges::any_of(fields, [](const std::string& f) {
            return !channelFromHeader(f, nullptr).empty()
                || !channelFromHeader(f.substr(0, f.find_first_of("([/")), nullptr).empty();
        });
    }

    Problem damage(size_t line, size_t field, std::string_view bad) const
    {
        const std::string name =
            field >= 1 && field <= layout_.columns.size() ? layout_.columns[field - 1].header : std::string();
        return Problem{fmt::format("{}, line {}, field {}{}", place_, line, field,
                                   name.empty() ? "" : " (" + shownText(name) + ")"),
                       excerpt(bad),
                       fmt::format("{} numbers with decimal {}", layout_.columns.size(),
                                   layout_.marks.decimal == '.' ? "point" : "comma"),
                       "The file may be damaged; look at that line."};
    }

    /// Rows of figures from here on that keep one number of fields, of words none first.
    size_t rowsOfOwn(const char* at, const char* end) const
    {
        size_t rows = 0;
        size_t most = 0;
        size_t fields = 0;
        for (const char* from = at; from < end;) {
            const char* to = lineEnd(from, end);
            const std::string_view line(from, static_cast<size_t>(trimmedEnd(from, to) - from));
            if (!line.empty() && hasNumbers(from, to, layout_.delimiter) && !startsWithWord(line)) {
                const size_t now = splitFields(line, layout_.delimiter).size();
                rows = now == fields ? rows + 1 : 1;
                most = std::max(most, rows);
                fields = now;
            }
            from = to + 1;
        }
        return most;
    }

    bool startsWithWord(std::string_view line) const
    {
        const auto fields = splitFields(line, layout_.delimiter);
        return !fields.empty() && fields.front().find_first_not_of("0123456789.,+-eE ") != std::string::npos;
    }

    std::string_view text_;
    const TextLayout& layout_;
    const std::string& place_;
    const Progress& progress_;
    Reading out_;
    RowReader rows_;
    std::optional<size_t> clock_;
    const char* lastEnd_ = nullptr;
    size_t row_ = 0;
    size_t rowOfTest_ = 0;
    size_t blanks_ = 0;
    size_t blanksBefore_ = 0;
    bool words_ = false; ///< words stand between the last row and the next
    std::vector<bool> byBlank_;
    double earliest_ = missing;
    double latest_ = missing;
};

/// A converter at the end of its 16 bits: the same ±32767 or ±32768 three times running is no reading.
size_t blankConverterEnds(Column& column, const Sink& sink)
{
    constexpr size_t inRow = 3;
    const auto atEnd = [&](size_t i) {
        const double raw = std::abs(column[i] / sink.factor - sink.shift);
        return std::abs(raw - 32767) < 1e-6 || std::abs(raw - 32768) < 1e-6;
    };
    std::vector<bool> blank;
    size_t count = 0;
    for (size_t i = 0; i < column.size();) {
        size_t k = i;
        while (k < column.size() && atEnd(k))
            ++k;
        if (k >= i + inRow) {
            blank.resize(column.size());
            std::fill(blank.begin() + static_cast<std::ptrdiff_t>(i), blank.begin() + static_cast<std::ptrdiff_t>(k),
                      true);
            count += k - i;
        }
        i = std::max(k, i + 1);
    }
    if (count == 0)
        return 0;
    Column out;
    for (size_t i = 0; i < column.size(); ++i)
        out.append(blank[i] ? missing : column[i]);
    column = std::move(out);
    return count;
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
    auto reading = Reader(text, *layout, place, request.progress).all();
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
    for (size_t i = 0, next = 0; i < layout->columns.size(); ++i) {
        const TextColumn& column = layout->columns[i];
        if (column.channel.empty() || !column.unit || !column.numeric)
            continue;
        Column& values = record.channels[next++].values;
        beyond += blankConverterEnds(values, {&values, column.unit->factor, column.unit->shift});
    }
    if (beyond > 0)
        record.notes.push_back(
            fmt::format("{} readings were beyond their instrument's range and count as missing.", beyond));
    if (layout->passedOver > 0)
        record.notes.push_back(
            fmt::format("{} rows of figures above the readings do not fit their columns and were passed over.",
                        layout->passedOver));
    return std::move(record);
}

} // namespace

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
    auto file = MappedFile::open(path);
    if (!file)
        return file.problem();
    DecodedText text;
    if (auto ok = decodeText(file->bytes(), text); !ok)
        return ok.problem();
    auto layout = recogniseLayout(text.view, request.decimal);
    if (!layout)
        return layout.problem();
    if (auto ok = applyChoices(*layout, request.choices); !ok)
        return ok.problem();
    auto reading = Reader(text.view, *layout, path, request.progress).all();
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
