// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/common/sketches.h"

namespace fortitor::sketches {

Stroke side(double x, double from, double to)
{
    return {{x, from}, {x, to}};
}

Sketch broken(const Stroke& line)
{
    constexpr double gap = 4;
    Stroke lower;
    for (const auto& [x, y] : line)
        lower.push_back({x, y + gap});
    const double left = line.front()[1];
    const double right = line.back()[1];
    return {{side(13, 2, left), line, side(27, 2, right), side(13, left + gap, 38), lower, side(27, right + gap, 38)}};
}

Sketch necked(const Stroke& line)
{
    Sketch s = broken(line);
    const auto& [a, b] = line.front();
    const auto& [c, d] = line.back();
    s.strokes[0] = {{11, 2}, {11, 10}, {a, b}};
    s.strokes[2] = {{29, 2}, {29, 10}, {c, d}};
    s.strokes[3] = {{a, b + 4}, {11, 31}, {11, 38}};
    s.strokes[5] = {{c, d + 4}, {29, 31}, {29, 38}};
    return s;
}

Sketch onStrip(double left, double top, double width, double height)
{
    return {.strokes = {{{13, 2}, {27, 2}, {27, 38}, {13, 38}, {13, 2}}, {{9, 10}, {31, 10}}, {{9, 30}, {31, 30}}},
            .filled = {{left, top, width, height}}};
}

} // namespace fortitor::sketches
