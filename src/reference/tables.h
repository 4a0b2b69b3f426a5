// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// A row of data/reference/materials.csv: typical room-temperature values, guides only.
struct PublishedMaterial {
    std::string name;
    std::string kind;
    std::string state;
    std::optional<double> youngsModulus; ///< MPa
    std::optional<double> poisson;
    std::optional<double> yield; ///< MPa
    std::optional<double> strength; ///< MPa
    std::optional<double> elongation; ///< ratio
    std::optional<double> density; ///< kg/m³
    std::optional<double> shearModulus; ///< MPa
};

const std::vector<PublishedMaterial>& publishedMaterials();

/// The row whose name and state a person's words fit best ("6082-T6" finds aluminium 6082, T6);
/// nullptr when the number or name is in no row.
const PublishedMaterial* findPublishedMaterial(std::string_view words);

/// A row of data/reference/wood-species.csv, or the mean of those a name fits alike: clear wood at 12 %
/// moisture. Stresses in MPa.
struct WoodSpecies {
    std::string name;
    double density = 0; ///< kg/m³
    double rupture = 0; ///< MOR
    double modulus = 0; ///< MOE
    double compression = 0;
    double shear = 0;
};

const std::vector<WoodSpecies>& woodSpecies();

/// "sitka spruce" finds spruce (sitka); "spruce" the mean of both kinds, with both named. Nothing when no
/// species is named.
std::optional<WoodSpecies> findWoodSpecies(std::string_view words);

/// A row of data/reference/izod-plastics.csv: notched Izod at 23 °C as commonly quoted, J/m; a wide range.
struct PlasticRange {
    std::string name;
    double low = 0, high = 0;
};
const std::vector<PlasticRange>& plasticRanges();
/// By its short name among the words; nullptr without one.
const PlasticRange* findPlasticRange(std::string_view words);

/// Where the rows come from, as the file says it.
std::string_view materialSourceNote();

/// A row of data/reference/device-classes.csv. Errors are half widths.
struct DeviceClass {
    std::string device; ///< "force" or "extensometer"
    std::string name; ///< "0.5", "1" …
    double relative = 0; ///< 0.01 for 1 %
    double absolute = 0; ///< mm; the greater of the two holds
    double repeatability = 0; ///< share of the reference between series; 0: none is set
    double zero = 0; ///< share of the range; 0: none is set
};

const std::vector<DeviceClass>& deviceClasses();
const DeviceClass* findDeviceClass(std::string_view device, std::string_view name);

/// Rows of data/reference/hardness-steel-*.csv: numbers of several scales found side by side on non-austenitic steels.
/// Hard: HRC, HV, HBW, HRA. Soft: HRBW, HV, HBW and an empty one.
enum class HardnessRange { Hard, Soft };
using HardnessRow = std::array<std::optional<double>, 4>;
const std::vector<HardnessRow>& hardnessRows(HardnessRange range);

} // namespace fortitor
