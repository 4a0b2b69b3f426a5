// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/record.h"
#include "record/text_layout.h"

#include <array>
#include <cctype>

namespace fortitor {
namespace {

struct Word {
    std::string_view word;
    std::string_view channel;
};

// Whole headers, lower case, with blanks for every mark of punctuation.
constexpr std::array words{
    Word{"force", "force"}, Word{"load", "force"}, Word{"kraft", "force"}, Word{"last", "force"},
    Word{"axial force", "force"}, Word{"axial load", "force"}, Word{"load cell", "force"}, Word{"f", "force"},
    Word{"prüfkraft", "force"}, Word{"force 1", "force"}, Word{"tensile force", "force"},
    Word{"extensometer", "extension"}, Word{"ext", "extension"}, Word{"extension", "extension"},
    Word{"ext 1", "extension"}, Word{"extensometer 1", "extension"}, Word{"extension 1", "extension"},
    Word{"elongation", "extension"}, Word{"längenänderung", "extension"}, Word{"verlängerung", "extension"},
    Word{"gauge extension", "extension"}, Word{"delta l", "extension"}, Word{"dl", "extension"},
    Word{"ext 2", "extension_2"}, Word{"extensometer 2", "extension_2"}, Word{"extension 2", "extension_2"},
    Word{"crosshead", "displacement"}, Word{"stroke", "displacement"}, Word{"position", "displacement"},
    Word{"displacement", "displacement"}, Word{"ram", "displacement"}, Word{"traverse", "displacement"},
    Word{"traversenweg", "displacement"}, Word{"weg", "displacement"}, Word{"travel", "displacement"},
    Word{"crosshead position", "displacement"}, Word{"crosshead displacement", "displacement"},
    Word{"crosshead travel", "displacement"}, Word{"axial displacement", "displacement"},
    Word{"actuator", "displacement"}, Word{"actuator position", "displacement"}, Word{"disp", "displacement"},
    Word{"strain", "strain"}, Word{"strain 1", "strain"}, Word{"dehnung", "strain"}, Word{"axial strain", "strain"},
    Word{"longitudinal strain", "strain"}, Word{"tensile strain", "strain"}, Word{"ε", "strain"}, Word{"epsilon", "strain"},
    Word{"strain 2", "strain_2"}, Word{"strain 3", "strain_3"}, Word{"strain 4", "strain_4"},
    Word{"transverse strain", "transverse_strain"}, Word{"transverse", "transverse_strain"},
    Word{"lateral strain", "transverse_strain"}, Word{"querdehnung", "transverse_strain"}, Word{"strain t", "transverse_strain"},
    Word{"deflection", "deflection"}, Word{"durchbiegung", "deflection"}, Word{"dial", "deflection"},
    Word{"torque", "torque"}, Word{"drehmoment", "torque"}, Word{"moment", "torque"},
    Word{"twist", "twist"}, Word{"angle", "twist"}, Word{"drehwinkel", "twist"}, Word{"rotation", "twist"},
    Word{"time", "time"}, Word{"zeit", "time"}, Word{"t", "time"}, Word{"elapsed time", "time"},
    Word{"test time", "time"}, Word{"prüfzeit", "time"}, Word{"temps", "time"},
    Word{"energy", "energy"}, Word{"temperature", "temperature"}, Word{"temp", "temperature"},
};

std::string plainWords(std::string_view header)
{
    std::string out;
    for (const char c : header) {
        const bool mark = c == '_' || c == '-' || c == '.' || c == ':' || c == '#' || c == '"' || c == ' ' || c == '\t';
        if (!mark)
            out += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        else if (!out.empty() && out.back() != ' ')
            out += ' ';
    }
    // "Ext2" and "Strain1" are the same as with a blank.
    if (out.size() > 1 && std::isdigit(static_cast<unsigned char>(out.back())) && std::isalpha(static_cast<unsigned char>(out[out.size() - 2])))
        out.insert(out.size() - 1, 1, ' ');
    while (!out.empty() && out.back() == ' ')
        out.pop_back();
    return out;
}

} // namespace

std::string channelFromHeader(std::string_view header, const Unit* unit)
{
    const std::string text = plainWords(header);
    std::string channel(findChannelName(header) ? header : std::string_view());
    for (const Word& word : words)
        if (channel.empty() && text == word.word)
            channel = word.channel;
    if (!unit || channel.empty())
        return channel;
    if (unit->kind == Kind::Strain && channel.starts_with("extension"))
        return channel == "extension" ? "strain" : "strain_2";
    if (unit->kind == Kind::Length && (channel == "strain" || channel == "strain_2"))
        return channel == "strain" ? "extension" : "extension_2";
    return channel;
}

} // namespace fortitor
