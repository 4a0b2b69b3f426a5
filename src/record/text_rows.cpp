// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/text_rows.h"

#include "record/row_reader.h"
#include "record/text_cells.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <limits>
#include <new>
#include <optional>

namespace fortitor {

const char* lineEnd(const char* at, const char* end)
{
    const auto* found = static_cast<const char*>(std::memchr(at, '\n', static_cast<size_t>(end - at)));
    return found ? found : end;
}

namespace {

constexpr size_t progressBytes = size_t{4} << 20;

std::string excerpt(std::string_view line)
{
    return '"' + shownText(line, 40) + '"';
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

/// Reads the rows of a text and notes where one test ends and the next begins.
class Reader {
public:
    Reader(std::string_view text, const TextLayout& layout, const std::string& place, const Progress& progress,
           const AfterRow& afterRow)
        : text_(text), layout_(layout), place_(place), progress_(progress), afterRow_(afterRow),
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
            const char* const plain = rows_.takePlain(at, end);
            const char* stop = plain ? plain : lineEnd(at, end);
            const char* trim = plain ? plain : trimmedEnd(at, stop);
            if (trim == at) {
                parted = parted || !out_.tests.empty();
                blanks_ += !out_.tests.empty();
            } else if (const size_t field = plain ? 0 : rows_.take(at, trim); field == 0) {
                keep(at, stop, line, parted);
                parted = false;
                if (row_ == rowsToJudgeBy && !afterRow_)
                    makeRoom(stop, end);
                if (afterRow_ && !afterRow_(out_.record))
                    return stopped();
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
                    return stopped();
            }
        }
        out_.beyond = rows_.beyond();
        if (blanks_ * 2 >= row_) // a blank line after every reading parts nothing
            joinByBlanks();
        return std::move(out_);
    }

private:
    static constexpr size_t rowsToJudgeBy = 256;

    /// Room for as many rows as the rest of the text may hold, so that no column is moved while it grows.
    void makeRoom(const char* at, const char* end)
    {
        const auto letters = static_cast<double>(at - out_.tests.front().begin);
        const double rows = static_cast<double>(row_) * (1 + static_cast<double>(end - at) / letters);
        constexpr double spare = 1.02;
        try {
            for (const Sink& sink : rows_.sinks())
                if (sink.column)
                    sink.column->reserve(static_cast<size_t>(rows * spare));
        } catch (const std::bad_alloc&) { // a guess too high: they grow as they need
        }
    }

    [[nodiscard]] Problem stopped() const { return {place_, "stopped by hand", {}, "Nothing was changed."}; }

    void keep(const char* at, const char* stop, size_t line, bool parted)
    {
        const double t = clock_ ? rows_.value(*clock_) : missingCell;
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
    const AfterRow& afterRow_;
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
    double earliest_ = missingCell;
    double latest_ = missingCell;
};

} // namespace

Expected<Reading> readRows(std::string_view text, const TextLayout& layout, const std::string& place,
                           const Progress& progress, const AfterRow& afterRow)
{
    return Reader(text, layout, place, progress, afterRow).all();
}

} // namespace fortitor
