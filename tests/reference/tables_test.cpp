// SPDX-License-Identifier: GPL-3.0-or-later
#include "reference/tables.h"

#include <gtest/gtest.h>

namespace fortitor {
namespace {

TEST(Reference, MaterialsAreReadWhole)
{
    EXPECT_EQ(publishedMaterials().size(), 26u);
    const PublishedMaterial* m = findPublishedMaterial("6082-T6");
    ASSERT_TRUE(m);
    EXPECT_EQ(m->name, "aluminium 6082");
    EXPECT_EQ(m->youngsModulus, 70000);
    EXPECT_EQ(m->yield, 270);
    EXPECT_EQ(m->strength, 320);
    EXPECT_NEAR(*m->elongation, 0.10, 1e-12);
    EXPECT_FALSE(materialSourceNote().empty());
}

TEST(Reference, NamesAsPeopleSayThem)
{
    const std::pair<const char*, const char*> names[] = {{"S355", "steel S355"},
                                                         {"steel S355 hot rolled", "steel S355"},
                                                         {"1.4301", "stainless 1.4301"},
                                                         {"Ti6Al4V", "titanium Ti6Al4V"},
                                                         {"EN AW-6082 T6", "aluminium 6082"}};
    for (const auto& [words, row] : names) {
        const PublishedMaterial* m = findPublishedMaterial(words);
        ASSERT_TRUE(m) << words;
        EXPECT_EQ(m->name, row) << words;
    }
    EXPECT_EQ(findPublishedMaterial("butter"), nullptr);
    EXPECT_EQ(findPublishedMaterial(""), nullptr);
}

TEST(Reference, DeviceClasses)
{
    const DeviceClass* cell = findDeviceClass("force", "1");
    ASSERT_TRUE(cell);
    EXPECT_NEAR(cell->relative, 0.01, 1e-15);
    const DeviceClass* extensometer = findDeviceClass("extensometer", "0.5");
    ASSERT_TRUE(extensometer);
    EXPECT_NEAR(extensometer->absolute, 0.0015, 1e-15);
    EXPECT_EQ(findDeviceClass("force", "17"), nullptr);
}

TEST(WoodSpecies, NamesFindTheirRowsOrTheMeanOfThem)
{
    EXPECT_EQ(findWoodSpecies("sitka spruce")->name, "spruce (sitka)");
    EXPECT_EQ(findWoodSpecies("Oak, white, air-dried")->modulus, 12300);
    const auto both = findWoodSpecies("spruce");
    ASSERT_TRUE(both);
    EXPECT_NEAR(both->rupture, 67.5, 1e-9);
    EXPECT_EQ(both->name, "spruce (sitka), spruce (white)");
    EXPECT_EQ(findWoodSpecies("yellow-poplar")->density, 470);
    EXPECT_FALSE(findWoodSpecies("6082-T6"));
    EXPECT_FALSE(findWoodSpecies(""));
    EXPECT_EQ(woodSpecies().size(), 17u);
    EXPECT_NEAR(*findPublishedMaterial("steel S235")->shearModulus, 81000, 1e-9);
}

} // namespace
} // namespace fortitor
