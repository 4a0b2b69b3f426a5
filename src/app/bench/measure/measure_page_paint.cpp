// SPDX-License-Identifier: GPL-3.0-or-later
// How Measure is painted: the specimen with its places, and what the readings come to below it.
#include "app/bench/measure/measure_page.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"
#include "draw/note_drawing.h"
#include "methods/common/figures.h"
#include "methods/common/run.h"
#include "methods/display.h"

#include <QFontMetricsF>
#include <QPainter>

#include <algorithm>

namespace fortitor {
namespace {

/// The break: a ragged line through the middle.
void paintBreak(QPainter& painter, const SpecimenDrawing& d)
{
    const Palette& p = pal();
    const double x = d.bar.center().x();
    QPolygonF crack;
    for (int i = 0; i <= 8; ++i)
        crack << QPointF(x + (i % 2 ? 5 : -5), d.bar.top() - 4 + i * (d.bar.height() + 8) / 8);
    painter.setPen(QPen(p.surface, 7));
    painter.drawPolyline(crack);
    painter.setPen(QPen(p.ink, 1.4));
    painter.drawPolyline(crack.translated(-4, 0));
    painter.drawPolyline(crack.translated(4, 0));
}

} // namespace

void MeasurePage::paintSummary(QPainter& painter) const
{
    const Palette& p = pal();
    const int y = height() - (height() < lowPage ? 94 : 104);
    painter.setPen(p.hair);
    painter.drawLine(24, y - 14, width() - 24, y - 14);
    paintSection(painter, y);
    if (!after_)
        paintSpread(painter, y);
}

/// The section as the readings give it, or what the pieces after the break give.
void MeasurePage::paintSection(QPainter& painter, int y) const
{
    const Palette& p = pal();
    painter.setPen(p.quiet);
    painter.setFont(wordFont(12));
    const Method& method = *session_.job().method;
    const auto section = method.section ? method.section(session_.specimen().input, after_)
                                        : Expected<SectionShown>(SectionShown{.title = {}});
    painter.drawText(QPointF(24, y + 8), section ? q(section->title) : QString("section"));
    if (section && method.loadedArea == noArea) { // nothing is divided by a section here
        painter.setPen(p.ink);
        painter.setFont(wordFont(16));
        painter.drawText(QPointF(24, y + 40), q(section->how));
    } else if (!section || !section->title.empty()) {
        const bool known = section && section->area;
        const double area = known ? *section->area : 0;
        painter.setPen(known ? p.ink : p.quiet);
        const QFont big = figureFont(27);
        painter.setFont(big);
        const Unit& unit = displayUnit(Kind::Area, area, units());
        const QString value = known ? q(formatSignificant(unit.fromBase(area), 4)) : QString("–");
        painter.drawText(QPointF(24, y + 42), value);
        painter.setFont(wordFont(13));
        painter.setPen(p.quiet);
        const QString how = section && !section->how.empty() ? ", " + q(section->how) : QString();
        painter.drawText(QPointF(24 + QFontMetricsF(big).horizontalAdvance(value) + 10, y + 42),
                         q(std::string(unit.symbol)) + how);
    }
    painter.setFont(wordFont(12));
    painter.setPen(p.quiet);
    if (!section)
        painter.drawText(QPointF(24, y + 66), q(section.problem().text()));
    else if (!after_)
        painter.drawText(QPointF(24, y + 66), q(section->words));
    else if (const auto& outcome = session_.specimenOutcome().outcome) {
        QString words;
        for (const ResultSpec& spec : method.results)
            if (const Result* r = spec.fromPieces ? outcome->find(spec.symbol) : nullptr; r && r->value)
                words += (words.isEmpty() ? "" : "   ") + q(symbolText(spec.symbol)) + " = "
                    + q(showFigure(spec, *r).text) + " " + q(showFigure(spec, *r).unit);
        painter.setPen(p.ink);
        painter.drawText(QPointF(24, y + 66), words);
    }
}

/// Spread of the readings of the first kind, against the one per cent that is queried.
void MeasurePage::paintSpread(QPainter& painter, int y) const
{
    const Palette& p = pal();
    std::vector<double> values;
    for (const Place& place : places_)
        if (place.onDrawing && place.row == 0)
            if (const auto v =
                    parseQuantity(s(rawText(place.field, place.index)), place.field.kind, &baseUnit(place.field.kind)))
                values.push_back(v->base);
    if (std::ranges::none_of(places_, &Place::onDrawing))
        return; // each place is measured once
    const double left = width() * 0.52;
    painter.setPen(p.quiet);
    painter.drawText(QPointF(left, y + 8), "spread");
    if (values.size() < 2)
        return;
    const auto [lo, hi] = std::ranges::minmax(values);
    double mean = 0;
    for (double v : values)
        mean += v / static_cast<double>(values.size());
    const double half = std::max(0.006 * mean, (hi - lo) * 0.7);
    const double lineLeft = left + 60;
    const double lineRight = width() - 40;
    const auto x = [&](double v) { return lineLeft + (v - mean + half) / (2 * half) * (lineRight - lineLeft); };
    painter.setPen(QPen(p.hair, 1.5));
    painter.drawLine(QPointF(lineLeft, y + 4), QPointF(lineRight, y + 4));
    painter.setPen(QPen(p.stop, 1.2, Qt::DotLine));
    for (double limit : {mean - 0.005 * mean, mean + 0.005 * mean})
        painter.drawLine(QPointF(x(limit), y - 6), QPointF(x(limit), y + 14));
    painter.setPen(Qt::NoPen);
    painter.setBrush(p.ink);
    for (double v : values)
        painter.drawEllipse(QPointF(x(v), y + 4), 4.5, 4.5);
    painter.setPen(p.quiet);
    painter.setFont(figureFont(11));
    const QFontMetricsF metrics(painter.font());
    const QString low = q(formatSignificant(lo, 4));
    const QString high = q(formatSignificant(hi, 4));
    painter.drawText(QPointF(x(lo) - metrics.horizontalAdvance(low) / 2 - (hi > lo ? 12 : 0), y + 28), low);
    if (hi > lo)
        painter.drawText(QPointF(x(hi) - metrics.horizontalAdvance(high) / 2 + 12, y + 28), high);
    painter.setFont(wordFont(12));
    painter.drawText(QPointF(left, y + 52),
                     QString("%1 % of the mean; 1 % would be queried").arg((hi - lo) / mean * 100, 0, 'f', 1));
    const Instruments& tools = session_.specimen().input.instruments;
    painter.drawText(QPointF(left, y + 76), "calliper: " + q(tools.calliperName) + " · measured by " + session_.who());
}

void MeasurePage::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.fillRect(rect(), p.surface);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!session_.hasSpecimen()) {
        painter.setPen(p.quiet);
        painter.setFont(wordFont(13));
        painter.drawText(rect(), Qt::AlignCenter, "No specimens yet. Add one with + above (Insert on the tags).");
        return;
    }
    const SpecimenDrawing d = drawing();
    int active = -1;
    for (const Place& place : places_)
        if (place.onDrawing && place.edit->hasFocus())
            active = static_cast<int>(place.index);
    paintSpecimen(painter, d, active);
    if (after_ && !d.pull) // a part may well be whole
        paintBreak(painter, d);
    paintPlaces(painter, d, active);
    paintSummary(painter);
}

