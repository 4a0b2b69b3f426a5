// SPDX-License-Identifier: GPL-3.0-or-later
// Every choice that is picked from a drawing has one, and no two of a family look the same.
#include "draw/note_drawing.h"
#include "draw/overlay.h"
#include "methods/method.h"

#include <gtest/gtest.h>

#include <QImage>

#include <set>

namespace fortitor {
namespace {

QImage pictureOf(const NoteSpec& note, const std::string& choice)
{
    QImage image(80, 80, QImage::Format_ARGB32);
    image.fill(Qt::white);
    QPainter painter(&image);
    paintNote(painter, lightPalette(), note, choice, QRectF(0, 0, 80, 80));
    return image;
}

TEST(NoteDrawings, EachChoiceHasItsOwn)
{
    int drawn = 0;
    for (const Method& method : methodRegistry())
        for (const NoteSpec& note : method.notes) {
            if (note.choices.empty() || !drawsChoice(note, note.choices.front()))
                continue;
            std::vector<QImage> seen{pictureOf(note, "no such choice")};
            if (note.by == NoteSpec::By::Section)
                seen.clear(); // the section itself is drawn whatever is chosen
            for (const std::string& choice : note.choices) {
                EXPECT_TRUE(drawsChoice(note, choice)) << method.id << " " << note.key << ": " << choice;
                const QImage picture = pictureOf(note, choice);
                for (const QImage& other : seen)
                    EXPECT_NE(picture, other) << method.id << " " << note.key << ": " << choice;
                seen.push_back(picture);
                ++drawn;
            }
        }
    EXPECT_GT(drawn, 40);
}

TEST(NoteDrawings, TheSandwichHoldsEachPlaceOfFailure)
{
    const NoteSpec& note = *findMethod("flatwise-tension")->findNote("failure_place");
    const auto layers = sectionLayers(note.section, QRectF(0, 0, 100, 200));
    double y = 0;
    std::set<std::string> places;
    for (const DrawnLayer& layer : layers) {
        EXPECT_NEAR(layer.box.top(), y, 1e-9);
        y = layer.box.bottom();
        places.insert(layer.choice);
    }
    EXPECT_NEAR(y, 200, 1e-9);
    for (const std::string& choice : note.choices)
        EXPECT_TRUE(places.contains(choice)) << choice;
}

TEST(NoteDrawings, DirectionsAreUnderstood)
{
    EXPECT_EQ(directionDegrees("along 0°"), 0);
    EXPECT_EQ(directionDegrees("crossed ±45°"), 45);
    EXPECT_EQ(directionDegrees("across 90°"), 90);
    EXPECT_EQ(directionDegrees("upright"), 90);
    EXPECT_FALSE(directionDegrees(""));
    EXPECT_FALSE(directionDegrees("unknown"));
}

TEST(Overlays, OneExtentInOneUnitAndOddOnesLeftOut)
{
    CurveView a;
    a.x = {0, 0.01, 0.02};
    a.y = {0, 200, 300};
    CurveView b = a;
    b.y = {0, 400, 350};
    CurveView crush;
    crush.xAxis = {"crush", Kind::Length};
    crush.yAxis = {"force", Kind::Force};
    crush.x = {0, 50};
    crush.y = {0, 9000};
    const auto [plot, mixed] = overlayOf({{.view = &a}, {.view = &b, .label = "b"}, {.view = &crush}}, UnitSystem::SI);
    EXPECT_TRUE(mixed);
    ASSERT_EQ(plot.series.size(), 2u);
    EXPECT_EQ(plot.series[1].label, "b");
    EXPECT_GE(plot.y.high, 400);
    EXPECT_LT(plot.y.high, 600);
    EXPECT_EQ(plot.x.title, "strain, %");
    EXPECT_EQ(plot.y.title, "stress, MPa");
    // One that is left out does not stretch the axes.
    b.y = {0, 4000, 350};
    EXPECT_LT(overlayOf({{.view = &a}, {.view = &b, .aside = true}}, UnitSystem::SI).plot.y.high, 600);
    const auto inch = overlayOf({{.view = &crush}}, UnitSystem::InchPound);
    EXPECT_EQ(inch.plot.x.title, "crush, in");
    EXPECT_NEAR(inch.plot.x.factor, 1 / 25.4, 1e-12);
    EXPECT_TRUE(overlayOf({}, UnitSystem::SI).plot.series.empty());
}

} // namespace
} // namespace fortitor
