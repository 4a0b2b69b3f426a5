// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/record.h"
#include "record/text_cells.h"
#include "record/text_layout.h"

#include <array>
#include <cctype>

namespace fortitor {
namespace {

struct Word {
    std::string_view word;
    std::string_view channel;
};

// Whole headers, folded (small plain letters), with blanks for every mark of punctuation: English, then German, French,
// Italian, Spanish, Polish, Czech, Dutch, Swedish, Portuguese where they differ.
constexpr auto words = std::to_array<Word>({
    {"force", "force"},
    {"load", "force"},
    {"axial force", "force"},
    {"axial load", "force"},
    {"load cell", "force"},
    {"f", "force"},
    {"force 1", "force"},
    {"tensile force", "force"},
    {"standard force", "force"},
    {"kraft", "force"},
    {"last", "force"},
    {"prufkraft", "force"},
    {"pruefkraft", "force"},
    {"charge", "force"},
    {"effort", "force"},
    {"forza", "force"},
    {"carico", "force"},
    {"fuerza", "force"},
    {"carga", "force"},
    {"sila", "force"},
    {"obciazenie", "force"},
    {"zatizeni", "force"},
    {"kracht", "force"},
    {"belasting", "force"},
    {"belastning", "force"},
    {"forca", "force"},

    {"extensometer", "extension"},
    {"ext", "extension"},
    {"extension", "extension"},
    {"ext 1", "extension"},
    {"extensometer 1", "extension"},
    {"extension 1", "extension"},
    {"elongation", "extension"},
    {"gauge extension", "extension"},
    {"delta l", "extension"},
    {"dl", "extension"},
    {"langenanderung", "extension"},
    {"laengenaenderung", "extension"},
    {"verlangerung", "extension"},
    {"verlaengerung", "extension"},
    {"allongement", "extension"},
    {"extensometre", "extension"},
    {"allungamento", "extension"},
    {"estensometro", "extension"},
    {"estensione", "extension"},
    {"alargamiento", "extension"},
    {"extensometro", "extension"},
    {"elongacion", "extension"},
    {"wydluzenie", "extension"},
    {"ekstensometr", "extension"},
    {"prodlouzeni", "extension"},
    {"prutahomer", "extension"},
    {"extenzometr", "extension"},
    {"verlenging", "extension"},
    {"rekopnemer", "extension"},
    {"forlangning", "extension"},
    {"alongamento", "extension"},
    {"extensao", "extension"},
    {"ext 2", "extension_2"},
    {"extensometer 2", "extension_2"},
    {"extension 2", "extension_2"},

    {"crosshead", "displacement"},
    {"stroke", "displacement"},
    {"position", "displacement"},
    {"displacement", "displacement"},
    {"ram", "displacement"},
    {"travel", "displacement"},
    {"crosshead position", "displacement"},
    {"crosshead displacement", "displacement"},
    {"crosshead travel", "displacement"},
    {"axial displacement", "displacement"},
    {"actuator", "displacement"},
    {"actuator position", "displacement"},
    {"disp", "displacement"},
    {"traverse", "displacement"},
    {"traversenweg", "displacement"},
    {"weg", "displacement"},
    {"kolbenweg", "displacement"},
    {"deplacement", "displacement"},
    {"course", "displacement"},
    {"spostamento", "displacement"},
    {"corsa", "displacement"},
    {"traversa", "displacement"},
    {"desplazamiento", "displacement"},
    {"carrera", "displacement"},
    {"posicion", "displacement"},
    {"przemieszczenie", "displacement"},
    {"droga", "displacement"},
    {"trawersa", "displacement"},
    {"posuv", "displacement"},
    {"pricnik", "displacement"},
    {"draha", "displacement"},
    {"verplaatsing", "displacement"},
    {"forskjutning", "displacement"},
    {"slaglangd", "displacement"},
    {"deslocamento", "displacement"},
    {"curso", "displacement"},
    {"posicao", "displacement"},

    {"strain", "strain"},
    {"strain 1", "strain"},
    {"axial strain", "strain"},
    {"longitudinal strain", "strain"},
    {"tensile strain", "strain"},
    {"epsilon", "strain"},
    {"dehnung", "strain"},
    {"deformation", "strain"},
    {"deformazione", "strain"},
    {"deformacion", "strain"},
    {"odksztalcenie", "strain"},
    {"deformace", "strain"},
    {"pomerne prodlouzeni", "strain"},
    {"rek", "strain"},
    {"tojning", "strain"},
    {"deformacao", "strain"},
    {"strain 2", "strain_2"},
    {"strain 3", "strain_3"},
    {"strain 4", "strain_4"},
    {"strain 5", "strain_5"},
    {"strain 6", "strain_6"},
    {"strain 7", "strain_7"},
    {"strain 8", "strain_8"},
    {"transverse strain", "transverse_strain"},
    {"transverse", "transverse_strain"},
    {"lateral strain", "transverse_strain"},
    {"strain t", "transverse_strain"},
    {"querdehnung", "transverse_strain"},
    {"deformation transversale", "transverse_strain"},
    {"deformazione trasversale", "transverse_strain"},
    {"deformacion transversal", "transverse_strain"},
    {"odksztalcenie poprzeczne", "transverse_strain"},
    {"pricna deformace", "transverse_strain"},
    {"dwarsrek", "transverse_strain"},
    {"tvartojning", "transverse_strain"},
    {"deformacao transversal", "transverse_strain"},

    {"deflection", "deflection"},
    {"dial", "deflection"},
    {"durchbiegung", "deflection"},
    {"fleche", "deflection"},
    {"freccia", "deflection"},
    {"flecha", "deflection"},
    {"ugiecie", "deflection"},
    {"pruhyb", "deflection"},
    {"doorbuiging", "deflection"},
    {"nedbojning", "deflection"},
    {"utbojning", "deflection"},
    {"deflexao", "deflection"},

    {"torque", "torque"},
    {"moment", "torque"},
    {"drehmoment", "torque"},
    {"torsionsmoment", "torque"},
    {"couple", "torque"},
    {"coppia", "torque"},
    {"moment skrecajacy", "torque"},
    {"kroutici moment", "torque"},
    {"koppel", "torque"},
    {"vridmoment", "torque"},
    {"binario", "torque"},
    {"momento", "torque"},
    {"par", "torque"},

    {"twist", "twist"},
    {"angle", "twist"},
    {"rotation", "twist"},
    {"drehwinkel", "twist"},
    {"winkel", "twist"},
    {"angolo", "twist"},
    {"angulo", "twist"},
    {"giro", "twist"},
    {"kat", "twist"},
    {"kat skrecenia", "twist"},
    {"uhel", "twist"},
    {"hoek", "twist"},
    {"verdraaiing", "twist"},
    {"vinkel", "twist"},
    {"vridning", "twist"},
    {"rotacao", "twist"},

    {"time", "time"},
    {"t", "time"},
    {"elapsed time", "time"},
    {"test time", "time"},
    {"zeit", "time"},
    {"prufzeit", "time"},
    {"pruefzeit", "time"},
    {"temps", "time"},
    {"tempo", "time"},
    {"tiempo", "time"},
    {"czas", "time"},
    {"cas", "time"},
    {"tijd", "time"},
    {"tid", "time"},

    {"energy", "energy"},
    {"energie", "energy"},
    {"energia", "energy"},
    {"energi", "energy"},
    {"cycles", "cycles"},
    {"load cycles", "cycles"},
    {"number of cycles", "cycles"},
    {"cycle count", "cycles"},
    {"zyklen", "cycles"},
    {"lastwechsel", "cycles"},
    {"lastspiele", "cycles"},
    {"cicli", "cycles"},
    {"ciclos", "cycles"},
    {"potential", "potential"},
    {"potential drop", "potential"},
    {"crack potential", "potential"},
    {"dcpd", "potential"},
    {"acpd", "potential"},
    {"temperature", "temperature"},
    {"temp", "temperature"},
    {"temperatur", "temperature"},
    {"temperatura", "temperature"},
    {"teplota", "temperature"},
    {"temperatuur", "temperature"},
});

std::string plainWords(std::string_view header)
{
    std::string out;
    for (const char c : foldedText(header)) {
        const bool mark = c == '_' || c == '-' || c == '.' || c == ':' || c == '#' || c == '"' || c == ' ' || c == '\t'
            || c == '\n' || c == '\r';
        if (!mark)
            out += c;
        else if (!out.empty() && out.back() != ' ')
            out += ' ';
    }
    // "Ext2" and "Strain1" are the same as with a blank.
    if (out.size() > 1 && std::isdigit(static_cast<unsigned char>(out.back()))
        && std::isalpha(static_cast<unsigned char>(out[out.size() - 2])))
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