/// The piece to scale with its lengths, and what the notes say of it.
void MeasurePage::paintSpecimen(QPainter& painter, const SpecimenDrawing& d, int active) const
{
    const Palette& p = pal();
    std::vector<bool> done(3, false);
    for (const Place& place : places_)
        if (place.onDrawing && place.index < 3)
            done[place.index] = done[place.index] || !place.edit->typed().isEmpty();
    const auto words = [&](const char* key, const QString& name, const QString& unknown) {
        const auto it = session_.specimen().input.dimensions.find(key);
        return it == session_.specimen().input.dimensions.end() || it->second.empty()
            ? unknown
            : name + " " + q(formatQuantity(it->second.front().base, baseUnit(Kind::Length), 4));
    };
    SpecimenDrawing shown = d;
    if (after_)
        shown.places.clear();
    const SpecimenInput& input = session_.specimen().input;
    const Method& method = *session_.job().method;
    const Drawing& how = method.drawing;
    // A length that is not known stands there with a question mark; two of them side by side.
    const auto lengths = [&](const std::vector<LengthLabel>& labels) {
        QString text;
        for (const LengthLabel& one : labels)
            text += (text.isEmpty() ? "" : " · ") + words(one.field.c_str(), q(one.words), q(one.words) + "?");
        return text;
    };
    const bool twoLoads = how.loads && d.loads.size() == 2;
    const bool marked = how.loads ? twoLoads : true; // of a beam only two loads have a distance
    using Shown = NoteSpec::Shown;
    const auto noted = [&](Shown what) {
        const NoteSpec* note = method.noteShownAs(what);
        return note ? noteOf(input, note->key) : std::string();
    };
    std::string at;
    for (const Place& place : places_)
        if (place.edit->hasFocus())
            at = place.field.place;
    paintBar(painter, p, shown, done, active,
             after_       ? lengths(how.innerAfter)
                 : marked ? lengths(how.inner)
                          : QString(),
             after_ ? QString() : lengths(how.outer), at);
    if (!after_) {
        paintWood(painter, p, d, noted(Shown::Rings), noted(Shown::Grain), noted(Shown::Knots));
        // Beads or fibres lie as the note says; along the bar is across the page here.
        if (const auto degrees = directionDegrees(noted(Shown::Direction))) {
            QColor faint = p.data[0];
            faint.setAlpha(90);
            paintDirection(painter, d.outline, *degrees == 45 ? 45 : *degrees + 90, faint, 14);
        }
    }
}

