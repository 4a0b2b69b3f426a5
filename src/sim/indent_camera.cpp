// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/indent_camera.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <random>

namespace fortitor {
namespace {

/// Light that falls from one side: brightness at a place as a share of the mean.
struct Light {
    double x, y;
    [[nodiscard]] double at(double u, double v) const { return 1 + x * u + y * v; }
};

struct Speck {
    double x, y, size;
};

/// 0 outside to 1 inside, over a rim of about two pixels, for a distance to it in px.
double inside(double distance)
{
    constexpr double half = 1.1;
    const double t = std::clamp((half - distance) / (2 * half), 0.0, 1.0);
    return t * t * (3 - 2 * t);
}

} // namespace

GreyPicture takeShot(const IndentShot& shot)
{
    std::mt19937_64 random(shot.seed);
    const auto even = [&] { return std::generate_canonical<double, 32>(random); };
    const Light light{0.25 * (even() - 0.5), 0.25 * (even() - 0.5)};
    const double ground = 150 + 30 * even();
    const double marks = 0.3 + 2.6 * even(); // direction of the grinding marks
    std::array<double, 4> facets{};
    for (double& f : facets)
        f = 0.26 + 0.12 * even();
    std::array<Speck, 6> specks{};
    for (Speck& s : specks)
        s = {even() * shot.width, even() * shot.height, 0.8 + 1.6 * even()};
    std::vector<double> strokes(400);
    for (double& s : strokes)
        s = even() < 0.35 ? 0.06 * (even() - 0.5) : 0;

    const double a = shot.first / 2 / shot.pixel, b = shot.second / 2 / shot.pixel;
    const double c = std::cos(shot.angle), s = std::sin(shot.angle);
    const double midX = (shot.width - 1) / 2.0 + shot.offX, midY = (shot.height - 1) / 2.0 + shot.offY;
    GreyPicture picture{shot.width, shot.height, {}};
    picture.pixels.reserve(static_cast<size_t>(shot.width) * static_cast<size_t>(shot.height));
    for (int y = 0; y < shot.height; ++y)
        for (int x = 0; x < shot.width; ++x) {
            const double dx = x - midX, dy = y - midY;
            const double u = dx * c + dy * s, v = -dx * s + dy * c;
            double distance = 0, dark = 0;
            if (shot.shape == IndentShape::Round) {
                const double r = std::hypot(u / a, v / b);
                distance = (r - 1) * std::min(a, b);
                dark = 0.42 + 0.3 * std::exp(-6 * r * r); // the bottom mirrors the lamp
            } else {
                distance = (std::abs(u) / a + std::abs(v) / b - 1) / std::hypot(1 / a, 1 / b);
                dark = facets[(u < 0 ? 2U : 0U) + (v < 0 ? 1U : 0U)];
            }
            const double along = x * std::cos(marks) + y * std::sin(marks);
            const auto stroke = static_cast<size_t>(std::abs(along)) % strokes.size();
            double bright = light.at(dx / shot.width, dy / shot.height) * (1 + strokes[stroke]);
            for (const Speck& one : specks)
                if (std::hypot(x - one.x, y - one.y) < 3 * one.size)
                    bright *= 1 - 0.5 * std::exp(-std::pow(std::hypot(x - one.x, y - one.y) / one.size, 2));
            const double in = inside(distance);
            const double noise = 3 * (even() + even() - 1);
            picture.pixels.push_back(static_cast<std::uint8_t>(
                std::lround(std::clamp(ground * bright * (1 - in + in * dark) + noise, 0.0, 255.0))));
        }
    return picture;
}

} // namespace fortitor
