// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "draw/palette.h"

#include <QObject>
#include <QPainterPath>

namespace fortitor {

/// The look of the program: one palette at a time, told to whoever paints.
class Theme : public QObject {
    Q_OBJECT
public:
    static Theme& instance();
    [[nodiscard]] const Palette& palette() const { return dark_ ? darkPalette() : lightPalette(); }
    [[nodiscard]] bool dark() const { return dark_; }
    void setDark(bool dark);
    /// Gives the application its style sheet, palette and face.
    void install();

signals:
    void changed();

private:
    bool dark_ = false;
};

/// The palette of now.
inline const Palette& pal()
{
    return Theme::instance().palette();
}

/// Line drawings for the rail, in a 20 × 20 box.
QPainterPath railIcon(const QString& name);

/// "2 N" over "units in a lighter ink": figure and unit as HTML.
QString figureHtml(const QString& figure, const QString& unit, int pixels);

} // namespace fortitor
