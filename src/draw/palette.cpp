// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/palette.h"

#include <QFontDatabase>
#include <QString>

/// Resources of a static library must be asked for, outside any namespace.
static void loadResources()
{
    Q_INIT_RESOURCE(fortitor);
}

namespace fortitor {
namespace {

/// The family names as the font files give them.
struct Families {
    QString words;
    QString figures;
};

const Families& families()
{
    static const Families found = [] {
        loadResources();
        Families f;
        for (const char* file : {":/fonts/Inter-Regular.otf", ":/fonts/Inter-Medium.otf", ":/fonts/Inter-SemiBold.otf"})
            if (const int id = QFontDatabase::addApplicationFont(file); id >= 0 && f.words.isEmpty())
                f.words = QFontDatabase::applicationFontFamilies(id).value(0);
        for (const char* file : {":/fonts/JetBrainsMono-Regular.ttf", ":/fonts/JetBrainsMono-Medium.ttf"})
            if (const int id = QFontDatabase::addApplicationFont(file); id >= 0 && f.figures.isEmpty())
                f.figures = QFontDatabase::applicationFontFamilies(id).value(0);
        return f;
    }();
    return found;
}

QFont made(const QString& family, double pixels, QFont::Weight weight)
{
    QFont font(family);
    font.setPixelSize(static_cast<int>(pixels + 0.5));
    font.setWeight(weight);
    font.setHintingPreference(QFont::PreferNoHinting);
    return font;
}

// Okabe and Ito's colours; yellow left out, as it does not read on paper.
constexpr std::array<QRgb, 8> dataOnLight{0xFF0072B2, 0xFFD55E00, 0xFF007A5A, 0xFFA8528A,
                                          0xFF8A6D00, 0xFF3A8FC4, 0xFF5B4B8A, 0xFF44505C};
constexpr std::array<QRgb, 8> dataOnDark{0xFF56B4E9, 0xFFE69F00, 0xFF2FBF8F, 0xFFE59AC8,
                                         0xFFE6D24A, 0xFF8FC7F0, 0xFFA99BE0, 0xFFC4CCD4};

std::array<QColor, 8> colours(const std::array<QRgb, 8>& list)
{
    std::array<QColor, 8> out;
    for (size_t i = 0; i < list.size(); ++i)
        out[i] = QColor::fromRgba(list[i]);
    return out;
}

} // namespace

const Palette& lightPalette()
{
    static const Palette p{"#FBFAF7",
                           "#F1EEE7",
                           "#FFFFFF",
                           "#FFFEFA",
                           "#23282E",
                           "#5C636B",
                           "#DAD7CE",
                           "#EDEBE4",
                           "#B8741A",
                           "#8F5A10",
                           "#FBEFD9",
                           "#9E2A2B",
                           "#FFFFFF",
                           "#BCD8CB",
                           "#F2F1ED",
                           "#DCE8EE",
                           colours(dataOnLight),
                           false};
    return p;
}

const Palette& darkPalette()
{
    static const Palette p{"#1B1E22", "#16181B", "#212429", "#1E2125", "#E8E6E1",           "#A4A9AF",
                           "#3C4148", "#30343A", "#DB9A3C", "#E9B263", "#3A2F1C",           "#C2484A",
                           "#FFFFFF", "#2F5A48", "#2B2F35", "#263945", colours(dataOnDark), true};
    return p;
}

QFont wordFont(double pixels, QFont::Weight weight)
{
    return made(families().words, pixels, weight);
}

QFont figureFont(double pixels, QFont::Weight weight)
{
    return made(families().figures, pixels, weight);
}

} // namespace fortitor
