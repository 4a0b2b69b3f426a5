// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/text_history.h"

#include "history/raw_file.h"
#include "record/plain_figure.h"
#include "units/text.h"

#include <fast_float/fast_float.h>
#include <fmt/format.h>

#include <cmath>
#include <limits>
#include <optional>

namespace fortitor {
namespace {

constexpr size_t chunk = 1 << 16;

/// What a clock says while its times come in.
struct Clock {
    double first = 0, last = 0, least = std::numeric_limits<double>::infinity(), most = 0;
    std::uint64_t count = 0, uneven = 0;
    std::uint64_t widest = 0; ///< reading before the widest step
    void take(double time)
    {
        if (count == 0) {
            first = time;
        } else {
            const double step = time - last;
            least = std::min(least, step);
            if (step > most) {
                most = step;
                widest = count;
            }
        }
        last = time;
        ++count;
    }
    [[nodiscard]] double rate() const { return static_cast<double>(count - 1) / (last - first); }
    /// Rounding of the times apart, each step is alike.
    [[nodiscard]] std::optional<Problem> problem(const std::string& path) const
    {
        if (count < 2)
            return std::nullopt;
        const double even = (last - first) / static_cast<double>(count - 1);
        if (!(least > 0))
            return Problem{path, "a time that stands still or runs back", "a time that rises", {}};
        if (most > 1.5 * even || least < 0.5 * even)
            return Problem{path,
                           fmt::format("steps of time from {:.6g} to {:.6g} s, the widest after reading {}", least,
                                       most, widest),
                           "an even rate", "Fill what is missing with empty cells, or bring it to one rate."};
        return std::nullopt;
    }
};

/// The column that is read: by number, by header, or the only one that is no time.
Expected<size_t> columnOf(const TextLayout& layout, const std::string& path, const std::string& wanted)
{
    std::vector<size_t> figures;
    for (size_t i = 0; i < layout.columns.size(); ++i) {
        const TextColumn& c = layout.columns[i];
        if (!wanted.empty() && (c.header == wanted || std::to_string(i + 1) == wanted))
            return i;
        if (c.numeric && c.channel != "time")
            figures.push_back(i);
    }
    if (!wanted.empty())
        return Problem{path, "no channel \"" + wanted + '"', "one of: " + describeColumns(layout), {}};
    if (figures.size() != 1)
        return Problem{path, fmt::format("{} columns of figures", figures.size()),
                       "one, or the name or number of the channel", "Say which channel: " + describeColumns(layout)};
    return figures.front();
}

Expected<HistoryFile> readColumn(const std::string& path, const HistoryRequest& request, const TextLayout& layout)
{
    const auto column = columnOf(layout, path, request.channel);
    if (!column)
        return column.problem();
    ImportRequest import;
    import.progress = request.progress;
    // Taken as it stands: the unit is the history's own.
    import.choices["strain"] = {.column = *column + 1, .header = {}, .unit = "mm/mm"};
    auto spill = Spill::make();
    if (!spill)
        return spill.problem();
    Clock clock;
    std::optional<Problem> trouble;
    const auto head = forEachChunk(path, import, chunk, [&](const RowsChunk& rows) {
        for (size_t c = 0; c < rows.channels.size(); ++c) {
            const std::string& name = rows.head.channels[c].name;
            if (name == "time")
                for (const double time : rows.channels[c])
                    clock.take(time);
            if (name == "strain")
                if (auto ok = spill->append(rows.channels[c]); !ok)
                    trouble = ok.problem();
        }
        return !trouble;
    });
    if (trouble)
        return *trouble;
    if (!head)
        return head.problem();
    if (auto problem = clock.problem(path))
        return *problem;
    HistoryFile file{.source = std::move(*spill).source()};
    file.rate = clock.count > 1 ? clock.rate() : 0;
    file.unit = layout.columns[*column].unitText.empty() ? nullptr : findUnit(layout.columns[*column].unitText);
    file.notes = head->notes;
    return file;
}

/// The figure of a line that holds nothing else, which is taken off the text; nothing for any other line.
std::optional<double> plainLine(std::string_view& text)
{
    static const bool able = readsPlainFigures();
    if (!able || text.size() <= plainRoom)
        return std::nullopt;
    double value = 0;
    const char* stop = plainFigure(text.data(), '.', value);
    if (stop && *stop == '\r')
        ++stop;
    if (!stop || *stop != '\n')
        return std::nullopt;
    text.remove_prefix(static_cast<size_t>(stop + 1 - text.data()));
    return value;
}

/// A number a line, and nothing else; an empty line is a gap. Words may stand above.
Expected<HistoryFile> readLines(const std::string& path)
{
    const auto file = MappedFile::open(path);
    if (!file)
        return file.problem();
    auto spill = Spill::make();
    if (!spill)
        return spill.problem();
    std::string_view text = file->bytes();
    std::vector<double> values;
    size_t line = 0;
    bool begun = false;
    while (!text.empty()) {
        ++line;
        std::optional<double> value = plainLine(text);
        if (!value) {
            const size_t end = std::min(text.find('\n'), text.size());
            const std::string cell = trimmed(text.substr(0, end));
            text.remove_prefix(std::min(end + 1, text.size()));
            value = std::numeric_limits<double>::quiet_NaN();
            const auto [stop, error] = fast_float::from_chars(cell.data(), cell.data() + cell.size(), *value);
            const bool number = error == std::errc() && stop == cell.data() + cell.size();
            if (!cell.empty() && !number) {
                if (!begun && line < 20)
                    continue;
                return Problem{fmt::format("{}, line {}", path, line), '"' + cell.substr(0, 40) + '"', "a number", {}};
            }
            if (cell.empty() && (!begun || text.empty()))
                continue;
            if (cell.empty())
                value = std::numeric_limits<double>::quiet_NaN();
        }
        begun = true;
        values.push_back(*value);
        if (values.size() == chunk) {
            if (auto ok = spill->append(values); !ok)
                return ok.problem();
            values.clear();
        }
    }
    if (auto ok = spill->append(values); !ok)
        return ok.problem();
    return HistoryFile{.source = std::move(*spill).source()};
}

} // namespace

Expected<HistoryFile> openTextHistory(const std::string& path, const HistoryRequest& request)
{
    const auto layout = readLayout(path);
    if (layout)
        return readColumn(path, request, *layout);
    auto lines = readLines(path);
    return lines ? std::move(lines) : layout.problem();
}

} // namespace fortitor
