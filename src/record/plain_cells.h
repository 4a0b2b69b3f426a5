// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// Cells of a line of a small table that comma, semicolon or tab parts; quotes and blanks about them are dropped.
inline std::vector<std::string> plainCells(std::string_view line)
{
    std::vector<std::string> cells(1);
    for (const char c : line)
        if (c == ',' || c == ';' || c == '\t')
            cells.emplace_back();
        else if (c != '\r' && c != '"' && c != ' ')
            cells.back() += c;
    return cells;
}

/// The same in small letters, for a header.
inline std::vector<std::string> headerCells(std::string_view line)
{
    std::vector<std::string> cells = plainCells(line);
    for (std::string& cell : cells)
        for (char& c : cell)
            c = static_cast<char>(c >= 'A' && c <= 'Z' ? c - 'A' + 'a' : c);
    return cells;
}

} // namespace fortitor