/// Numbered places and the lines down from their fields.
void MeasurePage::paintPlaces(QPainter& painter, const SpecimenDrawing& d, int active) const
{
    const Palette& p = pal();
    for (const Place& place : places_) {
        if (!place.onDrawing) {
            painter.setFont(wordFont(11.5));
            painter.setPen(p.quiet);
            painter.drawText(QPointF(place.edit->x() + 1, place.edit->y() - 7),
                             q(place.field.label)
                                 + (place.field.readings > 1 ? QString(" %1").arg(place.index + 1) : QString()));
            continue;
        }
        if (place.index == 0) {
            painter.setFont(wordFont(12));
            painter.setPen(p.quiet);
            const double right = place.edit->x() - 12;
            painter.drawText(QRectF(24, place.edit->y(), right - 24, place.edit->height()),
                             Qt::AlignRight | Qt::AlignVCenter, q(place.field.label));
        }
        if (place.row != 0)
            continue;
        const double x = d.places[place.index].x();
        const double y = d.outline.boundingRect().top() - d.clear
            - (places_.size() > 3
                       && std::ranges::any_of(places_, [](const Place& o) { return o.row == 1 && o.onDrawing; })
                   ? -2
                   : 24);
        const bool now = active == static_cast<int>(place.index);
        painter.setPen(QPen(p.hair, 1.2));
        painter.drawLine(QPointF(x, y), QPointF(x, d.bar.top() - 10));
        painter.setPen(QPen(now ? p.accent : p.ink, 1.3));
        painter.setBrush(now ? p.accent : p.surface);
        painter.drawEllipse(QPointF(x, y), 10, 10);
        painter.setPen(now ? (p.dark ? p.paper : QColor(Qt::white)) : p.ink);
        painter.setFont(wordFont(11, QFont::DemiBold));
        painter.drawText(QRectF(x - 10, y - 10, 20, 20), Qt::AlignCenter, QString::number(place.index + 1));
    }
}

} // namespace fortitor
