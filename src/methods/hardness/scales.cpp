// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/hardness/scales.h"

#include <array>
#include <string>

namespace fortitor {
namespace {

constexpr double inch = 25.4;

// ISO 6508-1 and ISO 6506 to 6507, as "Hardness" of the methods basis has them.
constexpr HardnessScale regular(std::string_view name, double total, double ball, double lowest, double highest)
{
    return {.name = name,
            .preload = 98.07,
            .total = total,
            .full = ball > 0 ? 130.0 : 100.0,
            .step = 0.002,
            .ball = ball,
            .lowest = lowest,
            .highest = highest};
}

constexpr HardnessScale superficial(std::string_view name, double total, double ball, double lowest, double highest,
                                    std::string_view softer, std::string_view harder)
{
    return {.name = name,
            .preload = 29.42,
            .total = total,
            .full = 100,
            .step = 0.001,
            .ball = ball,
            .lowest = lowest,
            .highest = highest,
            .softer = softer,
            .harder = harder};
}

constexpr HardnessScale between(HardnessScale scale, std::string_view softer, std::string_view harder)
{
    scale.softer = softer;
    scale.harder = harder;
    return scale;
}

constexpr std::array scales{
    regular("HRA", 588.4, 0, 20, 95),
    between(regular("HRBW", 980.7, inch / 16, 10, 100), {}, "HRC"),
    between(regular("HRC", 1471, 0, 20, 70), "HRBW", {}),
    regular("HRD", 980.7, 0, 40, 77),
    regular("HREW", 980.7, inch / 8, 70, 100),
    regular("HRFW", 588.4, inch / 16, 60, 100),
    regular("HRGW", 1471, inch / 16, 30, 94),
    regular("HRHW", 588.4, inch / 8, 80, 100),
    regular("HRKW", 1471, inch / 8, 40, 100),
    superficial("HR15N", 147.1, 0, 70, 94, "HR15TW", {}),
    superficial("HR30N", 294.2, 0, 42, 86, "HR30TW", {}),
    superficial("HR45N", 441.3, 0, 20, 77, "HR45TW", {}),
    superficial("HR15TW", 147.1, inch / 16, 67, 93, {}, "HR15N"),
    superficial("HR30TW", 294.2, inch / 16, 29, 82, {}, "HR30N"),
    superficial("HR45TW", 441.3, inch / 16, 10, 72, {}, "HR45N"),
    HardnessScale{.name = "HBW", .by = HardnessScale::By::Brinell, .highest = 650},
    HardnessScale{.name = "HV", .by = HardnessScale::By::Vickers},
    HardnessScale{.name = "HK", .by = HardnessScale::By::Knoop},
};

} // namespace

std::span<const HardnessScale> hardnessScales()
{
    return scales;
}

const HardnessScale* findHardnessScale(std::string_view name)
{
    for (const HardnessScale& scale : scales)
        if (scale.name == name || (scale.ball > 0 && scale.name.substr(0, scale.name.size() - 1) == name))
            return &scale;
    return nullptr;
}

const Unit& unitOf(const HardnessScale& scale)
{
    return *findUnit(scale.name, Kind::Hardness);
}

} // namespace fortitor
