// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/text_import.h"

#include "record/text_encoding.h"

#include <fast_float/fast_float.h>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <limits>

namespace fortitor {
namespace {

constexpr double missing = std::numeric_limits<double>::quiet_NaN();
constexpr size_t progressBytes = size_t{4} << 20;

/// Where a column's numbers go; null for one passed over.
struct Sink {
    Column* column = nullptr;
    double factor = 1;
    double shift = 0;
};

std::string excerpt(std::string_view line)
{
    std::string text(line.substr(0, 40));
    for (char& c : text)
        if (static_cast<unsigned char>(c) < 32)
            c = ' ';
    return '"' + (isUtf8(text) ? text : latin1ToUtf8(text)) + (line.size() > 40 ? "…\"" : "\"");
}

bool missingMark(const char* from, const char* to)
{
    const std::string_view text(from, static_cast<size_t>(to - from));
    return text.empty() || text == "-" || text == "--" || text == "NaN" || text == "nan" || text == "n/a" || text == "NA";
}

/// Reads lines of numbers into sinks. One object a file.
class RowReader {
public:
    RowReader(char delimiter, char decimal, std::vector<Sink> sinks)
        : blank_(delimiter == ' '), delimiter_(delimiter), decimal_(decimal),
          options_(fast_float::chars_format::general, decimal), sinks_(std::move(sinks)), values_(sinks_.size())
    {
    }

    /// 0 when the line was taken, else the number of the field (from 1) that would not read.
    size_t take(const char* at, const char* end)
    {
        size_t field = 0;
        for (; field < sinks_.size(); ++field) {
            at = skipBlanks(at, end);
            if (at == end && field > 0 && (blank_ || end[-1] != delimiter_))
                break;
            if (sinks_[field].column ? !readField(at, end, values_[field]) : !skipField(at, end))
                return field + 1;
            if (at == end && field + 1 < sinks_.size())
                { ++field; break; }
            if (at != end)
                ++at;
        }
        if (field < sinks_.size() || skipTail(at, end) != end)
            return field + 1;
        for (size_t i = 0; i < sinks_.size(); ++i)
            if (sinks_[i].column)
                sinks_[i].column->append((values_[i] + sinks_[i].shift) * sinks_[i].factor);
        return 0;
    }

private:
    [[nodiscard]] bool ends(char c) const { return blank_ ? c == ' ' || c == '\t' : c == delimiter_; }

    const char* skipBlanks(const char* at, const char* end) const
    {
        while (at < end && (*at == ' ' || (*at == '\t' && delimiter_ != '\t')))
            ++at;
        return at;
    }

    const char* skipTail(const char* at, const char* end) const
    {
        while (at < end && (*at == ' ' || *at == '\t' || *at == delimiter_))
            ++at;
        return at;
    }

    bool skipField(const char*& at, const char* end) const
    {
        if (at < end && *at == '"') {
            at = static_cast<const char*>(std::memchr(at + 1, '"', static_cast<size_t>(end - at - 1)));
            if (!at)
                return false;
        }
        while (at < end && !ends(*at))
            ++at;
        return true;
    }

    bool readField(const char*& at, const char* end, double& value) const
    {
        const char* from = at;
        if (from < end && *from == '+')
            ++from;
        const auto [stop, error] = fast_float::from_chars_advanced(from, end, value, options_);
        if (error == std::errc() && (stop == end || ends(*stop)) && stop[-1] != ',' && std::isfinite(value)) {
            at = stop;
            return true;
        }
        return readOddField(at, end, value);
    }

    /// Quoted, padded or missing.
    bool readOddField(const char*& at, const char* end, double& value) const
    {
        const bool quoted = at < end && *at == '"';
        const char* from = quoted ? at + 1 : at;
        const char* to = from;
        while (to < end && (quoted ? *to != '"' : !ends(*to)))
            ++to;
        at = to;
        while (at < end && !ends(*at))
            ++at;
        from = skipBlanks(from, to);
        while (to > from && (to[-1] == ' ' || to[-1] == '\t'))
            --to;
        if (missingMark(from, to)) {
            value = missing;
            return true;
        }
        if (*from == '+')
            ++from;
        const auto [stop, error] = fast_float::from_chars_advanced(from, to, value, options_);
        return error == std::errc() && stop == to && stop[-1] != ',' && std::isfinite(value);
    }

