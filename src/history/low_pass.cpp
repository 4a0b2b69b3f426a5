// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/low_pass.h"

#include "curve/wide.h"

#include <cmath>
#include <complex>
#include <numbers>

namespace fortitor {
namespace {

constexpr int order = 4;
/// Two passes give half the power where each gives half of that in decibels.
const double ownCorner = std::pow(std::numbers::sqrt2 - 1, -1.0 / (2 * order));

/// What both sections hold of a lane, or of four.
template <class T> struct State {
    T p1, p2, q1, q2;
};

template <class T> void steady(State<T>& s, const T& x, const LowPass& f)
{
    // For a reading that stood for ever: y = 4x/(1 + a1 + a2), s2 = x − a2·y, s1 = y − x.
    T in = x * f.gain, y, z;
    y = in * (4 / (1 + f.sections[0].a1 + f.sections[0].a2));
    s.p1 = y - in;
    s.p2 = in - y * f.sections[0].a2;
    z = y * (4 / (1 + f.sections[1].a1 + f.sections[1].a2));
    s.q1 = z - y;
    s.q2 = y - z * f.sections[1].a2;
}

template <class T> void step(T& x, State<T>& s, const LowPass& f)
{
    T in = x * f.gain, y, z;
    y = in + s.p1;
    s.p1 = (in + in + s.p2) - y * f.sections[0].a1;
    s.p2 = in - y * f.sections[0].a2;
    z = y + s.q1;
    s.q1 = (y + y + s.q2) - z * f.sections[1].a1;
    s.q2 = y - z * f.sections[1].a2;
    x = z;
}

FORTITOR_WIDE void filterEight(double* data, std::ptrdiff_t rows, const LowPass& f)
{
    constexpr std::ptrdiff_t width = 8;
    for (const std::ptrdiff_t way : {1, -1}) {
        double* at = way > 0 ? data : data + (rows - 1) * width;
        Four a, b;
        State<Four> sa, sb;
        loadFour(a, at);
        loadFour(b, at + 4);
        steady(sa, a, f);
        steady(sb, b, f);
        for (std::ptrdiff_t i = 0; i < rows; ++i, at += way * width) {
            loadFour(a, at);
            loadFour(b, at + 4);
            step(a, sa, f);
            step(b, sb, f);
            std::memcpy(at, &a, sizeof a);
            std::memcpy(at + 4, &b, sizeof b);
        }
    }
}

void filterOne(double* data, std::ptrdiff_t rows, const LowPass& f)
{
    for (const std::ptrdiff_t way : {1, -1}) {
        double* at = way > 0 ? data : data + rows - 1;
        State<double> s;
        steady(s, *at, f);
        for (std::ptrdiff_t i = 0; i < rows; ++i, at += way)
            step(*at, s, f);
    }
}

} // namespace

bool LowPass::refused(double asked, double rate)
{
    return !(asked > 0) || !(asked * ownCorner < 0.4999 * rate);
}

LowPass LowPass::design(double asked, double rate)
{
    const double warped = std::tan(std::numbers::pi * asked * ownCorner / rate);
    LowPass f;
    double slowest = 0;
    for (int k = 0; k < order / 2; ++k) {
        // Poles of the analogue filter at ±(90° + 22.5°, 90° + 67.5°), turned by (1 + s)/(1 − s).
        const double angle = std::numbers::pi * (2 * k + 1) / (2 * order);
        const double damping = 2 * std::sin(angle), square = warped * warped;
        const double below = 1 + damping * warped + square;
        f.sections[static_cast<size_t>(k)] = {2 * (square - 1) / below, (1 - damping * warped + square) / below};
        f.gain *= square / below;
        slowest = std::max(slowest, std::sqrt(f.sections[static_cast<size_t>(k)].a2));
    }
    const double forgotten = std::log(1e-12) / std::log(slowest);
    f.warmUp = static_cast<std::uint64_t>(std::ceil(forgotten)) + 16;
    return f;
}

double LowPass::leftAt(double frequency, double rate) const
{
    const std::complex<double> z = std::polar(1.0, -2 * std::numbers::pi * frequency / rate);
    std::complex<double> through = gain;
    for (const LowPassSection& s : sections)
        through *= (1.0 + 2.0 * z + z * z) / (1.0 + s.a1 * z + s.a2 * z * z);
    return std::norm(through);
}

void filterBothWays(std::span<double> interleaved, size_t lanes, const LowPass& filter)
{
    const auto rows = static_cast<std::ptrdiff_t>(interleaved.size() / lanes);
    if (lanes == 8)
        filterEight(interleaved.data(), rows, filter);
    else
        filterOne(interleaved.data(), rows, filter);
}

} // namespace fortitor
