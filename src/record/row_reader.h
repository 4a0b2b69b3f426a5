// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/plain_figure.h"
#include "record/record.h"
#include "record/text_cells.h"
#include "record/text_layout.h"

#include <fast_float/fast_float.h>

#include <cmath>
#include <cstring>
#include <limits>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// Where a column's numbers go; null for one passed over.
struct Sink {
    Column* column = nullptr;
    double factor = 1;
    double shift = 0;
};

/// Reads lines of numbers into sinks. One object a file.
class RowReader {
public:
    RowReader(char delimiter, Marks marks, std::vector<Sink> sinks)
        : blank_(delimiter == ' '), delimiter_(delimiter), marks_(marks),
          options_(fast_float::chars_format::general, marks.decimal), sinks_(std::move(sinks)), values_(sinks_.size())
    {
    }

    /// Takes a row of plain figures; where its line ends ('\n'). nullptr, and nothing taken, for any other row: take()
    /// knows what it is.
    FORTITOR_LETTERS const char* takePlain(const char* at, const char* end)
    {
        if (!letters_)
            return nullptr;
        const size_t fields = sinks_.size();
        for (size_t field = 0; field < fields; ++field) {
            while (end - at > plainRoom && (*at == ' ' || (*at == '\t' && delimiter_ != '\t')))
                ++at;
            if (end - at <= plainRoom)
                return nullptr;
            at = sinks_[field].column ? plainFigure(at, marks_.decimal, values_[field]) : passOver(at, end);
            if (!at || at == end || (field + 1 < fields && !ends(*at++)))
                return nullptr;
        }
        if (*at == '\r' && end - at > 1)
            ++at;
        if (*at != '\n')
            return nullptr;
        keepValues();
        return at;
    }

    /// 0 when the line was taken, else the number of the field (from 1) that would not read.
    size_t take(const char* at, const char* end)
    {
        const size_t failed = read(at, end);
        beyond_ += failed == 0 ? beyondInRow_ : 0;
        if (failed == 0)
            keepValues();
        return failed;
    }

    /// The same without keeping anything.
    size_t read(const char* at, const char* end)
    {
        size_t field = 0;
        beyondInRow_ = 0;
        for (; field < sinks_.size(); ++field) {
            at = skipBlanks(at, end);
            if (at == end && field > 0 && (blank_ || end[-1] != delimiter_))
                break;
            if (sinks_[field].column ? !readField(at, end, values_[field]) : !skipField(at, end))
                return field + 1;
            if (at == end && field + 1 < sinks_.size()) {
                ++field;
                break;
            }
            if (at != end)
                ++at;
        }
        // Words may be missing at the end of a line, figures may not.
        for (; field < sinks_.size(); ++field)
            if (sinks_[field].column)
                return field + 1;
        return moreFigures(at, end) ? field + 1 : 0;
    }

    [[nodiscard]] double value(size_t field) const
    {
        return (values_[field] + sinks_[field].shift) * sinks_[field].factor;
    }
    [[nodiscard]] const std::vector<Sink>& sinks() const { return sinks_; }
    [[nodiscard]] size_t beyond() const { return beyond_; }

private:
    void keepValues()
    {
        for (size_t i = 0; i < sinks_.size(); ++i)
            if (sinks_[i].column)
                sinks_[i].column->append((values_[i] + sinks_[i].shift) * sinks_[i].factor);
    }

    /// The end of a field without quotes, in its line.
    const char* passOver(const char* at, const char* end) const
    {
        while (at < end && !ends(*at) && *at != '\n' && *at != '\r' && *at != '"')
            ++at;
        return at < end && *at != '"' ? at : nullptr;
    }

    [[nodiscard]] bool ends(char c) const { return blank_ ? c == ' ' || c == '\t' : c == delimiter_; }

    const char* skipBlanks(const char* at, const char* end) const
    {
        while (at < end && (*at == ' ' || (*at == '\t' && delimiter_ != '\t')))
            ++at;
        return at;
    }

    /// Whether figures stand behind the last column; words there are an event mark, and passed over.
    bool moreFigures(const char* at, const char* end) const
    {
        if (at == end)
            return false;
        for (const std::string& field : splitFields(std::string_view(at, static_cast<size_t>(end - at)), delimiter_))
            if (!field.empty() && field.find_first_not_of("0123456789.,+-eE ") == std::string::npos)
                return true;
        return false;
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

    bool readField(const char*& at, const char* end, double& value)
    {
        const char* from = at;
        if (from < end && *from == '+')
            ++from;
        const auto [stop, error] = fast_float::from_chars_advanced(from, end, value, options_);
        if (error == std::errc() && (stop == end || ends(*stop)) && stop[-1] != ',' && std::isfinite(value)
            && !isOverflowFigure(value)) {
            at = stop;
            return true;
        }
        return readOddField(at, end, value);
    }

    /// Quoted, padded, grouped, missing or beyond the instrument.
    bool readOddField(const char*& at, const char* end, double& value)
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
        const std::string_view text(from, static_cast<size_t>(to - from));
        value = std::numeric_limits<double>::quiet_NaN();
        if (isMissingMark(text))
            return true;
        if (isOverflowMark(text)) {
            ++beyondInRow_;
            return true;
        }
        if (!withoutGroups(text, marks_, plain_))
            return false;
        const char* first = plain_.data() + (plain_.starts_with('+') ? 1 : 0);
        const char* last = plain_.data() + plain_.size();
        const auto [stop, error] = fast_float::from_chars_advanced(first, last, value, options_);
        // 1e400 is beyond what a number holds: a figure for "beyond me" like 9.9E37.
        const bool whole = stop == last && stop > first && stop[-1] != ',';
        if (whole && (error == std::errc::result_out_of_range || (error == std::errc() && isOverflowFigure(value)))) {
            value = std::numeric_limits<double>::quiet_NaN();
            ++beyondInRow_;
            return true;
        }
        return error == std::errc() && whole && std::isfinite(value);
    }

    bool blank_;
    char delimiter_;
    Marks marks_;
    fast_float::parse_options options_;
    std::vector<Sink> sinks_;
    std::vector<double> values_;
    std::string plain_;
    size_t beyond_ = 0;
    size_t beyondInRow_ = 0;
    bool letters_ = readsPlainFigures();
};

} // namespace fortitor