    bool blank_;
    char delimiter_;
    char decimal_;
    fast_float::parse_options options_;
    std::vector<Sink> sinks_;
    std::vector<double> values_;
};

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
            return Problem{place + ", column \"" + unitless->header + '"',
                           unitless->unitText.empty() ? "no unit" : "unit \"" + unitless->unitText + '"',
                           "a unit of " + std::string(kindName(findChannelName(unitless->channel)->kind)) + ": " + listUnits(findChannelName(unitless->channel)->kind),
                           "Name it in the header, or settle it by hand (record.columns, or the preview page). There is: " + describeColumns(layout)};
        return Problem{place, "no column that is known as " + names + ". There is: " + describeColumns(layout),
                       "a column for " + names, "Say which column it is by hand (record.columns, or the preview page)."};
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
                record.notes.push_back(fmt::format("Column {} \"{}\" was left out: {}.", i + 1, column.header,
                                                   column.channel.empty() ? "its name is not known"
                                                   : !column.unit ? "its unit is missing or not known" : "it does not hold numbers"));
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

bool hasNumbers(const char* at, const char* end, char delimiter)
{
    const auto fields = splitFields(std::string_view(at, static_cast<size_t>(end - at)), delimiter);
    size_t numbers = 0;
    for (const std::string& field : fields)
        numbers += !field.empty() && field.find_first_not_of("0123456789.,+-eE") == std::string::npos;
    return numbers >= 2;
}

/// After a line that would not read: footer, a line cut short at the very end, or damage.
Expected<Done> judgeRest(const char* at, const char* end, size_t line, size_t field, const TextLayout& layout,
                         const std::string& place, Record& record)
{
    const char* stop = lineEnd(at, end);
    const std::string_view bad(at, static_cast<size_t>(stop - at));
    const bool last = stop == end || std::string_view(stop, static_cast<size_t>(end - stop)).find_first_not_of(" \t\r\n\x1a") == std::string_view::npos;
    if (last && hasNumbers(at, stop, layout.delimiter)) {
        record.notes.push_back(fmt::format("The last line ({}) is cut short and was left out: {}", line, excerpt(bad)));
        return Done{};
    }
    for (const char* from = at; from < end;) {
        const char* to = lineEnd(from, end);
        if (hasNumbers(from, to, layout.delimiter)) {
            const std::string name = field >= 1 && field <= layout.columns.size() ? layout.columns[field - 1].header : std::string();
            return Problem{fmt::format("{}, line {}, field {}{}", place, line, field, name.empty() ? "" : " (" + name + ")"), excerpt(bad),
                           fmt::format("{} numbers with decimal {}", layout.columns.size(), layout.decimal == '.' ? "point" : "comma"),
                           "The file may be damaged or hold several tests; export one test a file."};
        }
        from = to + 1;
    }
    record.notes.push_back(fmt::format("Words after the readings (line {}): {}", line, excerpt(bad)));
    return Done{};
}

} // namespace

Expected<TextLayout> readLayout(const std::string& path)
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
    auto layout = recogniseLayout(text.view);
    if (layout && text.encoding != "UTF-8")
        layout->encoding = text.encoding;
    return layout;
}

Expected<Record> importTextBytes(std::string_view bytes, const std::string& place, const ImportRequest& request)
{
    const auto placed = [&](Problem problem) {
        problem.place = problem.place.empty() ? place : place + ", " + problem.place;
        return problem;
    };
    DecodedText text;
    if (auto ok = decodeText(bytes, text); !ok)
        return placed(ok.problem());
    auto layout = recogniseLayout(text.view);
    if (!layout)
        return placed(layout.problem());
    if (auto ok = applyChoices(*layout, request.choices); !ok)
        return placed(ok.problem());
    if (auto ok = checkNeeded(*layout, request, place); !ok)
        return ok.problem();

    Record record;
    record.source = place;
    RowReader reader(layout->delimiter, layout->decimal, makeSinks(*layout, record));
    const char* at = text.view.data();
    const char* const end = at + text.view.size();
    const char* nextReport = at + progressBytes;
    size_t line = 1;
    for (; line < layout->firstDataLine && at < end; ++line)
        at = lineEnd(at, end) + 1;
    for (; at < end; ++line) {
        const char* stop = lineEnd(at, end);
        const char* trim = stop;
        while (trim > at && (trim[-1] == '\r' || trim[-1] == ' ' || trim[-1] == '\x1a'))
            --trim;
        if (trim > at) {
            if (const size_t field = reader.take(at, trim)) {
                if (auto ok = judgeRest(at, end, line, field, *layout, place, record); !ok)
                    return ok.problem();
                break;
            }
        }
        at = stop + 1;
        if (at > nextReport && request.progress) {
            nextReport = at + progressBytes;
            if (!request.progress(static_cast<double>(at - text.view.data()) / static_cast<double>(text.view.size())))
                return Problem{place, "stopped by hand", {}, "Nothing was changed."};
        }
    }
    return record;
}

Expected<Record> importText(const std::string& path, const ImportRequest& request)
{
    auto file = MappedFile::open(path);
    if (!file)
        return file.problem();
    return importTextBytes(file->bytes(), path, request);
}

} // namespace fortitor
