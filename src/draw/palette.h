// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QColor>
#include <QFont>

#include <array>

namespace fortitor {

/// The colours of a page. Text on its grounds keeps a contrast of at least 4.5 : 1.
struct Palette {
    QColor paper; ///< ground of the window
    QColor rail;
    QColor surface; ///< ground of a page
    QColor margin; ///< ground of the remarks
    QColor ink;
    QColor quiet; ///< ink of lesser words
    QColor hair;
    QColor hairSoft;
    QColor accent; ///< what to do next
    QColor accentText;
    QColor accentTint;
    QColor stop;
    QColor stopText;
    QColor good; ///< inside a window
    QColor metal; ///< fill of a drawn specimen
    QColor dataTint;
    std::array<QColor, 8> data; ///< told apart by colour-blind eyes as well
    bool dark = false;
};

const Palette& lightPalette();
const Palette& darkPalette();

/// The shipped faces; loads them from the resources once.
QFont wordFont(double pixels, QFont::Weight weight = QFont::Normal);
QFont figureFont(double pixels, QFont::Weight weight = QFont::Normal);

} // namespace fortitor
