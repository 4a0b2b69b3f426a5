// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/text_cells.h"

#include "record/text_encoding.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>

namespace fortitor {
namespace {

bool digit(char c)
{
    return c >= '0' && c <= '9';
}

constexpr double unreadable = 9.9e36;

/// Latin letters with accents, from À (U+00C0) to ſ (U+017F), by their plain ones; ' ' for what is no letter.
/// The lines end at ÿ, Ŀ and ſ.
constexpr std::string_view plainLetters = "aaaaaaaceeeeiiiidnooooo ouuuuypsaaaaaaaceeeeiiiidnooooo ouuuuypy"
                                          "aaaaaaccccccccddddeeeeeeeeeegggggggghhhhiiiiiiiiiiiijjkkklllllll"
                                          "lllnnnnnnnnnoooooooorrrrrrssssssssttttttuuuuuuuuuuuuwwyyyzzzzzzs";

} // namespace

bool isMissingMark(std::string_view text)
{
    if (text.size() > 3)
        return false;
    static constexpr std::array marks{"", "-", "--", "NaN", "nan", "NAN", "n/a", "N/A", "NA"};
    return std::ranges::find(marks, text) != marks.end();
}

bool isOverflowMark(std::string_view text)
{
    if (text.size() >= 2
        && (text.find_first_not_of('#') == std::string_view::npos
            || text.find_first_not_of('*') == std::string_view::npos
            || text.find_first_not_of('>') == std::string_view::npos))
        return true;
    constexpr size_t longest = 10;
    if (!text.empty() && (text.front() == '+' || text.front() == '-'))
        text.remove_prefix(1);
    if (text.empty() || text.size() > longest || (text.front() >= '2' && text.front() <= '9'))
        return false;
    std::string upper(text.substr(0, 16));
    for (char& c : upper)
        c = static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    static constexpr std::array marks{"OVLD",  "OVL", "OL",  "O.L",      "OVER",   "OVERFLOW", "OVERLOAD", "OVERRANGE",
                                      "OVRLD", "OVF", "INF", "INFINITY", "1.#INF", "1.#INF00", "1,#INF"};
    return std::ranges::find(marks, upper) != marks.end();
}

bool isOverflowFigure(double value)
{
    return std::abs(value) >= unreadable;
}

bool withoutGroups(std::string_view text, Marks marks, std::string& out)
{
    out.assign(text);
    if (marks.group == 0 || text.find(marks.group) == std::string_view::npos)
        return true;
    out.clear();
    size_t at = 0;
    if (at < text.size() && (text[at] == '+' || text[at] == '-'))
        out += text[at++];
    size_t run = 0;
    bool grouped = false;
    for (; at < text.size() && (digit(text[at]) || text[at] == marks.group); ++at) {
        if (digit(text[at])) {
            out += text[at];
            ++run;
            continue;
        }
        if (run == 0 || run > 3 || (grouped && run != 3))
            return false;
        grouped = true;
        run = 0;
    }
    if (grouped && run != 3)
        return false;
    out += text.substr(at);
    return out.find(marks.group) == std::string::npos;
}

std::string shownText(std::string_view text, std::size_t most)
{
    const std::string whole = isUtf8(text) ? std::string(text) : latin1ToUtf8(text);
    std::string out;
    size_t i = 0;
    for (; i < whole.size() && out.size() < most; ++i) {
        const auto c = static_cast<unsigned char>(whole[i]);
        if (c == '\t')
            out += "\\t";
        else if (c == '\n')
            out += "\\n";
        else if (c < 32 || c == 127)
            out += fmt::format("\\x{:02X}", c);
        else
            out += whole[i];
    }
    while (i < whole.size() && (static_cast<unsigned char>(whole[i]) & 0xC0) == 0x80) // a letter is not cut in two
        out += whole[i++];
    return i < whole.size() ? out + "…" : out;
}

std::string foldedText(std::string_view utf8)
{
    std::string out;
    for (size_t i = 0; i < utf8.size(); ++i) {
        const auto c = static_cast<unsigned char>(utf8[i]);
        if (c < 0x80) {
            out += static_cast<char>(std::tolower(c));
            continue;
        }
        const auto next = i + 1 < utf8.size() ? static_cast<unsigned char>(utf8[i + 1]) : 0;
        const unsigned code = (c & 0xE0) == 0xC0 ? (c & 0x1Fu) << 6 | (next & 0x3Fu) : 0;
        if (c == 0xE2 && next == 0x88 && i + 2 < utf8.size()
            && static_cast<unsigned char>(utf8[i + 2]) == 0x86) { // ∆, the increment
            out += "delta ";
            i += 2;
            continue;
        }
        if (code >= 0xC0 && code < 0x180) {
            const char plain = plainLetters[code - 0xC0];
            if (plain != ' ')
                out += plain;
            if (code == 0xDF) // ß
                out += 's';
        } else if (code == 0x394 || code == 0x3B4) {
            out += "delta ";
        } else if (code == 0x395 || code == 0x3B5) {
            out += "epsilon";
        } else if (code == 0xA0) {
            out += ' ';
        } else {
            out += utf8.substr(i, (c & 0xE0) == 0xC0 ? 2 : (c & 0xF0) == 0xE0 ? 3 : 4);
        }
        i += (c & 0xE0) == 0xC0 ? 1 : (c & 0xF0) == 0xE0 ? 2 : (c & 0xF8) == 0xF0 ? 3 : 0;
    }
    return out;
}

} // namespace fortitor
